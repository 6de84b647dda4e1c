"""What the supply and its leads let through.

Every supply is a source of volts with an inner resistance and a ceiling on the current:
transformer charger (open volts 1.25 x nominal, droops to nominal at rated amps), laboratory supply
(constant volts up to its limit), fixed supply (holds its rating, tries and trips, or blows its
fuse), battery. An automatic charger stays off: a bath shows it no battery. What other baths take
from the same supply is taken off first.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import singledispatch

from yellowbath.core.data import Param, param
from yellowbath.core.document import (
    Battery,
    Fixed,
    Laboratory,
    PlainCharger,
    Smart,
    SupplyBase,
)
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.words import word

Level = Figure | Param
"""A threshold [V], at the bath's temperature or as the table has it."""


@dataclass(frozen=True)
class Source:
    """Open-circuit volts [V], inner resistance [ohm] and current ceiling [A] (None: no limit)."""

    volts: Input
    inner: Input
    ceiling: Input | None


def battery_volts(supply: SupplyBase) -> Input:
    """Volts of a battery or bank under load [V]: a 12 V battery's, by the volts typed."""
    one = param("battery_v")
    share = supply.nominal_v / 12
    if share == 1:
        return uses("E", one)
    return Input("E", f"Battery of {supply.nominal_v:g} V under load", one.value * share, "voltage",
                 one.cite())  # fmt: skip


@singledispatch
def source_of(supply: SupplyBase) -> Source:
    """The source that the bath sees, by the kind of supply; TypeError for one that has none."""
    raise TypeError(f"no source is known of a supply of kind {supply.kind}")


@source_of.register
def _(supply: PlainCharger) -> Source:
    return _drooping(supply)


@source_of.register
def _(supply: Laboratory) -> Source:
    free = max(min(supply.limit_a, supply.rated_a - supply.other_a), 0.0)
    limit = typed("Im", "Current limit, other baths taken off", free, "current")
    return Source(typed("E", "Volts set", supply.nominal_v, "voltage"), _held(), limit)


@source_of.register
def _(supply: Smart) -> Source:
    """A buffer battery hides the charger behind it."""
    return _battery(supply) if supply.buffer_battery else _drooping(supply)


@source_of.register
def _(supply: Fixed) -> Source:
    free = max(supply.rated_a - supply.other_a, 0.0)
    rating = typed("Im", "Rating of the supply, other baths taken off", free, "current")
    return Source(typed("E", "Volts of the supply", supply.nominal_v, "voltage"), _held(), rating)


@source_of.register
def _(supply: Battery) -> Source:
    return _battery(supply)


def _battery(supply: SupplyBase) -> Source:
    return Source(battery_volts(supply), uses("Rs", param("battery_ohm")), None)


def _held() -> Input:
    return typed("Rs", "Inner resistance, held constant by the supply", 0.0, "resistance")


def _drooping(supply: SupplyBase) -> Source:
    factor = param("transformer_oc")
    volts = factor.value * supply.nominal_v
    return Source(
        Input("E", "Open volts of the charger", volts, "voltage", factor.cite()),
        Input(
            "Rs", "Inner resistance of the charger",
            (factor.value - 1) * supply.nominal_v / supply.rated_a, "resistance", factor.cite(),
        ),
        None,
    )  # fmt: skip


def copper_c(supply: SupplyBase, air_c: float, rms_a: float) -> float:
    """How warm the leads' own copper gets [C] in air [C] at an RMS current [A], side by side.

    What a metre makes is what it gives to still air; 150 C at most, which no lead survives.
    """
    rho, k = param("copper_ohm_m").value, param("copper_per_k").value
    around = math.sqrt(4 * supply.lead_area_m2 / math.pi) + 2 * param("lead_insulation_m").value
    gives = param("lead_loss_w_m2k").value * math.pi * around
    cold = rms_a**2 * rho / supply.lead_area_m2 / gives  # K, were it not to warm
    if cold * k >= 0.9:
        return _HOTTEST
    return min((air_c + cold * (1 - 20 * k)) / (1 - cold * k), _HOTTEST)


