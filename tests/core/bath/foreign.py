"""Baths that share no law with any estimate: their own cell, warming, crust and joints, and the
meters that people hold to them.

Everything here is judged, made to differ, and drawn by a seed; times [h], amps [A], volts [V],
resistances [ohm]. A bath is a row of amps on a grid of minutes; faults are put on its resistance.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.meters import Method

Array = NDArray[np.float64]
STEP_H = 1 / 60
LONG_H = 20.0


@dataclass(frozen=True)
class ForeignLaw:
    """What a kind of bath does with the time (t): each gives a factor or a share of the ohms.

    ``warm``: conductivity over what it was; ``crust`` and ``joint``: ohms over all ohms at the
    start; ``supply``: volts over those at the start; ``eases``: share of the liquid's ohms that
    goes as rust comes off.
    """

    warm: Callable[[np.random.Generator, Array], Array]
    crust: Callable[[np.random.Generator, Array], Array]
    joint: Callable[[np.random.Generator, Array], Array]
    supply: Callable[[np.random.Generator, Array], Array]
    eases: Callable[[np.random.Generator, Array], Array]


def _none(rng: np.random.Generator, t: Array) -> Array:
    return 0 * t


def _even(rng: np.random.Generator, t: Array) -> Array:
    return np.ones_like(t)


def _slow_warmth(rng: np.random.Generator, t: Array) -> Array:
    kelvin = rng.uniform(2, 16) * (1 - np.exp(-t / rng.uniform(1.5, 6)))
    made: Array = np.exp(0.019 * kelvin)
    return made


def _room_swings(rng: np.random.Generator, t: Array) -> Array:
    cool, begins = 290.0, rng.uniform(0, 24)
    room = cool + rng.uniform(1, 5) * (np.sin((t + begins) / 24 * 2 * np.pi)
                                       - math.sin(begins / 24 * 2 * math.pi))  # fmt: skip
    own = room + rng.uniform(0, 8) * t / (t + 4)
    made: Array = np.exp(1700 * (1 / cool - 1 / own))
    return made


def _late_warmth(rng: np.random.Generator, t: Array) -> Array:
    return 1 + rng.uniform(0.02, 0.2) / (1 + np.exp(-(t - rng.uniform(2, 7)) / 1.2))


def _root_crust(rng: np.random.Generator, t: Array) -> Array:
    made: Array = rng.uniform(0.02, 0.35) * np.sqrt(t / 12)
    return made


def _flakes(rng: np.random.Generator, t: Array) -> Array:
    """Grows evenly; now and then some of it falls off."""
    rate, made, crust = rng.uniform(0.01, 0.04), np.empty_like(t), 0.0
    falls = rng.random(len(t)) < STEP_H / 5
    for k in range(len(t)):
        crust += rate * STEP_H
        if falls[k]:
            crust *= rng.uniform(0.6, 0.9)
        made[k] = crust
    return made


def _crust_to_an_end(rng: np.random.Generator, t: Array) -> Array:
    return rng.uniform(0.05, 0.3) * (1 - np.exp(-t / rng.uniform(1.5, 8)))


def _flickers(rng: np.random.Generator, t: Array) -> Array:
    """A clip that works a little: back to its middle within the hour."""
    made, x = np.empty_like(t), 0.0
    pull, kick = STEP_H / rng.uniform(0.3, 1.5), rng.uniform(0.001, 0.0035)
    for k in range(len(t)):
        x += -pull * x + kick * rng.standard_normal()
        made[k] = x
    return made - made[0]


def _oxidises(rng: np.random.Generator, t: Array) -> Array:
    made: Array = rng.uniform(0.0, 0.012) * t
    return made


def _mains(rng: np.random.Generator, t: Array) -> Array:
    """Volts of the street: steps of a per cent every hour or two."""
    made, level = np.ones_like(t), 0.0
    for k in range(1, len(t)):
        if rng.random() < STEP_H / 1.5:
            level = 0.6 * level + 0.008 * rng.standard_normal()
        made[k] = 1 + level
    made[0] = 1.0
    return made


def _rust_goes(rng: np.random.Generator, t: Array) -> Array:
    return rng.uniform(0.0, 0.15) / (1 + np.exp(-(t - rng.uniform(2, 9)) / rng.uniform(0.5, 2)))


LAWS: Mapping[str, ForeignLaw] = {
    "crust by the root, slow warmth": ForeignLaw(_slow_warmth, _root_crust, _none, _even, _none),
    "the room swings, crust flakes off": ForeignLaw(_room_swings, _flakes, _none, _even, _none),
    "late warmth, a crust that ends": ForeignLaw(
        _late_warmth, _crust_to_an_end, _none, _even, _none
    ),
    "a clip that works, street volts": ForeignLaw(
        _slow_warmth, _crust_to_an_end, _flickers, _mains, _none
    ),
    "rust goes, joints oxidise": ForeignLaw(
        _room_swings, _root_crust, _oxidises, _even, _rust_goes
    ),
}


@dataclass(frozen=True)
class ForeignBath:
    """One bath: its supply's volts and inner ohms, ohms at the start, what its cell takes, and the
    rows over time; ``planned``: amps that a plan would tell of it."""

    volts: Array
    inner: float
    ohm: Array
    cell: tuple[float, float, float]
    planned: float

    def amps(self, times: Array, more: Array | float = 1.0) -> Array:
        """What flows at times [h], its ohms ``more`` times as many."""
        grid = np.arange(len(self.ohm)) * STEP_H
        ohm = np.interp(times, grid, self.ohm) * more + self.inner
        volts = np.interp(times, grid, self.volts)
        start, slope, knee = self.cell
        flows = np.maximum(volts - start, 0.0) / ohm
        for _ in range(60):  # a plain fixed point, damped
            flows = 0.5 * flows + 0.5 * np.maximum(
                volts - start - slope * np.log10(1 + flows / knee), 0.0) / ohm  # fmt: skip
        made: Array = flows
        return made


def drawn(law: ForeignLaw, rng: np.random.Generator) -> ForeignBath:
    """One bath of a kind, 12 V or 6, a third of an ohm to six."""
    t = np.arange(0, LONG_H, STEP_H)
    ohm = math.exp(rng.uniform(math.log(0.6), math.log(5.0)))
    liquid, rest = 0.85 * ohm, 0.15 * ohm
    row = liquid * (1 - law.eases(rng, t)) / law.warm(rng, t) + rest
    row = row + ohm * (law.crust(rng, t) + law.joint(rng, t))
    volts = rng.choice([12.0, 12.0, 6.0]) * (1 + 0.03 * rng.standard_normal())
    supply = volts * law.supply(rng, t)
    cell = rng.uniform(1.2, 1.7), rng.uniform(0.15, 0.35), rng.uniform(0.002, 0.05)
    made = ForeignBath(supply, rng.uniform(0.02, 0.25), row, cell, 1.0)
    first = float(made.amps(np.zeros(1))[0])
    return ForeignBath(supply, made.inner, row, cell, first * math.exp(0.2 * rng.standard_normal()))


@dataclass(frozen=True)
class ForeignMeter:
    """What a meter shows: its own error, the same all day, another at each reading, and digits."""

    method: Method
    own: float
    each: float
    digits: float

    def factor(self, rng: np.random.Generator) -> float:
        return math.exp(self.own * rng.standard_normal())

    def read(self, amps: Array, factor: float, rng: np.random.Generator) -> Array:
        shown = amps * factor * np.exp(self.each * rng.standard_normal(len(amps)))
        made: Array = np.maximum(np.round(shown / self.digits) * self.digits, 0.0)
        return made


CLAMP = ForeignMeter("clamp", 0.02, 0.02, 0.01)
DIAL = ForeignMeter("dial", 0.08, 0.05, 0.1)
LINE = ForeignMeter("line", 0.005, 0.004, 0.001)
