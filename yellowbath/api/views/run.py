"""A run as the page shows it: on the rack, by itself, line by line."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from functools import cache

from pydantic import BaseModel

from yellowbath.api.views.hours import SurfaceHoursOut, sides_left_out
from yellowbath.api.views.leads import LeadOut, leads_out
from yellowbath.api.views.pieces import PieceAloneOut, RegionOut, piece_out, regions_out
from yellowbath.api.views.plan import (
    DifferenceOut,
    FigureOut,
    FindingOut,
    PointOut,
    StepOut,
    figure_out,
    finding_out,
    steps_out,
)
from yellowbath.api.views.planned import PlannedOut, planned_out
from yellowbath.api.views.scene import SceneOut, scene_out
from yellowbath.core import units
from yellowbath.core.bath.loop import Loop
from yellowbath.core.checks.registry import stops
from yellowbath.core.field.model import sliced
from yellowbath.core.figures import figure, typed
from yellowbath.core.hours.said import left_said, nothing_left
from yellowbath.core.plan.results.apart import apart_said
from yellowbath.core.run.in_bath import key_of
from yellowbath.core.run.log import Asked, Entry, Mended
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.moves import allowed
from yellowbath.core.run.run import Run
from yellowbath.core.run.switch_on import unread
from yellowbath.core.tell.book import Spread
from yellowbath.core.tell.doubts import entry_words
from yellowbath.core.tell.finish import delicate
from yellowbath.core.tell.limits import what_limits
from yellowbath.core.tell.ohms import ohms
from yellowbath.core.units import show
from yellowbath.core.words import word
from yellowbath.workflows.runs.rack import OnRack
from yellowbath.workflows.runs.runs import RunView


class ActionOut(BaseModel):
    """One thing for hands; ``at`` is UTC, None for "when it suits"; after ``by`` it is too late."""

    kind: str
    at: datetime | None
    title: str
    why: str
    by: datetime | None
    danger: bool
    piece: str


class SteppedOut(BaseModel):
    """Between which two readings the amps stepped."""

    after: datetime
    by: datetime


class TimesOut(BaseModel):
    """Three clock times, UTC."""

    low: datetime
    mid: datetime
    high: datetime


class WindowOut(BaseModel):
    """When it is likely clean: one run in ten sooner, one in ten later. UTC while it runs;
    ``only_if``: what that rests on and nobody has seen yet, in words."""

    left_s: Spread
    at: TimesOut | None
    left_text: str
    only_if: str
    sides: list[SurfaceHoursOut]


class AdviceOut(BaseModel):
    """What the newest look or reading means."""

    title: str
    text: str
    grave: bool


class LineOut(BaseModel):
    """One line of the log; ``text``: in words, where it takes the bath's own figures to say it."""

    client_id: str
    at: datetime
    kind: str
    detail: dict[str, object]
    text: str = ""


class OutlineOut(BaseModel):
    """A tank's silhouette [m]."""

    round: bool
    floor_x_m: float
    rim_x_m: float
    height_m: float


class RackItemOut(BaseModel):
    """A tank on the rack; ``checking``: it is worked out just now, and told without its figures."""

    run_id: str
    plan_id: str
    name: str
    state: str
    share_clean: float
    next: ActionOut | None
    actions: list[ActionOut]
    window: WindowOut | None
    outline: OutlineOut | None
    checking: bool = False


class OhmsOut(BaseModel):
    """A part of the circuit by the newest reading, and what the plan has of it; ``ask``: which
    reading would tell more."""

    read: FigureOut
    planned: FigureOut | None
    more: bool
    ask: str


class AskedOut(BaseModel):
    """A stop of the plan of which was not said whether the bath has it; ``key``: what it is known
    by when that is said."""

    key: str
    title: str
    evidence: str
    fix: str


class RunOut(BaseModel):
    """Everything the run screen shows.

    ``stops`` are those of its plan with what became known since; ``since_planned`` is what the
    newest revision ``head`` does otherwise by design, ``unsaid`` whether nobody has said yet if the
    bath does so too; ``unnamed``: it does as it should again, and nobody has said what it was;
    ``unread``: points of the list that became known after it was ticked; ``already``: it ran
    before it was set up here; ``far_look``: the entry of the newest look, where it is asked about.
    A bare temperature is read in ``temperature_unit``.
    """

    id: str
    plan_id: str
    revision: int
    name: str
    state: str
    amps_read: bool
    allowed: list[str]
    now: datetime
    since: datetime | None
    powered_since: datetime | None
    figures: dict[str, FigureOut]
    share_clean: float
    beyond_percent: int
    slices: list[float]
    need_ah_dm2: Spread
    window: WindowOut | None
    actions: list[ActionOut]
    nothing_gained: bool
    doubted: bool
    unnamed: bool
    advice: AdviceOut | None
    stepped: SteppedOut | None
    poles: str
    leads: list[LeadOut]
    looked: str
    far_look: str | None
    read_a: float | None
    read_text: str
    ohms: list[OhmsOut]
    limits: str
    apart: str
    points: list[PointOut]
    steps: list[StepOut]
    finish: dict[str, datetime]
    regions: list[RegionOut]
    pieces: list[PieceAloneOut]
    stretches: int
    log: list[LineOut]
    older: bool
    scene: SceneOut
    planned: PlannedOut
    closed: bool
    silent: bool
    stopped: TimesOut | None
    temperature_unit: str
    delicate: bool
    by_halves: bool
    buffered: bool
    head: int
    since_planned: list[DifferenceOut]
    stops: list[FindingOut]
    asked: list[AskedOut]
    unsaid: bool
    unread: list[PointOut]
    already: bool


