"""The mix: conductivity, what to weigh or spoon, and what a kept batch still holds."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from yellowbath.core.data import require_provenance, table
from yellowbath.core.document import Mix
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import Figure, Input, figure, typed, uses

# Level spoons [m3] by the set in the drawer; a dessert spoon is two teaspoons.
# What no set has (mug, pinch, handful) is judged, and how far it reaches in ``REACH``.
IN_A_SET = ("teaspoon", "tablespoon", "cup")
_NO_SET = {"mug": 300e-6, "pinch": 0.4e-6, "handful": 60e-6}
SPOONS = {
    "metric": {"teaspoon": 5e-6, "dessertspoon": 10e-6, "tablespoon": 15e-6, "cup": 250e-6,
               **_NO_SET},
    "us": {"teaspoon": 4.92892e-6, "dessertspoon": 9.85784e-6, "tablespoon": 14.7868e-6,
           "cup": 236.588e-6, **_NO_SET},
    "imperial": {"teaspoon": 5.919e-6, "dessertspoon": 11.838e-6, "tablespoon": 17.758e-6,
                 "cup": 284.131e-6, **_NO_SET},
}  # fmt: skip
# least and most of a measure, over what it counts as (judged)
REACH = {"mug": (0.8, 1.25), "pinch": (0.5, 2.0), "handful": (0.6, 1.7)}
# Not knowing the box is a stop to precision: computed as dry soda, with a finding beside it.
STAND_IN = "soda_anhydrous"


@dataclass(frozen=True)
class Product:
    """What the box says: the salt, its share by mass and its bulk density [kg/m3].

    ``oven``: made at home, weighed before and after; ``vinegar``: is poured on with it;
    ``refused``: the check that stops it, where it is no mix for a bath.
    """

    key: str
    name: str
    salt: str
    share: float
    bulk: float
    bulk_low: float
    bulk_high: float
    cite: str
    oven: bool = False
    vinegar: bool = False
    refused: str = ""

    @property
    def is_chloride(self) -> bool:
        """Whether what is mixed in brings chloride."""
        return bool(salt(self.salt)["chloride"])


def product(key: str) -> Product:
    """A product by key; an unknown box is computed as dry washing soda."""
    key = STAND_IN if key == "unknown" else key
    row = table("products")[key]
    require_provenance(f"products.{key}", row)
    return Product(
        key, row["name"], row["salt"], row["share"], row["bulk"], row["bulk_low"],
        row["bulk_high"], f"{row['source']}, {row['honesty']}", row.get("oven", False),
        row.get("vinegar", False), row.get("refused", ""),
    )  # fmt: skip


def salt(key: str) -> dict[str, Any]:
    """Conductivity coefficients of a salt."""
    row: dict[str, Any] = table("salts")[key]
    require_provenance(f"salts.{key}", row)
    return row


def conductivity(salt_key: str, concentration_kg_m3: float, temperature_c: float) -> float:
    """Conductivity [S/m] of one salt in water.

    Concentration [g/L] of anhydrous salt per litre of solution at 20 C, 0.2 to 60 (under 1 g/L
    an extrapolation towards the limiting law); temperature 0 to 60 [C]. About 4 % at 10-40 C, to
    the ``known_to`` of its row, and its ``error_beyond`` above that.
    Raises OutOfRangeError outside. Source: closed form fitted to PHREEQC 3.8.6.

    >>> round(conductivity("sodium_carbonate", 10, 20), 3)
    1.312
    """
    if not 0 < concentration_kg_m3 <= 60:
        raise OutOfRangeError(
            f"A dose of {concentration_kg_m3:.3g} g/L is outside the conductivity formula.",
            allowed="Above 0, up to 60 g/L.",
            remedy="More than 40 g/L only wastes soda.",
        )
    k = salt(salt_key)
    c = concentration_kg_m3 / k["molar_g"]
    x = temperature_c - 20
    root = math.sqrt(c)
    molar = k["l20"] - k["a"] * root / (1 + k["b"] * root)
    return float(0.1 * c * molar * (1 + k["a1"] * x + k["a2"] * x**2 + k["a3"] * x**3))


def conductivity_figure(
    mix: Mix, concentration: Figure, temperature: Figure, bubbles: Input
) -> Figure:
    """Conductivity [S/m] of the mix, with its formula and its error.

    ``bubbles``: the share of gas in it [-], which takes away by Bruggeman's 1.5th power (1935, from
    memory).
    """
    key = product(mix.product).salt
    k = salt(key)
    inputs = [
        uses("C", concentration),
        uses("T", temperature),
        bubbles,
        Input("M", "Molar mass, g/mol", k["molar_g"], "number", "CIAAW atomic weights"),
        *(
            Input(s, f"Coefficient {s} of {k['name']}", k[n], "number", k["source"])
            for s, n in (
                ("L", "l20"), ("A", "a"), ("B", "b"), ("a1", "a1"), ("a2", "a2"), ("a3", "a3"),
            )
        ),
    ]  # fmt: skip
    value = conductivity(key, concentration.value, temperature.value) * (1 - bubbles.value) ** 1.5
    made = figure(
        "mix.conductivity", "Conductivity of the mix", value, "conductivity",
        "0.1*(C/M)*(L - A*sqrt(C/M)/(1 + B*sqrt(C/M)))*(1 + a1*(T - 20) + a2*(T - 20)**2"
        " + a3*(T - 20)**3)*(1 - e)**1.5",
        inputs, "conductivity",
    )  # fmt: skip
    known = concentration.value <= float(k["known_to"])
    error = float(k["relative_error" if known else "error_beyond"])
    return made.with_window(value * (1 - error), value * (1 + error))


def concentration_figure(mix: Mix, water: Figure) -> Figure:
    """Dry salt per litre [g/L]: the wanted dose, or what a kept batch already holds if more."""
    wanted = typed("D", "Wanted dose", mix.concentration_kg_m3, "concentration")
    if mix.source == "reuse" and mix.kept_kg is not None:
        kept = typed("k", "Soda already in it", mix.kept_kg, "mass")
        value = max(mix.concentration_kg_m3, mix.kept_kg / water.value)
        return figure(
            "mix.concentration", "Dry soda per litre", value, "concentration", "max(D, k/V)",
            [wanted, kept, uses("V", water)], "stoichiometry",
        )  # fmt: skip
    return figure(
        "mix.concentration", "Dry soda per litre", mix.concentration_kg_m3, "concentration", "D",
        [wanted], "practice",
    )  # fmt: skip


def product_mass_figure(mix: Mix, water: Figure) -> Figure:
    """What to weigh out of this box [kg]: dose times water over the dry share, less what is in."""
    box = product(mix.product)
    kept = (mix.kept_kg or 0.0) if mix.source == "reuse" else 0.0
    value = max(mix.concentration_kg_m3 * water.value - kept, 0.0) / box.share
    return figure(
        "mix.product", f"Weigh out: {box.name}", value, "mass", "max(D*V - k, 0)/s",
        [
            typed("D", "Wanted dose, as dry soda", mix.concentration_kg_m3, "concentration"),
            uses("V", water),
            typed("k", "Soda already in it", kept, "mass"),
            Input("s", "Dry share of what is in the box", box.share, "ratio", box.cite),
        ],
        "stoichiometry",
    )  # fmt: skip


def spoon_figure(mix: Mix, mass: Figure, spoon: str = "tablespoon") -> Figure:
    """The same mass as level spoons [count], with the spread of the bulk density."""
    box = product(mix.product)
    size = SPOONS[mix.spoon][spoon]
    value = mass.value / (box.bulk * size)
    made = figure(
        "mix.spoons", f"Level {spoon}s", value, "number", "m/(b*v)",
        [
            uses("m", mass),
            Input("b", "Bulk density, poured", box.bulk, "mass_density", box.cite),
            Input("v", f"Level {spoon}, {mix.spoon}", size, "volume", "spoon set"),
        ],
        "kitchen",
    )  # fmt: skip
    return made.with_window(
        mass.value / (box.bulk_high * size),
        mass.value / (box.bulk_low * size),
        "Powder packs loosely or tightly; a scale is better.",
    )


def scoop_figure(mix: Mix, mass: Figure) -> Figure | None:
    """The same mass in the person's own weighed scoop [count], or None where none was weighed."""
    if mix.scoop_kg is None:
        return None
    return figure(
        "mix.scoops", f"Level scoops: {mix.scoop_name or 'my scoop'}", mass.value / mix.scoop_kg,
        "number", "m/g",
        [uses("m", mass), typed("g", "One level scoop", mix.scoop_kg, "mass")], "kitchen",
    )  # fmt: skip
