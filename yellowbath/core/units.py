"""The only place where units are converted: their factors to SI, and SI back for a person's eyes.

``ear`` reads what is typed by them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

System = Literal["metric", "us", "imperial"]
SYSTEMS: tuple[System, ...] = ("metric", "us", "imperial")

# Defined, all of them.
INCH, FOOT = 0.0254, 0.3048  # m
US_GALLON, IMPERIAL_GALLON = 3.785411784e-3, 4.54609e-3  # m3
POUND = 0.45359237  # kg
OUNCE = POUND / 16  # kg
MM = 1e-3  # m
MS = 1000  # a second
DAY_S = 86400.0  # s


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
    "ft": FOOT,
    "foot": FOOT,
    "feet": FOOT,
    "'": FOOT,
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
    "oz": OUNCE,
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
            {"m3": 1.0, "ft3": FOOT**3, "cu ft": FOOT**3},
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
            {"m2": 1.0, "dm2": 1e-2, "cm2": 1e-4, "sq in": INCH**2, "sq ft": FOOT**2},
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
_PRETTY = {"m3": "m³", "dm2": "dm²", "cm2": "cm²", "mm2": "mm²", "ft3": "ft³"}


def pretty(unit: str) -> str:
    """A unit as it is shown."""
    return _PRETTY.get(unit, unit)


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
    sign = pretty(unit)
    if unit == "in":
        fraction = _fraction(scaled)
        if fraction:
            return Shown(fraction, sign)
    if unit == "%":  # a share of less than a hundredth of a per cent is none
        scaled = round(scaled, 2)
    return Shown(_digits(scaled, digits), sign)


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