def _action(view: RunView) -> list[ActionOut]:
    return [ActionOut.model_validate(a, from_attributes=True) for a in view.actions]


def rack_item_out(on: OnRack) -> RackItemOut:
    if on.view is None:
        return RackItemOut(
            run_id=on.row.id, plan_id=on.row.plan_id, name=on.row.title or "Bath",
            state=on.row.state, share_clean=0.0, next=None, actions=[], window=None, outline=None,
            checking=True,
        )  # fmt: skip
    view = on.view
    upcoming = _action(view)
    return RackItemOut(
        run_id=view.row.id,
        plan_id=view.row.plan_id,
        name=view.plan.title or "Bath",
        state=view.run.state,
        share_clean=view.progress.share_clean,
        next=upcoming[0] if upcoming else None,
        actions=upcoming,
        window=_window(view),
        outline=OutlineOut.model_validate(scene_out(view.plan, view.answer), from_attributes=True),
    )


def run_out(view: RunView) -> RunOut:
    """A run for the page."""
    plan, run, how_far = view.plan, view.run, view.progress
    return RunOut(
        id=view.row.id,
        plan_id=view.row.plan_id,
        revision=view.row.revision,
        name=plan.title or "Bath",
        state=run.state,
        amps_read=run.amps_read,
        allowed=list(allowed(run.state)),
        now=view.now,
        since=run.since,
        powered_since=run.powered_since,
        figures=_figures(view),
        share_clean=how_far.share_clean,
        beyond_percent=round(100 * how_far.beyond),
        slices=[
            units.plain(d, "charge_density") for d in sliced(how_far.parts_ah_m2, how_far.weights)
        ],
        need_ah_dm2=_spread([units.plain(n, "charge_density") for n in how_far.need_ah_m2]),
        window=_window(view),
        actions=_action(view),
        nothing_gained=nothing_gained(run),
        doubted=view.doubted,
        unnamed=view.unnamed,
        advice=AdviceOut.model_validate(view.advice, from_attributes=True) if view.advice else None,
        stepped=_stepped_amps(run),
        poles=run.poles,
        leads=leads_out(view),
        looked=view.looked.text,
        far_look=_far_look(view),
        read_a=(read := 0.0 if run.silent else run.last_current_a),
        read_text=str(show(read, "current", view.system, 3)) if read is not None else "",
        ohms=[
            OhmsOut(
                read=figure_out(o.read, view.system),
                planned=figure_out(o.planned, view.system) if o.planned else None,
                more=o.more,
                ask=o.ask,
            )
            for o in ([] if run.out else ohms(run.metered, view.answer))
        ],
        limits="" if view.doubted or _stepped_amps(run) else _limits(view),
        apart=apart_said(plan, view.answer, turned=how_far.here_s is not None),
        points=[PointOut(id=p.id, text=p.text) for p in view.points],
        steps=steps_out(view.steps),
        finish={key: at for key, (at, _) in run.finish.items()},
        regions=[r for p in plan.pieces if p.id not in run.apart for r in regions_out(plan, p)],
        pieces=[piece_out(view, p) for p in view.pieces],
        stretches=run.count,
        log=lines_out(view.lines, lambda: Loop.of(plan, view.answer), view.system),
        older=view.older,
        scene=scene_out(plan, view.answer),
        planned=planned_out(view),
        closed=run.state == "closed",
        silent=run.silent,
        stopped=_stopped(run),
        temperature_unit=show(0.0, "temperature", view.system).unit,
        delicate=any(delicate(p) for p in plan.pieces),
        by_halves=how_far.here_s is not None,
        buffered=plan.supply.on_battery and plan.supply.on_mains,
        head=view.head,
        since_planned=[DifferenceOut.model_validate(d, from_attributes=True) for d in view.since],
        stops=[finding_out(f) for f in stops(view.judged)],
        asked=[
            AskedOut(key=key_of(f), title=f.title, evidence=f.evidence, fix=f.fix)
            for f in view.asked
        ],
        unsaid=bool(view.since) and run.said_of < view.head,
        unread=[PointOut(id=p.id, text=p.text) for p in unread(view.points, run.ticked)],
        already=run.already,
    )


