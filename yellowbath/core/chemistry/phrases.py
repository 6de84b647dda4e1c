"""How much goes in, as people say it: spoons, cups, caps, own scoops, weights, per cent.

``half a cup in all``, ``a heaped tablespoon per gallon``, ``3 oz to 5 gal``, ``0.5 %``, ``1 in
200``, ``two scoops``, ``a handful``, ``2 to 3 dessert spoons``. Counts and weights are of what is
in the box; weight per litre or gallon, and per cent, are a concentration as dry salt, as ``5
g/L`` is.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.chemistry.electrolyte import REACH, SPOONS, Product
from yellowbath.core.data import param
from yellowbath.core.ear import parse
from yellowbath.core.errors import NotUnderstoodError, OutOfRangeError
from yellowbath.core.numerals import (
    FIGURES,
    ONES,
    PARTS,
    Number,
    number_at,
    range_at,
    tidied,
    two_ways,
)
from yellowbath.core.units import IMPERIAL_GALLON, QUANTITIES, US_GALLON, System

Measure = Literal[
    "teaspoon", "dessertspoon", "tablespoon", "cup", "mug", "pinch", "handful", "scoop", "mass",
    "share",
]  # fmt: skip
Heap = Literal["level", "heaped", "rounded"]

_MEASURES: Mapping[str, Measure] = {
    "teaspoon": "teaspoon", "teaspoons": "teaspoon", "tsp": "teaspoon",
    "tablespoon": "tablespoon", "tablespoons": "tablespoon", "tbsp": "tablespoon",
    "tbsps": "tablespoon", "tbs": "tablespoon", "spoon": "tablespoon", "spoons": "tablespoon",
    "spoonful": "tablespoon", "spoonfuls": "tablespoon", "tablespoonful": "tablespoon",
    "tablespoonfuls": "tablespoon", "cup": "cup", "cups": "cup", "cupful": "cup", "cupfuls": "cup",
    "dessertspoon": "dessertspoon", "dessertspoons": "dessertspoon",
    "dessertspoonful": "dessertspoon", "dessertspoonfuls": "dessertspoon", "dsp": "dessertspoon",
    "mug": "mug", "mugs": "mug", "mugful": "mug", "mugfuls": "mug", "pinch": "pinch",
    "pinches": "pinch", "handful": "handful", "handfuls": "handful", "fistful": "handful",
    "fistfuls": "handful", "teaspoonful": "teaspoon", "teaspoonfuls": "teaspoon",
    "tsps": "teaspoon",
    "scoop": "scoop", "scoops": "scoop", "cap": "scoop", "caps": "scoop", "capful": "scoop",
    "capfuls": "scoop",
}  # fmt: skip
_MASSES: Mapping[str, float] = {
    word: QUANTITIES["mass"].units[unit]
    for unit, words in {
        "g": ("g", "gr", "gram", "grams", "gramme", "grammes"), "kg": ("kg", "kilo", "kilos"),
        "oz": ("oz", "ounce", "ounces"), "lb": ("lb", "lbs", "pound", "pounds"),
    }.items()
    for word in words
}  # fmt: skip
_HEAPS: Mapping[str, Heap] = {
    "heaped": "heaped", "heaping": "heaped", "rounded": "rounded", "level": "level",
    "levelled": "level", "leveled": "level", "flat": "level", "good": "heaped", "big": "heaped",
    "generous": "heaped", "scant": "level",
}  # fmt: skip
_PER = r"(?:per|/|to (?:the|each|every|a|an)|to|for (?:each|every)|in (?:each|every)|a|an|in)"
_ALL = r"(?:in all|in total|altogether|all told|total|in the (?:bath|tank|bucket|tub|water))"
_FILLER = re.compile(
    r"\b(?:of|washing|soda|baking|bicarbonate|bicarb|carbonate|sodium|crystals|salt|dry|powder|about"
    r"|around|some|roughly|ca|approx|approximately|maybe|say|or so)\b\.?"
)


@dataclass(frozen=True)
class PhraseSaid:
    """What was said: so many of a measure, heaped or level, in how much water.

    ``measure``: teaspoon, tablespoon, cup, scoop, mass or share; ``count`` in kg for a mass and [-]
    for a share; ``per_m3``: the water it goes into [m3], None for all of it; ``dry``: whether it is
    a concentration as dry salt and not an amount out of the box. ``reach``: least and most that it
    may be, over what it counts as, where a range was said or the measure is a loose one.
    """

    count: float
    measure: Measure
    heap: Heap = "level"
    per_m3: float | None = None
    dry: bool = False
    reach: tuple[float, float] = (1.0, 1.0)

    def product_kg(self, box: Product, spoons: System, scoop_kg: float | None) -> float:
        """Mass of what is in the box [kg]; OutOfRangeError where a scoop was never weighed."""
        if self.measure == "mass":
            return self.count
        if self.measure == "share":
            raise OutOfRangeError("A share has no mass without its water.")
        more = 1.0 if self.heap == "level" else param(f"spoon_{self.heap}").value
        if self.measure == "scoop":
            if scoop_kg is None:
                raise OutOfRangeError(
                    "No scoop has been weighed yet.",
                    allowed="A cap or spoon of your own, once its level grams are known.",
                    remedy="Weigh one level scoop and type its grams beside it, or say it in "
                    "spoons or grams.",
                )
            return self.count * scoop_kg * more
        return self.count * SPOONS[spoons][self.measure] * box.bulk * more

    def concentration(
        self, box: Product, water_m3: float, spoons: System, scoop_kg: float | None
    ) -> float:
        """As dry salt per litre [g/L]: what the box's share leaves of it."""
        if self.measure == "share":
            return self.count * 1000.0
        into = water_m3 if self.per_m3 is None else self.per_m3
        held = 1.0 if self.dry else box.share
        return self.product_kg(box, spoons, scoop_kg) * held / into


