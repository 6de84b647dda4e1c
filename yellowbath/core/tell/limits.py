"""What holds the amps of a bath down: its supply, its setting, its joints, its liquid or its scrap.

By the newest reading where that tells, else by where the plan's volts go. Common practice, no
source.
"""

from __future__ import annotations

from collections import defaultdict
from typing import Literal

from yellowbath.core.checks.limits import limit
from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.volts import Part, where_volts_go
from yellowbath.core.power.supply import source_of
from yellowbath.core.run.run import Run
from yellowbath.core.tell.ohms import ohms

Limits = Literal["supply", "setting", "joints", "leads", "scrap", "liquid"]

_OF: dict[Part, Limits] = {
    "supply": "supply", "leads": "leads", "contacts": "joints", "scrap": "scrap", "piece": "liquid",
}  # fmt: skip


def what_limits(plan: Plan, answer: Answer, run: Run) -> Limits | None:
    """What would have to be another for more amps; None where nothing flows, or is not known to."""
    if run.state != "running" or run.silent or any(s.kind != "weak" for s in run.signs):
        return None
    ceiling = source_of(plan.supply).ceiling
    amps = run.flowed_a or answer.gives.value
    if ceiling is not None and amps * limit("advice", "over_limit") >= ceiling.value:
        set_lower = plan.supply.limited and plan.supply.limit_a < plan.supply.rated_a
        return "setting" if set_lower else "supply"
    if any(o.more and o.read.key == "ohms.leads" for o in ohms(run.metered, answer)):
        return "joints"
    volts: defaultdict[Limits, float] = defaultdict(float)
    for drop in where_volts_go(plan, answer):
        if drop.part in _OF:  # what the cell itself takes nothing changes
            volts[_OF[drop.part]] += drop.volts
    return max(volts, key=volts.__getitem__, default=None)
