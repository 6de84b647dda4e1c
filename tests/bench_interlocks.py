"""What switches baths off: sound ones, none of which may be, and touches, which have to be seen.

    python -m tests.bench_interlocks [sound] [touched] [hours]

Simulated baths of every kind of supply, their hidden values drawn wider than a plan takes them for;
the fold-back of a fixed supply and the ripple of a charger's meter are laws of this file, not the
simulation's. Every stream goes through the same watch and guard as a line's does.
"""

from __future__ import annotations

import math
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from tests.core.simulation.designs import SUPPLIES, document
from yellowbath.core.checks.limits import limit
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.run.interlocks import Guard, GuardStanding, Interlocks, Trip
from yellowbath.core.run.samples import Sample, Watch, able
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.faults import BathFault
from yellowbath.core.simulation.truth import drawn

# supplies as people set them: a limit far under what the volts would give, many volts and few
_MORE: dict[str, dict[str, Any]] = {
    "held at 1.5 A, 30 V": {"kind": "laboratory", "nominal_v": 30.0, "rated_a": 5.0,
                            "limit_a": 1.5},
    "held at 0.6 A": {"kind": "laboratory", "rated_a": 10.0, "limit_a": 0.6},
    "6 V charger": {"kind": "transformer", "nominal_v": 6.0, "rated_a": 10.0},
    "buffered": {"kind": "smart", "rated_a": 8.0, "buffer_battery": True, "battery_ah": 60.0,
                 "fuse_a": 15.0},
}  # fmt: skip
KINDS = {**SUPPLIES, **_MORE}
_ROD = {"id": "a1", "kind": "rod", "diameter_m": 0.016, "x_m": -0.12, "y_m": 0.0}
_OTHERS: tuple[dict[str, Any], ...] = ({}, {"anodes": [_ROD]})


@cache
def made(supply: str, other: int) -> tuple[Design, Basis]:
    """A kind of bath: what it is built from, and what a run of it is held against."""
    doc = {**document("laboratory"), **_OTHERS[other]}
    doc["supply"] = {"nominal_v": 12.0, **KINDS[supply]}
    plan = read_plan(doc).plan
    worked = answer(plan)
    return Design.of(plan, worked), basis_of(plan, 1, worked)


@dataclass
class Bath:
    """One simulated bath with a meter on it that tells amps and volts at the supply."""

    bath: SimulatedBath
    basis: Basis
    kind: str
    rng: np.random.Generator

    @property
    def gives(self) -> bool:
        """Whether its supply can keep what it takes: amps within rating and fuse."""
        b, amps = self.basis, self.bath.flow.supply_a
        fuse = math.inf if b.fuse_a is None else b.fuse_a
        return 0.16 < amps < min(b.rated_a, fuse, b.lead_a)

    def sample(self, at_s: float) -> Sample:
        flow = self.bath.flow
        amps, volts = flow.supply_a, flow.supply_v
        if self.kind == "foldback" and flow.at_ceiling:
            # under its volts it gives less and less, down to a third: found on its own line
            ohm = max(volts / max(amps, 1e-9), 1e-9)
            rated, nominal = self.basis.rated_a, self.bath.design.source.volts
            amps = rated / 3 / (1 - 2 / 3 * rated * ohm / nominal)
            amps, volts = min(amps, rated), min(amps, rated) * ohm
        ripple = 0.03 if KINDS[self.kind]["kind"] in ("transformer", "smart") else 5e-4
        amps *= 1 + ripple * self.rng.standard_normal()
        volts *= 1 + ripple / 3 * self.rng.standard_normal()
        return Sample(round(1000 * at_s), round(amps, 3), round(volts, 3))


def drawn_bath(k: int, seed: int) -> Bath:
    """The k-th of a row: kinds of supply in turn, all else drawn; within what its supply gives."""
    kind = list(KINDS)[k % len(KINDS)]
    rng = np.random.default_rng([seed, k])
    while True:
        design, basis = made(kind, int(rng.integers(len(_OTHERS))))
        sim = SimulatedBath(design, drawn(design, rng, 1.5), start_c=float(rng.uniform(8, 24)))
        sim.switch_on()
        found = Bath(sim, basis, kind, rng)
        if found.gives:
            return found


