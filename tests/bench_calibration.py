"""How true the hours are, on simulated baths that are read and looked at as a person does.

``python -m tests.bench_calibration [COUNT] [SVG]``: the share of baths whose true end lies in the
80 % window at each stage, and how wide that is; once with the laws as the estimate has them, once
with another j_s and patchy rust. Draws the widths into an SVG file where one is named.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from tests.core.simulation.designs import document
from yellowbath.core.dose import Need, need_of, neediest
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.run.log import (
    AnyDetail,
    BackIn,
    Checklist,
    Entry,
    Inspection,
    Lift,
    Look,
    Reading,
    SwitchOn,
)
from yellowbath.core.run.progress import progress
from yellowbath.core.run.run import replay
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.senses import CLAMP
from yellowbath.core.simulation.truth import drawn

STAGES = ("plan", "one reading", "early look", "late look", "three looks")
WIDEST = {"plan": 3.3, "one reading": 3.3, "early look": 2.8, "late look": 1.9, "three looks": 1.8}
_BEGUN = datetime(2026, 11, 2, 8, 0, tzinfo=UTC)
_STEP_S, _MOST_H = 180.0, 120.0
_BIAS, _EYE = 0.4, 0.45
_OFF = timedelta(minutes=8)  # out of the bath for a look
_VOLTS = (6.0, 9.0, 12.0, 15.0)
_GRADES = ("light", "moderate", "heavy")


@cache
def kind(k: int) -> tuple[Design, Basis, Need]:
    """One of the kinds of bath: rust grade and volts of a laboratory supply."""
    grade, volts = _GRADES[k // len(_VOLTS)], _VOLTS[k % len(_VOLTS)]
    doc: dict[str, Any] = document("laboratory")
    doc["pieces"] = [{**doc["pieces"][0], "grade": grade}]
    doc["supply"] = {**doc["supply"], "nominal_v": volts}
    plan = read_plan(doc).plan
    worked = answer(plan)
    need = need_of(neediest(plan.pieces))
    return Design.of(plan, worked), basis_of(plan, 1, worked), need


@dataclass(frozen=True)
class Bath:
    """One that was run to its end: powered hours, share clean and amps at each step, hours until
    95 % of the main surface is clean."""

    basis: Basis
    need: Need
    hours: np.ndarray
    share: np.ndarray
    amps: np.ndarray
    end_h: float


def run_out(k: int, rng: np.random.Generator, mismatched: bool) -> Bath | None:
    """A bath at random, run until it is clean; None for one that takes longer than is waited."""
    design, basis, need = kind(k)
    truth = drawn(design, rng, patchy=0.3 if mismatched else 0.0)
    if mismatched:
        truth = replace(truth, js_a_m2=2 * truth.js_a_m2)
    bath = SimulatedBath(design, truth, start_c=design.heat.start_c)
    bath.switch_on()
    rows = []
    while bath.time_s < _MOST_H * 3600:
        rows.append((bath.time_s / 3600, bath.share_clean(), CLAMP.read(bath, rng).current_a))
        if bath.share_clean() >= 0.95:
            hours, share, amps = (np.array(c) for c in zip(*rows, strict=True))
            return Bath(basis, need, hours, share, amps, float(hours[-1]))
        step = max(_STEP_S, 0.01 * bath.time_s)
        bath.advance(step, min(step, 600.0))
    return None


class Person:
    """Whoever writes the log: an eye's bias for all of its looks, an error for each."""

    def __init__(self, bath: Bath, rng: np.random.Generator) -> None:
        self.bath, self.rng = bath, rng
        self.bias = _BIAS * rng.standard_normal()
        self.log: list[Entry] = []
        self.at = _BEGUN
        self.powered_h = 0.0
        self.write(Checklist(ticked=[]))
        self.write(SwitchOn())

    def write(self, detail: AnyDetail) -> None:
        self.log.append(Entry(client_id=f"entry-{len(self.log):04}", at=self.at, detail=detail))

    def go_on(self, to_h: float) -> None:
        self.at += timedelta(hours=to_h - self.powered_h)
        self.powered_h = to_h

    def step(self, values: np.ndarray) -> float:
        return float(np.interp(self.powered_h, self.bath.hours, values))

    def read(self) -> None:
        self.write(Look(bubbles="whole"))
        self.write(Reading(current_a=round(self.step(self.bath.amps), 2)))

    def look(self) -> None:
        true = min(max(self.step(self.bath.share), 0.002), 0.998)
        z = math.log(true / (1 - true)) + self.bias + _EYE * self.rng.standard_normal()
        said = round(20 / (1 + math.exp(-z))) / 20
        self.write(Lift())
        self.at += _OFF
        self.write(Inspection(verdict="share", shares={"p1.front": said}))
        self.write(BackIn())
        self.write(SwitchOn())

    def window(self) -> tuple[float, float, float]:
        """Powered hours in all until it is clean, 10, 50 and 90 %."""
        run = replay(self.log, self.bath.basis)
        left = progress(run, self.bath.need, self.at + timedelta(seconds=1)).left_s
        assert left is not None
        low, middle, high = (self.powered_h + s / 3600 for s in left)
        return low, middle, high


