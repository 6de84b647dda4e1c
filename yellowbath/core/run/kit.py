"""What a run means for the shop's kit: what it draws when it is switched on, what it writes back
when it is closed; and what the kit knows of a plan's things since."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from yellowbath.core.chemistry import mixing
from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.kit import Held, KitEvent, KitMix, Thing, after
from yellowbath.core.plan.results.anode_life import rust_share
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.in_bath import with_thing
from yellowbath.core.run.progress import Progress

Things = Mapping[str, Held]
"""Things that a plan names, by id; those no longer in the kit are not among them."""


@dataclass(frozen=True)
class KitUse:
    """An event of a thing, written once under its key."""

    thing_id: str
    key: str
    event: KitEvent


def drawn(
    plan: Plan, answer: Answer, things: Things, run_id: str, at: datetime
) -> Iterator[KitUse]:
    """What a bath took when it was switched on, once: soda off the shelf, water and soda into a
    kept mix."""
    box = product(plan.mix.product)
    for ref in plan.kit:
        found = things.get(ref.ref)
        if found is None:
            continue
        if ref.role == "chemical":
            event = KitEvent(at=at, what="used", run_id=run_id, amount=answer.product_mass.value)
            yield KitUse(ref.ref, f"run {run_id}", event)
        elif ref.role == "batch":
            water = found.wear.batch.water if found.wear and found.wear.batch else 0.0
            missing, salts = max(answer.fill.water.value - water, 0.0), answer.product_mass.value
            for event in (
                KitEvent(at=at, what="topped_up", run_id=run_id, amount=missing),
                KitEvent(
                    at=at, what="added", run_id=run_id, amount=salts * box.share, salt=box.salt
                ),
            ):
                if event.amount > 0:
                    yield KitUse(ref.ref, f"run {run_id} {event.what}", event)


def written_back(
    plan: Plan, answer: Answer, progress: Progress, things: Things, run_id: str, at: datetime
) -> list[KitUse]:
    """Charge and hours to what a run hung in, once, when it is closed."""
    use = _use(plan, answer, progress, run_id, at)
    roles = ("tank", "supply", "lead", "pump", "anode", "batch")
    hung = [r.ref for r in plan.kit if r.role in roles and r.ref in things]
    return [KitUse(ref, f"run {run_id}", use) for ref in hung]


def kept_mix(
    plan: Plan, answer: Answer, progress: Progress, run_id: str, at: datetime
) -> tuple[Thing, KitUse] | None:
    """The mix of a closed run as a thing of the kit; None where it came out of it."""
    if any(ref.role == "batch" for ref in plan.kit):
        return None
    detail = KitMix(
        product="soda_anhydrous" if plan.mix.product == "unknown" else plan.mix.product,
        water_m3=max(answer.fill.water.value, 5e-4),
        salts_kg=answer.concentration.value * answer.fill.water.value,
        salt_kg=0.0 if mixing.salty(plan) else plan.mix.kept_salt_kg,
    )
    name = f"Kept after {plan.title or 'a piece'}"[:60]
    use = KitUse(run_id, f"run {run_id}", _use(plan, answer, progress, run_id, at))
    return Thing(name=name, detail=detail), use


def _use(plan: Plan, answer: Answer, progress: Progress, run_id: str, at: datetime) -> KitEvent:
    day = answer.of("water.evaporates")
    use: dict[str, Any] = {
        "at": at, "what": "used", "run_id": run_id, "charge_ah": progress.charge_ah,
        "seconds": progress.powered_s, "surface_m2": answer.wetted_area.value,
        "evaporated_m3": min((day.value if day else 0.0) * progress.powered_s / 1000, 10.0),
        "rust_kg": param("rust_kg_m2").value * rust_share(plan.pieces)
        * answer.wetted_area.value,
    }  # fmt: skip
    return KitEvent.model_validate(use)


def after_uses(things: Things, uses: list[KitUse]) -> Things:
    """The same things once that has happened to them."""
    made = dict(things)
    for use in uses:
        found = made.get(use.thing_id)
        if found is not None and found.wear is not None and found.detail is not None:
            wear = after(found.wear, use.event, found.detail)
            made[use.thing_id] = replace(found, wear=wear)
    return made


def chloride_of(plan: Plan, things: Things, water: float) -> float:
    """Salt that so much liquid [m3] out of a plan's kept mixes brings [kg], whatever the plan says
    of it."""
    kept = [things[r.ref].wear for r in plan.kit if r.role == "batch" and r.ref in things]
    batches = [w.batch for w in kept if w is not None and w.batch is not None]
    return sum(b.chloride * min(water / b.water, 1.0) for b in batches if b.water > 0)


def typed_anew(plan: Plan, things: Things) -> Plan:
    """A plan with what was typed anew since of the things that it was made with."""
    for ref in plan.kit:
        found = things.get(ref.ref)
        if found is not None and found.was is not None and found.detail is not None:
            plan = with_thing(plan, found.was, found.detail)
    return plan
