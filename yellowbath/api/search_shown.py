"""Searches as the page gets them: a line of JSON a step, the last one with the result."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

from pydantic import BaseModel
from starlette.responses import StreamingResponse

from yellowbath.api.shown import FigureOut, figure_out
from yellowbath.core.document import Anode, Hang
from yellowbath.core.figures import figure, typed
from yellowbath.core.units import System
from yellowbath.workflows.field import PlanField
from yellowbath.workflows.search import Placed, Step, Turned


class SideOut(BaseModel):
    """A plan's figures before or after."""

    time: FigureOut | None
    gives: FigureOut
    p5: FigureOut
    p95: FigureOut


class PlaceOut(BaseModel):
    """The best placing found. ``anodes`` stand by hand; ``better`` false: leave it as it is."""

    better: bool
    solves: int
    anodes: list[Anode]
    before: SideOut
    after: SideOut


class PoseOut(BaseModel):
    """A pose and its share of the time under power."""

    words: str
    hang: Hang
    turn_deg: float
    tilt_deg: float
    share: float
    time: FigureOut


class TurnsOut(BaseModel):
    """The turn plan; one pose means that turning is not worth the hands."""

    poses: list[PoseOut]
    time: FigureOut
    alone: FigureOut
    solved: int
    unreached_percent: float


class SearchLine(BaseModel):
    """One line of a search: ``done`` of at most ``of``, hours of the best so far, a result last."""

    done: int
    of: int
    hours: float
    placed: PlaceOut | None = None
    turns: TurnsOut | None = None


class LineResponse(StreamingResponse):
    """A line of JSON at a time."""

    media_type = "application/x-ndjson"


def begun(search: Iterator[Step | Placed | Turned]) -> LineResponse:
    """A search as it goes on; the client that hangs up ends it.

    The first step is made before the answer begins, so that what is wrong with the plan is answered
    as a problem.
    """
    first = next(search)

    def told() -> Iterator[str]:
        step = first if isinstance(first, Step) else Step(1, 1, 0.0)
        for item in chain([first], search):
            match item:
                case Step():
                    step = item
                    yield _line(step)
                case Placed():
                    yield _line(step, placed=_placed(item))
                case Turned():
                    yield _line(step, turns=_turned(item))

    return LineResponse(told())


def _line(step: Step, placed: PlaceOut | None = None, turns: TurnsOut | None = None) -> str:
    made = SearchLine(done=step.done, of=step.of, hours=step.hours, placed=placed, turns=turns)
    return made.model_dump_json(exclude_none=True) + "\n"


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
    )


def _turned(found: Turned) -> TurnsOut:
    turning, system = found.turning, found.plan.system
    return TurnsOut(
        poses=[
            PoseOut(
                words=pose.words, hang=pose.hang, turn_deg=pose.turn_deg, tilt_deg=pose.tilt_deg,
                share=share, time=_time("In this pose", share * turning.hours, system),
            )
            for pose, share in turning.poses
        ],
        time=_time("All poses together", turning.hours, system),
        alone=_time("Only as planned", turning.alone, system),
        solved=found.poses,
        unreached_percent=100 * turning.unreached,
    )  # fmt: skip


def _time(name: str, hours: float, system: System) -> FigureOut:
    made = figure(
        "time.pose", name, hours * 3600, "time", "h*3600",
        [typed("h", "Powered hours until 95 % of what is reachable is clean, at the median need",
               hours, "number")],
        "dose",
    )  # fmt: skip
    return figure_out(made, system)
