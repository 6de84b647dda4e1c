"""What would clear a finding: makers by what they are about, each fix tried on a copy of the plan
before it is offered. ``trying`` is the front door."""

from yellowbath.core.checks.fixes import mix, piece, power, scrap, surroundings  # noqa: F401 - they register
