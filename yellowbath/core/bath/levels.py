"""Volts and amps at two levels, which give what one reading cannot: threshold and resistance.

A bath has a threshold, the volts that its cell takes before anything flows; a touch has none, and
its volts go through zero with its amps.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yellowbath.core.bath.draws import law
from yellowbath.core.bath.loop import Array, Loop, slope_v
from yellowbath.core.errors import InputError
from yellowbath.core.words import word

TOUCH, MORE, RIGHT, STILL = "none", "more", "right", "still"


@dataclass(frozen=True)
class AtLevel:
    """Volts at the supply [V] and amps [A]."""

    volts: float
    amps: float


@dataclass(frozen=True)
class Levels:
    """What two levels come to: threshold [V] and resistance [ohm], each as the plan has it too."""

    threshold_v: float
    ohm: float
    planned_v: float
    planned_ohm: float

    @property
    def outcome(self) -> str:
        """As the ask ``two_levels`` has it."""
        if self.threshold_v < law("no_threshold") * self.planned_v:
            return TOUCH
        return MORE if self.ohm > law("more_ohm") * self.planned_ohm else RIGHT


def levels(high: AtLevel, low: AtLevel, loop: Loop) -> Levels:
    """The line through both, beside the plan's own between the same amps. Raises InputError where
    the two are too near to one another, or no current flows."""
    if not (high.amps > 0 and low.amps > 0 and math.isfinite(high.volts + low.volts)):
        raise InputError(word("levels.still"), allowed=word("levels.allowed"))
    if high.amps < low.amps:
        high, low = low, high
    apart = high.amps - low.amps
    if apart < law("levels_apart") * high.amps:
        raise InputError(word("levels.near"), allowed=word("levels.allowed"))
    ohm = (high.volts - low.volts) / apart
    planned = [_planned_v(a, loop) for a in (high.amps, low.amps)]
    planned_ohm = (planned[0] - planned[1]) / apart
    return Levels(
        high.volts - ohm * high.amps, ohm, planned[0] - planned_ohm * high.amps, planned_ohm
    )


def _planned_v(amps: float, loop: Loop) -> float:
    cell = loop.start_v + slope_v() * math.asinh(amps / (2 * loop.knee_a))
    return cell + amps * (loop.liquid_ohm + loop.leads_ohm)


def met_at_two(
    supply_a: Array, bath_a: Array, supply_v: Array, start_v: Array, loop: Loop
) -> Array:
    """Which outcome draws (n) would show, in the order none, more, right, still: where most of the
    amps pass the bath by there is no threshold, else the resistance is what volts are left over
    amps."""
    through = bath_a / np.maximum(supply_a, 1e-9)
    cell = start_v + slope_v() * np.arcsinh(bath_a / (2 * loop.knee_a))
    ohm = (supply_v - cell) / np.maximum(bath_a, 1e-9)
    more = ohm > law("more_ohm") * (loop.liquid_ohm + loop.leads_ohm)
    still = supply_a < loop.meant_a / 20
    made: Array = np.select([still, through < law("no_threshold"), more], [3, 0, 1], 2)
    return made
