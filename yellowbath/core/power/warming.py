"""How the bath warms under its own current, and what the gas in it takes away.

One lumped temperature: the heat of the current in, a loss by wet walls and surface that goes with
the rise, air as warm as the water was. Temperatures [C], heat [W], times [h].
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document import DrumTank, Plan, Tank
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.geometry.tank import plan_size, segment_area, volume_at

_WATER = 4.19e6  # J/m3/K, of water at 20 C; from memory
_GAS = 0.75 / 96485.332 * 24.055e-3  # m3 of both gases a coulomb, at 20 C


@dataclass(frozen=True)
class Warm:
    """What a bath was reckoned to run at while it warms: heat [W], hours under power, amps."""

    heat_w: float
    hours: float
    amps: float


COLD = Warm(0.0, 0.0, 0.0)


def losing_area(tank: Tank, level: float) -> float:
    """Wet walls and surface [m2]; the floor stands on something."""
    low, high = plan_size(tank, 0.0), plan_size(tank, level)
    if isinstance(tank.shape, DrumTank):
        d, length = tank.shape.diameter_m, tank.shape.length_m
        arc = d * math.acos(1 - 2 * min(level / d, 1.0))
        return arc * length + 2 * segment_area(d, level) + math.prod(high)
    if tank.shape.kind == "bucket":
        return math.pi * (low[0] + high[0]) / 2 * level + math.pi / 4 * high[0] ** 2
    return (sum(low) + sum(high)) * level + math.prod(high)


def temperature_figure(plan: Plan, level: float, warm: Warm) -> Figure:
    """Mean temperature of the bath over the run [C]; the water's own where warming is left out."""
    start = typed("T0", "Water temperature", plan.mix.temperature_c, "temperature")
    name = "Bath, mean over the run"
    if not plan.mix.warming or warm.heat_w <= 0 or warm.hours <= 0:
        return figure(
            "bath.temperature", name, start.value, "temperature", "T0", [start], "warming"
        )
    loss = param("loss_w_m2k")
    area, volume = losing_area(plan.tank, level), volume_at(plan.tank, level)
    settling = _WATER * volume / (loss.value * area) / 3600
    ratio = warm.hours / settling
    value = start.value + warm.heat_w / (loss.value * area) * (1 - (1 - math.exp(-ratio)) / ratio)
    return figure(
        "bath.temperature", name, value, "temperature", "T0 + P/(h*A)*(1 - (1 - exp(-t/s))*s/t)",
        [
            start,
            typed("P", "Heat of the current, the bath still cold", warm.heat_w, "power"),
            uses("h", loss),
            typed("A", "Wet walls and surface", area, "area"),
            typed("t", "Hours under power", warm.hours, "number"),
            typed("s", "Hours to settle: heat held over heat lost", settling, "number"),
        ],
        "warming",
    )  # fmt: skip


def bubbles_input(plan: Plan, level: float, warm: Warm) -> Input:
    """Share of the liquid that is gas [-]: made by the current, gone as fast as it rises."""
    rise, high = param("bubble_rise_m_s"), plan_size(plan.tank, level)
    surface = math.prod(high) * (math.pi / 4 if plan.tank.shape.kind == "bucket" else 1.0)
    share = min(_GAS * warm.amps / (surface * rise.value), 0.3)
    return Input("e", "Share of gas in the liquid, both gases at the amps expected", share, "ratio",
                 rise.cite())  # fmt: skip
