"""What the charge does besides the rust: gas, iron, water, heat, air and money.

Rates are for a steady current [A]. Gas volumes at 20 C and 101325 Pa.
"""

from __future__ import annotations

from typing import Literal

from yellowbath.core.data import param
from yellowbath.core.document import Place
from yellowbath.core.figures import Figure, figure, typed, uses


def hydrogen_figure(current: Figure) -> Figure:
    """Hydrogen at the piece [m3/s]."""
    q = param("h2_m3_ah")
    return figure(
        "gas.hydrogen", "Hydrogen", current.value * q.value / 3600, "gas_rate", "I*q/3600",
        [uses("I", current), uses("q", q)], "faraday",
    )  # fmt: skip


def oxygen_figure(current: Figure) -> Figure:
    """Oxygen at the scrap [m3/s], were all of its current to make oxygen."""
    q = param("o2_m3_ah")
    return figure(
        "gas.oxygen", "Oxygen", current.value * q.value / 3600, "gas_rate", "I*q/3600",
        [uses("I", current), uses("q", q)], "faraday",
    )  # fmt: skip


def air_figure(current: Figure) -> Figure:
    """Fresh air that the standard asks for [m3/s]: 0.05 m3/h an ampere for one bath."""
    k = param("vent_m3_h_a")
    return figure(
        "air.flow", "Fresh air wanted", current.value * k.value / 3600, "air_flow", "k*I/3600",
        [uses("I", current, "Amps the supply can give"), uses("k", k)], "ventilation",
        note="Holds hydrogen to 0.8 % by volume, a fifth of the lower flammable limit.",
    )  # fmt: skip


def room_figure(place: Place, current: Figure) -> Figure:
    """Time [s] until a closed, well-mixed room holds 1 % hydrogen. Never a safe time."""
    share, q = param("room_limit"), param("h2_m3_ah")
    amps = max(current.value, 1e-3)
    return figure(
        "air.room_time", "Closed room reaches 1 % hydrogen after",
        place.room_m3 * share.value / (q.value * amps) * 3600, "time", "V*x/(q*max(I, 0.001))*3600",
        [
            typed("V", "Room", place.room_m3, "room"),
            uses("x", share), uses("q", q), uses("I", current),
        ],
        "mixed_room",
        note="Pockets under a ceiling or a lid get there much sooner: this is no safe time.",
    )  # fmt: skip


def water_figure(current: Figure) -> Figure:
    """Water split [kg/s]; evaporation comes on top."""
    k = param("water_kg_ah")
    return figure(
        "water.split", "Water split", current.value * k.value / 3600, "mass_rate", "I*k/3600",
        [uses("I", current), uses("k", k)], "faraday",
    )  # fmt: skip


def iron_figure(current: Figure, dissolves: Literal["some", "all", "none"]) -> Figure:
    """Iron that leaves the scrap [kg/s], with its spread where some of it does."""
    k, share = param("fe_kg_ah"), param("anode_iron_share")
    f = {"some": share.value, "all": 1.0, "none": 0.0}[dissolves]
    words = {"all": "All of it, steel in a salt bath", "none": "None of it, inert anode"}
    made = figure(
        "scrap.iron", "Iron lost from the scrap", current.value * k.value * f / 3600, "mass_rate",
        "I*k*f/3600",
        [
            uses("I", current), uses("k", k),
            uses("f", share) if dissolves == "some" else typed("f", words[dissolves], f, "ratio"),
        ],
        "faraday",
    )  # fmt: skip
    if dissolves != "some":
        return made
    return made.with_window(made.value * share.low / f, made.value * share.high / f)


def heat_figure(current: Figure, bath_volts: Figure) -> Figure:
    """Heat left in the bath [W]: I (U - 1.481), since the gas carries the rest away."""
    tn = param("thermoneutral_v")
    value = current.value * max(bath_volts.value - tn.value, 0.0)
    return figure(
        "bath.heat", "Heat into the bath", value, "power", "I*max(U - Ut, 0)",
        [uses("I", current), uses("U", bath_volts), uses("Ut", tn)], "heat",
    )  # fmt: skip


def cost_figure(energy: Figure, place: Place) -> Figure:
    """Money for the current at the bath's own leads; the charger's losses are not in it."""
    return figure(
        "power.cost", "Cost of the current", energy.value / 3.6e6 * place.price_kwh, "money",
        "E/3600000*p",
        [uses("E", energy), typed("p", "Price of a kilowatt-hour", place.price_kwh, "money")],
        "ohm",
    )  # fmt: skip
