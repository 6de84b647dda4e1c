"""Rods set out by arrangement, regions by shape; ids stay."""

import math
import unittest

from yellowbath.core.document import BoxTank, Plan
from yellowbath.core.plan.reading.arrange import positions, tidied


def plan(arrangement: str, box: bool, count: int = 6) -> Plan:
    shape = {"kind": "box" if box else "bucket"}
    return tidied(
        Plan.model_validate(
            {"tank": {"shape": shape}, "layout": {"arrangement": arrangement, "count": count}}
        )
    )


class Rods(unittest.TestCase):
    def test_numbers_and_ids(self) -> None:
        for arrangement, n in (("one_side", 1), ("opposite", 2), ("corners", 4), ("ring", 6)):
            for box in (True, False):
                with self.subTest(arrangement, box=box):
                    rods = plan(arrangement, box).anodes
                    self.assertEqual([r.id for r in rods], [f"a{k}" for k in range(1, n + 1)])

    def test_all_stand_inside_at_the_gap_from_the_wall(self) -> None:
        for arrangement in ("one_side", "opposite", "corners", "ring"):
            for rod in plan(arrangement, False, 9).anodes:
                self.assertAlmostEqual(math.hypot(rod.x_m, rod.y_m), 0.13 - 0.02)
            for rod in plan(arrangement, True, 9).anodes:
                gap = min(0.2 - abs(rod.x_m), 0.15 - abs(rod.y_m))
                self.assertAlmostEqual(gap, 0.02)

    def test_they_balance_round_the_piece(self) -> None:
        for arrangement in ("opposite", "corners", "ring"):
            for box in (True, False):
                rods = plan(arrangement, box).anodes
                self.assertAlmostEqual(sum(r.x_m for r in rods), 0.0)
                self.assertAlmostEqual(sum(r.y_m for r in rods), 0.0)

    def test_a_tank_too_small_for_the_gap_keeps_them_in_the_middle(self) -> None:
        tiny = Plan.model_validate({"tank": {"shape": {"kind": "box"}}})
        tiny.tank.shape = BoxTank(length_m=0.03, width_m=0.03)
        self.assertEqual(positions(tiny.layout, tiny.tank), [(0.0, -0.0), (0.0, 0.0)])

    def test_rods_are_like_the_first_one(self) -> None:
        first = {"id": "a1", "material": "cast_iron", "diameter_m": 0.02}
        made = tidied(Plan.model_validate({"anodes": [first], "layout": {"arrangement": "ring"}}))
        self.assertEqual({(r.material, r.diameter_m) for r in made.anodes}, {("cast_iron", 0.02)})

    def test_settling_twice_changes_nothing(self) -> None:
        once = plan("ring", True)
        self.assertEqual(tidied(once), once)


class Regions(unittest.TestCase):
    def test_a_bore_is_a_region_of_its_own(self) -> None:
        made = tidied(Plan.model_validate({"pieces": [{"shape": {"kind": "tube"}}]}))
        kinds = {r.id: r.kind for r in made.pieces[0].regions}
        self.assertEqual(kinds["p1.bore"], "bore")
        self.assertEqual(kinds["p1.outside"], "outer")
