"""Answers as the page gets them: every number written in the person's units, with its trace."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from functools import partial
from typing import Any, Literal

from pydantic import BaseModel

from yellowbath.api.deps import BothOut
from yellowbath.api.views.amount import AmountOut, amount_out
from yellowbath.api.views.bench import BenchOut, bench_out
from yellowbath.api.views.hours import OutlookOut, outlook_out
from yellowbath.api.views.scene import SceneOut, scene_out
from yellowbath.api.views.volts import VoltsOut, volts_out
from yellowbath.core import units
from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Plan
from yellowbath.core.figures import Figure
from yellowbath.core.plan.placement.dips import DipPlan, dip_plans
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.apart import apart_said
from yellowbath.core.power.surroundings import course_of
from yellowbath.core.run.switch_on import points
from yellowbath.core.tell.finish import Step, finish_steps
from yellowbath.core.tell.oneline import one_line
from yellowbath.core.units import Shown, System, show, window
from yellowbath.core.words import word
from yellowbath.workflows.plans.field import Compared
from yellowbath.workflows.plans.plans import Answered, SavedPlan


class InputOut(BaseModel):
    """One symbol of a formula, its value written and in SI."""

    symbol: str
    name: str
    text: str
    value: float
    source: str


class FigureOut(BaseModel):
    """A number that can be opened. ``number``, ``low`` and ``high`` are in ``unit``."""

    key: str
    name: str
    text: str
    unit: str
    number: float
    low: float | None
    high: float | None
    low_text: str | None
    high_text: str | None
    value_si: float
    low_si: float | None
    high_si: float | None
    expression: str
    inputs: list[InputOut]
    source: str
    note: str


class SetOut(BaseModel):
    """A field that a mend sets, by pointer [SI]."""

    pointer: str
    value: Any


class ChangeOut(BaseModel):
    """A mend in one press, tried on this plan: it takes the finding away and raises no stop."""

    label: str
    sets: list[SetOut]


class FindingOut(BaseModel):
    """What a check found; ``by_amps``: it goes by the amps, which a solve may move."""

    id: str
    severity: Literal["stop", "caution", "note"]
    mark: str
    title: str
    evidence: str
    reason: str
    fix: str
    source: str
    differ: str
    about: list[str]
    by_amps: bool
    changes: list[ChangeOut]


class BandOut(BaseModel):
    """The working band on the density scale [A/dm2]."""

    name: str
    low: float
    high: float
    p95_high: float


class PointOut(BaseModel):
    id: str
    text: str


class ChoiceOut(BaseModel):
    id: str
    label: str


class StepOut(BaseModel):
    id: str
    title: str
    how: str
    why: str
    duration_s: float
    within_s: float
    from_lift: bool
    source: str
    choices: list[ChoiceOut]


class DipOut(BaseModel):
    """One dip, what it covers from the end that hangs down at first, and its hours under power."""

    words: str
    from_text: str
    to_text: str
    time_text: str


class DipPlanOut(BaseModel):
    """Dips of a piece longer than its bath is deep; ``dry_text`` is empty where two dips do."""

    piece: str
    dips: list[DipOut]
    overlap_text: str
    dry_text: str
    time_text: str


class WarmthOut(BaseModel):
    """The bath's temperature over the run: hours, and temperatures at even steps in the person's
    unit, with the tank's limit."""

    hours: float
    values: list[float]
    unit: str
    limit: float


class AnswerOut(BaseModel):
    """A plan's answer: figures by key, findings, and what the page draws."""

    figures: dict[str, FigureOut]
    band: BandOut
    rated_a: float
    findings: list[FindingOut]
    keeps: list[str]
    scene: SceneOut
    points: list[PointOut]
    steps: list[StepOut]
    dips: list[DipPlanOut]
    warmth: WarmthOut | None
    error_percent: float
    model: str
    outlook: OutlookOut | None
    apart: str
    meter: str | None
    amount: AmountOut | None
    line: list[SaidOut]
    volts: VoltsOut | None
    bench: BenchOut | None


class SaidOut(BaseModel):
    """One part of the one answer; ``stop``: it stands in the way."""

    part: str
    name: str
    text: str
    stop: bool


class ReadOut(BaseModel):
    """A document as read, with the text of every field, the faults of some, and how those were
    read that say more than a figure."""

    document: Plan
    shown: dict[str, str]
    faults: dict[str, str]
    heard: dict[str, str]
    answer: AnswerOut | None
    trouble: str


class PlanOut(BaseModel):
    """A saved revision and its answer."""

    id: str
    revision: int
    base: int
    created_at: datetime
    read: ReadOut
    brought: list[BothOut]


def written(f: Figure, system: System) -> tuple[Shown, Shown | None, Shown | None]:
    """A figure and its window as a person reads them."""
    if f.low is None or f.high is None:
        return show(f.value, f.quantity, system, 2 if f.quantity == "number" else 3), None, None
    return window(f.value, f.low, f.high, f.quantity, system)


def figure_out(f: Figure, system: System, brief: bool = False) -> FigureOut:
    """A figure in the person's units; ``brief`` leaves out the inputs of its formula."""
    main, low, high = written(f, system)
    return FigureOut(
        key=f.key,
        name=f.name,
        text=main.text,
        unit=main.unit,
        number=units.plain(f.value, f.quantity, system, f.value),
        low=None if f.low is None else units.plain(f.low, f.quantity, system, f.value),
        high=None if f.high is None else units.plain(f.high, f.quantity, system, f.value),
        low_text=low.text if low else None,
        high_text=high.text if high else None,
        value_si=f.value,
        low_si=f.low,
        high_si=f.high,
        expression=f.expression,
        inputs=[
            InputOut(
                symbol=i.symbol,
                name=i.name,
                text=str(show(i.value, i.quantity, system)),
                value=i.value,
                source=i.source,
            )
            for i in (() if brief else f.inputs)
        ],
        source=f.source,
        note=f.note,
    )


