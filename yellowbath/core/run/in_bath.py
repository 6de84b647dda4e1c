"""Whether what a plan says now is so in the bath that runs on it: which of its stops are new, and
what hands said of them.

Which fields count is decided by what the checks read: the newest plan is judged whole, and a stop
that the run's own plan did not have is asked about. ``now`` makes it a danger, ``idea`` lets it
be, and while nothing is said it bars the next switching on.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.checks import judged
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import Plan
from yellowbath.core.errors import YellowBathError
from yellowbath.core.kit import (
    KitAnode,
    KitChemical,
    KitDetail,
    KitLead,
    KitMix,
    KitPump,
    KitSupply,
    KitTank,
)
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer


def key_of(f: Finding) -> str:
    """What a finding is known by from one revision to the next: the check, and whom it is about."""
    return f"{f.id} {' '.join(sorted(f.about))} {f.case}".strip()


@dataclass(frozen=True)
class StopsAsked:
    """Stops of the newest plan that the run's own did not have: those said to be so in the bath,
    and those of which nothing was said."""

    now: Sequence[Finding] = ()
    open: Sequence[Finding] = ()


def asked_of(
    new_stops: Sequence[Finding], own_stops: Sequence[Finding], said_now: Collection[str],
    ideas: Mapping[str, int], head: int,
) -> StopsAsked:  # fmt: skip
    """What the newest plan would stop that the run's own did not, by what was said of each.

    ``ideas``: by a stop's key the revision of which it was said to be only an idea.
    """
    had = {key_of(f) for f in own_stops}
    new = [f for f in new_stops if key_of(f) not in had]
    now = [f for f in new if key_of(f) in said_now]
    rest = [f for f in new if key_of(f) not in said_now and ideas.get(key_of(f)) != head]
    return StopsAsked(now, rest)


def stops_of(plan: Plan, otherwise: Answer) -> list[Finding]:
    """The stops of a plan by the closed form, so that one solve more or less is no stop of two that
    are compared; by the figures of another where it has none of its own."""
    try:
        worked = answer(plan)
    except YellowBathError:
        worked = otherwise
    return stops(judged(plan, worked))


# --- What went in by hand --------------------------------------------------------------------


def with_scrap(plan: Plan, went_in: Iterable[Mapping[str, Any]]) -> Plan:
    """A plan with the scrap that was logged as gone in: swapped for all of it, or added to it.

    What was added is judged for what it is made of in the place of the last, since where it stands
    was not said.
    """
    for what in went_in:
        metal = what["material"]
        every = what["what"] == "swapped_anodes"
        last = len(plan.anodes) - 1
        anodes = [
            a.model_copy(update={"material": metal}) if every or k == last else a
            for k, a in enumerate(plan.anodes)
        ]
        plan = plan.model_copy(update={"anodes": anodes})
    return plan


# --- Things of the kit that were typed anew ----------------------------------------------------


def with_thing(plan: Plan, was: KitDetail, now: KitDetail) -> Plan:
    """A plan made with a thing, with what was typed of the thing anew since: only what changed is
    carried over, since the plan may differ from its things on purpose."""
    before, after = (_parts(d) for d in (was, now))
    document = plan.model_dump(mode="json")
    for part, fields in after.items():
        new = {k: v for k, v in fields.items() if before.get(part, {}).get(k) != v}
        for node in document[part] if part == "anodes" else [document[part]]:
            node.update(new)
    return read_plan({**document, "typed": {}}).plan


def _parts(detail: KitDetail) -> dict[str, dict[str, Any]]:
    """What of a plan a thing brings: by its part, the fields."""
    match detail:
        case KitTank():
            return {"tank": _plain(detail.tank, "name")}
        case KitSupply():
            return {"supply": _plain(detail.supply, "lead_length_m", "lead_area_m2")}
        case KitLead():
            return {"supply": {"lead_length_m": detail.length_m, "lead_area_m2": detail.area_m2}}
        case KitPump():
            return {"place": {"pump_m3": detail.hourly_m3}}
        case KitAnode():
            return {"anodes": _plain(detail.anode, "id", "x_m", "y_m", "piece")}
        case KitChemical() | KitMix():
            return {"mix": {"product": detail.product}}


def _plain(part: Any, *left_out: str) -> dict[str, Any]:
    found: dict[str, Any] = part.model_dump(mode="json")
    return {k: v for k, v in found.items() if k not in left_out}