def read_vinegar(text: str, water_m3: float, strength: float, system: System = "metric") -> float:
    """How much vinegar, as its share of the liquid by volume [-].

    ``14 %`` is by volume, ``0.7 % acid`` what the acid comes to with vinegar of a ``strength`` [-];
    a volume is of all of ``water_m3`` [m3], or of each litre or gallon where it says so.

    >>> round(read_vinegar("0.7 % acid", 0.02, 0.05), 3), read_vinegar("1 L", 0.02, 0.05)
    (0.14, 0.05)
    """
    rest, acid = _without(_tidied(text), r"\s*(?:of )?(?:acetic )?acid\s*$")
    rest, _ = _without(rest, r"\s*(?:of )?vinegar\b")
    rest, _ = _without(rest, r"\s*by volume\s*$")
    share = re.fullmatch(r"(.+?)\s*(?:%|per ?cent)", rest)
    if share:
        part, left = _count(share[1])
        if part is None or left:
            raise _no_vinegar(text)
        return part / 100 / (strength if acid else 1.0)
    rest, whole = _without(rest, rf"\s*,?\s*{_ALL}\s*$")
    if acid:
        raise _no_vinegar(text)
    with suppress(NotUnderstoodError):  # half a litre is a volume before it is half of each litre
        return _poured(rest, system) / water_m3
    if not whole:
        rest, into, _ = _per(rest, system)
        with suppress(NotUnderstoodError):
            return _poured(rest, system) / (into or water_m3)
    raise _no_vinegar(text)


def _poured(text: str, system: System) -> float:
    """A volume [m3], cups and spoons among them."""
    count, rest = _count(text)
    measure = _MEASURES.get(rest)
    if count is not None and measure in ("cup", "tablespoon", "teaspoon"):
        return count * SPOONS[system][measure]
    if count is not None and rest:
        return parse(f"{count!r} {rest.removeprefix('a ')}", "volume", system)
    return parse(text, "volume", system)


def _no_vinegar(text: str) -> NotUnderstoodError:
    return NotUnderstoodError(
        f"“{text[:60]}” cannot be read as an amount of vinegar.",
        allowed="A share by volume, the share of acid it comes to, or a volume in all or a gallon.",
        remedy="Write it like 14 %, 0.7 % acid, 1 cup per gallon, 2 L in all.",
    )


def read_said(text: str, system: System = "metric") -> PhraseSaid:
    """Read a phrase. Raises NotUnderstoodError with examples; nothing is guessed past a word that
    is not known.

    >>> read_said("half a cup in all").count
    0.5
    >>> round(read_said("3 oz to 5 gal", "us").per_m3 * 1000, 2)
    18.93
    """
    rest = _tidied(text)
    rest, whole = _without(rest, rf"\s*,?\s*{_ALL}\s*$")
    if two_ways(rest):  # 1,500 g is 1.5 to one and 1500 to another
        raise _not_read(text)
    if share := _share(rest, text):
        return share
    rest, into, each = (rest, None, False) if whole else _per(rest, system)
    number, rest = _number(rest)
    rest, more = _and_more(rest)
    heap: Heap = "level"
    for word, name in _HEAPS.items():
        if re.search(rf"\b{word}\b", rest):
            heap, rest = name, re.sub(rf"\b{word}\b", " ", rest)
    unit = re.sub(r"^(?:an?|more)\s+", "", " ".join(rest.split()))
    unit = re.sub(r"\b(dessert|tea|table) (?=spoon)", r"\1", unit)
    if number is None or not math.isfinite(number.value):
        raise _not_read(text)
    count = number.value + more
    reach = (number.low + more, number.high + more)
    if unit in _MASSES and heap == "level":
        return PhraseSaid(count * _MASSES[unit], "mass", "level", into, each, _over(reach, count))
    if unit in _MEASURES:
        measure = _MEASURES[unit]
        loose = REACH.get(measure, (1.0, 1.0))
        low, high = _over(reach, count)
        return PhraseSaid(count, measure, heap, into, reach=(low * loose[0], high * loose[1]))
    raise _not_read(text)


