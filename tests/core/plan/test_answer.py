"""A plan's answer: traces that re-evaluate, directions, fill and overflow."""

import itertools
import math
import unittest
from typing import Any

from yellowbath.core.errors import NoAnswerError
from yellowbath.core.figures import evaluate
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer

SODA: dict[str, Any] = {"mix": {"product": "soda_anhydrous"}}


def of(**document: Any) -> Answer:
    return answer(read_plan({**SODA, **document}).plan)


class Traces(unittest.TestCase):
    def test_every_figure_re_evaluates_to_what_is_shown(self) -> None:
        """Over shapes, tanks, supplies, mixes: formula and inputs give the number beside them."""
        shapes = ("plate", "bar", "tube", "box")
        tanks: tuple[dict[str, Any], ...] = (
            {"shape": {"kind": "bucket"}},
            {"shape": {"kind": "box", "top_length_m": 0.45}},
            {"shape": {"kind": "bucket"}, "water_m3": 0.013},
            {"shape": {"kind": "bucket"}, "hole_height_m": 0.2},
        )
        supplies = (
            {"kind": "transformer"},
            {"kind": "laboratory", "limit_a": 1.0},
            {"kind": "battery"},
            {"kind": "laboratory", "nominal_v": 1.5},
        )
        mixes = (
            {"product": "soda_decahydrate", "scoop_kg": 0.02},
            {"product": "baking_soda", "source": "reuse", "kept_kg": 0.2},
            {"product": "table_salt"},
        )
        seen = 0
        for shape, tank, supply, mix in itertools.product(shapes, tanks, supplies, mixes):
            worked = of(pieces=[{"shape": {"kind": shape}}], tank=tank, supply=supply, mix=mix)
            for f in worked.figures():
                again = evaluate(f.expression, {i.symbol: i.value for i in f.inputs})
                self.assertAlmostEqual(again, f.value, delta=1e-9 * max(1.0, abs(again)), msg=f.key)
                self.assertTrue(f.source, f.key)
                self.assertTrue(all(i.source for i in f.inputs), f.key)
                seen += 1
        self.assertGreater(seen, 5000)

    def test_a_broken_formula_would_be_seen(self) -> None:
        """The check above is no tautology: another exponent gives another number."""
        f = of().density
        wrong = f.expression.replace("I/A", "I/A**2")
        again = evaluate(wrong, {i.symbol: i.value for i in f.inputs})
        self.assertNotAlmostEqual(again, f.value)

    def test_keys_are_unique(self) -> None:
        keys = [f.key for f in of().figures()]
        self.assertEqual(len(keys), len(set(keys)))

    def test_windows_hold_their_value(self) -> None:
        for f in of().figures():
            if f.low is not None and f.high is not None:
                self.assertTrue(f.low <= f.value <= f.high, f.key)


class Directions(unittest.TestCase):
    def test_two_rods_in_a_bucket_on_a_hand_tool(self) -> None:
        """Common practice, no source: 12 mm rods, 5 g/L soda, 12 V, 2-5 A."""
        bar = {"shape": {"kind": "plate", "length_m": 0.25, "width_m": 0.05, "thickness_m": 0.006}}
        self.assertTrue(2 <= of(pieces=[bar]).gives.value <= 5)

    def test_more_of_everything_draws_more(self) -> None:
        base = of().gives.value
        for change in (
            {"mix": {"product": "soda_anhydrous", "concentration_kg_m3": 10}},
            {"mix": {"product": "soda_anhydrous", "temperature_c": 35}},
            {"layout": {"arrangement": "ring"}},
            {"anodes": [{"id": "a1", "diameter_m": 0.025}]},
            {"supply": {"nominal_v": 24}},
        ):
            with self.subTest(change=change):
                self.assertGreater(of(**change).gives.value, base)
        self.assertLess(of(layout={"arrangement": "one_side"}).gives.value, base)

    def test_an_unnamed_box_widens_the_window_downwards(self) -> None:
        named, unnamed = of(), of(mix={"product": "unknown"})
        assert named.gives.low and unnamed.gives.low and unnamed.gives.high and named.gives.high
        self.assertLess(unnamed.gives.low, named.gives.low / 2)
        self.assertAlmostEqual(unnamed.gives.high, named.gives.high)

    def test_a_limit_in_force_cuts_the_window_above(self) -> None:
        limited = of(supply={"kind": "laboratory", "limit_a": 1.0, "rated_a": 10})
        self.assertEqual(limited.gives.value, 1.0)
        self.assertEqual(limited.gives.high, 1.0)
        self.assertGreater(limited.draws.value, 1.0)

    def test_no_current_is_an_answer(self) -> None:
        still = of(supply={"kind": "laboratory", "nominal_v": 1.5})
        self.assertEqual(still.gives.value, 0)
        self.assertIsNone(still.window)
        self.assertIsNone(still.cost)

    def test_what_stays_is_said(self) -> None:
        words = " ".join(of(pieces=[{"fragility": "relic", "grade": "scaled"}]).keeps)
        self.assertIn("holes", words)
        self.assertIn("pitted", words)


class Filling(unittest.TestCase):
    def test_the_level_stays_a_hands_breadth_below_the_rim(self) -> None:
        self.assertAlmostEqual(of().fill.freeboard.value, 0.10)

    def test_water_piece_and_rods_together_fill_the_tank_to_the_level(self) -> None:
        """Conservation of volume."""
        worked = of(pieces=[{"shape": {"kind": "box", "length_m": 0.1, "width_m": 0.1,
                                       "height_m": 0.1}}])  # fmt: skip
        level = worked.fill.level.value
        d0, d = 0.26, 0.26 + 0.03 * level / 0.37
        tank = math.pi * level * (d0 * d0 + d0 * d + d * d) / 12
        rods = 2 * math.pi * 0.006**2 * (level - 0.02)
        self.assertAlmostEqual(worked.fill.water.value, tank - 0.001 - rods)

    def test_a_hole_caps_the_level(self) -> None:
        self.assertAlmostEqual(of(tank={"hole_height_m": 0.15}).fill.level.value, 0.14)

    def test_too_much_water_runs_over(self) -> None:
        self.assertTrue(of(tank={"water_m3": 0.05}).fill.overflows)
        self.assertFalse(of(tank={"water_m3": 0.012}).fill.overflows)

    def test_a_tall_piece_stands_out(self) -> None:
        tall = {"shape": {"kind": "bar", "length_m": 0.5}, "hang": "long_down"}
        worked = of(pieces=[tall])
        self.assertTrue(0.3 < worked.fill.wetted_share < 0.7)
        self.assertAlmostEqual(
            worked.wetted_area.value / worked.area.value, worked.fill.wetted_share
        )

    def test_rods_that_hang_in_the_air(self) -> None:
        with self.assertRaises(NoAnswerError) as caught:
            of(anodes=[{"id": "a1", "floor_gap_m": 0.9}])
        self.assertIn("more water", caught.exception.remedy)
