"""One ear: what people say of sizes, volumes, weights, currents, times is read as they mean it, or
asked back."""

import json
import math
import unittest
from collections import Counter
from pathlib import Path

from tests.core.saying import phrases, strings
from tests.core.saying_sets import Said, of_several_figures
from tests.longer import of
from yellowbath.core.ear import hear
from yellowbath.core.errors import InputError
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.plan.start.begin import First, begin
from yellowbath.core.plan.start.label import read_label
from yellowbath.core.plan.start.nouns import named
from yellowbath.core.plan.start.sizes import read_sizes
from yellowbath.core.units import QUANTITIES, SYSTEMS

HEARD = json.loads((Path(__file__).parent / "heard.json").read_text("utf-8"))["cases"]


def table(seed: int, each: int) -> dict[str, Counter[str]]:
    """By category: how many were right, wrong, refused; and what was wrong or refused."""
    out: dict[str, Counter[str]] = {}
    for p in phrases(seed, each):
        row = out.setdefault(p.category, Counter())
        try:
            found: float | None = hear(p.text, p.quantity, p.system).value  # type: ignore[arg-type]
        except InputError:
            found = None
        if p.value is None or found is None:
            fate = "right" if found == p.value else "wrong" if found is not None else "refused"
        else:
            fate = "right" if math.isclose(found, p.value, rel_tol=1e-3, abs_tol=1e-9) else "wrong"
        row[fate] += 1
        if fate != "right":
            row[f"{fate}: {p.text} ({p.quantity}, {p.system}) {found} not {p.value}"] += 1
    return out


class Phrases(unittest.TestCase):
    def test_four_hundred_by_rules(self) -> None:
        for category, row in table(26, 28).items():
            with self.subTest(category):
                self.assertEqual(row["wrong"], 0, row)
                self.assertLessEqual(row["refused"] / row.total(), 0.05, row)

    def test_off_a_meter_as_on_the_page(self) -> None:
        for case in HEARD:
            quantity = {"A": "current", "V": "voltage"}[case["unit"]]
            with self.subTest(case["text"]):
                if case["value"] is None:
                    with self.assertRaises(InputError):
                        hear(case["text"], quantity)
                else:
                    self.assertAlmostEqual(hear(case["text"], quantity).value, case["value"])

    def test_more_than_a_figure_is_told_in_the_persons_units(self) -> None:
        for text, quantity, said in (
            ("2 to 4 A", "current", "3 A, between 2 and 4 A"),
            ("half an inch", "length", "12.7 mm"),
            ("luke warm", "temperature", "35 °C, between 30 and 40 °C"),
        ):
            found = hear(text, quantity)
            self.assertEqual((found.said(quantity, "metric"), found.plain), (said, False))
        self.assertTrue(hear("12 mm", "length").plain)


def of_several(p: Said) -> tuple[object, ...] | None:
    """What the readers of several figures make of a phrase; None where they ask back."""
    try:
        if p.category in ("labels", "batteries"):
            made = read_label(p.text)
            return made.volts, made.amps, made.hours
        if p.category == "vessels":
            begun = begin(
                First(kind="plate", sizes="200 x 40 x 6 mm", holds=p.text, system=p.system)
            )
            assert begun.plan is not None
            tank, name = begun.plan.tank, named(p.text)[0]
            return None if begun.faults else (name, volume_at(tank, tank.shape.height_m))
        return tuple(read_sizes(p.text, p.system))
    except InputError:
        return None


def alike(one: object, other: object) -> bool:
    if isinstance(one, float) and isinstance(other, float):
        return math.isclose(one, other, rel_tol=1e-3)
    return one == other


class Several(unittest.TestCase):
    def test_sizes_vessels_and_labels_by_rules(self) -> None:
        """A figure that was misread is worse than one that is asked back."""
        fates: dict[str, Counter[str]] = {}
        for p in of_several_figures(26, of(60, 20)):
            found = of_several(p)
            fate = "right"
            if found is None:
                fate = "right" if p.means is None else "refused"
            elif (
                p.means is None or len(found) != len(p.means) or not all(map(alike, found, p.means))
            ):
                fate = "wrong"
            with self.subTest(p.text):
                self.assertNotEqual(fate, "wrong", (found, p.means))
            fates.setdefault(p.category, Counter())[fate] += 1
        for category, row in fates.items():
            with self.subTest(category):
                self.assertLessEqual(row["refused"] / row.total(), 0.05, row)


class AnyString(unittest.TestCase):
    def test_it_is_read_or_refused_and_never_faults(self) -> None:
        for k, text in enumerate(strings(26, of(10_000, 1500))):
            quantity, system = sorted(QUANTITIES)[k % len(QUANTITIES)], SYSTEMS[k % 3]
            try:
                found = hear(text, quantity, system)
            except InputError as error:
                self.assertLess(len(str(error)), 400)
            else:
                self.assertTrue(math.isfinite(found.value), text)
                self.assertLessEqual(found.low, found.high)