_HOTTEST = 150.0  # C, which no lead survives; judged


def lead_figure(supply: SupplyBase, copper_at_c: float = 20.0) -> Figure:
    """Resistance of both leads, clips and contacts [ohm], the copper at its temperature [C].

    Lead length one way 0.1-30 m, copper area 0.2-70 mm2; ASTM B258 sizes.
    """
    rho, k, contact = param("copper_ohm_m"), param("copper_per_k"), param("contact_ohm")
    warm = rho.value * (1 + k.value * (copper_at_c - 20))
    value = 2 * warm * supply.lead_length_m / supply.lead_area_m2 + contact.value
    made = figure(
        "power.leads", "Leads, clips and contacts", value, "wire_resistance",
        "2*rho*(1 + k*(Tc - 20))*l/a + Rk",
        [
            uses("rho", rho), uses("k", k),
            Input("Tc", "Copper under these amps", copper_at_c, "temperature",
                  param("lead_loss_w_m2k").cite()),
            typed("l", "Lead length, one way", supply.lead_length_m, "distance"),
            typed("a", "Copper of the lead", supply.lead_area_m2, "wire"),
            uses("Rk", contact),
        ],
        "wire",
    )  # fmt: skip
    copper = value - contact.value
    return made.with_window(copper + contact.low, copper + contact.high)


def wanted_figure(supply: SupplyBase, threshold: Level, bath: Figure, leads: Figure) -> Figure:
    """What the bath would draw [A] at the supply's nominal volts, were the supply no limit."""
    value = max(supply.nominal_v - threshold.value, 0.0) / (bath.value + leads.value)
    return figure(
        "amps.draws", "The bath would draw", value, "current", "max(U - V0, 0)/(Rb + Rl)",
        [
            typed("U", "Nominal volts", supply.nominal_v, "voltage"),
            uses("V0", threshold), uses("Rb", bath), uses("Rl", leads),
        ],
        "ohm",
    )  # fmt: skip


def given_figure(supply: SupplyBase, threshold: Level, bath: Figure, leads: Figure) -> Figure:
    """What this supply gives [A]: its own line met with the bath's, under its ceiling.

    Zero below the threshold, which is an answer and not an error.
    """
    source = source_of(supply)
    inputs = [source.volts, uses("V0", threshold), uses("Rb", bath), uses("Rl", leads),
              source.inner]  # fmt: skip
    loop = bath.value + leads.value + source.inner.value
    others = supply.other_a * source.inner.value
    value = max(source.volts.value - others - threshold.value, 0.0) / loop
    rule = "max(E - V0, 0)/(Rb + Rl + Rs)"
    if others > 0:
        rule = "max(E - Io*Rs - V0, 0)/(Rb + Rl + Rs)"
        inputs.append(typed("Io", "Other baths on this supply", supply.other_a, "current"))
    off = "It finds no battery and stays off." if supply.asleep else ""
    if source.ceiling is not None:
        inputs.append(source.ceiling)
        if trips(supply, value):
            off = "More than it can give: it trips, and does not hold a current."
        value, rule = min(value, source.ceiling.value), f"min({rule}, Im)"
    if off:
        return figure("amps.gives", "This supply gives", 0.0, "current", f"0*({rule})", inputs,
                      "ohm", note=off)  # fmt: skip
    return figure("amps.gives", "This supply gives", value, "current", rule, inputs, "ohm")


def trips(supply: SupplyBase, wanted_a: float) -> bool:
    """Whether a fixed supply that does not fold back gives up at this current."""
    if not supply.lets_go:
        return False
    return wanted_a + supply.other_a > supply.rated_a * param(f"trips_{supply.protection}").value