def stream(b: Bath, hours: float, step_s: float = 1.0) -> Iterator[tuple[float, Sample]]:
    """Samples second by second; the bath itself goes in steps of ten."""
    start = b.bath.time_s
    for k in range(int(3600 * hours / step_s)):
        at = k * step_s
        if start + at >= b.bath.time_s:
            b.bath.advance(10.0)
        yield at, b.sample(start + at)


def first_trip(b: Bath, samples: Iterator[tuple[float, Sample]], guard: Guard, watch: Watch):  # type: ignore[no-untyped-def]
    """When a stream trips, and by what; None for never."""
    chosen, stand = Interlocks(), GuardStanding(b.basis)
    can = able(b.basis, 0, 2**60)
    for at, s in samples:
        found = guard.judge(s, watch.judge(s, can), stand, chosen)
        if found is not None and found.acts:
            return at, found
    return None


@dataclass(frozen=True)
class Sound:
    baths: int
    hours: float
    off: list[tuple[str, float, Trip]]


def sound(count: int, hours: float, seed: int = 1) -> Sound:
    """So many sound baths for so long; those that were switched off."""
    off = []
    for k in range(count):
        b = drawn_bath(k, seed)
        found = first_trip(b, stream(b, hours), Guard(), Watch())
        if found is not None and b.gives:  # beyond its rating it is no longer a sound one
            off.append((b.kind, found[0], found[1]))
    return Sound(count, hours, off)


@dataclass(frozen=True)
class Touched:
    """One touch: of what bath, ohms of both, after how long it was told."""

    kind: str
    ohm: float
    bath_ohm: float
    after_s: float
    amps: float
    volts: float
    fuse: bool = False


def touched(count: int, hours: float, seed: int = 2) -> list[Touched]:
    """So many touches of 5 milliohm to 1 ohm, each at any hour of its bath."""
    told = []
    for k in range(count):
        b = drawn_bath(k, seed)
        ohm = float(math.exp(b.rng.uniform(math.log(0.005), math.log(1.0))))
        when = float(b.rng.uniform(0, hours))
        b.bath.advance(max(3600 * when - 120, 0.0), 30.0)
        guard, watch = Guard(), Watch()
        first_trip(b, stream(b, min(when, 120 / 3600)), guard, watch)
        flow = b.bath.flow
        bath_ohm = (flow.tank_v - flow.cell_v) / max(flow.bath_a, 1e-9)
        b.bath.with_fault(
            BathFault("touch", 1, lambda c, o=ohm: replace(c, touch_ohm=o)), b.bath.time_s
        )  # type: ignore[misc]
        b.bath.settle()
        s = b.sample(b.bath.time_s)
        found = first_trip(b, stream(b, 20 / 3600), guard, watch)
        after = math.inf if found is None else found[0]
        if b.bath.supply.blown:  # it is off, by its fuse: a thing of fractions of a second
            after = 0.0
        told.append(Touched(
            b.kind, ohm, bath_ohm, after, s.amps or 0.0, s.volts or 0.0, b.bath.supply.blown
        ))  # fmt: skip
    return told


# --- Other laws --------------------------------------------------------------------------------


@dataclass
class OtherWorld:
    """A bath whose crust, warming and cell are not the simulation's: crust grows with the root of
    time, warmth comes and goes by an exponential and the hours of the day, the cell's volts by
    decades of the amps, resistance walks, hands move the rod a little now and then."""

    volts: float
    inner: float
    ceiling: float
    folds: bool
    ohm: float
    rng: np.random.Generator
    walk: float = 0.0
    touch: float = math.inf

    def resists(self, hours: float) -> float:
        crust = 1 + self.crust * math.sqrt(hours)
        warm = 1 - self.warmth * (1 - math.exp(-hours / 1.7)) + 0.05 * math.sin(hours / 3.8)
        return self.ohm * crust * warm * math.exp(self.walk)

    def __post_init__(self) -> None:
        self.crust, self.warmth = self.rng.uniform(0, 0.25), self.rng.uniform(0, 0.4)

    def sample(self, at_s: float, step_s: float) -> Sample:
        self.walk += 0.02 * math.sqrt(step_s / 3600) * self.rng.standard_normal()
        ohm = self.resists(at_s / 3600)
        low, high = 0.0, 400.0
        for _ in range(50):  # volts at the posts as the bath and the touch have them
            bath = (low + high) / 2
            posts = 1.78 + 0.13 * math.log10(max(bath, 1e-3) / 0.05) + bath * ohm
            out = bath + max(posts, 0.0) / self.touch
            if out > self.gives(max(posts, 0.0)):
                high = bath
            else:
                low = bath
        posts = max(posts, 0.0)
        out = min(self.gives(posts), bath + posts / self.touch + 1e-9)
        noise = 1 + 0.01 * self.rng.standard_normal()
        return Sample(round(1000 * at_s), round(out * noise, 2), round(posts * noise, 2))

    def gives(self, posts: float) -> float:
        if posts >= self.volts:
            return 0.0
        most = self.ceiling
        if self.folds and posts < 0.8 * self.volts:
            most *= 0.4 + 0.6 * posts / (0.8 * self.volts)
        return min((self.volts - posts) / self.inner, most)


