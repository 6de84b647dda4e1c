"""Simulated baths with something the matter, for the diagnosis: what a person notes of them before
asking, and what is answered when something is asked."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from tests.core.bath.sick import bath_of
from tests.core.simulation.designs import SUPPLIES, document
from yellowbath.core.bath.loop import Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import Ask, Bounds, asks, fitting
from yellowbath.core.causes.judge import Known, priors
from yellowbath.core.causes.rows import row
from yellowbath.core.data import table
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.simulation.asked import answered
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.faults import fault, possible
from yellowbath.core.simulation.senses import CLAMP, DIAL, look
from yellowbath.core.simulation.truth import drawn

STEP_S = 40.0  # of the baths: coarse, there are many
_TWO = [
    {"id": f"p{k}", "grade": "moderate",
     "shape": {"kind": "plate", "length_m": 0.2, "width_m": 0.06, "thickness_m": 0.008}}
    for k in (1, 2)
]  # fmt: skip
_FOUR = [
    {"id": f"a{k}", "kind": "rod", "diameter_m": 0.012, "x_m": x, "y_m": y}
    for k, (x, y) in enumerate(((-0.15, -0.1), (0.15, -0.1), (-0.15, 0.1), (0.15, 0.1)), 1)
]
_ONE = [{"id": "a1", "kind": "rod", "diameter_m": 0.016, "x_m": -0.12, "y_m": 0.0}]
KINDS: Sequence[tuple[str, Mapping[str, Any]]] = tuple(
    (supply, more)
    for supply in SUPPLIES
    for more in ({}, {"anodes": _FOUR}, {"pieces": _TWO, "anodes": _FOUR}, {"anodes": _ONE})
)


@cache
def kind(k: int) -> tuple[Design, Loop]:
    """One of the kinds of bath."""
    supply, more = KINDS[k]
    doc = document(supply)
    if more.get("pieces") or supply in ("transformer", "smart"):
        doc["supply"] = {**doc["supply"], "fuse_a": 10.0}
    plan = read_plan({**doc, **more}).plan
    worked = answer(plan)
    return Design.of(plan, worked), Loop.of(plan, worked)


@contextmanager
def other_ranges() -> Iterator[None]:
    """Faults of other sizes than those the diagnosis takes them for."""
    rows = table("simulated")["size"]
    kept = {k: dict(v) for k, v in rows.items()}
    rows["contact_ohm"]["low"] = 0.5
    rows["caked"].update(low=0.4, high=8.0)
    rows["thin"].update(low=0.05, high=0.6)
    rows["sag"].update(low=0.3, high=0.8)
    try:
        yield
    finally:
        for k, v in kept.items():
            rows[k].update(v)


@dataclass
class Case:
    """A bath with a fault (or two), what is known of it and what was noted."""

    bath: SimulatedBath
    loop: Loop
    cause: str
    known: Known
    noted: list[Observation]
    rng: np.random.Generator
    errs: float = 1.0
    second: str = ""

    @property
    def faults(self) -> set[str]:
        return {f.fault.id for f in self.bath.faults}


Maker = Callable[..., SimulatedBath]


def case(
    rng: np.random.Generator, matched: bool, second: bool = False, foreign: bool = False
) -> Case:
    """A bath in trouble that shows, at random; ``foreign``: of a world of other laws."""
    while True:
        design, loop = kind(int(rng.integers(len(KINDS))))
        said = {
            c: p for c, p in priors(loop, Known(charge_ah=1e3)).items() if c in possible(design)
        }
        weights = np.array(list(said.values()))
        if not matched:
            weights = weights * np.exp(0.6 * rng.standard_normal(len(weights)))
        cause = str(rng.choice(list(said), p=weights / weights.sum()))
        maker = bath_of(rng) if foreign else SimulatedBath
        found = _trouble(rng, design, loop, cause, matched, second, maker)
        if found is not None:
            return found


def _trouble(
    rng: np.random.Generator, design: Design, loop: Loop, cause: str, matched: bool, second: bool,
    maker: Maker,
) -> Case | None:  # fmt: skip
    for _ in range(6):
        start = rng.random() < float(row(cause)["start"])  # type: ignore[arg-type]
        least = 2.5 if cause in ("caked", "one_clean") else 0.3
        comes = 0.0 if start else math.exp(rng.uniform(math.log(least), math.log(12.0)))
        seen_after = math.exp(rng.uniform(math.log(0.08), math.log(3.0)))
        truth = drawn(design, rng, 1.0 if matched else 1.6, 0.0 if matched else 0.3)
        faults = [Scheduled(comes * 3600, fault(cause, design, rng))]
        other = ""
        if second:
            other = str(rng.choice([c for c in possible(design) if c != cause]))
            faults.append(Scheduled(comes * 3600, fault(other, design, rng)))
        bath = maker(design, truth, faults, start_c=loop.temperature_c)
        bath.switch_on()
        noted = []
        if not start:
            bath.advance(comes * 3600 * 0.7, STEP_S)
            noted += _before(bath, rng)
            bath.advance(comes * 3600 * 0.3, STEP_S)
        bath.advance(seen_after * 3600, STEP_S)
        now = _now(bath, loop, cause, rng)
        if _odd(now, loop):
            known = Known(charge_ah=bath.charge_ah * math.exp(0.1 * rng.standard_normal()))
            return Case(bath, loop, cause, known, noted + now, rng, 1.0 if matched else 1.5, other)
    return None


def _before(bath: SimulatedBath, rng: np.random.Generator) -> list[Observation]:
    made = []
    if rng.random() < 0.6:
        made.append(Observation("gas", look(bath, rng).gas, before=True))
    if rng.random() < 0.6:
        amps = CLAMP.read(bath, rng).current_a
        made.append(Observation("amps", value=amps, error=0.03, before=True))
    return made


def _now(
    bath: SimulatedBath, loop: Loop, cause: str, rng: np.random.Generator
) -> list[Observation]:
    made = [Observation("gas", look(bath, rng).gas)]
    clamp = rng.random() < 0.7
    read = (CLAMP if clamp else DIAL).read(bath, rng)
    if cause == "meter" or rng.random() < 0.7:
        made.append(Observation("amps", value=read.current_a, error=0.03 if clamp else 0.15))
    if rng.random() < 0.2:
        made.append(Observation("tank_v", value=read.tank_v))
    if rng.random() < 0.15:
        made.append(Observation("supply_v", value=read.supply_v))
    if cause == "pits":
        made.append(Observation("equal", "equal"))
    if cause == "reversed" and rng.random() < 0.6:
        made.append(Observation("crust", answered(asks()["crust"], bath, loop, rng, 1.0)))
    return made


def _odd(now: Sequence[Observation], loop: Loop) -> bool:
    """Whether somebody would see that it is not as it should be."""
    b = Bounds.of(loop)
    for e in now:
        if e.ask == "gas" and e.outcome != "whole":
            return True
        if e.ask == "amps" and not b.low_a <= e.value <= b.high_a:
            return True
        if e.ask == "tank_v" and e.value < b.low_tank_v:
            return True
        if (e.ask, e.outcome) in {("equal", "equal"), ("crust", "piece")}:
            return True
    return False


# --- The fixed list that it is held against ------------------------------------------------------

# Volts at the tank first; then supply, fuse, battery, the contacts, the hanger, the mix, the scrap
# (common practice, no source), each with the outcome that names a cause.
FIXED: Sequence[tuple[str, Mapping[str, str]]] = (
    ("tank_v", {}),
    ("supply_v", {"none": "asleep", "low": "sag"}),
    ("fuse", {"blown": "fuse"}),
    ("battery", {"flat": "flat"}),
    ("joint_piece", {"much": "contact_piece"}),
    ("joint_scrap", {"much": "contact_scrap"}),
    ("hanger", {"coated": "insulated"}),
    ("measured", {"doubt": "thin"}),
    ("warmth", {"cold": "cold"}),
    ("scrap", {"thick": "caked", "one_bare": "one_clean"}),
    ("leads", {"touching": "touch", "swapped": "reversed"}),
    ("level", {"no": "scrap_out"}),
    ("mark", {"under": "low_level"}),
    ("piece_under", {"no": "dry_piece"}),
    ("one_wire", {"other": "meter"}),
    ("box", {"other": "wrong_soda"}),
    ("range", {"wrong": "wrong_range"}),
    ("each_piece", {"near_only": "far_piece", "far_only": "near_piece"}),
    ("fan", {"weak": "fan"}),
    ("equal", {"equal": "pits"}),
)
FIXED_ORDER = [c for _, named in FIXED for c in named.values()] + ["blind", "overload"]


def fixed_steps(loop: Loop) -> list[tuple[Ask, Mapping[str, str]]]:
    """The list for a bath of this make."""
    can = {a.id for a in fitting(loop)}
    return [(asks()[key], named) for key, named in FIXED if key in can]
