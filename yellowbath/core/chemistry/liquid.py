"""What is in the water, and what follows from it: conductivity, pH, density, what dissolves.

A salt in a mixture conducts as it does alone in a solution of the same ionic strength: the closed
forms of ``electrolyte`` are asked at that concentration. Acetic acid adds its own little.
Concentrations [g/L] of anhydrous solute at 20 C, temperatures [C], 0 to 60.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from yellowbath.core.chemistry.electrolyte import conductivity, salt
from yellowbath.core.chemistry.speciation import Dissolved, ph
from yellowbath.core.data import require_provenance, table
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.roots import invert

SODA, BICARBONATE, SALT = "sodium_carbonate", "sodium_bicarbonate", "sodium_chloride"
MOST = 60.0  # g/L of any one salt at which the closed forms end
_ACETIC_MOLAR = 60.052  # g/mol, standard atomic weights
_THINS = 0.0018  # of what a salt adds to the density, by degree; fitted to the same rows


@dataclass(frozen=True)
class Liquid:
    """A mix: grams a litre of each salt, and acetic acid in per cent by mass."""

    salts: Mapping[str, float] = field(default_factory=dict)
    acid_percent: float = 0.0

    @property
    def total(self) -> float:
        """All salts [g/L]."""
        return sum(self.salts.values())

    def strength(self) -> float:
        """Ionic strength of the salts [mol/L], all of them dissociated."""
        return sum(
            c * float(salt(k)["strength"]) / float(salt(k)["molar_g"])
            for k, c in self.salts.items()
        )

    def parts(self, temperature_c: float) -> dict[str, float]:
        """What each salt, and the acid, adds to the conductivity [S/m].

        A salt is asked at most at the end of its closed form: beyond it a little too much.
        """
        strength, out = self.strength(), {}
        for key, c in self.salts.items():
            if c > 0:
                row = salt(key)
                alone = min(strength / float(row["strength"]) * float(row["molar_g"]), MOST)
                out[key] = conductivity(key, alone, temperature_c) * c / alone
        if self.acid_percent > 0:
            out["acetic_acid"] = acetic_conductivity(self.acid_percent, temperature_c)
        return out

    def conductivity(self, temperature_c: float) -> float:
        """Conductivity [S/m]; about 5 % at 10-40 C, see tests/published/mixtures.csv."""
        return sum(self.parts(temperature_c).values())

    def ph(self, temperature_c: float) -> float:
        """pH, closed to the air."""
        return ph(
            Dissolved(
                sodium=self._moles("sodium"),
                carbonate=self._moles("carbonate"),
                acetate=10 * self.acid_percent / _ACETIC_MOLAR,
                chloride=self._moles("chloride"),
            ),
            temperature_c,
        )

    def _moles(self, ion: str) -> float:
        """What its salts bring of an ion [mol/L]."""
        return sum(
            c / float(salt(k)["molar_g"]) * float(salt(k)[ion]) for k, c in self.salts.items()
        )

    def density(self, temperature_c: float) -> float:
        """Density [kg/m3] up to 50 g/L: within 1 of Laliberte's (2009), to which it is fitted."""
        made, warm = water_density(temperature_c), 1 - _THINS * (temperature_c - 20)
        for key, c in self.salts.items():
            row = salt(key)
            made += c * (row["density_a"] - row["density_b"] * c) * warm
        return made


def acetic_conductivity(percent: float, temperature_c: float) -> float:
    """Conductivity [S/m] of acetic acid, 0.05 to 5 % by mass, 0 to 60 C, 6 % (10 % above 3 %).

    Kohlrausch's 18 C anchors (from memory), temperature law from PHREEQC 3.8.6 with acetate.
    """
    x = temperature_c - 20
    at20 = 0.0592 * math.sqrt(percent) / (1 + 0.016 * percent) / 0.9687
    return at20 * (1 + 0.015456 * x - 9.097e-5 * x**2 - 4.523e-7 * x**3)


