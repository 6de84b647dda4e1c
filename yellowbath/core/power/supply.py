"""What the supply and its leads let through.

Every supply is a source of volts with an inner resistance and a ceiling on the current:
transformer charger (open volts 1.25 x nominal, droops to nominal at rated amps), laboratory supply
(constant volts up to its limit), fixed supply, battery.
"""

from __future__ import annotations

from dataclasses import dataclass

from yellowbath.core.data import Param, param
from yellowbath.core.document import Supply
from yellowbath.core.figures import Figure, Input, figure, typed, uses


@dataclass(frozen=True)
class Source:
    """Open-circuit volts [V], inner resistance [ohm] and current ceiling [A] (None: no limit)."""

    volts: Input
    inner: Input
    ceiling: Input | None


def source_of(supply: Supply) -> Source:
    """The source that the bath sees; a buffer battery hides the charger behind it."""
    nominal = supply.nominal_v
    if supply.kind == "battery" or (supply.kind == "smart" and supply.buffer_battery):
        return Source(uses("E", param("battery_v")), uses("Rs", param("battery_ohm")), None)
    none = typed("Rs", "Inner resistance, held constant by the supply", 0.0, "resistance")
    if supply.kind == "laboratory":
        limit = typed("Im", "Current limit", min(supply.limit_a, supply.rated_a), "current")
        return Source(typed("E", "Volts set", nominal, "voltage"), none, limit)
    if supply.kind == "fixed":
        rating = typed("Im", "Rating of the supply", supply.rated_a, "current")
        return Source(typed("E", "Volts of the supply", nominal, "voltage"), none, rating)
    factor = param("transformer_oc")
    return Source(
        Input("E", "Open volts of the charger", factor.value * nominal, "voltage", factor.cite()),
        Input(
            "Rs", "Inner resistance of the charger",
            (factor.value - 1) * nominal / supply.rated_a, "resistance", factor.cite(),
        ),
        None,
    )  # fmt: skip


def lead_figure(supply: Supply) -> Figure:
    """Resistance of both leads, clips and contacts [ohm]; copper at 20 C, ASTM B258 sizes.

    Lead length one way 0.1-30 m, copper area 0.2-70 mm2.
    """
    rho, contact = param("copper_ohm_m"), param("contact_ohm")
    value = 2 * rho.value * supply.lead_length_m / supply.lead_area_m2 + contact.value
    made = figure(
        "power.leads", "Leads, clips and contacts", value, "wire_resistance", "2*rho*l/a + Rk",
        [
            uses("rho", rho),
            typed("l", "Lead length, one way", supply.lead_length_m, "distance"),
            typed("a", "Copper of the lead", supply.lead_area_m2, "wire"),
            uses("Rk", contact),
        ],
        "wire",
    )  # fmt: skip
    copper = value - contact.value
    return made.with_window(copper + contact.low, copper + contact.high)


def wanted_figure(supply: Supply, threshold: Param, bath: Figure, leads: Figure) -> Figure:
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


def given_figure(supply: Supply, threshold: Param, bath: Figure, leads: Figure) -> Figure:
    """What this supply gives [A]: its own line met with the bath's, under its ceiling.

    Zero below the threshold, which is an answer and not an error.
    """
    source = source_of(supply)
    inputs = [source.volts, uses("V0", threshold), uses("Rb", bath), uses("Rl", leads),
              source.inner]  # fmt: skip
    loop = bath.value + leads.value + source.inner.value
    value = max(source.volts.value - threshold.value, 0.0) / loop
    rule = "max(E - V0, 0)/(Rb + Rl + Rs)"
    if source.ceiling is not None:
        value, rule = min(value, source.ceiling.value), f"min({rule}, Im)"
        inputs.append(source.ceiling)
    return figure("amps.gives", "This supply gives", value, "current", rule, inputs, "ohm")


def bath_volts_figure(threshold: Param, bath: Figure, current: Figure) -> Figure:
    """Volts at the bath's own leads [V]."""
    value = threshold.value + current.value * bath.value if current.value > 0 else 0.0
    return figure(
        "bath.volts", "Volts at the tank", value, "voltage", "V0 + I*Rb",
        [uses("V0", threshold), uses("I", current), uses("Rb", bath)], "ohm",
    ) if current.value > 0 else figure(
        "bath.volts", "Volts at the tank", 0.0, "voltage", "0*I", [uses("I", current)], "ohm",
    )  # fmt: skip


def load_figure(supply: Supply, current: Figure) -> Figure:
    """Share of the supply's rating in use [-]."""
    return figure(
        "power.load", "Load on the supply", current.value / supply.rated_a, "ratio", "I/Ir",
        [uses("I", current), typed("Ir", "Rated amps", supply.rated_a, "current")], "ohm",
    )  # fmt: skip


def drop_figure(leads: Figure, current: Figure) -> Figure:
    """Volts lost in leads and contacts [V]."""
    return figure(
        "power.drop", "Lost in the leads", current.value * leads.value, "voltage", "I*Rl",
        [uses("I", current), uses("Rl", leads)], "ohm",
    )  # fmt: skip
