"""What the charge does besides the rust: gas, iron, water, heat, air and money.

Rates are for a steady current [A]; gas volumes are dry, at the air's warmth and pressure.
"""

from __future__ import annotations

from typing import Literal

from yellowbath.core.chemistry.cell import Air, gas_m3_ah, thermoneutral_v
from yellowbath.core.data import param, source_text
from yellowbath.core.document import Place
from yellowbath.core.figures import Figure, Input, figure, typed, uses


def hydrogen_figure(current: Figure, air: Air) -> Figure:
    """Hydrogen at the piece [m3/s]."""
    q = _gas("Hydrogen", 2, air)
    return figure(
        "gas.hydrogen", "Hydrogen", current.value * q.value / 3600, "gas_rate", "I*q/3600",
        [uses("I", current), q], "faraday",
    )  # fmt: skip


def oxygen_figure(current: Figure, air: Air) -> Figure:
    """Oxygen at the scrap [m3/s], were all of its current to make oxygen."""
    q = _gas("Oxygen", 4, air)
    return figure(
        "gas.oxygen", "Oxygen", current.value * q.value / 3600, "gas_rate", "I*q/3600",
        [uses("I", current), q], "faraday",
    )  # fmt: skip


def _gas(name: str, electrons: int, air: Air) -> Input:
    at = f"{air.temperature_c:.0f} C and {air.pressure_pa / 100:.0f} hPa"
    return Input("q", f"{name} per ampere-hour at {at}", gas_m3_ah(electrons, air),
                 "gas_per_charge", source_text("faraday"))  # fmt: skip


def air_figure(current: Figure, cells: int = 0, charging_a: float = 0.0) -> Figure:
    """Fresh air that the standard asks for [m3/s]: 0.05 m3/h an ampere and cell in series.

    A bath is one cell whatever its volts; a battery that is charged beside it gasses in each of
    its ``cells`` with up to ``charging_a`` [A].
    """
    k = param("vent_m3_h_a")
    inputs = [uses("I", current, "Amps the supply can give"), uses("k", k)]
    rule = "k*I/3600"
    if cells and charging_a > 0:
        rule = "k*(I + n*Ib)/3600"
        inputs += [typed("n", "Cells of the battery", cells, "count"),
                   typed("Ib", "What may charge the battery while it is full", charging_a,
                         "current")]  # fmt: skip
    value = k.value * (current.value + cells * max(charging_a, 0.0)) / 3600
    return figure(
        "air.flow", "Fresh air wanted", value, "air_flow", rule, inputs, "ventilation",
        note="Holds hydrogen to 0.8 % by volume, a fifth of the lower flammable limit.",
    )  # fmt: skip


def room_figure(place: Place, current: Figure, air: Air) -> Figure:
    """Time [s] until a closed, well-mixed room holds 1 % hydrogen. Never a safe time."""
    share, q = param("room_limit"), _gas("Hydrogen", 2, air)
    amps = max(current.value, 1e-3)
    return figure(
        "air.room_time", "Closed room reaches 1 % hydrogen after",
        place.room_m3 * share.value / (q.value * amps) * 3600, "time", "V*x/(q*max(I, 0.001))*3600",
        [
            typed("V", "Room", place.room_m3, "room"),
            uses("x", share), q, uses("I", current),
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


def heat_figure(
    current: Figure, threshold: Figure, bath: Figure, form: Figure, thermoneutral: Input
) -> Figure:
    """Heat left in the bath [W]: I (U0 - Ut) + F2 I2 R.

    What the volts put in less what the gas carries away; only the ohmic part follows the RMS of
    the amps, F times their mean. ``thermoneutral`` [V] is the cell reaction's: see ``carried_off``.
    """
    i, f = current.value, form.value
    value = i * (threshold.value - thermoneutral.value) + (f * i) ** 2 * bath.value
    return figure(
        "bath.heat", "Heat into the bath", value, "power", "I*(U0 - Ut) + (F*I)**2*Rb",
        [uses("I", current), uses("U0", threshold), thermoneutral, uses("F", form),
         uses("Rb", bath)],
        "heat",
    )  # fmt: skip


def carried_off(dissolves: bool, temperature_c: float) -> Input:
    """Volts' worth of heat that leaves with the gas [V]: the thermoneutral voltage of water; next
    to none where the scrap dissolves instead (iron and water to hydroxide and hydrogen)."""
    if dissolves:
        return Input("Ut", "Nothing goes with the gas where the scrap dissolves", 0.0, "voltage",
                     source_text("cell"))  # fmt: skip
    return Input("Ut", f"Thermoneutral voltage of water at {temperature_c:.0f} C",
                 thermoneutral_v(temperature_c), "voltage", source_text("cell"))  # fmt: skip


def cost_figure(energy: Figure, place: Place) -> Figure:
    """Money for the current at the bath's own leads; the charger's losses are not in it."""
    return figure(
        "power.cost", "Cost of the current", energy.value / 3.6e6 * place.price_kwh, "money",
        "E/3600000*p",
        [uses("E", energy), typed("p", "Price of a kilowatt-hour", place.price_kwh, "money")],
        "ohm",
    )  # fmt: skip