def finding_out(f: Finding) -> FindingOut:
    changes = [
        ChangeOut(label=c.label, sets=[SetOut(pointer=p, value=v) for p, v in c.sets])
        for c in f.changes
    ]
    return FindingOut(
        id=f.id,
        severity=f.severity,
        mark=f.mark,
        title=f.title,
        evidence=f.evidence,
        reason=f.reason,
        fix=f.fix,
        source=f.source,
        differ=f.differ,
        about=list(f.about),
        by_amps=f.by_amps,
        changes=changes,
    )


def steps_out(steps: Iterable[Step]) -> list[StepOut]:
    return [StepOut.model_validate(s, from_attributes=True) for s in steps]


def _warmth_out(plan: Plan, worked: Answer) -> WarmthOut | None:
    if worked.gives.value <= 0:
        return None
    seconds, course = course_of(plan, worked.fill.level.value, worked.heat, worked.window)

    def plain(value: float) -> float:
        return round(units.plain(value, "temperature", plan.system), 2)

    return WarmthOut(
        hours=units.hours(seconds),
        values=[plain(t) for t in course],
        unit=show(0.0, "temperature", plan.system).unit,
        limit=plain(plan.tank.limit_c),
    )


def answer_out(plan: Plan, answered: Answered, brief: bool = False) -> AnswerOut | None:
    """An answer for the page, None where the plan has none; ``brief`` as while something moves."""
    worked = answered.answer
    if worked is None:
        return None
    found = list(answered.mended)
    band = worked.band
    return AnswerOut(
        figures={f.key: figure_out(f, plan.system, brief) for f in worked.figures()},
        band=BandOut(
            name=band.name,
            low=units.plain(band.low, "density"),
            high=units.plain(band.high, "density"),
            p95_high=units.plain(band.p95_high, "density"),
        ),
        rated_a=plan.supply.rated_a,
        findings=[finding_out(f) for f in found],
        keeps=list(worked.keeps),
        scene=scene_out(plan, worked),
        points=[PointOut(id=p.id, text=p.text) for p in points(plan, found)],
        steps=steps_out(finish_steps(plan)),
        dips=[_dip_plan_out(plan, d) for d in dip_plans(plan, worked, answered.other_half)],
        warmth=None if brief else _warmth_out(plan, worked),
        error_percent=units.plain(worked.model_error, "ratio"),
        model=worked.models[0],
        outlook=outlook_out(worked.outlook, plan.system),
        apart=apart_said(plan, worked),
        meter=_meter_text(plan),
        amount=None if brief else amount_out(plan, worked),
        line=[
            SaidOut(part=s.part, name=word(f"line.name.{s.part}"), text=s.text, stop=s.stop)
            for s in one_line(plan, worked, found)
        ],
        volts=volts_out(plan, worked),
        bench=None if brief else bench_out(plan, worked),
    )


def _meter_text(plan: Plan) -> str | None:
    if plan.meter.read_a is None:
        return None
    read = show(plan.meter.read_a, "current", plan.system)
    factor = show(plan.meter.factor, "number", plan.system)
    return word("meter.says", read=read, factor=factor)


def _dip_plan_out(plan: Plan, found: DipPlan) -> DipPlanOut:
    long = partial(show, quantity="length", system=plan.system)

    def time(seconds: float) -> str:
        return str(show(seconds, "time", plan.system, 2)) if seconds else ""

    return DipPlanOut(
        piece=found.piece,
        dips=[
            DipOut(
                words=d.words, from_text=str(long(d.low_m)), to_text=str(long(d.high_m)),
                time_text=time(d.seconds),
            )
            for d in found.dips
        ],
        overlap_text=str(long(found.overlap_m)),
        dry_text=str(long(found.dry_m)) if found.dry_m > 0 else "",
        time_text=time(found.seconds),
    )  # fmt: skip


class DifferenceOut(BaseModel):
    """One thing in which two plans differ."""

    pointer: str
    name: str
    one: str
    other: str


class CompareOut(BaseModel):
    """Two variants answered side by side."""

    one: ReadOut
    other: ReadOut
    differences: list[DifferenceOut]


def compare_out(found: Compared) -> CompareOut:
    return CompareOut(
        one=read_out(found.one),
        other=read_out(found.other),
        differences=[
            DifferenceOut.model_validate(d, from_attributes=True) for d in found.differences
        ],
    )


def read_out(answered: Answered, brief: bool = False) -> ReadOut:
    """A document as read; ``brief`` leaves out what nobody opens while something moves."""
    read = answered.read
    return ReadOut(
        document=read.plan,
        shown={} if brief else read.shown,
        faults=read.faults,
        heard=read.heard,
        answer=answer_out(read.plan, answered, brief),
        trouble=answered.trouble,
    )


def plan_out(kept: SavedPlan) -> PlanOut:
    r = kept.revision
    return PlanOut(
        id=r.plan_id,
        revision=r.number,
        base=r.base,
        created_at=r.created_at,
        read=read_out(kept.answered),
        brought=[BothOut.model_validate(b, from_attributes=True) for b in kept.brought],
    )
