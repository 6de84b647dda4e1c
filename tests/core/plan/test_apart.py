"""What of the whole piece a plan's hours are not about, by hand."""

import unittest

from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.results.apart import apart, apart_said
from yellowbath.core.tell.bench import wiring_rows

PLATE = {"kind": "plate", "length_m": 0.10, "width_m": 0.05, "thickness_m": 0.004}


class Apart(unittest.TestCase):
    def said(self, **document: object) -> tuple[dict[str, float], str]:
        plan = read_plan({"mix": {"product": "soda_anhydrous"}, **document}).plan
        worked = answer(plan)
        text = apart_said(plan, worked)
        card = dict(wiring_rows(plan, worked)).get("Not in these hours", "")
        self.assertEqual(bool(text), bool(card))
        self.assertIn(card, text)
        return dict(apart(plan, worked)), text

    def test_what_is_wholly_under_has_nothing_apart(self) -> None:
        self.assertEqual(self.said(pieces=[{"shape": PLATE}]), ({}, ""))

    def test_a_blade_an_eighth_in_the_liquid(self) -> None:
        """Standing on its end in 20 mm of liquid: 80 of 100 mm are dry."""
        found, text = self.said(
            pieces=[{"shape": PLATE, "hang": "long_down", "bottom_m": 0.09}],
            tank={"shape": {"kind": "box", "length_m": 0.3, "width_m": 0.2, "height_m": 0.2},
                  "level_m": 0.11},
        )  # fmt: skip
        self.assertAlmostEqual(found["dry"], 0.8, places=6)
        self.assertIn("80 %", text)

    def test_a_tube_as_its_own_vessel(self) -> None:
        tube = {"kind": "tube", "length_m": 0.5, "outer_diameter_m": 0.06, "inner_diameter_m": 0.05}
        found, text = self.said(
            pieces=[{"shape": tube}], tank={"shape": {"kind": "bore"}},
            anodes=[{"id": "a1", "kind": "rod", "diameter_m": 0.008, "floor_gap_m": 0.0}],
        )  # fmt: skip
        # 6 of 11 of both walls, of what is under the rim
        self.assertAlmostEqual(found["outside"], 0.54, delta=0.02)
        self.assertIn("outside", text)
