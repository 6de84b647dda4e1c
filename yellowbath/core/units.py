"""The only place where units are converted: text in, SI out, and back for a person's eyes.

Anything a tape, jug or label says can be typed or said: ``3/8 in``, ``2 1/2 gal``, ``5' 3"``,
``14 AWG``, ``1,5 L``, ``half an inch``, ``about 3 amps``, ``2 to 4 A``, ``5 foot 2``. A bare number
takes the first unit of the person's system.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from yellowbath.core.errors import NotUnderstoodError
from yellowbath.core.numerals import PARTS, number_at, range_at, surely, tidied, two_ways

System = Literal["metric", "us", "imperial"]
SYSTEMS: tuple[System, ...] = ("metric", "us", "imperial")

INCH = 0.0254
US_GALLON = 3.785411784e-3
IMPERIAL_GALLON = 4.54609e-3
POUND = 0.45359237


@dataclass(frozen=True)
class Quantity:
    """One kind of quantity: what may be typed and how each system shows it.

    ``units`` maps every accepted spelling to its factor to SI. ``shown`` lists, a system each,
    (symbol, upper limit in that unit) from small to large; the last one has no limit.
    """

    name: str
    units: Mapping[str, float]
    shown: Mapping[System, tuple[tuple[str, float], ...]]
    example: str
    special: Mapping[str, Callable[[float], float]] = field(default_factory=dict)
    plain: str = ""

    def bare(self, system: System) -> str:
        """The unit that a bare number is read in: the smallest shown, unless one is named."""
        return self.plain or self.shown[system][0][0]


def awg_area(gauge: float) -> float:
    """Copper area [m2] of an American wire gauge, -3 (4/0) to 40; ASTM B258.

    >>> round(awg_area(14) * 1e6, 3)
    2.081
    """
    diameter: float = 0.127e-3 * 92 ** ((36 - gauge) / 39)
    return math.pi / 4 * diameter**2


def _same(*rows: tuple[str, float]) -> dict[System, tuple[tuple[str, float], ...]]:
    return {"metric": rows, "us": rows, "imperial": rows}


_INF = math.inf
_LENGTH = {
    "mm": 1e-3,
    "cm": 1e-2,
    "m": 1.0,
    "in": INCH,
    "inch": INCH,
    "inches": INCH,
    '"': INCH,
    "ft": 12 * INCH,
    "foot": 12 * INCH,
    "feet": 12 * INCH,
    "'": 12 * INCH,
    "yd": 36 * INCH,
    "thou": INCH / 1000,
}
_VOLUME = {
    "L": 1e-3,
    "l": 1e-3,
    "litre": 1e-3,
    "litres": 1e-3,
    "liter": 1e-3,
    "liters": 1e-3,
    "mL": 1e-6,
    "ml": 1e-6,
    "cl": 1e-5,
    "dl": 1e-4,
    "m3": 1.0,
    "cup": US_GALLON / 16,
    "fl oz": US_GALLON / 128,
    "US fl oz": US_GALLON / 128,
    "imp fl oz": IMPERIAL_GALLON / 160,
    "US gal": US_GALLON,
    "imp gal": IMPERIAL_GALLON,
}
_MASS = {
    "g": 1e-3,
    "kg": 1.0,
    "oz": POUND / 16,
    "lb": POUND,
    "lbs": POUND,
    "st": 14 * POUND,
    "t": 1000.0,
}

QUANTITIES: Mapping[str, Quantity] = {
    q.name: q
    for q in (
        Quantity(
            "length",
            _LENGTH,
            {"metric": (("mm", _INF),), "us": (("in", _INF),), "imperial": (("in", _INF),)},
            "120 mm, 4 3/4 in, 1 ft 2 in",
        ),
        Quantity(
            "distance",
            _LENGTH,
            {"metric": (("m", _INF),), "us": (("ft", _INF),), "imperial": (("ft", _INF),)},
            "2 m, 6 ft",
        ),
        Quantity(
            "volume",
            _VOLUME,
            {
                "metric": (("L", _INF),),
                "us": (("US fl oz", 16), ("US gal", _INF)),
                "imperial": (("imp fl oz", 20), ("imp gal", _INF)),
            },
            "18 L, 2 1/2 gal, 9 qt",
        ),
        Quantity(
            "room",
            {"m3": 1.0, "ft3": (12 * INCH) ** 3, "cu ft": (12 * INCH) ** 3},
            {"metric": (("m3", _INF),), "us": (("ft3", _INF),), "imperial": (("ft3", _INF),)},
            "40 m3, 1400 cu ft",
        ),
        Quantity(
            "mass",
            _MASS,
            {
                "metric": (("g", 2000), ("kg", _INF)),
                "us": (("oz", 32), ("lb", _INF)),
                "imperial": (("oz", 32), ("lb", _INF)),
            },
            "100 g, 3 1/2 oz, 2 lb",
        ),
        Quantity(
            "area",
            {"m2": 1.0, "dm2": 1e-2, "cm2": 1e-4, "sq in": INCH**2, "sq ft": (12 * INCH) ** 2},
            {"metric": (("dm2", _INF),), "us": (("sq in", _INF),), "imperial": (("sq in", _INF),)},
            "6.4 dm2, 100 sq in",
        ),
        Quantity(
            "wire",
            {"mm2": 1e-6},
            _same(("mm2", _INF)),
            "2.5 mm2, 14 AWG",
            special={"awg": awg_area, "ga": awg_area},
        ),
        Quantity(
            "temperature",
            {"C": 1.0, "°C": 1.0},
            {"metric": (("°C", _INF),), "us": (("°F", _INF),), "imperial": (("°C", _INF),)},
            "18 C, 65 F",
            special={
                "f": lambda f: (f - 32) / 1.8,
                "°f": lambda f: (f - 32) / 1.8,
                "c": lambda c: c,
            },
        ),
        Quantity(
            "current",
            {"A": 1.0, "a": 1.0, "amp": 1.0, "amps": 1.0, "mA": 1e-3},
            _same(("A", _INF)),
            "2.6 A, 800 mA",
        ),
        Quantity(
            "voltage",
            {"V": 1.0, "v": 1.0, "volt": 1.0, "volts": 1.0, "mV": 1e-3},
            _same(("V", _INF)),
            "12 V",
        ),
        Quantity(
            "time",
            {
                "s": 1.0,
                "sec": 1.0,
                "min": 60.0,
                "h": 3600.0,
                "hr": 3600.0,
                "hours": 3600.0,
                "hour": 3600.0,
                "d": 86400.0,
                "days": 86400.0,
                "weeks": 604800.0,
                "years": 31557600.0,
            },
            _same(("s", 90), ("min", 90), ("h", 100), ("days", 1000), ("years", _INF)),
            "6 h, 90 min, 2 days",
            plain="h",
        ),
        Quantity(
            "concentration",
            {"g/L": 1.0, "g/l": 1.0, "kg/m3": 1.0},
            _same(("g/L", _INF)),
            "5 g/L",
        ),
        Quantity("ratio", {"%": 0.01, "ppm": 1e-6, "": 1.0}, _same(("%", _INF)), "60 %"),
        Quantity("charge", {"Ah": 1.0}, _same(("Ah", _INF)), "12 Ah"),
        Quantity("angle", {"°": 1.0, "deg": 1.0, "": 1.0}, _same(("°", _INF)), "30"),
        Quantity(
            "resistance",
            {"Ω": 1.0, "ohm": 1.0, "mohm": 1e-3, "mΩ": 1e-3, "": 1.0},
            _same(("Ω", _INF)),
            "0.02",
        ),
        Quantity("count", {"": 1.0}, _same(("", _INF)), "4"),
        Quantity("ph", {"": 1.0, "pH": 1.0}, _same(("", _INF)), "9.5"),
        Quantity("hardness", {"": 1.0, "HRC": 1.0, "hrc": 1.0}, _same(("HRC", _INF)), "45"),
        Quantity(
            "money",
            {"": 1.0, "£": 1.0, "$": 1.0, "€": 1.0, "p": 0.01, "cents": 0.01, "ct": 0.01},
            _same(("", _INF)),
            "0.30",
        ),
    )
}

# What is shown but never typed: quantity -> (symbol, SI units per shown unit).
_SHOWN_ONLY: Mapping[str, tuple[str, float]] = {
    "density": ("A/dm²", 100.0),
    "charge_density": ("Ah/dm²", 100.0),
    "conductivity": ("S/m", 1.0),
    "area_resistance": ("Ω·dm²", 0.01),
    "power": ("W", 1.0),
    "energy": ("kWh", 3.6e6),
    "gas_rate": ("L/h", 1e-3 / 3600),
    "gas_per_charge": ("L/Ah", 1e-3),
    "mass_per_charge": ("g/Ah", 1e-3),
    "mass_rate": ("g/h", 1e-3 / 3600),
    "air_flow": ("m³/h", 1 / 3600),
    "air_per_current": ("m³/h per A", 1.0),
    "stress": ("MPa", 1e6),
    "resistivity": ("µΩ·m", 1e-6),
    "mass_density": ("kg/m³", 1.0),
    "number": ("", 1.0),
    "per_length": ("1/m", 1.0),
    "wire_resistance": ("mΩ", 1e-3),
}
_PRETTY = {"m3": "m³", "dm2": "dm²", "mm2": "mm²", "ft3": "ft³", "US gal": "US gal"}

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
_SAME: Mapping[str, str] = {
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
} | {"sq mm": "mm2", "mm sq": "mm2", "cu m": "m3"}
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


@dataclass(frozen=True)
class Shown:
    """A number as a person reads it."""

    text: str
    unit: str

    def __str__(self) -> str:
        return f"{self.text} {self.unit}".strip()


def show(
    value: float,
    quantity: str,
    system: System = "metric",
    digits: int = 3,
    like: float | None = None,
) -> Shown:
    """Write an SI value in the person's unit to ``digits`` significant figures.

    ``like`` picks the unit that this other value would be shown in, so that a window keeps to one.

    >>> str(show(0.0127, "length", "us"))
    '1/2 in'
    """
    unit, scaled = _in_unit(value, quantity, system, like)
    pretty = _PRETTY.get(unit, unit)
    if unit == "in":
        fraction = _fraction(scaled)
        if fraction:
            return Shown(fraction, pretty)
    if unit == "%":  # a share of less than a hundredth of a per cent is none
        scaled = round(scaled, 2)
    return Shown(_digits(scaled, digits), pretty)


def window(
    value: float, low: float, high: float, quantity: str, system: System = "metric"
) -> tuple[Shown, Shown, Shown]:
    """A value and its window in one unit, the value to no more figures than its spread supports.

    >>> [str(s) for s in window(33720.0, 14760.0, 75600.0, "time")]
    ['9 h', '4.1 h', '21 h']
    """
    digits = 2 if quantity == "number" else 3
    main, least, most = (_in_unit(v, quantity, system, value)[1] for v in (value, low, high))
    if main and most > least:
        step = math.floor(math.log10((most - least) / 10))
        digits = min(max(math.floor(math.log10(abs(main))) - step + 1, 1), digits)
    return (
        show(value, quantity, system, digits),
        show(low, quantity, system, 2, like=value),
        show(high, quantity, system, 2, like=value),
    )


def _in_unit(value: float, quantity: str, system: System, like: float | None) -> tuple[str, float]:
    """The unit in which a value is shown, and the value in it."""
    if quantity in _SHOWN_ONLY:
        unit, factor = _SHOWN_ONLY[quantity]
        return unit, value / factor
    return _pick_unit(value, QUANTITIES[quantity], system, like)


def plain(
    value: float, quantity: str, system: System = "metric", like: float | None = None
) -> float:
    """An SI value as a number in the unit in which it is shown.

    >>> plain(71.0, "density"), plain(0.25, "ratio"), plain(20.0, "temperature", "us")
    (0.71, 25.0, 68.0)
    """
    return _in_unit(value, quantity, system, like)[1]


def mm(metres: float) -> float:
    """Millimetres, in which drawings are made."""
    return metres * 1000


def hours(seconds: float) -> float:
    """Hours, on which the axes of time stand."""
    return seconds / 3600


def _pick_unit(
    value: float, kind: Quantity, system: System, like: float | None
) -> tuple[str, float]:
    guide = value if like is None else like
    for unit, limit in kind.shown[system]:
        if unit == "°F":
            return unit, value * 1.8 + 32
        factor = kind.units.get(unit, 1.0)
        if abs(guide / factor) < limit:
            return unit, value / factor
    raise AssertionError("the last unit of a quantity has no limit")


def _digits(value: float, digits: int) -> str:
    if value == 0 or abs(value) < 5e-5:
        return "0"
    places = max(0, digits - 1 - math.floor(math.log10(abs(value))))
    text = f"{value:.{min(places, 4)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _fraction(inches: float) -> str:
    sixteenths = round(inches * 16)
    if abs(inches * 16 - sixteenths) > 0.05 or sixteenths <= 0:
        return ""
    whole, part = divmod(sixteenths, 16)
    if not part:
        return str(whole)
    divisor = math.gcd(part, 16)
    return f"{whole} {part // divisor}/{16 // divisor}".removeprefix("0 ")
