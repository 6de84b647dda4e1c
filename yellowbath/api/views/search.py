"""Searches as the page gets them: a line of JSON a step, the last one with the result."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import chain
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel
from pydantic_core import to_jsonable_python

from yellowbath.api.lines import LineResponse
from yellowbath.api.views.field import region_names
from yellowbath.api.views.hours import SurfaceHoursOut, outlook_out
from yellowbath.api.views.plan import FigureOut, figure_out
from yellowbath.core import units
from yellowbath.core.document import Anode, Hang
from yellowbath.core.figures import figure, typed
from yellowbath.core.geometry.piece import footprint
from yellowbath.core.hours.said import compared
from yellowbath.core.units import System, show
from yellowbath.workflows.plans.field import PlanField
from yellowbath.workflows.plans.search import (
    Placed,
    SearchStep,
    Turned,
    WeighedChanges,
    WeighedLayout,
)

if TYPE_CHECKING:
    from yellowbath.core.plan.advice.changes import Effect


class SideOut(BaseModel):
    """A plan's figures before or after."""

    time: FigureOut | None
    gives: FigureOut
    p5: FigureOut
    p95: FigureOut
    sides: list[SurfaceHoursOut]


class PlaceOut(BaseModel):
    """The best layout found. ``anodes`` stand by hand; ``better`` false: leave it as it is."""

    better: bool
    solves: int
    anodes: list[Anode]
    before: SideOut
    after: SideOut


class PoseOut(BaseModel):
    """A pose and its share of the time under power; its box from above is ``foot_x_m`` by
    ``foot_y_m``, before it is turned."""

    words: str
    hang: Hang
    turn_deg: float
    tilt_deg: float
    share: float
    time: FigureOut
    foot_x_m: float
    foot_y_m: float


class TurnsOut(BaseModel):
    """The turn plan of a piece; one pose means that turning is not worth the hands."""

    piece_id: str
    piece: str
    poses: list[PoseOut]
    time: FigureOut
    alone: FigureOut
    solved: int
    unreached_percent: float


class ProposalOut(BaseModel):
    """A change in words, what it sets by pointer, and what the solve of the changed plan gives.

    ``effect`` says it in one line; ``why_not`` is empty where the change is worth it.
    """

    id: str
    words: str
    effect: str
    why_not: str
    sets: dict[str, Any]
    worst_ratio: float
    gives_a: float
    load: float
    hours: float | None


class ChangesOut(BaseModel):
    """The changes that would help most, and the others that were solved and would not."""

    region: str
    worst_ratio: float
    best: list[ProposalOut]
    others: list[ProposalOut]


class SearchLine(BaseModel):
    """One line of a search: ``done`` of at most ``of``, hours of the best so far, a result last."""

    done: int
    of: int
    hours: float
    placed: PlaceOut | None = None
    turns: TurnsOut | None = None
    changes: ChangesOut | None = None


def begun(search: Iterator[SearchStep | Placed | Turned | WeighedChanges]) -> LineResponse:
    """A search as it goes on; the client that hangs up ends it.

    The first step is made before the answer begins, so that what is wrong with the plan is answered
    as a problem.
    """
    first = next(search)

    def told() -> Iterator[str]:
        step = first if isinstance(first, SearchStep) else SearchStep(1, 1, 0.0)
        for item in chain([first], search):
            match item:
                case SearchStep():
                    step = item
                    yield _line(step)
                case Placed():
                    yield _line(step, placed=_placed(item))
                case Turned():
                    yield _line(step, turns=_turned(item))
                case WeighedChanges():
                    yield _line(step, changes=_changes(item))

    return LineResponse(told())


def _line(step: SearchStep, **results: BaseModel) -> str:
    made = SearchLine.model_validate(
        {"done": step.done, "of": step.of, "hours": step.hours, **results}
    )
    return made.model_dump_json(exclude_none=True) + "\n"


def _changes(found: WeighedChanges) -> ChangesOut:
    name = region_names(found.before.plan.pieces).get(found.effect.region, "")
    return ChangesOut(
        region=name,
        worst_ratio=found.effect.worst,
        best=[_advice(w, found) for w in found.best],
        others=[_advice(w, found) for w in found.others],
    )


def _advice(w: WeighedLayout, found: WeighedChanges) -> ProposalOut:
    after = w.effect
    return ProposalOut(
        id=w.proposal.id,
        words=w.proposal.words,
        effect=", ".join([*_told(found.effect, after), *_hours(found.before, w)]),
        why_not=w.why_not,
        sets={k: to_jsonable_python(v) for k, v in w.proposal.sets.items()},
        worst_ratio=after.worst,
        gives_a=after.gives_a,
        load=after.load,
        hours=after.hours if math.isfinite(after.hours) else None,
    )


def _hours(before: PlanField, w: WeighedLayout) -> tuple[str, ...]:
    system = before.plan.system
    if w.proposal.then is not None:
        if not math.isfinite(w.effect.hours):
            return ()
        hours = (before.answer.whole_h, w.effect.hours)
        all_in, apart = (show(3600 * h, "time", system, 2) for h in hours)
        return (f"{all_in} together → {apart} for both baths, one after the other",)
    one, other = before.answer.outlook, w.solved.answer.outlook
    return compared(one, other, system) if one and other else ()


def _told(before: Effect, after: Effect) -> list[str]:
    """What a change does to the poorest side, the amps and the load."""
    worst, better = (units.plain(e.worst, "ratio") for e in (before, after))
    parts = [f"poorest side {worst:.0f} % → {better:.0f} % of the mean"]
    more = after.gives_a - before.gives_a
    parts.append(f"{more:+.2f} A".replace("-", "−") if abs(more) >= 0.005 else "same amps")
    parts.append(f"supply at {units.plain(after.load, 'ratio'):.0f} %")
    return parts


def _placed(found: Placed) -> PlaceOut:
    return PlaceOut(
        better=found.better,
        solves=found.solves,
        anodes=found.after.plan.anodes,
        before=_side(found.before),
        after=_side(found.after),
    )


def _side(solved: PlanField) -> SideOut:
    a, system = solved.answer, solved.plan.system
    return SideOut(
        time=figure_out(a.window, system) if a.window else None,
        gives=figure_out(a.gives, system),
        p5=figure_out(a.p5, system),
        p95=figure_out(a.p95, system),
        sides=found.sides if (found := outlook_out(a.outlook, system)) else [],
    )


def _turned(found: Turned) -> TurnsOut:
    turning, system = found.turning, found.plan.system
    boxes = [footprint(pose.of(found.piece)) for pose, _ in turning.poses]
    return TurnsOut(
        piece_id=found.piece.id,
        piece=found.plan.called(found.piece),
        poses=[
            PoseOut(
                words=pose.words, hang=pose.hang, turn_deg=pose.turn_deg, tilt_deg=pose.tilt_deg,
                share=share, time=_time("In this pose", share * turning.hours, system),
                foot_x_m=box[0], foot_y_m=box[1],
            )
            for (pose, share), box in zip(turning.poses, boxes, strict=True)
        ],
        time=_time("All poses together", turning.hours, system),
        alone=_time("Only as planned", turning.alone, system),
        solved=found.poses,
        unreached_percent=units.plain(turning.unreached, "ratio"),
    )  # fmt: skip


def _time(name: str, hours: float, system: System) -> FigureOut:
    made = figure(
        "time.pose", name, hours * 3600, "time", "h*3600",
        [typed("h", "Powered hours until 95 % of what is reachable is clean, at the median need",
               hours, "number")],
        "dose",
    )  # fmt: skip
    return figure_out(made, system)
