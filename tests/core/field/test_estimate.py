"""The closed form against analytic solutions and two finite-element cases."""

import math
import unittest

from tests.published import rows
from yellowbath.core.data import param
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.estimate import (
    ClosedFormEstimate,
    disc_neumann,
    rectangle_neumann,
    shape_factor,
)
from yellowbath.core.field.model import RodLayout
from yellowbath.core.figures import Figure, figure, typed

# field-cases.json, C1 and C2: a plate 200 x 6 x 150 mm in the middle of a box 400 x 300, 250 deep,
# rods of 12 mm standing 25 mm off the long walls.
RODS = {"one": [(0.0, -0.125)], "two": [(0.0, -0.125), (0.0, 0.125)]}
V_EFF, SIGMA = 10.0, 1.3


def sigma(value: float) -> Figure:
    return figure(
        "s", "s", value, "conductivity", "s", [typed("s", "s", value, "conductivity")], "ohm"
    )


def case(rods: str, **changes: object) -> RodLayout:
    parts: dict[str, object] = {
        "round_tank": False,
        "tank_m": (0.4, 0.3),
        "depth_m": 0.25,
        "piece_m": (0.2, 0.006, 0.15),
        "piece_area_m2": 0.0642,
        "rods_m": RODS[rods],
        "rod_radius_m": 0.006,
        "rod_length_m": 0.23,
        "one_sided": rods == "one",
        "all_round": False,
    }
    return RodLayout(**{**parts, **changes})  # type: ignore[arg-type]


def current(layout: RodLayout) -> float:
    return V_EFF / ClosedFormEstimate().solve(layout, sigma(SIGMA)).resistance.value


class FiniteElementCases(unittest.TestCase):
    def test_amps_within_the_stated_error(self) -> None:
        for row in rows("field_cases"):
            with self.subTest(row["case"]):
                error = current(case(row["rods"])) / float(row["current_a"]) - 1
                self.assertLess(abs(error), param("estimate_error").value)

    def test_the_films_are_those_of_the_cases(self) -> None:
        self.assertEqual(param("film_anode_ohm_m2").value, 0.01)
        self.assertEqual(param("film_piece_ohm_m2").value, 0.005)


class Practice(unittest.TestCase):
    """Direction and bounds, common practice, no source; never a constant tuned to a saying."""

    def test_a_second_rod_on_the_empty_side_nearly_doubles(self) -> None:
        ratio = current(case("two")) / current(case("one"))
        self.assertTrue(1.6 <= ratio <= 1.95, ratio)

    def test_half_out_of_the_liquid(self) -> None:
        half = case("two", piece_m=(0.2, 0.006, 0.075), piece_area_m2=0.0321)
        ratio = current(half) / current(case("two"))
        self.assertTrue(0.5 <= ratio <= 0.95, ratio)

    def test_more_depth_of_rod_thicker_rods_and_stronger_mix_all_give_more(self) -> None:
        base = current(case("one"))
        self.assertGreater(current(case("one", rod_radius_m=0.012)), base)
        self.assertLess(current(case("one", rod_length_m=0.12)), base)
        self.assertLess(current(case("one", rods_m=[(0.0, -0.145)])), base)


class NeumannFunctions(unittest.TestCase):
    def test_symmetry(self) -> None:
        """Reciprocity: what a gives at b is what b gives at a."""
        a, b = (0.05, -0.08), (-0.12, 0.02)
        size = (0.4, 0.3)
        self.assertAlmostEqual(rectangle_neumann(size, a, b), rectangle_neumann(size, b, a), 5)
        self.assertAlmostEqual(disc_neumann(0.3, a, b), disc_neumann(0.3, b, a))

    def test_walls_insulate(self) -> None:
        """No flow through a wall: the normal derivative vanishes there."""
        h = 1e-5
        source = (0.03, 0.04)
        for d in (
            rectangle_neumann((0.4, 0.3), (0.2, 0.01), source)
            - rectangle_neumann((0.4, 0.3), (0.2 - h, 0.01), source),
            disc_neumann(0.3, (0.15, 0.0), source) - disc_neumann(0.3, (0.15 - h, 0.0), source),
        ):
            self.assertLess(abs(d / h), 5e-3)

    def test_near_a_source_it_is_the_logarithm(self) -> None:
        """-ln(r)/(2 pi): ten times nearer is ln(10)/(2 pi) more."""
        for g in (
            lambda r: rectangle_neumann((0.4, 0.3), (r, 0.0), (0.0, 0.0)),
            lambda r: disc_neumann(0.3, (r, 0.0), (0.0, 0.0)),
        ):
            self.assertAlmostEqual(g(0.002) - g(0.02), math.log(10) / (2 * math.pi), delta=0.01)

    def test_coaxial_cylinders(self) -> None:
        """A ring of rods round a centred bar nears ln(R/r)/(2 pi) of coaxial cylinders."""
        n, ring, bar = 16, 0.06, 0.01
        rods = [
            (ring * math.cos(2 * math.pi * k / n), ring * math.sin(2 * math.pi * k / n))
            for k in range(n)
        ]
        # A rod of radius a in a ring of n: equivalent radius ring * (n a / ring)^(1/n) ~ ring when
        # n a = ring, which makes the grating a smooth cylinder.
        layout = case(
            "one",
            round_tank=True,
            tank_m=(0.14, 0.14),
            piece_m=(2 * bar, 2 * bar, 0.25),
            rods_m=rods,
            rod_radius_m=ring / n,
        )
        expected = math.log(ring / bar) / (2 * math.pi)
        self.assertAlmostEqual(shape_factor(layout) / expected, 1.0, delta=0.03)

    def test_no_path_is_an_error_that_says_so(self) -> None:
        for changes in ({"rod_length_m": 0.0}, {"piece_area_m2": 0.0}):
            with self.assertRaises(NoAnswerError):
                ClosedFormEstimate().solve(case("one", **changes), sigma(SIGMA))
