"""One ear: what is typed or said of a quantity, to SI.

Anything a tape, jug or label says: ``3/8 in``, ``2 1/2 gal``, ``5' 3"``, ``14 AWG``, ``1,5 L``,
``half an inch``, ``about 3 amps``, ``2 to 4 A``, ``5 foot 2``. A bare number takes the first unit
of the person's system. Factors and units are those of ``units``.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yellowbath.core.errors import NotUnderstoodError
from yellowbath.core.numerals import PARTS, number_at, range_at, surely, tidied, two_ways
from yellowbath.core.units import IMPERIAL_GALLON, QUANTITIES, US_GALLON, Quantity, System, show

# unit of a bare number after one of these: 5 ft 2, 2 lb 4, 1 h 30, 1 m 20
_NEXT: Mapping[str, str] = {
    "ft": "in",
    "lb": "oz",
    "h": "min",
    "min": "s",
    "m": "cm",
    "L": "ml",
    "kg": "g",
}
_UNIT = re.compile(
    r"""(?:sq(?:uare)?\.?\s+|cu(?:bic)?\.?\s+|US\s+|imp(?:erial)?\s+|UK\s+|fl\.?\s+|deg(?:rees?)?\.?\s+)*"""
    r"""(?:[A-Za-z°Ωµ%£$€]+(?:/[A-Za-z]+3?)?(?:(?<=[mt])[23](?!\d))?|['"#])\.?""",
    re.IGNORECASE,
)
_BEFORE = re.compile(r"^(awg|gauge|#|£|\$|€|ph|swg)\s*(?=[\d.])", re.IGNORECASE)


@dataclass(frozen=True)
class Heard:
    """What a text says [SI]: the value that counts, how far it reaches where a range was said, and
    whether that is more or less than what stands there.

    ``plain``: a figure with its unit, or a bare one, which nobody has to be told again.
    """

    value: float
    low: float
    high: float
    plain: bool

    def said(self, quantity: str, system: System) -> str:
        """In words and in the person's units.

        >>> hear("2 to 4 A", "current").said("current", "metric")
        '3 A, between 2 and 4 A'
        """
        text = str(show(self.value, quantity, system, 4))
        if self.low == self.high:
            return text
        low, high = (show(v, quantity, system, 3, like=self.value) for v in (self.low, self.high))
        return f"{text}, between {low.text} and {high}"


def parse(text: str, quantity: str, system: System = "metric") -> float:
    """Read a typed quantity [SI].

    ``gal``, ``qt`` and ``pint`` follow the system (imperial where that is chosen, else US). Raises
    NotUnderstoodError with examples; never guesses past a unit it does not know.

    >>> round(parse("2 1/2 gal", "volume", "us") * 1000, 3)
    9.464
    >>> round(parse("3/8 in", "length") * 1000, 3)
    9.525
    """
    return hear(text, quantity, system).value


def hear(text: str, quantity: str, system: System = "metric") -> Heard:
    """The same with what was said of its range; raises as ``parse`` does.

    >>> hear("about half an inch", "length").value
    0.0127
    """
    kind = QUANTITIES[quantity]
    if len(text) > _LONGEST:
        raise _not_understood(text, kind)
    rest = re.sub(r"\bper cent\b", "%", tidied(text), flags=re.IGNORECASE)
    rest, about = surely(re.sub(r"^minus\s+", "-", rest, flags=re.IGNORECASE))
    if (spoken := _SPOKEN.get(quantity, {}).get(rest.lower())) is not None:
        return Heard(*spoken, False)
    if both := two_ways(rest):
        raise NotUnderstoodError(
            f"“{text.strip()[:40]}” can be {both[0]} or {both[1]}.",
            remedy=f"Write {both[0]}, or {both[1]} with a point.",
        )
    one_in = re.fullmatch(r"(?:one|1)\s+(?:part\s+)?in\s+(.+)", rest, re.IGNORECASE)
    if quantity == "ratio" and one_in:
        return _share_of(one_in[1], text, kind)
    sign, rest = (-1.0, rest[1:].strip()) if rest.startswith("-") else (1.0, rest)
    low = high = 0.0
    terms: list[_Term] = []
    while rest:
        if terms and not terms[-1].unit:  # 3 4 mm is no sum
            raise _not_understood(text, kind)
        term, rest = _term(rest, kind, terms[-1].unit if terms else None)
        ends = [_to_si(sign * v, term.unit, kind, system, text) for v in (term.low, term.high)]
        low, high = low + min(ends), high + max(ends)
        terms.append(term)
    if not terms or (kind.name == "count" and low != high):
        raise _not_understood(text, kind)
    return Heard((low + high) / 2, low, high, not about and all(t.plain for t in terms))


@dataclass(frozen=True)
class _Term:
    """A number or range and its unit, and whether it stands there in plain figures."""

    low: float
    high: float
    unit: str
    plain: bool


def _term(text: str, kind: Quantity, last: str | None) -> tuple[_Term, str]:
    """The term that a text begins with and the rest; ``last``: the unit of the term before."""
    if last is not None:
        text = re.sub(r"^(?:and\b|[+,&])\s*", "", text, flags=re.IGNORECASE)
    before = _BEFORE.match(text)
    found = range_at(text[before.end() :] if before else text)
    if found is None or not all(map(math.isfinite, (found[0].low, found[0].high))):
        raise _not_understood(text, kind)
    number, rest = found
    low, high, plain = number.low, number.high, not number.about and text[0] in "0123456789.,"
    unit, rest = _unit_at(rest, kind, before[1] if before else "")
    if not unit and last is not None:  # 5 ft 2
        unit, plain = _NEXT.get(_base(last, kind), "?"), False
    more = re.match(r"and (?:a |an |one )?(half|quarter|third)\b\s*", rest, re.IGNORECASE)
    if more:  # an inch and a half
        part = PARTS[more[1].lower()]
        low, high, rest, plain = low + part, high + part, rest[more.end() :], False
    if last is None and low == high and (to := _other_end(rest, unit, kind)):
        high, rest, plain = *to, False
    twice = _UNIT.match(rest)
    if twice and unit and _known(twice[0].strip(), kind) == unit:  # 3 mm mm
        rest = rest[twice.end() :]
    if kind.name == "ratio" and not unit and text[0].isalpha() and high <= 1:
        low, high = 100 * low, 100 * high  # half is fifty per cent, not a half of one
    return _Term(low, high, unit, plain), rest.strip()


_LONGEST = 300  # characters that anyone says


def _share_of(text: str, whole: str, kind: Quantity) -> Heard:
    """One in so many, as a share."""
    found = number_at(text)
    if found is None or found[1] or not found[0] >= 1:
        raise _not_understood(whole, kind)
    return Heard(1 / found[0], 1 / found[0], 1 / found[0], False)


def _other_end(text: str, unit: str, kind: Quantity) -> tuple[float, str] | None:
    """The other end of a range that names its unit twice, ``2 A to 4 A``, and the rest."""
    to = re.match(r"(?:-|to\b|or\b)\s*", text, re.IGNORECASE)
    found = number_at(text[to.end() :]) if to else None
    if found is None:
        return None
    own, rest = _unit_at(found[1], kind, "")
    return (found[0], rest) if own == unit else None


def _unit_at(text: str, kind: Quantity, before: str) -> tuple[str, str]:
    """The unit that a text begins with, as it is called here, and what follows; none where it
    begins with no unit of this quantity but with the end or another number."""
    if before:
        return _known(before, kind) or before, text
    text = re.sub(r"^(?:of\s+)?(?:an?\s+)?(?=[A-Za-z'\"°])", "", text) if text else text
    found = _UNIT.match(text)
    if found is None:
        return "", text
    name = found[0].strip()
    while name:
        known = _known(name, kind)
        if known is not None:
            return known, text[len(name) :].strip()
        shorter = name.rpartition(" ")[0]
        if not shorter:
            break
        name = shorter
    return found[0].strip(), text[found.end() :].strip()


def _known(name: str, kind: Quantity) -> str | None:
    """The spelling under which a unit is kept, whatever its case, plural and point."""
    plain = re.sub(r"\s+", " ", name.removesuffix("."))
    plain = re.sub(r"^(?:degrees?|deg)\.? (?=[cf])", "", plain, flags=re.IGNORECASE)
    if kind.name == "temperature" and plain.lower() in ("degrees", "degree", "deg", "°"):
        return ""
    words = [_WORDS.get(w, w) for w in plain.lower().replace(".", "").split()]
    for tried in (
        " ".join(words),
        plain,
        plain.lower(),
        plain.removesuffix("s"),
        plain.lower().removesuffix("s"),
    ):
        tried = _SAME.get(tried, tried)
        if tried in kind.units or tried in kind.special or tried in _GALLONS.get(kind.name, {}):
            return tried
    return None


def _base(unit: str, kind: Quantity) -> str:
    """A unit by the name under which its next smaller one is kept."""
    for name in _NEXT:
        if name in kind.units and math.isclose(kind.units[name], kind.units.get(unit, -1.0)):
            return name
    return ""


# spellings, by how they are kept
_SAME: Mapping[str, str] = (
    {
        new: kept
        for kept, many in {
            "mm": "millimetre millimeter mms",
            "cm": "centimetre centimeter cms",
            "m": "metre meter mtr",
            "in": "ins inche",
            "ft": "foots",
            "yd": "yard",
            "thou": "thousandths",
            "L": "ltr lt liters litres litre liter",
            "ml": "millilitre milliliter cc mls",
            "gal": "gallon gals",
            "qt": "quart qts",
            "pint": "pt pints",
            "fl oz": "fluid ounce",
            "g": "gram gramme gr gm grm",
            "kg": "kilo kilogram kilogramme kgs",
            "oz": "ounce",
            "lb": "pound",
            "st": "stone stones",
            "A": "ampere amp",
            "mA": "milliamp milliampere",
            "V": "volts vdc",
            "min": "minute",
            "h": "hour hr",
            "d": "day",
            "s": "second sec",
            "weeks": "week wk",
            "C": "celsius centigrade degc deg degree",
            "f": "fahrenheit degf",
            "%": "percent pct",
            "ppm": "ppms",
            "Ah": "ah amp-hour amphour amperehour",
            "awg": "gauge ga #",
            "mm2": "sqmm mmsq",
            "ohm": "ohms",
            "sq in": "sqin",
            "cu ft": "cuft",
            "m3": "cum cbm",
            "p": "pence",
            "cents": "cent c",
        }.items()
        for new in many.split()
    }
    | {"sq mm": "mm2", "mm sq": "mm2", "cu m": "m3"}
    | dict.fromkeys(("amp hour", "amp hours", "ampere hour", "ampere hours", "amp-hours"), "Ah")
)
# words of a unit of several
_WORDS: Mapping[str, str] = {
    "square": "sq",
    "cubic": "cu",
    "inch": "in",
    "inches": "in",
    "feet": "ft",
    "foot": "ft",
    "metre": "m",
    "metres": "m",
    "meter": "m",
    "meters": "m",
    "imperial": "imp",
    "uk": "imp",
    "us": "US",
    "american": "US",
    "fluid": "fl",
    "ounce": "oz",
    "ounces": "oz",
    "gallon": "gal",
    "gallons": "gal",
    "millimetre": "mm",
    "millimetres": "mm",
}
_GALLONS: Mapping[str, Mapping[str, float]] = {"volume": {"gal": 1, "qt": 1 / 4, "pint": 1 / 8}}


def _to_si(value: float, unit: str, kind: Quantity, system: System, text: str) -> float:
    unit = unit or kind.bare(system)
    if (share := _GALLONS.get(kind.name, {}).get(unit)) is not None:
        return value * share * (IMPERIAL_GALLON if system == "imperial" else US_GALLON)
    special = kind.special.get(unit.lower())
    if special is not None:
        return special(value)
    # "m2" in a length, "mm 2" and the like fall through to the error on purpose.
    factor = kind.units.get(unit, kind.units.get(unit.lower()))
    if factor is None:
        raise _not_understood(text, kind)
    return value * factor


# what has a value without a figure [SI]: as it counts, and from where to where (judged)
_SPOKEN: Mapping[str, Mapping[str, tuple[float, float, float]]] = {
    "temperature": {
        "room temperature": (20.0, 17.0, 23.0), "room temp": (20.0, 17.0, 23.0),
        "luke warm": (35.0, 30.0, 40.0), "lukewarm": (35.0, 30.0, 40.0),
        "tepid": (30.0, 25.0, 35.0), "hand warm": (35.0, 32.0, 38.0),
        "body temperature": (37.0, 36.0, 38.0), "blood warm": (37.0, 35.0, 39.0),
        "tap cold": (10.0, 5.0, 15.0), "cold tap": (10.0, 5.0, 15.0),
    },
    "time": {
        "overnight": (36000.0, 28800.0, 43200.0), "a night": (36000.0, 28800.0, 43200.0),
        "half a day": (43200.0, 36000.0, 50400.0), "half an hour": (1800.0, 1800.0, 1800.0),
        "all day": (36000.0, 28800.0, 43200.0),
        "quarter of an hour": (900.0, 900.0, 900.0), "a quarter of an hour": (900.0, 900.0, 900.0),
        "three quarters of an hour": (2700.0, 2700.0, 2700.0),
    },
}  # fmt: skip


def _not_understood(text: str, kind: Quantity) -> NotUnderstoodError:
    shown = text if len(text) <= 40 else text[:37] + "..."
    return NotUnderstoodError(
        f"“{shown}” cannot be read as {_ARTICLES.get(kind.name, 'a ' + kind.name)}.",
        remedy=f"Write it like {kind.example}.",
    )


_ARTICLES = {"area": "an area", "wire": "a wire size", "room": "a room volume", "ratio": "a share"}


def said_word(text: str, words: Sequence[str]) -> str:
    """The first of some words that a text has in it, one or several of it; empty for none.

    >>> said_word("Two old gin traps", ["gin", "trap"])
    'gin'
    """
    low = text.lower()
    return next((w for w in words if re.search(rf"\b{re.escape(w)}(?:e?s)?\b", low)), "")
