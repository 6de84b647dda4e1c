"""Checks on a plan. ``find(plan, answer)`` is the front door."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from yellowbath.core.checks import air, field, mix, piece, power, scrap, tank  # noqa: F401 - they register
from yellowbath.core.checks import fixes as _makers  # noqa: F401 - they register
from yellowbath.core.checks.fixes.owned import MENDS
from yellowbath.core.checks.fixes.trying import offered
from yellowbath.core.checks.registry import Context, Finding, OwnThing, run_checks
from yellowbath.core.document import Plan
from yellowbath.core.plan.reading.filling import Fill
from yellowbath.core.plan.results.answer import Answer


def judged(plan: Plan, answer: Answer) -> Sequence[Finding]:
    """All findings on a plan, stops first, without what would mend them."""
    return run_checks(Context(plan, answer.fill, answer))


def find(plan: Plan, answer: Answer, own: Owns | None = None) -> Sequence[Finding]:
    """All findings on a plan, stops first; each with the fixes that were tried on the plan and
    work, those of the shop's ``own`` things first."""
    return mended(plan, answer, judged(plan, answer), own)


def mended(
    plan: Plan, answer: Answer, found: Sequence[Finding], own: Owns | None = None
) -> Sequence[Finding]:
    """Findings on a plan with the fixes that work on it: where somebody may press them, as each is
    tried."""
    context = Context(plan, answer.fill, answer)
    asked = own is not None and any(f.id in MENDS for f in found)
    return offered(replace(context, own=own()) if own and asked else context, found)


Owns = Callable[[], Sequence[OwnThing]]
"""The shop's free supplies and tanks, looked up where one of them may mend something."""


PLACING = ("short", "no_fit", "pieces_meet", "scrap_outside", "scrap_meets")
"""Checks of where things are: what they find cannot be built, so its field is not solved."""


def find_placing(plan: Plan, fill: Fill) -> Sequence[Finding]:
    """What of a plan cannot be built; a fraction of the work of all findings."""
    return run_checks(Context(plan, fill), PLACING)
