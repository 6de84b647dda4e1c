"""What a cell asks of the volts, and what its gas fills: by temperature and air pressure.

Temperatures [C], pressures [Pa].
"""

from __future__ import annotations

from dataclasses import dataclass

from yellowbath.core.chemistry import mixing
from yellowbath.core.data import Param, param
from yellowbath.core.document import Place, Plan
from yellowbath.core.figures import Figure, Input, figure, uses

FARADAY = 96485.33212  # C/mol, CODATA 2018
GAS = 8.314462618  # J/mol/K, CODATA 2018
KELVIN = 273.15  # kelvin at 0 C, defined
SEA_LEVEL_PA = 101325.0  # standard atmosphere, defined
_THRESHOLD_AT = 20.0  # C of the threshold's own figure


@dataclass(frozen=True)
class Air:
    """What a gas is measured at."""

    temperature_c: float = 20.0
    pressure_pa: float = SEA_LEVEL_PA

    @staticmethod
    def of(place: Place, water_c: float) -> Air:
        """A plan's air: as warm as said or as the water was, its pressure by the height."""
        warm = water_c if place.air_c is None else place.air_c
        return Air(warm, pressure_at(place.altitude_m))


def pressure_at(altitude_m: float) -> float:
    """Air pressure [Pa] at a height above the sea [m], -400 to 5000: US Standard Atmosphere 1976
    (from memory).

    >>> round(pressure_at(0)), round(pressure_at(2000), -2)
    (101325, 79500.0)
    """
    return float(SEA_LEVEL_PA * (1 - 2.25577e-5 * altitude_m) ** 5.25588)


def gas_m3_ah(electrons: int, air: Air) -> float:
    """Gas of so many electrons a molecule per ampere-hour [m3]: ideal and dry.

    >>> f"{gas_m3_ah(2, Air(0.0)):.5e}"
    '4.18148e-04'
    """
    moles = 3600 / (electrons * FARADAY)
    return moles * GAS * (KELVIN + air.temperature_c) / air.pressure_pa


def reversible_v(temperature_c: float) -> float:
    """Reversible voltage of water [V], 0 to 60 C within 1 mV; the same at any pH."""
    slope = param("reversible_slope_v_k").value
    return param("reversible_v").value + slope * (temperature_c - 20)


def thermoneutral_v(temperature_c: float) -> float:
    """Volts at which splitting water takes no heat [V], 0 to 60 C within 1 mV."""
    slope = param("thermoneutral_slope_v_k").value
    return param("thermoneutral_v").value + slope * (temperature_c - 25)


def threshold_param(plan: Plan) -> Param:
    """Volts below which no current flows: water is split, or (salt, steel) the anode dissolves."""
    return param("threshold_dissolving_v" if mixing.dissolving(plan) else "threshold_v")


def threshold_figure(plan: Plan, temperature_c: float) -> Figure:
    """The threshold at the liquid's temperature [V]; warmth moves the water's part of it."""
    base, slope = threshold_param(plan), param("reversible_slope_v_k")
    if mixing.dissolving(plan):
        return figure("bath.threshold", base.name, base.value, "voltage", "V", [uses("V", base)],
                      "cell").with_window(base.low, base.high)  # fmt: skip
    moved = slope.value * (temperature_c - _THRESHOLD_AT)
    made = figure(
        "bath.threshold", base.name, base.value + moved, "voltage", "V + k*(T - 20)",
        [uses("V", base), uses("k", slope),
         Input("T", "Temperature of the liquid", temperature_c, "temperature", "this plan")],
        "cell",
    )  # fmt: skip
    return made.with_window(base.low + moved, base.high + moved)