def water_density(temperature_c: float) -> float:
    """Density of water [kg/m3], 0 to 100 C; Kell, J. Chem. Eng. Data 20 (1975), from memory.

    >>> round(water_density(4.0), 2), round(water_density(20.0), 2)
    (999.97, 998.2)
    """
    t = temperature_c
    top = (
        999.83952 + 16.945176 * t - 7.9870401e-3 * t**2 - 46.170461e-6 * t**3
        + 105.56302e-9 * t**4 - 280.54253e-12 * t**5
    )  # fmt: skip
    return top / (1 + 16.879850e-3 * t)


def solubility(salt_key: str, temperature_c: float) -> float:
    """What still dissolves [g anhydrous in 100 g of water], 0 to 60 C, straight between rows.

    Raises OutOfRangeError outside. Rows and their sources: core/data/solubility.toml.

    >>> solubility("sodium_carbonate", 20.0)
    21.6
    """
    row = table("solubility")[salt_key]
    require_provenance(f"solubility.{salt_key}", row)
    points = [(float(t), float(s)) for t, s in row["points"]]
    if not points[0][0] <= temperature_c <= points[-1][0]:
        raise OutOfRangeError(
            f"{temperature_c:.0f} C is outside the solubility table.", allowed="0 to 60 C."
        )
    for (t0, s0), (t1, s1) in pairwise(points):
        if temperature_c <= t1:
            return s0 + (s1 - s0) * (temperature_c - t0) / (t1 - t0)
    return points[-1][1]


def dissolves(salt_key: str, temperature_c: float) -> float:
    """The strongest bath [g/L] that stays clear at a temperature; above it crystals settle."""
    s = solubility(salt_key, temperature_c)
    row = salt(salt_key)
    # grams in a litre of solution, its density rising with what is in it
    most = s / (100 + s) * 1000
    for _ in range(20):
        rho = water_density(temperature_c) + most * max(row["density_a"] - row["density_b"] * most,
                                                        0.5)  # fmt: skip
        most = s / (100 + s) * rho
    return most


def baked_share(before_kg: float, after_kg: float) -> float:
    """Share of baking soda that has turned to soda in the oven [-], by weighing before and after.

    2 NaHCO3 -> Na2CO3 + H2O + CO2 leaves 63.1 % of the mass. Raises OutOfRangeError where the
    weights cannot be those of a bake.

    >>> round(baked_share(1.0, 0.7), 2)
    0.81
    """
    full = 1 - float(salt(SODA)["molar_g"]) / (2 * float(salt(BICARBONATE)["molar_g"]))
    if before_kg <= 0 or after_kg <= 0 or after_kg > before_kg * 1.001:
        raise OutOfRangeError(
            "After the oven it cannot weigh more than before.",
            allowed=f"{100 * (1 - full):.0f} to 100 % of the weight before.",
            remedy="Weigh the powder alone, dry, on the same scale.",
        )
    lost = (1 - after_kg / before_kg) / full
    if lost > 1.03:
        raise OutOfRangeError(
            f"It lost more than a full bake takes: {100 * (1 - after_kg / before_kg):.0f} %.",
            allowed=f"At most {100 * full:.0f} %.",
            remedy="Some was spilled, or it was damp before: weigh again, dry.",
        )
    return min(max(lost, 0.0), 1.0)


def baked(share: float) -> tuple[float, float]:
    """Soda and baking soda in a gram of what came out of the oven, this share turned [-]."""
    kept = 1 - salt(SODA)["molar_g"] / (2 * salt(BICARBONATE)["molar_g"])
    soda = share * (1 - kept)
    rest = 1 - share
    return soda / (soda + rest), rest / (soda + rest)


def turned_by_ph(total_molar: float, reading: float, temperature_c: float) -> float:
    """Share of the carbonate that is soda, the rest being baking soda, by a pH read off a strip.

    ``total_molar`` of both together [mol/L]. Nought or one beyond what either alone would show.
    """
    low, high = 0.0, 1.0

    def at(share: float) -> float:
        sodium = total_molar * (1 + share)
        return ph(Dissolved(sodium=sodium, carbonate=total_molar), temperature_c)

    if reading <= at(low):
        return low
    if reading >= at(high):
        return high
    return invert(at, reading, low, high)
