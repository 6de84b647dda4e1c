"""One ear: what people say of sizes, volumes, weights, currents, times is read as they mean it, or
asked back."""

import json
import math
import unittest
from collections import Counter
from pathlib import Path

from tests.core.saying import phrases, strings
from tests.longer import of
from yellowbath.core.ear import hear
from yellowbath.core.errors import InputError
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
