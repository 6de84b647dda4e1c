"""What the bath does to its surroundings and they to it: warmth, water lost, air, weight."""

from __future__ import annotations

import math

from yellowbath.core.chemistry.liquid import Liquid
from yellowbath.core.data import Param, param, source_text
from yellowbath.core.document import Plan
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.geometry.tank import losing_areas, plan_size
from yellowbath.core.power.heat import Bath, evaporation
from yellowbath.core.power.vapour import latent_j_kg, saturation_kpa
from yellowbath.core.units import DAY_S


def _lasts(window: Figure | None) -> float:
    return min((window.high or window.value) if window else DAY_S, 20 * DAY_S)


def course_of(
    plan: Plan, level: float, heat: Figure, window: Figure | None
) -> tuple[float, list[float]]:
    """How long the longest run likely is [s], and temperatures at even steps of it [C]."""
    seconds = _lasts(window)
    return seconds, Bath.of(plan, level).course(heat.value, seconds)


def hottest_figure(plan: Plan, bath: Bath, heat: Figure, window: Figure | None) -> Figure:
    """Warmest the bath gets [C] by the end of the window, and where it would settle."""
    course = bath.course(heat.value, _lasts(window))
    top = max(course)
    start = typed("T0", plan.mix.field_word("temperature_c"), plan.mix.temperature_c, "temperature")
    rise = Input("R", f"Highest rise by {heat.value:.0f} W within the window, integrated",
                 top - start.value, "number", source_text("warming"))  # fmt: skip
    made = figure(
        "bath.hottest", "Warmest it gets", top, "temperature", "T0 + R", [start, rise], "warming"
    )
    spread = 0.3 * max(top - plan.mix.temperature_c, 0.0) + 1.0
    return made.with_window(top - spread, top + spread, "Draught and floor decide the rest.")


def settles_figure(bath: Bath, heat: Figure) -> Figure:
    """Where the temperature would settle, were the bath left on [C]."""
    value = bath.steady(heat.value)
    return figure(
        "bath.settles", "Would settle at", value, "temperature", "T",
        [Input("T", f"Where {heat.value:.0f} W in are what walls, surface and evaporation lose",
               value, "temperature", source_text("warming"))],
        "warming",
    )  # fmt: skip


def evaporation_figure(bath: Bath, temperature: Figure) -> Figure:
    """Water that evaporates at the mean temperature [kg/s]."""
    t, around = temperature.value, bath.around
    inside, outside = saturation_kpa(t), around.humidity * saturation_kpa(around.air_c)
    made = figure(
        "water.evaporates", "Water that evaporates", evaporation(t, around) * bath.surface,
        "mass_rate", "S*max(pw - pa, 0)*(0.089 + 0.0782*v)/Y",
        [
            typed("S", "Open surface", bath.surface, "area"),
            Input("pw", "Vapour pressure at the water, kPa", inside, "number",
                  source_text("evaporation")),
            Input("pa", "Vapour pressure of the air, kPa", outside, "number",
                  source_text("evaporation")),
            typed("v", "Air over the bath, m/s", around.speed, "number"),
            Input("Y", "Latent heat, kJ/kg", latent_j_kg(t) / 1000, "number",
                  source_text("evaporation")),
        ],
        "evaporation",
    )  # fmt: skip
    still = param("still_air_share").value
    return made.with_window(made.value * still, made.value * (2 - still), "Still air takes less.")


def top_up_figure(evaporates: Figure, split: Figure) -> Figure:
    """Water to add for a day under power [m3]: evaporated and split; the soda stays."""
    value = (evaporates.value + split.value) * DAY_S / 1000
    made = figure(
        "water.day", "Water to add for a day under power", value, "volume", "(e + w)*86400/1000",
        [uses("e", evaporates), uses("w", split)], "evaporation",
    )  # fmt: skip
    if evaporates.low is None or evaporates.high is None:
        return made
    low, high = ((e + split.value) * DAY_S / 1000 for e in (evaporates.low, evaporates.high))
    return made.with_window(low, high)


def covered_figure(plan: Plan, cover_m: float, level: float, day: Figure) -> Figure:
    """Time until the level has fallen by what stands over the piece [s]."""
    surface = losing_areas(plan.tank, level)[1]
    seconds = cover_m * surface / day.value * DAY_S
    made = figure(
        "water.covers", "Piece stands covered without a top-up for", seconds, "time",
        "c*S/d*86400",
        [
            typed("c", "Liquid over the piece", cover_m, "length"),
            typed("S", "Open surface", surface, "area"), uses("d", day),
        ],
        "evaporation",
    )  # fmt: skip
    if day.low is None or day.high is None:
        return made
    return made.with_window(made.value * day.value / day.high, made.value * day.value / day.low)


def opening_figure(air: Figure) -> Figure:
    """Free opening to the outside that brings the air by itself [m2]."""
    k = param("opening_cm2_m3h")
    value = k.value * air.value * 3600 / 1e4
    return figure(
        "air.opening", "Free opening that brings it", value, "area", "k*Q*3600/10000",
        [uses("k", k), uses("Q", air)], "ventilation",
    )  # fmt: skip


def froth_figure(plan: Plan, level: float, current: Figure) -> Figure:
    """Amps by area of the open surface [A/m2], which is what makes froth stand."""
    surface = losing_areas(plan.tank, level)[1]
    return figure(
        "gas.surface", "Gas by surface, as amps", current.value / surface, "density",
        "I/S", [uses("I", current), typed("S", "Open surface", surface, "area")], "faraday",
    )  # fmt: skip


def tank_mass_figure(water: Figure, liquid: Liquid, mass: Figure, temperature_c: float) -> Figure:
    """What stands there, without the tank itself [kg]."""
    rho = liquid.density(min(max(temperature_c, 0.0), 60.0))
    return figure(
        "tank.mass", "Liquid and piece weigh", water.value * rho + mass.value, "mass", "V*r + m",
        [
            uses("V", water),
            Input("r", "Density of the mix", rho, "mass_density", "Laliberte rows, fitted"),
            uses("m", mass),
        ],
        "geometry",
    )  # fmt: skip


def hang_figure(plan: Plan) -> Figure:
    """Mass that the bar across the rim carries in its middle [kg], lying on both rims.

    Round bar or tube (wall a tenth of it), or a square piece of wood: M = F L / 4, W by section.
    """
    bar, a = plan.tank.bar, plan.tank.bar_m
    span = min(plan_size(plan.tank, plan.tank.shape.height_m))
    allowed: Param = param("beam_wood_pa" if bar == "wood" else "beam_steel_pa")
    if bar == "wood":
        section, rule = a**3 / 6, "4*s*b**3/6/(9.81*L)"
    elif bar == "steel_bar":
        section, rule = math.pi * a**3 / 32, "4*s*pi*b**3/32/(9.81*L)"
    else:
        section = math.pi * a**3 / 32 * (1 - 0.8**4)
        rule = "4*s*pi*b**3/32*(1 - 0.8**4)/(9.81*L)"
    return figure(
        "hang.carries", "The bar carries", 4 * allowed.value * section / (9.81 * span), "mass",
        rule,
        [
            uses("s", allowed),
            typed("b", "Bar, thickness", a, "length"),
            typed("L", "From rim to rim", span, "length"),
        ],
        "beam",
    )  # fmt: skip