def other_world(k: int, seed: int) -> tuple[OtherWorld, Basis]:
    """One of them, and what a run of it is held against: a plan that is off by up to a third."""
    rng = np.random.default_rng([seed, k])
    ohm = float(rng.uniform(1.5, 6.0))
    kinds = ((12.0, 0.01, 3.0, False), (24.0, 0.01, 1.5, False), (15.0, 0.5, 99.0, False),
             (12.0, 0.01, 5.0, True), (12.6, 0.04, 400.0, False))  # fmt: skip
    volts, inner, ceiling, folds = kinds[k % len(kinds)]
    _, basis = made("laboratory", 0)
    planned = ohm * float(math.exp(rng.uniform(-0.3, 0.3)))
    free = replace(basis, rated_a=math.inf, limit_a=math.inf, open_v=math.inf, lead_a=math.inf,
                   fuse_a=None, bath_ohm=planned)  # fmt: skip
    return OtherWorld(volts, inner, ceiling, folds, ohm, rng), free


def others(count: int, hours: float, seed: int = 5, step_s: float = 5.0) -> tuple[int, int]:
    """Of so many of them, how many are switched off sound, and how many touched are not."""
    false = missed = 0
    for k in range(count):
        world, basis = other_world(k, seed)
        bath = Bath(None, basis, "other", world.rng)  # type: ignore[arg-type]
        steps = range(int(3600 * hours / step_s))
        sound_one = ((n * step_s, world.sample(n * step_s, step_s)) for n in steps)
        guard, watch = Guard(), Watch()
        false += first_trip(bath, sound_one, guard, watch) is not None
        world.touch = float(math.exp(world.rng.uniform(math.log(0.005), math.log(1.0))))
        start = 3600 * hours
        touched_one = ((n, world.sample(start + n, 1.0)) for n in range(6))
        missed += first_trip(bath, touched_one, guard, watch) is None
    return false, missed


def main(baths: int = 200, touches: int = 200, hours: float = 12.0) -> None:
    """Both tables, with what was missed."""
    began = time.process_time()
    found = sound(baths, hours)
    print(f"{found.baths} sound baths for {hours:g} h: {len(found.off)} switched off "
          f"({time.process_time() - began:.0f} s of processor)")  # fmt: skip
    for kind, at, trip in found.off[:20]:
        print(f"  {kind}, after {at / 3600:.1f} h: {trip.reason}")
    told = touched(touches, hours)
    late = [t for t in told if t.after_s > 5]
    within = sorted(t.after_s for t in told if t.after_s <= 5)
    middle = within[len(within) // 2] if within else math.nan
    fuses = sum(t.fuse for t in told)
    print(f"{len(told)} touches: {len(told) - len(late)} off within 5 s, {fuses} of them by their "
          f"own fuse, in the middle after {middle:.0f} s; held "
          f"{limit('interlocks', 'held_s'):g} s")  # fmt: skip
    for t in late:
        print(f"  {t.kind}: {t.ohm:.3f} ohm across {t.bath_ohm:.2f} ohm, "
              f"{t.amps:.2f} A at {t.volts:.2f} V, told after {t.after_s:g} s")  # fmt: skip
    false, missed = others(baths, hours)
    print(f"{baths} baths of other laws for {hours:g} h: {false} switched off sound, "
          f"{missed} touched and not seen within 5 s")  # fmt: skip


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:3]), *(float(a) for a in sys.argv[3:4]))
