"""pH of a mix: charge balance over water, carbonate and acetate, closed to the air.

Concentrations [mol/L, taken as mol/kg water], temperature [C], 0 to 60. Ion activities by Davies.
Constants, all from memory: Plummer and Busenberg, Geochim. Cosmochim. Acta 46 (1982), for carbonic
acid and water's own as tabulated with them; Harned and Ehlers (1933) for acetic acid. Checked
against PHREEQC to 0.15 pH, see tests/published/ph.csv.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial

from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.roots import invert

_LOWEST, _HIGHEST = 1.0, 14.5  # pH, between which it is sought


@dataclass(frozen=True)
class Dissolved:
    """What is in the water [mol/L]: sodium, carbonate in all its forms, acetate, chloride."""

    sodium: float
    carbonate: float = 0.0
    acetate: float = 0.0
    chloride: float = 0.0


@dataclass(frozen=True)
class Constants:
    """Equilibrium constants as -log10, at zero ionic strength."""

    water: float
    first: float
    second: float
    acetic: float


def constants(temperature_c: float) -> Constants:
    """The constants at a temperature [C], 0 to 60."""
    t = temperature_c + 273.15
    log = math.log10(t)
    return Constants(
        water=283.9710 - 13323.00 / t + 0.05069842 * t - 102.24447 * log + 1119669.0 / t**2,
        first=356.3094 + 0.06091964 * t - 21834.37 / t - 126.8339 * log + 1684915.0 / t**2,
        second=107.8871 + 0.03252849 * t - 5151.79 / t - 38.92561 * log + 563713.9 / t**2,
        acetic=1170.48 / t - 3.1649 + 0.013399 * t,
    )


def davies(strength: float, temperature_c: float) -> float:
    """-log10 of a single charge's activity coefficient at an ionic strength [mol/kg], to 0.5."""
    t = temperature_c + 273.15
    permittivity = 87.740 - 0.40008 * temperature_c + 9.398e-4 * temperature_c**2
    a = float(1.82483e6 / (permittivity * t) ** 1.5)
    root = math.sqrt(strength)
    return a * (root / (1 + root) - 0.3 * min(strength, 0.5))


def ph(dissolved: Dissolved, temperature_c: float) -> float:
    """pH of a mix; raises OutOfRangeError outside 0 to 60 C.

    Five grams of soda a litre, 0.0472 mol:

    >>> round(ph(Dissolved(sodium=0.0944, carbonate=0.0472), 20.0), 1)
    11.4
    """
    if not 0 <= temperature_c <= 60:
        raise OutOfRangeError("Water this warm or cold is outside the pH model.",
                              allowed="0 to 60 C.")  # fmt: skip
    k = constants(temperature_c)
    strength = _strength(dissolved)
    value = 7.0
    for _ in range(12):  # the ionic strength follows from what dissociates
        g = davies(strength, temperature_c)
        value = invert(partial(_balance, dissolved, k, g), 0.0, _LOWEST, _HIGHEST)
        found = _charge(dissolved, k, g, value)[1]
        if abs(found - strength) < 1e-9:
            break
        strength = found
    return value


def _strength(d: Dissolved) -> float:
    return (d.sodium + d.chloride + 4 * min(d.carbonate, d.sodium / 2)) / 2


def _balance(d: Dissolved, k: Constants, g: float, value: float) -> float:
    return _charge(d, k, g, value)[0]


def _charge(d: Dissolved, k: Constants, g: float, value: float) -> tuple[float, float]:
    """Negative less positive charge [mol/L], rising with pH, and the ionic strength [mol/L]."""
    h = 10 ** (g - value)  # concentration of H+, its activity being 10**-pH
    oh = 10 ** (value - k.water + g)
    b = 10 ** (value - k.first + g)  # HCO3- over dissolved CO2
    c = 10 ** (2 * value - k.first - k.second + 4 * g)  # CO3-- over dissolved CO2
    total = 1 + b + c
    bicarbonate, carbonate = d.carbonate * b / total, d.carbonate * c / total
    a = 10 ** (value - k.acetic + g)
    acetate = d.acetate * a / (1 + a)
    negative = oh + bicarbonate + 2 * carbonate + acetate + d.chloride
    strength = (d.sodium + h + oh + bicarbonate + 4 * carbonate + acetate + d.chloride) / 2
    return negative - d.sodium - h, strength