def lines_out(
    entries: Sequence[Entry], loop: Callable[[], Loop], system: units.System
) -> list[LineOut]:
    """Lines of the log; the bath's circuit is only worked out where one of them is told by it."""
    of_bath = cache(loop)
    return [_line(e, of_bath, system) for e in entries]


def _line(entry: Entry, loop: Callable[[], Loop], system: units.System) -> LineOut:
    detail = entry.detail
    told = entry_words(detail, loop(), system) if isinstance(detail, Asked | Mended) else ""
    return LineOut(
        client_id=entry.client_id,
        at=entry.at,
        kind=detail.kind,
        detail=detail.model_dump(mode="json", exclude={"kind"}),
        text=told,
    )


def _limits(view: RunView) -> str:
    """What holds the amps down, in a sentence; empty where that is not known."""
    what = what_limits(view.plan, view.answer, view.run)
    return word(f"limits.{what}") if what else ""


def _stepped_amps(run: Run) -> SteppedOut | None:
    """When the amps stepped, if they did."""
    if run.heard is None or run.heard.stepped is None:
        return None
    after, by = run.heard.stepped
    return SteppedOut(after=after, by=by)


def _stopped(run: Run) -> TimesOut | None:
    """Of a silent bath: its last sign of life, when it likely stopped, and when that was seen."""
    times = run.stopped
    return TimesOut(low=times[0], mid=times[1], high=times[2]) if times else None


def _window(view: RunView) -> WindowOut | None:
    left = view.progress.left_s
    if left is None:
        return None
    if nothing_left(left):
        left = (0.0, 0.0, 0.0)
    at = [view.now + timedelta(seconds=x) for x in left]
    running = view.run.state == "running"
    return WindowOut(
        left_s=_spread(left),
        at=TimesOut(low=at[0], mid=at[1], high=at[2]) if running else None,
        left_text=left_said(left, view.system),
        only_if=word("run.poles_open") if running and not view.run.poles and left[2] > 0 else "",
        sides=sides_left_out(view.progress.sides, view.system),
    )


def _spread(three: Sequence[float]) -> Spread:
    return Spread(low=three[0], mid=three[1], high=three[2])


def _far_look(view: RunView) -> str | None:
    """The entry of the newest look, where it is asked about."""
    if not view.looked.far:
        return None
    at = view.run.inspections[-1][0]
    found = (e for e in view.lines if e.detail.kind == "inspection" and e.at == at)
    return next((e.client_id for e in found), None)


def _figures(view: RunView) -> dict[str, FigureOut]:
    """The run's own figures, traced to its log."""
    p = view.progress
    made = [
        figure(
            "run.powered", "Time under power", p.powered_s, "time", "t",
            [typed("t", "Sum of the stretches under power", p.powered_s, "time")], "log",
        ),
        figure(
            "run.charge", "Charge so far", p.charge_ah, "charge", "Q",
            [typed("Q", "Sum over stretches of amps times hours, half of what is unsure",
                   p.charge_ah, "charge")], "log",
        ),
    ]  # fmt: skip
    low, high = p.charge_edges_ah
    if not view.run.amps_read and view.run.stretches:
        made[1] = replace(made[1], note=word("run.amps_as_planned"))
    if high > low:
        note = f"{made[1].note} {word('run.unsure')}".strip()
        made[1] = made[1].with_window(low, high, note)
    if view.run.stretches:
        area = view.run.stretches[-1].basis.wetted_area_m2
        made.append(
            figure(
                "run.raw", "Charge on the piece", p.raw_ah_m2, "charge_density", "Q/A",
                [
                    typed("Q", "Charge so far", p.charge_ah, "charge"),
                    typed("A", "Surface in the liquid", area, "area"),
                ],
                "log",
            )
        )  # fmt: skip
    need = p.need_ah_m2
    made.append(
        figure(
            "run.effective", "Cleaning charge on the piece", p.effective_ah_m2,
            "charge_density", "E",
            [typed("E", "Mean over the surface within reach of the integral of j/(1 + j/js)",
                   p.effective_ah_m2, "charge_density")],
            "dose",
        )
    )  # fmt: skip
    made.append(
        figure(
            "run.need", "Cleaning charge it is thought to want", need[1], "charge_density", "N",
            [typed("N", "Median of what is believed after the looks so far", need[1],
                   "charge_density")],
            "dose",
        ).with_window(need[0], need[2])
    )  # fmt: skip
    return {f.key: figure_out(f, view.plan.system) for f in made}