def bath_volts_figure(threshold: Level, bath: Figure, current: Figure) -> Figure:
    """Volts at the bath's own leads [V]."""
    value = threshold.value + current.value * bath.value if current.value > 0 else 0.0
    return figure(
        "bath.volts", word("field.entry.tank_v"), value, "voltage", "V0 + I*Rb",
        [uses("V0", threshold), uses("I", current), uses("Rb", bath)], "ohm",
    ) if current.value > 0 else figure(
        "bath.volts", word("field.entry.tank_v"), 0.0, "voltage", "0*I",
        [uses("I", current)], "ohm",
    )  # fmt: skip


def load_figure(supply: SupplyBase, current: Figure) -> Figure:
    """Share of the supply's rating in use [-]."""
    inputs = [
        uses("I", current),
        typed("Ir", supply.field_word("rated_a"), supply.rated_a, "current"),
    ]
    rule = "I/Ir"
    if supply.other_a > 0:
        rule = "(I + Io)/Ir"
        inputs.append(typed("Io", "Other baths on this supply", supply.other_a, "current"))
    value = (current.value + supply.other_a) / supply.rated_a
    return figure("power.load", "Load on the supply", value, "ratio", rule, inputs, "ohm")


def drop_figure(leads: Figure, current: Figure) -> Figure:
    """Volts lost in leads and contacts [V]."""
    return figure(
        "power.drop", "Lost in the leads", current.value * leads.value, "voltage", "I*Rl",
        [uses("I", current), uses("Rl", leads)], "ohm",
    )  # fmt: skip


def lead_heat_figure(leads: Figure, current: Figure, form: Figure) -> Figure:
    """Heat in leads and clips [W]; a rectified charger heats by the RMS of its pulses."""
    return figure(
        "power.lead_heat", "Heat in the leads", (form.value * current.value) ** 2 * leads.value,
        "power", "(F*I)**2*Rl", [uses("F", form), uses("I", current), uses("Rl", leads)], "ohm",
    )  # fmt: skip


def fuse_figure(current: Figure) -> Figure:
    """The least fuse that carries this bath for hours [A]; the next size above it is taken."""
    k = param("fuse_factor")
    return figure(
        "power.fuse", "Fuse of at least", k.value * current.value, "current", "k*I",
        [uses("k", k), uses("I", current)], "practice",
    )  # fmt: skip


def standard_fuses() -> Sequence[float]:
    """Usual fuses [A], smallest first: blade and glass sizes."""
    return (1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100)


def next_fuse(least_a: float) -> float:
    """The next usual fuse [A].

    >>> next_fuse(7.6)
    10
    """
    return next((s for s in standard_fuses() if s >= least_a), least_a)


def battery_figure(supply: SupplyBase, current: Figure) -> Figure | None:
    """Amps that come out of the battery itself [A]: all, or what the charger does not give."""
    if not supply.on_battery:
        return None
    charger = supply.charges_a
    return figure(
        "battery.gives", "Out of the battery", max(current.value + supply.other_a - charger, 0.0),
        "current", "max(I + Io - Ic, 0)",
        [
            uses("I", current),
            typed("Io", "Other baths on this supply", supply.other_a, "current"),
            typed("Ic", "The charger gives up to", charger, "current"),
        ],
        "battery",
    )  # fmt: skip


def battery_lasts_figure(supply: SupplyBase, out: Figure | None) -> Figure | None:
    """Time until half of the battery is gone [s]; None where the charger carries it all, or where
    nobody has said how much the battery holds."""
    if out is None or out.value <= 0 or supply.battery_ah is None:
        return None
    usable = param("battery_usable")
    made = figure(
        "battery.lasts", "Battery half empty after", usable.value * supply.battery_ah / out.value
        * 3600, "time", "u*C/I*3600",
        [uses("u", usable), typed("C", "Battery, ampere-hours", supply.battery_ah, "charge"),
         uses("I", out)],
        "battery",
    )  # fmt: skip
    return made.with_window(
        made.value * usable.low / usable.value, made.value * usable.high / usable.value,
        "Age and cold take their share.",
    )  # fmt: skip
