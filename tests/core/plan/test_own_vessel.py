"""A tube that is plugged and filled: its bore is tank and piece at once."""

import math
import unittest
from typing import Any

from yellowbath.core.data import param
from yellowbath.core.document import Plan, Tube
from yellowbath.core.errors import InvalidDocumentError
from yellowbath.core.field.plan_bath import solve_plan
from yellowbath.core.kit import KitTank
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.start.begin import First, begin
from yellowbath.workflows.plans.plans import answer_document

BORE = {"shape": {"kind": "bore"}}


def tube(length: float, bore: float, rod: float, **more: Any) -> Plan:
    shape = {"kind": "tube", "length_m": length, "outer_diameter_m": bore + 0.01,
             "inner_diameter_m": bore}  # fmt: skip
    rods = [{"id": "a1", "kind": "rod", "diameter_m": rod, "floor_gap_m": 0.0}]
    return read_plan({"pieces": [{"shape": shape}], "tank": BORE, "anodes": rods, **more}).plan


class Field(unittest.TestCase):
    def test_a_rod_on_the_axis_is_a_coaxial_line(self) -> None:
        """ln(b/a)/(2 pi s L) and two films in series: any text on potential theory."""
        for length, bore, rod in ((0.5, 0.05, 0.012), (0.3, 0.025, 0.006), (1.0, 0.09, 0.012)):
            plan = tube(length, bore, rod)
            found = answer(plan)
            level, s = found.fill.level.value, found.conductivity.value
            films = param("film_anode_ohm_m2").value / (math.pi * rod * level)
            films += param("film_piece_ohm_m2").value / (math.pi * bore * level)
            wanted = films + math.log(bore / rod) / (2 * math.pi * s * level)
            self.assertAlmostEqual(found.resistance.value / wanted, 1.0, delta=0.005)
            for quality in ("preview", "fine"):
                made = solve_plan(plan, bottoms_of(plan, level), level, s, quality)
                ohm = made.resistance
                self.assertLessEqual(abs(ohm.value - wanted), ohm.error, (length, quality))
                self.assertAlmostEqual(made.p95.value, 1.0, delta=made.p95.error)

    def test_the_nearer_wall_gets_more(self) -> None:
        rods = [{"id": "a1", "kind": "rod", "diameter_m": 0.012, "x_m": 0.01, "y_m": 0.0}]
        plan = tube(0.5, 0.05, 0.012, anodes=rods, layout={"arrangement": "by_hand"})
        found = answer(plan)
        level, s = found.fill.level.value, found.conductivity.value
        made = solve_plan(plan, bottoms_of(plan, level), level, s)
        off = made.surface.centres[:, 0] - made.origin[0]
        self.assertGreater(made.ratio[off > 0].mean(), 1.5 * made.ratio[off < 0].mean())


class Filling(unittest.TestCase):
    def test_its_sizes_are_the_tubes_and_only_its_bore_counts(self) -> None:
        plan = tube(0.5, 0.05, 0.012, layout={"arrangement": "ring", "count": 6})
        found, rim = answer(plan), param("bore_rim_m").value
        self.assertEqual([(a.x_m, a.y_m) for a in plan.anodes], [(0.0, 0.0)])
        self.assertAlmostEqual(found.fill.level.value, 0.5 - rim)
        rod = math.pi / 4 * 0.012**2 * (0.5 - rim)
        held = math.pi / 4 * 0.05**2 * (0.5 - rim) - rod
        self.assertAlmostEqual(found.fill.water.value, held)
        area = math.pi * 0.05 * (0.5 - rim)
        self.assertAlmostEqual(found.wetted_area.value / area, 1.0, delta=0.001)
        self.assertAlmostEqual(found.fill.gap.value, 0.025 - 0.006)

    def test_what_counts_as_covered(self) -> None:
        """A thousandth of its height is what a tape leaves open."""
        for raised, out in ((0.0005, False), (0.0015, True)):
            bar = {"id": "p1", "shape": {"kind": "bar", "length_m": 0.2, "diameter_m": 0.02},
                   "hang": "long_down", "bottom_m": 0.05}  # fmt: skip
            level = 0.25 - raised * 0.2
            plan = read_plan({"pieces": [bar], "tank": {"level_m": level}}).plan
            self.assertEqual(bool(answer(plan).fill.out), out, raised)

    def test_another_piece_is_no_vessel(self) -> None:
        pieces: tuple[list[dict[str, Any]], ...] = (
            [{"shape": {"kind": "plate"}}],
            [{"id": "p1", "shape": {"kind": "tube"}}, {"id": "p2", "shape": {"kind": "tube"}}],
        )
        for some in pieces:
            with self.assertRaisesRegex(InvalidDocumentError, "alone in its bath"):
                read_plan({"pieces": some, "tank": BORE})
        with self.assertRaisesRegex(ValueError, "belongs to its plan"):
            KitTank.model_validate({"tank": BORE})


class FirstPlans(unittest.TestCase):
    def test_the_first_plan_stays_cool(self) -> None:
        """So little liquid would boil at a charger's usual amps; the plan is a sound one."""
        for sizes in ("500 x 60 x 50", "300 x 30 x 25", "1200 x 160 x 150"):
            for feeds in ("", "laboratory", "selector", "fixed"):
                made = begin(First(kind="tube", sizes=sizes, side="vessel", feeds=feeds))
                assert made.plan is not None
                self.assertIsInstance(made.plan.pieces[0].shape, Tube)
                answered = answer_document(made.plan.model_dump(mode="json"))
                stops = [f.id for f in answered.findings if f.severity == "stop"]
                self.assertEqual(stops, [], (sizes, feeds))
                self.assertIn("own_vessel", {f.id for f in answered.findings})
                hot = answered.answer and answered.answer.of("bath.hottest")
                assert hot is not None
                self.assertLessEqual(hot.value, 50.0)
                said = "tub of cold water" in made.heard["holds"]
                self.assertEqual(said, made.plan.place.cooled)

    def test_a_supply_that_gives_nothing_is_told_as_anywhere(self) -> None:
        for feeds in ("smart", "battery", "unknown", "transformer"):
            made = begin(First(kind="tube", sizes="500 x 60 x 50", side="vessel", feeds=feeds))
            assert made.plan is not None
            document = made.plan.model_dump(mode="json")
            document["tank"]["material"] = "metal"
            found = {f.id for f in answer_document(document).findings}
            self.assertNotIn("tank_metal", found)

    def test_a_dose_that_was_said_is_kept(self) -> None:
        made = begin(First(kind="tube", sizes="500 x 60 x 50", side="vessel", dose="6 g/L"))
        assert made.plan is not None
        read = read_plan(made.plan.model_dump(mode="json"))
        self.assertAlmostEqual(read.plan.mix.concentration_kg_m3, 6.0)


if __name__ == "__main__":
    unittest.main()
