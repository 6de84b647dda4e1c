"""Checks on a plan. ``find(plan, answer)`` is the front door."""

from collections.abc import Sequence

from yellowbath.core.checks import rules  # noqa: F401 - registers the checks
from yellowbath.core.checks.registry import Context, Finding, run_checks
from yellowbath.core.document import Plan
from yellowbath.core.plan.answer import Answer


def find(plan: Plan, answer: Answer) -> Sequence[Finding]:
    """All findings on a plan, stops first."""
    return run_checks(Context(plan, answer))
