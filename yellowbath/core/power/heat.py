"""The bath's temperature over time, and what evaporates: one lumped temperature.

C dT/dt = P - U A (T - Ta) - h S (T - Ta) - L(T) E(T): the current's heat in, walls and floor,
surface, evaporation out. Temperatures [C], powers [W], areas [m2], times [s]. Evaporation by the
Carrier form used for pools; in still air it is about half of that near room warmth, which is the
lower end of the window. Integrated by Runge and Kutta's fourth order with steps under a tenth of
the shortest time constant; checked against a general ODE solver in the tests.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Any

from yellowbath.core.data import param
from yellowbath.core.document import Place, Plan, Tube
from yellowbath.core.geometry.piece import mass_of
from yellowbath.core.geometry.tank import losing_areas, volume_at
from yellowbath.core.power.vapour import BOILS
from yellowbath.core.roots import invert

WATER_HEAT = 4.19e6  # J/m3/K, of water at 20 C; from memory
_IRON_HEAT = 450.0  # J/kg/K; from memory
_STEPS = 48  # of a course that is drawn; each is cut as short as its laws ask


@dataclass(frozen=True)
class Surroundings:
    """What a bath loses heat and water to; ``speed`` of the air over it [m/s]."""

    air_c: float
    humidity: float
    speed: float


def surroundings(place: Place, water_c: float) -> Surroundings:
    """As the plan says; air as warm as the water was where nothing is said."""
    air = water_c if place.air_c is None else place.air_c
    return Surroundings(air, place.humidity, param(f"air_speed_{place.where}").value)


@cache
def _kernels() -> Any:
    """The compiled part, loaded when it is first wanted: a start does not wait for it."""
    from yellowbath.core.power import heat_kernels

    return heat_kernels


def evaporation(temperature_c: float, around: Surroundings) -> float:
    """Water lost from an open surface [kg/m2/s], Carrier's form; none where the air is moister.

    W = (pw - pa) (0.089 + 0.0782 v) / Y with pressures in kPa and Y in kJ/kg; from memory.

    >>> round(3600 * evaporation(30.0, Surroundings(20.0, 0.5, 0.1)), 2)
    0.44
    """
    rate: float = _kernels().leaves(temperature_c, around.air_c, around.humidity, around.speed)
    return rate


@dataclass(frozen=True)
class Bath:
    """A filled tank as heat sees it: volume [m3], wetted walls with floor and open surface [m2],
    what both lose by the degree without evaporation [W/K], and what metal holds besides [J/K]."""

    volume: float
    walls: float
    surface: float
    start_c: float
    around: Surroundings
    dry_w_k: float
    metal_j_k: float = 0.0

    @staticmethod
    def of(plan: Plan, level: float) -> Bath:
        """A plan's bath, filled to a level [m]."""
        walls, surface = losing_areas(plan.tank, level)
        metal, tube = 0.0, plan.own_tube
        if tube is not None and isinstance(tube.shape, Tube):  # the iron warms with so little
            walls *= tube.shape.outer_diameter_m / tube.shape.inner_diameter_m
            metal = _IRON_HEAT * mass_of(tube)
        wall = param("jacket_w_m2k" if plan.place.cooled else "wall_w_m2k").value
        dry = wall * walls + param("surface_w_m2k").value * surface
        return Bath(
            volume_at(plan.tank, level), walls, surface, plan.mix.temperature_c,
            surroundings(plan.place, plan.mix.temperature_c), dry, metal,
        )  # fmt: skip

    def loss(self, temperature_c: float) -> float:
        """Heat lost at a temperature [W]; negative where the air warms the bath."""
        a = self.around
        w: float = _kernels().lost(
            temperature_c, a.air_c, a.humidity, a.speed, self.surface, self.dry_w_k
        )
        return w

    def course(self, heat_w: float, seconds: float, steps: int = _STEPS) -> list[float]:
        """Temperatures at even steps from the start [C], both ends included; a bath that would boil
        stays at 100."""
        held = WATER_HEAT * self.volume + self.metal_j_k
        # steps are as short as the steepest loss on the way asks, or they would overshoot
        top = max(self.steady(heat_w), min(self.start_c + 20, 100.0))
        slope = (self.loss(top) - self.loss(top - 10)) / 10
        parts = max(1, math.ceil(seconds / steps / (0.4 * held / max(slope, 1e-9))))
        h = seconds / steps / parts
        around = self.around
        return list(_kernels().marched(
            float(self.start_c), float(heat_w), held, h, steps, parts, float(around.air_c),
            float(around.humidity), float(around.speed), self.surface, self.dry_w_k,
        ))  # fmt: skip

    def steady(self, heat_w: float) -> float:
        """Where the temperature settles [C]; 100 where the bath would boil."""
        low, high = min(self.around.air_c, self.start_c) - 15.0, BOILS
        if self.loss(high) < heat_w:
            return high
        return invert(self.loss, heat_w, low, high)


def mean_of(course: list[float]) -> float:
    """Mean over time of temperatures at even steps [C], by Simpson's rule (even steps)."""
    n = len(course) - 1
    odd, even = sum(course[1:n:2]), sum(course[2 : n - 1 : 2])
    return (course[0] + 4 * odd + 2 * even + course[n]) / (3 * n)