def _over(reach: tuple[float, float], count: float) -> tuple[float, float]:
    return (reach[0] / count, reach[1] / count) if count else (1.0, 1.0)


def _and_more(rest: str) -> tuple[str, float]:
    """What comes after the measure: ``a spoon and a half``."""
    found = re.search(r"\s+and (?:a |one )?(half|third|quarter)$", rest)
    return (rest[: found.start()], PARTS[found[1]]) if found else (rest, 0.0)


def _share(rest: str, text: str) -> PhraseSaid | None:
    """``0.5 %``, ``5000 ppm``, ``1 in 200``: a share of the water by weight, as dry salt."""
    found = re.fullmatch(r"(.+?)\s*(%|per ?cent|ppm)", rest)
    if found:
        number, left = _number(found[1])
        if number is None or left not in ("", "a") or not math.isfinite(number.value):
            raise _not_read(text)
        unit = 1e-6 if found[2] == "ppm" else 0.01
        reach = _over((number.low, number.high), number.value)
        return PhraseSaid(number.value * unit, "share", dry=True, reach=reach)
    one_in = re.fullmatch(r"(?:1|one)(?: part)? ?(?:in|to|:) ?(\d+)(?: parts)?(?: water)?", rest)
    if one_in and float(one_in[1]) > 0:
        return PhraseSaid(1 / float(one_in[1]), "share", dry=True)
    return None


def _tidied(text: str) -> str:
    made = tidied(text.lower()).replace("u.s.", "us")
    made = re.sub(r"(?<=[a-z])\.(?=\s|$)", "", made)
    made = _FILLER.sub(" ", made)
    made = re.sub(r"(\d)\s*(g|kg|oz|lb|tsp|tbsp)\b", r"\1 \2", made)
    return " ".join(made.split()).strip(" .,;")


def _without(text: str, pattern: str) -> tuple[str, bool]:
    left = re.sub(pattern, "", text)
    return left, left != text


def _per(text: str, system: System) -> tuple[str, float | None, bool]:
    """What is left of a phrase without what it says of the water, that water [m3], and whether it
    is each litre or gallon."""
    gal = _gallon(system)
    litres = {"l": 1e-3, "litre": 1e-3, "litres": 1e-3, "liter": 1e-3, "liters": 1e-3, "ml": 1e-6,
              "gal": gal, "gals": gal, "gallon": gal, "gallons": gal, "quart": gal / 4,
              "quarts": gal / 4, "qt": gal / 4, "pint": gal / 8, "pints": gal / 8}  # fmt: skip
    for name, size in (("us", US_GALLON), ("imperial", IMPERIAL_GALLON), ("imp", IMPERIAL_GALLON),
                       ("uk", IMPERIAL_GALLON)):  # fmt: skip
        litres |= {f"{name} {g}": size for g in ("gal", "gals", "gallon", "gallons")}
    units = "|".join(sorted(map(re.escape, litres), key=len, reverse=True))
    number = rf"(?:(?P<n>{FIGURES}|{'|'.join(ONES)}|half an?)\s*)?"
    found = re.search(rf"\s*(?:{_PER})\s*{number}(?P<u>{units})(?: water)?$", text)
    if not found:
        return text, None, False
    amount = 1.0 if found["n"] is None else (number_at(found["n"]) or (math.nan, ""))[0]
    if not amount > 0 or not math.isfinite(amount):
        return text, None, False
    each = amount == 1 and litres[found["u"]] >= 1e-3
    return text[: found.start()].strip(), amount * litres[found["u"]], each


def _gallon(system: System) -> float:
    return IMPERIAL_GALLON if system == "imperial" else US_GALLON


def _number(text: str) -> tuple[Number | None, str]:
    """The number or range that a phrase begins with and the rest; a measure without a number is one
    of it."""
    found = range_at(text)
    if found is not None:
        return found
    first = text.split()[0] if text else ""
    one = first in _MEASURES or first in _HEAPS or first in ("dessert", "tea", "table")
    return (Number(1.0, 1.0, 1.0) if one else None), text


def _count(text: str) -> tuple[float | None, str]:
    number, rest = _number(text)
    return (None if number is None else number.value), rest


def _not_read(text: str) -> NotUnderstoodError:
    shown = text if len(text) <= 60 else text[:57] + "..."
    return NotUnderstoodError(
        f"“{shown}” cannot be read as an amount to put in.",
        allowed="Spoons, cups, your own scoop, grams, ounces or per cent; per litre, per gallon or "
        "in all.",
        remedy="Write it like 5 g/L, 1 tablespoon per gallon, half a cup in all, 0.5 %.",
    )
