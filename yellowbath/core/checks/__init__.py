"""Checks on a plan. ``find(plan, answer)`` is the front door."""

from collections.abc import Sequence

from yellowbath.core.checks import behind, rules  # noqa: F401 - they register the checks
from yellowbath.core.checks.registry import Context, Finding, run_checks
from yellowbath.core.document import Plan
from yellowbath.core.plan.answer import Answer
from yellowbath.core.plan.filling import Fill


def find(plan: Plan, answer: Answer) -> Sequence[Finding]:
    """All findings on a plan, stops first."""
    return run_checks(Context(plan, answer.fill, answer))


PLACING = ("short", "no_fit", "pieces_meet", "scrap_outside", "scrap_meets")
"""Checks of where things are: what they find cannot be built, so its field is not solved."""


def find_placing(plan: Plan, fill: Fill) -> Sequence[Finding]:
    """What of a plan cannot be built; a fraction of the work of all findings."""
    return run_checks(Context(plan, fill), PLACING)
