"""How the bath warms under its own current, and what the gas in it takes away.

One lumped temperature, integrated in ``heat``. Temperatures [C], heat [W], times [h].
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from yellowbath.core.chemistry.cell import Air, gas_m3_ah, pressure_at
from yellowbath.core.data import param, source_text
from yellowbath.core.document import Plan
from yellowbath.core.figures import Figure, Input, figure, typed
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.power.heat import Bath, mean_of
from yellowbath.core.power.vapour import saturation_kpa

_LONGEST_H = 500.0  # by then any bath has long settled


@dataclass(frozen=True)
class Warm:
    """What a bath was reckoned to run at while it warms: heat [W], hours under power, amps."""

    heat_w: float
    hours: float
    amps: float


COLD = Warm(0.0, 0.0, 0.0)  # nothing warmed yet


def temperature_figure(plan: Plan, level: float, warm: Warm) -> Figure:
    """Mean temperature of the bath over the run [C]; the water's own where warming is left out."""
    start = typed("T0", plan.mix.field_word("temperature_c"), plan.mix.temperature_c, "temperature")
    name = "Bath, mean over the run"
    if not plan.mix.warming or warm.heat_w <= 0 or warm.hours <= 0:
        return figure(
            "bath.temperature", name, start.value, "temperature", "T0", [start], "warming"
        )
    seconds = min(warm.hours, _LONGEST_H) * 3600
    rise = mean_of(Bath.of(plan, level).course(warm.heat_w, seconds)) - start.value
    source = source_text("warming")
    return figure(
        "bath.temperature", name, start.value + rise, "temperature", "T0 + R",
        [
            start,
            Input("R", f"Mean rise by {warm.heat_w:.0f} W over {warm.hours:.1f} h, integrated: heat"
                  " in, walls, surface and evaporation out", rise, "number", source),
        ],
        "warming",
    )  # fmt: skip


def bubbles_input(plan: Plan, level: float, warm: Warm, temperature_c: float) -> Input:
    """Share of the liquid that is gas [-]: made by the current, gone as fast as it rises."""
    rise, high = param("bubble_rise_m_s"), plan_size(plan.tank, level)
    surface = math.prod(high) * (math.pi / 4 if plan.tank.shape.is_round else 1.0)
    # moist, as it leaves the liquid
    dry = pressure_at(plan.place.altitude_m) - 1000 * saturation_kpa(temperature_c)
    both = gas_m3_ah(2, Air(temperature_c, dry)) + gas_m3_ah(4, Air(temperature_c, dry))
    share = min(both / 3600 * warm.amps / (surface * rise.value), 0.3)
    return Input("e", "Share of gas in the liquid, both gases at the amps expected", share, "ratio",
                 rise.cite())  # fmt: skip