def stages(bath: Bath, rng: np.random.Generator) -> dict[str, tuple[float, float, float]]:
    """The window at each stage that came before the end; looks at a sixth and at four fifths of the
    middle that was thought at the beginning."""
    made: dict[str, tuple[float, float, float]] = {}
    person = Person(bath, rng)
    made["plan"] = person.window()
    middle = made["plan"][1]
    person.go_on(min(0.6, middle / 12))
    person.read()
    made["one reading"] = person.window()
    early, late = middle / 6, 0.8 * middle
    if bath.end_h > early:
        one = Person(bath, rng)
        one.go_on(min(0.6, middle / 12))
        one.read()
        one.go_on(early)
        one.look()
        made["early look"] = one.window()
    if bath.end_h > late:
        one = Person(bath, rng)
        one.go_on(min(0.6, middle / 12))
        one.read()
        one.go_on(late)
        one.read()
        one.look()
        made["late look"] = one.window()
        for at in (0.3 * middle, 0.55 * middle, late):
            person.go_on(at)
            person.read()
            person.look()
        made["three looks"] = person.window()
    return made


@dataclass(frozen=True)
class Stage:
    """Baths at a stage, the share whose end lay in the window, and the median width of that."""

    count: int
    inside: float
    width: float


def calibrated(count: int, seed: int, mismatched: bool = False) -> dict[str, Stage]:
    """So many baths, fresh from a seed."""
    rng = np.random.default_rng(seed)
    inside: dict[str, list[bool]] = {s: [] for s in STAGES}
    widths: dict[str, list[float]] = {s: [] for s in STAGES}
    kinds = len(_VOLTS) * len(_GRADES)
    made = 0
    while made < count:
        bath = run_out(int(rng.integers(kinds)), rng, mismatched)
        if bath is None:
            continue
        made += 1
        for stage, (low, _, high) in stages(bath, rng).items():
            inside[stage].append(low <= bath.end_h <= high)
            widths[stage].append(high / max(low, 1e-3))
    return {
        s: Stage(len(inside[s]), float(np.mean(inside[s])), float(np.median(widths[s])))
        for s in STAGES
    }


def report(title: str, found: dict[str, Stage]) -> None:
    print(title)
    for name, s in found.items():
        wide = f"widest wanted x{WIDEST[name]}"
        print(f"  {name:12s} {100 * s.inside:5.1f} % of {s.count}, x{s.width:.2f} ({wide})")


def drawing(matched: dict[str, Stage], other: dict[str, Stage]) -> str:
    """How the width falls and how often the end lies within, as an SVG."""
    left, top, step, high = 60, 30, 120, 150
    span = 4.0

    def line(stages_of: dict[str, Stage], dash: str) -> str:
        points = " ".join(
            f"{left + step * k},{top + high * (1 - math.log(s.width) / math.log(span)):.1f}"
            for k, s in enumerate(stages_of.values())
        )
        return f'<polyline points="{points}" fill="none" stroke="#1b1a17" stroke-width="2"{dash}/>'

    rows = [
        f'<text x="{left + step * k}" y="{top + high + 22}" text-anchor="middle">{name}</text>'
        f'<text x="{left + step * k}" y="{top + high + 40}" text-anchor="middle">'
        f"{100 * s.inside:.0f} %, other {100 * other[name].inside:.0f} %</text>"
        for k, (name, s) in enumerate(matched.items())
    ]
    ticks = [
        f'<text x="{left - 34}" y="{top + high * (1 - math.log(v) / math.log(span)) + 4:.1f}">'
        f"&#215;{v:g}</text>"
        for v in (1.0, 1.5, 2.0, 3.0, 4.0)
    ]
    return "\n".join([
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 620 240" font-family="sans-serif" '
        'font-size="12" fill="#1b1a17"><rect width="620" height="240" fill="#f4f0e4"/>',
        f'<text x="{left - 34}" y="16">Late edge of the 80 % window over its early edge, median; '
        "below, how many ends lay within</text>",
        *ticks, line(matched, ""), line(other, ' stroke-dasharray="5 4"'), *rows, "</svg>",
    ])  # fmt: skip


def main(count: int = 1200, svg: str = "") -> None:
    matched = calibrated(count, 601)
    report("as the estimate has them", matched)
    other = calibrated(count, 602, mismatched=True)
    report("j_s twice, patchy rust", other)
    if svg:
        Path(svg).write_text(drawing(matched, other), "utf-8")


if __name__ == "__main__":
    args: Sequence[str] = sys.argv[1:]
    main(int(args[0]) if args else 1200, args[1] if len(args) > 1 else "")
