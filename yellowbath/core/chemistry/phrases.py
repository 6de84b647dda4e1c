"""How much goes in, as people say it: spoons, cups, caps, own scoops, weights, per cent.

``half a cup in all``, ``a heaped tablespoon per gallon``, ``3 oz to 5 gal``, ``0.5 %``, ``two
scoops``. Counts and weights are of what is in the box; weight per litre or gallon, and per cent,
are a concentration as dry salt, as ``5 g/L`` is.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.chemistry.electrolyte import SPOONS, Product
from yellowbath.core.data import param
from yellowbath.core.errors import NotUnderstoodError, OutOfRangeError
from yellowbath.core.units import IMPERIAL_GALLON, POUND, US_GALLON, System, parse

Measure = Literal["teaspoon", "tablespoon", "cup", "scoop", "mass", "share"]
Heap = Literal["level", "heaped", "rounded"]

_WORDS: Mapping[str, float] = {
    "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7,
    "eight": 8, "nine": 9, "ten": 10, "twelve": 12, "dozen": 12, "couple": 2, "half": 0.5,
    "quarter": 0.25, "third": 1 / 3,
}  # fmt: skip
_VULGAR: Mapping[str, str] = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8",
}  # fmt: skip
_MEASURES: Mapping[str, Measure] = {
    "teaspoon": "teaspoon", "teaspoons": "teaspoon", "tsp": "teaspoon", "tsps": "teaspoon",
    "tablespoon": "tablespoon", "tablespoons": "tablespoon", "tbsp": "tablespoon",
    "tbsps": "tablespoon", "tbs": "tablespoon", "spoon": "tablespoon", "spoons": "tablespoon",
    "spoonful": "tablespoon", "spoonfuls": "tablespoon", "tablespoonful": "tablespoon",
    "tablespoonfuls": "tablespoon", "cup": "cup", "cups": "cup", "cupful": "cup", "cupfuls": "cup",
    "scoop": "scoop", "scoops": "scoop", "cap": "scoop", "caps": "scoop", "capful": "scoop",
    "capfuls": "scoop",
}  # fmt: skip
_MASSES: Mapping[str, float] = {
    "g": 1e-3, "gr": 1e-3, "gram": 1e-3, "grams": 1e-3, "gramme": 1e-3, "grammes": 1e-3, "kg": 1.0,
    "kilo": 1.0, "kilos": 1.0, "oz": POUND / 16, "ounce": POUND / 16, "ounces": POUND / 16,
    "lb": POUND, "lbs": POUND, "pound": POUND, "pounds": POUND,
}  # fmt: skip
_HEAPS: Mapping[str, Heap] = {
    "heaped": "heaped", "heaping": "heaped", "rounded": "rounded", "level": "level",
    "levelled": "level", "leveled": "level", "flat": "level",
}  # fmt: skip
_PER = r"(?:per|/|to (?:the|each|every|a|an)|to|for (?:each|every)|in (?:each|every)|a|an|in)"
_ALL = r"(?:in all|in total|altogether|all told|total|in the (?:bath|tank|bucket|tub|water))"
_FILLER = re.compile(
    r"\b(?:of|washing|soda|baking|bicarbonate|crystals|salt|dry|powder|about|some|roughly|ca|approx)\b\.?"
)
_NUMBER = re.compile(r"(\d+\s+\d+/\d+|\d+-\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)")


@dataclass(frozen=True)
class Said:
    """What was said: so many of a measure, heaped or level, in how much water.

    ``measure``: teaspoon, tablespoon, cup, scoop, mass or share; ``count`` in kg for a mass and [-]
    for a share; ``per_m3``: the water it goes into [m3], None for all of it; ``dry``: whether it is
    a concentration as dry salt and not an amount out of the box.
    """

    count: float
    measure: Measure
    heap: Heap = "level"
    per_m3: float | None = None
    dry: bool = False

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


def read_said(text: str, system: System = "metric") -> Said:
    """Read a phrase. Raises NotUnderstoodError with examples; nothing is guessed past a word that
    is not known.

    >>> read_said("half a cup in all").count
    0.5
    >>> round(read_said("3 oz to 5 gal", "us").per_m3 * 1000, 2)
    18.93
    """
    rest = _tidied(text)
    rest, whole = _without(rest, rf"\s*,?\s*{_ALL}\s*$")
    share = re.fullmatch(r"(.+?)\s*(?:%|per ?cent)", rest)
    if share:
        part, left = _count(share[1])
        if part is None or left:
            raise _not_read(text)
        return Said(part / 100, "share", dry=True)
    rest, into, each = (rest, None, False) if whole else _per(rest, system)
    count, rest = _count(rest)
    heap: Heap = "level"
    for word, name in _HEAPS.items():
        if re.search(rf"\b{word}\b", rest):
            heap, rest = name, re.sub(rf"\b{word}\b", " ", rest)
    unit = " ".join(rest.split())
    if unit in _MASSES and count is not None and heap == "level":
        return Said(count * _MASSES[unit], "mass", "level", into, dry=each)
    if unit in _MEASURES and count is not None:
        return Said(count, _MEASURES[unit], heap, into)
    raise _not_read(text)


def _tidied(text: str) -> str:
    made = text.lower()
    for glyph, plain in _VULGAR.items():
        made = re.sub(rf"(\d){glyph}", rf"\1 {plain}", made).replace(glyph, plain)
    made = made.replace("⁄", "/").replace("\u00a0", " ").replace("u.s.", "us")
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
    number = rf"(?:(?P<n>{_NUMBER.pattern}|{'|'.join(_WORDS)})\s*)?"
    found = re.search(rf"\s*(?:{_PER})\s*{number}(?P<u>{units})(?: water)?$", text)
    if not found:
        return text, None, False
    amount = 1.0 if found["n"] is None else _word_or_number(found["n"])
    each = amount == 1 and litres[found["u"]] >= 1e-3
    return text[: found.start()].strip(), amount * litres[found["u"]], each


def _gallon(system: System) -> float:
    return IMPERIAL_GALLON if system == "imperial" else US_GALLON


_PART = (
    r"(?:(three) quarters?|(two) thirds?|(?:a |one )?(half|quarter|third)(?: an?)?)\b"
    r"(?: of)?(?: an?\b)?"
)


def _count(text: str) -> tuple[float | None, str]:
    """The number that a phrase begins with, in figures or words, and the rest; a measure without a
    number is one of it."""
    if found := _NUMBER.match(text):
        total, rest = _value(found[1]), text[found.end() :].strip()
    elif part := re.match(_PART, text):
        several = {"three": 0.75, "two": 2 / 3}.get(part[1] or part[2] or "")
        return several or _WORDS[part[3]], text[part.end() :].strip()
    else:
        words = text.split()
        if len(words) > 1 and words[0] == "a" and words[1] in ("dozen", "couple"):
            words = words[1:]
        first = words[0] if words else ""
        if first not in _WORDS:
            one = first in _MEASURES or first in _HEAPS
            return (1.0, text) if one else (None, text)
        total, rest = _WORDS[first], " ".join(words[1:])
    more = re.match(r"and (?:a |one )?(half|quarter|third)\b", rest)
    if more:
        return total + _WORDS[more[1]], rest[more.end() :].strip()
    return total, rest


def _word_or_number(text: str) -> float:
    return _WORDS[text] if text in _WORDS else _value(text)


def _value(text: str) -> float:
    parts = re.split(r"[\s-]+", text.strip())
    total = 0.0
    for part in parts:
        if "/" in part:
            top, bottom = part.split("/")
            total += float(top) / float(bottom) if float(bottom) else math.nan
        else:
            total += float(part.replace(",", "."))
    if not math.isfinite(total):
        raise _not_read(text)
    return total


def _not_read(text: str) -> NotUnderstoodError:
    shown = text if len(text) <= 60 else text[:57] + "..."
    return NotUnderstoodError(
        f"“{shown}” cannot be read as an amount to put in.",
        allowed="Spoons, cups, your own scoop, grams, ounces or per cent; per litre, per gallon or "
        "in all.",
        remedy="Write it like 5 g/L, 1 tablespoon per gallon, half a cup in all, 0.5 %.",
    )
