"""The entry for the book: what was planned against what happened. Built once, when a run closes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict

from yellowbath.core.document import Piece, Plan
from yellowbath.core.dose import Need, mean_of, need_of, neediest
from yellowbath.core.figures import Figure
from yellowbath.core.hours.said import seconds
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.apart import AfterBath
from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.charge import areas_of, doses_of, of_piece, shares_of
from yellowbath.core.run.log import (
    Change,
    Close,
    Entry,
    FinishStep,
    Inspection,
    Reading,
    in_order,
)
from yellowbath.core.run.looked import last_said
from yellowbath.core.run.progress import Progress, left_of
from yellowbath.core.run.run import Run
from yellowbath.core.tell.finish import steps_by_piece
from yellowbath.core.words import listed


class Spread(BaseModel):
    """10th, 50th and 90th percentile."""

    low: float
    mid: float
    high: float


class PlannedSide(BaseModel):
    """A side of the surface: its share of the area [-] and its planned hours [s]; none where it was
    not for this bath."""

    kind: str
    share: float
    clean_s: Spread | None


class BookEntry(BaseModel):
    """One finished run. SI; times [s], charge [Ah], doses [Ah/m2], currents [A], money plain.

    ``amps_read``: some of its amps were read; where none were, charge and doses are as planned.
    """

    model_config = ConfigDict(extra="forbid")

    schema_version: Literal[1] = 1
    piece: str
    grade: str
    aim: str
    metal: str
    plan_id: str
    revision: int
    planned_current_a: float
    planned_time_s: Spread | None
    planned_sides: list[PlannedSide] = []
    planned_need_ah_m2: float
    read_currents_a: list[float]
    amps_read: bool = True
    mean_current_a: float
    powered_s: float
    clock_s: float
    charge_ah: float
    raw_ah_m2: float
    effective_ah_m2: float
    stretches: int
    stops_found_later: int
    looks: int
    changes: list[str]
    shares: dict[str, float]
    finish: list[str]
    relief: list[str] = []
    hands_s: float
    energy_j: float
    energy_cost: float
    materials: float
    paid: float | None
    worth_before: float | None
    worth_after: float | None
    stamps: str
    remarks: str
    photos: list[str]
    mix_kept: bool
    mix_product: str
    mix_dry_kg: float
    mix_water_m3: float


def book_entry(
    plan: Plan,
    plan_id: str,
    revision: int,
    answer: Answer,
    run: Run,
    progress: Progress,
    log: Sequence[Entry],
    now: datetime,
    alone: str = "",
) -> BookEntry:
    """Put a run into words and numbers for the book: of all its pieces, of those that were not
    booked by themselves, or of one ``alone``, by its id. Pure."""
    entries = in_order(list(log))
    details = [e.detail for e in entries]
    closes = (d for d in details if isinstance(d, Close) and d.piece == alone)
    close = next(closes, Close())
    readings = [a for d in details for a in _read_by_hand(d)]
    hours = progress.powered_s / 3600
    window = answer.window
    energy = progress.charge_ah * 3600 * plan.supply.nominal_v
    piece = neediest(plan.pieces)
    first = run.begun or now
    last = (run.stretches[-1].end or now) if run.stretches else now
    entry = BookEntry(
        piece=plan.title or "Piece without a name",
        grade=piece.grade,
        aim=piece.aim,
        metal=piece.metal,
        plan_id=plan_id,
        revision=revision,
        planned_current_a=answer.gives.value,
        planned_time_s=_spread(window),
        planned_sides=_sides(answer),
        planned_need_ah_m2=answer.need.value,
        read_currents_a=readings,
        amps_read=run.amps_read,
        mean_current_a=progress.charge_ah / hours if hours else 0.0,
        powered_s=progress.powered_s,
        clock_s=(last - first).total_seconds(),
        charge_ah=progress.charge_ah,
        raw_ah_m2=progress.raw_ah_m2 if run.stretches else 0.0,
        effective_ah_m2=progress.effective_ah_m2,
        stretches=run.count,
        stops_found_later=sum(d.kind == "found_stopped" for d in details),
        looks=len(run.inspections),
        changes=[d.what for d in details if isinstance(d, Change)],
        shares=_last_shares(details),
        finish=_finished(run.finish),
        relief=_reliefs(plan, run, run.whole, plan.pieces),
        hands_s=close.hands_s,
        energy_j=energy,
        energy_cost=energy / 3.6e6 * plan.place.price_kwh,
        materials=close.materials,
        paid=close.paid,
        worth_before=close.worth_before,
        worth_after=close.worth_after,
        stamps=close.stamps,
        remarks=close.remarks,
        photos=close.photos,
        mix_kept=close.mix_kept,
        mix_product=plan.mix.product,
        mix_dry_kg=answer.concentration.value * answer.fill.water.value,
        mix_water_m3=answer.fill.water.value,
    )
    those = [p for p in plan.pieces if (p.id == alone if alone else p.id not in run.out)]
    if len(those) == len(plan.pieces):
        return entry
    return _of_some(entry, those, plan, run, entries)


def _of_some(
    whole: BookEntry, those: Sequence[Piece], plan: Plan, run: Run, entries: Sequence[Entry]
) -> BookEntry:
    """The entry of some of the pieces of a bath: their own charge, hours, looks and finish."""
    now = entries[-1].at
    first, names = neediest(those), [plan.called(p) for p in those]
    own = run.apart.get(first.id, run.whole)
    title = listed(names)
    had = [of_piece(run, p.id, now) for p in those]
    hours, charge = max(h for h, _ in had), sum(c for _, c in had)
    need, most = need_of(first), need_of(neediest(plan.pieces))
    ids = {p.id for p in those}
    update: dict[str, object] = {
        "piece": title,
        "grade": first.grade, "aim": first.aim, "metal": first.metal,
        "planned_time_s": _planned(run, most, [p.id for p in those]), "planned_sides": [],
        "planned_need_ah_m2": need.median,
        "planned_current_a": whole.planned_current_a * _share_of(run, ids),
        "mean_current_a": charge / hours if hours else 0.0,
        "powered_s": hours * 3600, "charge_ah": charge,
        "looks": sum(not ids <= set(unseen) for unseen in run.unseen),
        "shares": {
            name: share for name, share in last_said(run, _regions(those))[0].items()
            if name in _regions(those)
        },
        "finish": _finished(own.finish), "relief": _reliefs(plan, run, own, those),
        "energy_j": charge * 3600 * plan.supply.nominal_v,
        "energy_cost": charge * plan.supply.nominal_v / 1000 * plan.place.price_kwh,
    }  # fmt: skip
    if run.begun is not None and own.lifted_at is not None:
        update["clock_s"] = (own.lifted_at - run.begun).total_seconds()
        update["stretches"] = sum(
            e.detail.kind == "switch_on" and e.at <= own.lifted_at for e in entries
        )
    parts = run.stretches[-1].basis.parts_of(tuple(ids)) if run.stretches else None
    if parts is not None and parts.any():
        basis = run.stretches[-1].basis
        area = basis.wetted_area_m2 * sum(w for w, p in zip(areas_of(run), parts, strict=True) if p)
        dose = mean_of(doses_of(run, now), shares_of(run, parts))
        # counted in the run as the neediest of its pieces wants it
        update |= {
            "raw_ah_m2": charge / area,
            "effective_ah_m2": dose * need.median / most.median,
        }
    return whole.model_copy(update=update)


def _share_of(run: Run, pieces: set[str]) -> float:
    """Share of the current with all pieces in that goes to some of them [-]."""
    if not run.stretches:
        return 1.0
    basis = run.stretches[-1].basis.under(())
    return basis.share_in(tuple(p for p in basis.pieces if p not in pieces))


def _regions(those: Sequence[Piece]) -> set[str]:
    return {r.id for p in those for r in p.regions}


def _planned(run: Run, need: Need, pieces: Sequence[str]) -> Spread | None:
    """Hours of power until some pieces are clean, by the plan: the latest of them."""
    if not run.stretches or run.begun is None:
        return None
    at, basis = run.begun, run.stretches[-1].basis.under(())
    planned = (basis.expected_a, basis.expected_low_a, basis.expected_high_a)
    fresh = Run(state="running", stretches=[Stretch(at, None, 0, *planned, "expected", basis)])
    hours = (left_of(fresh, need, at, p) for p in pieces)
    found = [three for three in hours if three]
    if not found:
        return None
    low, mid, high = max(found, key=lambda three: three[1])
    return Spread(low=low, mid=mid, high=high)


def _read_by_hand(detail: object) -> list[float]:
    """Amps that somebody read, whichever entry says them."""
    if isinstance(detail, Change):
        found = [detail.before_a, detail.after_a]
    else:
        by_hand = isinstance(detail, Reading) and detail.method != "line"
        found = [detail.current_a] if by_hand else []  # type: ignore[attr-defined]
    return [a for a in found if a is not None]


def _finished(marks: Mapping[str, tuple[datetime, FinishStep]]) -> list[str]:
    return [
        d.step + (f": {d.choice}" if d.choice else "")
        for key, (_, d) in marks.items()
        if key.endswith(".done")
    ]


def _reliefs(plan: Plan, run: Run, own: AfterBath, those: Sequence[Piece]) -> list[str]:
    """What the one rule of the bake asked for, and what became of it, a line a step."""
    lifted, out = own.lifted_at, list[str]()
    alone = those[0].id if those[0].id in run.apart else ""
    for step in steps_by_piece(plan, run.out).get(alone, []):
        if not step.from_lift:
            continue
        begun, done = (own.finish.get(f"{step.id}.{m}") for m in ("begun", "done"))
        what = f"{step.title}. {step.how}"
        if done is None:
            out.append(f"{what} Left out.")
            continue
        when = (begun or done)[0]
        after = (when - lifted).total_seconds() if lifted else 0.0
        late = ", too late by its table" if after > step.within_s else ""
        out.append(f"{what} Begun {after / 3600:.1f} h after the lift{late}.")
    return out


def _spread(window: Figure | None) -> Spread | None:
    if window is None or window.low is None or window.high is None:
        return None
    return Spread(low=window.low, mid=window.value, high=window.high)


def _sides(answer: Answer) -> list[PlannedSide]:
    found = answer.outlook
    if found is None or len(found.sides) == 1:
        return []
    made = []
    for s in found.sides:
        three = seconds(s.hours)
        spread = Spread(low=three[0], mid=three[1], high=three[2]) if three else None
        made.append(PlannedSide(kind=s.kind, share=s.share, clean_s=spread))
    return made


def _last_shares(details: Sequence[object]) -> dict[str, float]:
    for detail in reversed(details):
        if isinstance(detail, Inspection) and detail.shares:
            return dict(detail.shares)
    return {}
