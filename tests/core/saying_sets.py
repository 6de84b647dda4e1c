"""Phrases of several figures made from rules, each with its answer [SI]: sizes in one phrase,
vessels by their nouns, labels. As tests/core/saying.py, and sharing nothing with the readers."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass

from tests.core.saying import GAL, IMP, IN, in_words
from yellowbath.core.units import System

MM, CM = 1e-3, 1e-2
UNITS = (("mm", MM), ("cm", CM), ("in", IN), ("inches", IN), ('"', IN))
BETWEEN = (" x ", "x", " by ", " X ", " × ", "*", ", ")
NOUNS = {
    "bucket": "bucket", "pail": "bucket", "tub": "tub", "barrel": "barrel", "drum": "barrel",
    "bin": "bin", "dustbin": "bin", "crate": "crate", "storage box": "box",
}  # fmt: skip


@dataclass(frozen=True)
class Said:
    """What is said, in whose units, and what it means [SI]; None: to be asked back."""

    category: str
    text: str
    system: System
    means: tuple[object, ...] | None


def of_several_figures(seed: int, each: int) -> Iterator[Said]:
    """So many of each category, by a seed."""
    draw = random.Random(seed)
    for make in (_sizes, _sizes_each, _mixed, _vessel, _label, _battery, _asked):
        for _ in range(each):
            yield make(draw)


def _numbers(draw: random.Random, most: int = 3) -> list[float]:
    return [draw.choice((draw.randint(2, 60), round(draw.uniform(2, 60), 1)))
            for _ in range(draw.randint(2, most))]  # fmt: skip


def _sizes(draw: random.Random) -> Said:
    """One unit for all, at the end."""
    numbers, (unit, factor) = _numbers(draw), draw.choice(UNITS)
    text = draw.choice(BETWEEN).join(f"{n}" for n in numbers) + draw.choice(("", " ")) + unit
    return Said("sizes, one unit", text, "metric", tuple(n * factor for n in numbers))


def _sizes_each(draw: random.Random) -> Said:
    """A unit at each, alike or not."""
    parts = [(n, *draw.choice(UNITS)) for n in _numbers(draw)]
    text = draw.choice((" x ", " by ", " × ")).join(f"{n} {u}" for n, u, _ in parts)
    return Said("sizes, a unit each", text, "us", tuple(n * f for n, _, f in parts))


def _mixed(draw: random.Random) -> Said:
    """Fractions, feet and inches, about."""
    a, b, c = (draw.randint(1, 9) for _ in range(3))
    text, means = draw.choice((
        (f"{a} 1/2 x {b} x 1/4 in", ((a + 0.5) * IN, b * IN, 0.25 * IN)),
        (f"{a}' {b}\" x {c}", ((12 * a + b) * IN, c * IN)),
        (f"about {10 * a} by {10 * b} cm", (10 * a * CM, 10 * b * CM)),
        (f"{a} ft {b} in by {c} in", ((12 * a + b) * IN, c * IN)),
        (f"{in_words(10 * a)} by {in_words(b)} cm", (10 * a * CM, b * CM)),
        (f"{a}½ x {b}¼ in", ((a + 0.5) * IN, (b + 0.25) * IN)),
        (f"{100 * a} {10 * b} {c} mm", (100 * a * MM, 10 * b * MM, c * MM)),
        (f"{a} foot by {b} inches", (12 * a * IN, b * IN)),
    ))  # fmt: skip
    return Said("sizes, mixed", text, "us", means)


def _vessel(draw: random.Random) -> Said:
    noun = draw.choice(sorted(NOUNS))
    n = draw.randint(5, 200)
    unit, factor = draw.choice((
        ("L", 1e-3), ("litre", 1e-3), ("l", 1e-3), ("liter", 1e-3), ("US gallon", GAL),
        ("imperial gallon", IMP),
    ))  # fmt: skip
    lead = draw.choice(("", "a ", "my old ", "the ", "one "))
    form = draw.choice(("{lead}{n} {u} {noun}", "{noun}, {n} {u}", "{lead}{noun} of {n} {u}"))
    text = form.format(lead=lead, n=n, u=unit, noun=noun)
    return Said("vessels", text, "us", (NOUNS[noun], n * factor))


def _label(draw: random.Random) -> Said:
    """Volts and amps of one output: (V, A, None)."""
    v, a = draw.choice((6, 12, 13.8, 14.4, 24)), draw.choice((2, 3.5, 4, 6, 8, 10))
    text = draw.choice((
        f"{v} V {a} A", f"{v}V {a}A", f"{v} volts {a} amps", f"{v}V/{a}A", f"{v} V, {a} A",
        f"DC {v}V {a}A", f"OUTPUT: {v}V === {a}A", f"{v} V DC {a} A max",
        f"input 230 V 50 Hz, output {v} V {a} A", f"INPUT 120V~ 60Hz 1.2A OUTPUT {v}V {a}A",
        f"{v} volt {a} amp", f"{a} A at {v} V", f"{a} amps, {v} volts", f"{v}V {1000 * a:g}mA",
        f"{v} v {a} a charger", f"{str(v).replace('.', ',')} V {str(a).replace('.', ',')} A",
    ))  # fmt: skip
    return Said("labels", text, "metric", (float(v), float(a), None))


def _battery(draw: random.Random) -> Said:
    """Volts and ampere-hours of a battery: (V, None, Ah)."""
    v, h = draw.choice((6, 12, 24)), draw.choice((4, 7, 7.2, 36, 60, 70, 100))
    text = draw.choice((
        f"{v}V {h}Ah", f"{v} V {h} Ah", f"{h} Ah, {v} V", f"{v} volt {h} amp hour",
        f"{v} V {h} amp-hours", f"{v}V{h}AH", f"{h} amp hours {v} volts", f"{v} V / {h} Ah",
        f"{v} volts, {h} ampere hours",
    ))  # fmt: skip
    return Said("batteries", text, "metric", (float(v), None, float(h)))


def _asked(draw: random.Random) -> Said:
    n = draw.randint(2, 9)
    text = draw.choice((
        f"{n} cm by {n} by {n} mm", "big", f"{n} kg x {n} mm", f"{n}x{n}x{n}x{n} mm",
    ))  # fmt: skip
    return Said("sizes asked back", text, "metric", None)
