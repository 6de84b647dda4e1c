"""Phrases made from rules, each with its answer [SI]: an account of its own of how sizes, volumes,
weights, times and the rest are said, which shares nothing with the reader.

Factors: NIST SP 811 appendix B.8 (inch, foot, pound, ounce, gallons); wire ASTM B258 by its own
series of halvings; spoons as in phrases.csv.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass

IN, LB, GAL, IMP = 0.0254, 0.45359237, 3.785411784e-3, 4.54609e-3
ONES = [
    "zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven",
    "twelve", "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen",
]  # fmt: skip
TENS = ["_", "_", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"]
ABOUT = ("about {}", "around {}", "roughly {}", "{} or so", "approx {}", "~{}", "some {}", "ca. {}")
UNITS = {
    "length": {"mm": 1e-3, "cm": 1e-2, "in": IN, "inches": IN, "millimetres": 1e-3, "inch": IN,
               "centimeters": 1e-2, "ft": 12 * IN, "feet": 12 * IN, "m": 1.0, '"': IN},
    "volume": {"L": 1e-3, "litres": 1e-3, "liters": 1e-3, "l": 1e-3, "ml": 1e-6, "US gal": GAL,
               "imperial gallons": IMP, "imp gal": IMP, "ltr": 1e-3},
    "mass": {"g": 1e-3, "grams": 1e-3, "kg": 1.0, "kilos": 1.0, "oz": LB / 16, "ounces": LB / 16,
             "lb": LB, "lbs": LB, "pounds": LB, "stone": 14 * LB},
    "current": {"A": 1.0, "amps": 1.0, "mA": 1e-3, "a": 1.0},
    "voltage": {"V": 1.0, "volts": 1.0, "v": 1.0},
    "time": {"min": 60.0, "minutes": 60.0, "h": 3600.0, "hours": 3600.0, "hrs": 3600.0,
             "days": 86400.0, "mins": 60.0},
    "charge": {"Ah": 1.0, "ah": 1.0},
    "wire": {"mm2": 1e-6, "sq mm": 1e-6, "mm²": 1e-6},
}  # fmt: skip


@dataclass(frozen=True)
class Phrase:
    """What is said, of what, in whose units, and what it means [SI]; None: to be asked back."""

    category: str
    text: str
    quantity: str
    system: str
    value: float | None


def in_words(n: int) -> str:
    """A whole number below a thousand, as it is said."""
    if n < 20:
        return ONES[n]
    if n < 100:
        return TENS[n // 10] + (f"{'- '[n % 2]}{ONES[n % 10]}" if n % 10 else "")
    rest = "" if n % 100 == 0 else f" and {in_words(n % 100)}"
    return f"{ONES[n // 100]} hundred{rest}"


def phrases(seed: int, each: int) -> list[Phrase]:
    """So many of each category, by a seed."""
    draw = random.Random(seed)
    return [p for make in CATEGORIES for _ in range(each) for p in [make(draw)]]


def _unit(draw: random.Random) -> tuple[str, str, float]:
    quantity = draw.choice(sorted(UNITS))
    unit = draw.choice(sorted(UNITS[quantity]))
    return quantity, unit, UNITS[quantity][unit]


def _plain(draw: random.Random) -> Phrase:
    quantity, unit, factor = _unit(draw)
    value = draw.choice((draw.randint(1, 400), round(draw.uniform(0.1, 60), 1)))
    shown = str(value).replace(".", draw.choice(".,"))
    return Phrase("plain", f"{shown}{draw.choice((' ', '', '  '))}{unit}", quantity, "metric",
                  value * factor)  # fmt: skip


def _bare(draw: random.Random) -> Phrase:
    quantity, system, factor = draw.choice((
        ("length", "metric", 1e-3), ("length", "us", IN), ("mass", "metric", 1e-3),
        ("volume", "metric", 1e-3), ("current", "us", 1.0), ("time", "imperial", 3600.0),
        ("mass", "imperial", LB / 16),
    ))  # fmt: skip
    value = draw.randint(1, 300)
    return Phrase("bare", str(value), quantity, system, value * factor)


def _about(draw: random.Random) -> Phrase:
    inner = _plain(draw)
    return Phrase("about", draw.choice(ABOUT).format(inner.text), inner.quantity, "metric",
                  inner.value)  # fmt: skip


def _words(draw: random.Random) -> Phrase:
    quantity, unit, factor = _unit(draw)
    n = draw.choice((draw.randint(1, 20), draw.randint(20, 99), draw.randint(100, 400)))
    return Phrase("number words", f"{in_words(n)} {unit}", quantity, "metric", n * factor)


def _fraction(draw: random.Random) -> Phrase:
    whole, bottom = draw.randint(0, 12), draw.choice((2, 4, 8, 16))
    top = draw.randrange(1, bottom, 2)
    part = draw.choice((f"{top}/{bottom}", f"{top}/{bottom}{'ths' if bottom > 4 else ''}"))
    text = f"{whole}{draw.choice((' ', '-'))}{part}" if whole else part
    unit, factor = draw.choice((("in", IN), ('"', IN), ("inches", IN), ("gal", GAL), ("lb", LB)))
    quantity = {"gal": "volume", "lb": "mass"}.get(unit, "length")
    return Phrase("fractions", f"{text} {unit}", quantity, "us", (whole + top / bottom) * factor)


def _said_fraction(draw: random.Random) -> Phrase:
    n = draw.randint(1, 12)
    one = draw.choice(
        (
            ("an inch", "inches", IN, "length"),
            ("a foot", "feet", 12 * IN, "length"),
            ("a litre", "litres", 1e-3, "volume"),
            ("a kilo", "kilos", 1.0, "mass"),
            ("an hour", "hours", 3600.0, "time"),
            ("a pound", "pounds", LB, "mass"),
        )
    )
    single, plural, factor, quantity = one
    name, part = draw.choice((("half", 0.5), ("a quarter", 0.25)))
    text, value = draw.choice(
        (
            (f"{name.removeprefix('a ') if name == 'half' else name + ' of'} {single}", part),
            (f"{single} and {'a ' if name == 'half' else ''}{name}", 1 + part),
            (f"{in_words(n)} and {'a ' if name == 'half' else ''}{name} {plural}", n + part),
            (f"three quarters of {single}", 0.75),
        )
    )
    return Phrase("fractions in words", text, quantity, "metric", value * factor)


def _mixed(draw: random.Random) -> Phrase:
    a, b = draw.randint(1, 9), draw.randint(1, 11)
    text, quantity, value = draw.choice(
        (
            (f"{a} ft {b} in", "length", (12 * a + b) * IN),
            (f"{a}' {b}\"", "length", (12 * a + b) * IN),
            (f"{a} foot {b}", "length", (12 * a + b) * IN),
            (f"{a} feet and {b} inches", "length", (12 * a + b) * IN),
            (f"{a}ft{b}", "length", (12 * a + b) * IN),
            (f"{a} lb {b} oz", "mass", a * LB + b * LB / 16),
            (f"{a} pounds {b}", "mass", a * LB + b * LB / 16),
            (f"{a} h {b} min", "time", 3600 * a + 60 * b),
            (f"{a} hours and {b} minutes", "time", 3600 * a + 60 * b),
            (f"{a}h{b:02}", "time", 3600 * a + 60 * b),
            (f"{a} m {b} cm", "length", a + b / 100),
            (f"{a} kg {b * 50} g", "mass", a + b / 20),
        )
    )
    return Phrase("two units", text, quantity, "metric", value)


def _range(draw: random.Random) -> Phrase:
    quantity, unit, factor = _unit(draw)
    low = draw.randint(1, 40)
    high = low + draw.randint(1, 20)
    form = draw.choice(
        (
            "{}-{} {u}",
            "{} to {} {u}",
            "{} - {} {u}",
            "between {} and {} {u}",
            "{}–{} {u}",
            "{} or {} {u}",
            "{} {u} to {} {u}",
            "from {} to {} {u}",
        )
    )
    return Phrase(
        "ranges", form.format(low, high, u=unit), quantity, "metric", (low + high) / 2 * factor
    )


def _doubled(draw: random.Random) -> Phrase:
    quantity, unit, factor = _unit(draw)
    n = draw.randint(1, 90)
    return Phrase("doubled units", f"{n} {unit} {unit}", quantity, "metric", n * factor)


def _wire(draw: random.Random) -> Phrase:
    gauge = draw.randrange(6, 23)
    # each six gauges halve the diameter nearly twice: 92 to the 39th root a gauge, from 0.005 in
    across = 0.005 * IN * 92 ** ((36 - gauge) / 39)
    form = draw.choice(("{} AWG", "AWG {}", "{} awg", "{} gauge", "#{}", "AWG{}", "{}AWG", "{} ga"))
    return Phrase(
        "wire gauges", form.format(gauge), "wire", "metric", 3.141592653589793 / 4 * across**2
    )


def _warm(draw: random.Random) -> Phrase:
    n = draw.randint(5, 45)
    f = draw.randint(45, 110)
    text, system, value = draw.choice(
        (
            (f"{n} C", "metric", n),
            (f"{n} °C", "metric", n),
            (f"{n} degrees", "metric", n),
            (f"{n} deg C", "us", n),
            (f"{n} celsius", "us", n),
            (f"{f} F", "metric", (f - 32) / 1.8),
            (f"{f} degrees", "us", (f - 32) / 1.8),
            (f"{f}°F", "metric", (f - 32) / 1.8),
            (f"{f} degrees fahrenheit", "metric", (f - 32) / 1.8),
            (f"about {n} degrees C", "metric", n),
            ("luke warm", "metric", 35),
            ("room temperature", "us", 20),
        )
    )
    return Phrase("warmth", text, "temperature", system, float(value))


def _share(draw: random.Random) -> Phrase:
    n = draw.randint(2, 90)
    text, value = draw.choice(
        (
            (f"{n} %", n / 100),
            (f"{n}%", n / 100),
            (f"{n} percent", n / 100),
            (f"{n} per cent", n / 100),
            (f"1 in {n}", 1 / n),
            (f"one in {in_words(n)}", 1 / n),
            ("half", 0.5),
            ("a third", 1 / 3),
            ("three quarters", 0.75),
            (f"{n} pct", n / 100),
            (f"{100 * n} ppm", n * 1e-4),
        )
    )
    return Phrase("shares", text, "ratio", "metric", value)


def _count(draw: random.Random) -> Phrase:
    n = draw.randint(2, 300)
    text, value = draw.choice(
        (
            (str(n), n),
            (in_words(n), n),
            (f"about {n}", n),
            ("a dozen", 12),
            ("half a dozen", 6),
            ("two dozen", 24),
            ("a couple", 2),
            (f"{n} or so", n),
            ("a hundred", 100),
        )
    )
    return Phrase("counts", text, "count", "metric", float(value))


def _money(draw: random.Random) -> Phrase:
    n = round(draw.uniform(0.1, 9), 2)
    text, value = draw.choice(
        (
            (f"£{n}", n),
            (f"${n}", n),
            (f"{n} €", n),
            (f"{n}", n),
            (f"{round(100 * n)}p", round(100 * n) / 100),
            (f"{round(100 * n)} cents", round(100 * n) / 100),
        )
    )
    return Phrase("money", text, "money", "metric", value)


def _asked(draw: random.Random) -> Phrase:
    """What nobody can know: two readings, or none."""
    n = draw.randint(1, 9)
    text, quantity = draw.choice(
        (
            (f"{n},500 mm", "length"),
            (f"{n},250", "mass"),
            ("a bit", "volume"),
            ("some", "length"),
            (f"{n} V", "current"),
            (f"{n} furlongs", "length"),
            (f"{n} {n} {n}", "length"),
            ("", "mass"),
            (f"{n}/0 in", "length"),
            ("hot", "temperature"),
            (f"{n} kg", "length"),
            ("loads", "count"),
        )
    )
    return Phrase("asked back", text, quantity, "metric", None)


CATEGORIES = (
    _plain,
    _bare,
    _about,
    _words,
    _fraction,
    _said_fraction,
    _mixed,
    _range,
    _doubled,
    _wire,
    _warm,
    _share,
    _count,
    _money,
    _asked,
)


def strings(seed: int, many: int) -> Iterator[str]:
    """Strings of everything that stands in phrases, in any order."""
    draw = random.Random(seed)
    atoms = [
        *" .,/-+'\"½¼°#£$€~()%",
        *"0123456789",
        *ONES,
        *TENS[2:],
        "half",
        "quarter",
        "and",
        "a",
        "an",
        "of",
        "to",
        "or",
        "about",
        "between",
        "in",
        "mm",
        "ft",
        "lb",
        "gal",
        "AWG",
        "Ah",
        "C",
        "F",
        "x",
        "by",
        "per",
        "1e9",
        "nan",
        "inf",
        "-",
        "\u00a0",
        "é",
        "😀",
    ]
    for _ in range(many):
        joint = draw.choice(("", " "))
        yield joint.join(draw.choice(atoms) for _ in range(draw.randint(0, 9)))
