"""Volumes against closed forms and against slicing."""

import math
import statistics
import unittest
from itertools import pairwise

from yellowbath.core.document import BoxTank, BucketTank, DrumTank, Mark, Tank
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import evaluate
from yellowbath.core.geometry.tank import (
    floor_at,
    invert,
    level_of,
    plan_size,
    standing_size,
    volume_at,
    volume_formula,
)

BUCKET = Tank(shape=BucketTank(floor_diameter_m=0.26, rim_diameter_m=0.29, height_m=0.37))
TAPERED = Tank(
    shape=BoxTank(length_m=0.4, width_m=0.3, top_length_m=0.46, top_width_m=0.34, height_m=0.35)
)
STRAIGHT = Tank(shape=BoxTank(length_m=0.4, width_m=0.3, height_m=0.35))
DRUM = Tank(shape=BucketTank(floor_diameter_m=0.57, rim_diameter_m=0.57, height_m=0.88))

LYING = Tank(shape=DrumTank(length_m=0.85, diameter_m=0.57, height_m=0.4))


class Volumes(unittest.TestCase):
    def test_closed_forms(self) -> None:
        """Elementary geometry: prism, cylinder, frustum h(A1 + A2 + sqrt(A1 A2))/3."""
        self.assertAlmostEqual(volume_at(STRAIGHT, 0.25), 0.4 * 0.3 * 0.25)
        self.assertAlmostEqual(volume_at(DRUM, 0.5), math.pi * 0.57**2 / 4 * 0.5)
        a1, a2 = (math.pi * d**2 / 4 for d in (0.26, 0.29))
        frustum = 0.37 / 3 * (a1 + a2 + math.sqrt(a1 * a2))
        self.assertAlmostEqual(volume_at(BUCKET, 0.37), frustum)

    def test_a_tapered_box_against_slices(self) -> None:
        """Independent recomputation: midpoint slices converge with their thickness squared."""
        errors = []
        for n in (20, 40):
            dz = 0.3 / n
            slices = sum(math.prod(plan_size(TAPERED, (k + 0.5) * dz)) * dz for k in range(n))
            errors.append(abs(slices - volume_at(TAPERED, 0.3)))
        self.assertLess(errors[0], 1e-6)
        self.assertAlmostEqual(errors[0] / errors[1], 4.0, delta=0.1)

    def test_a_lying_drum(self) -> None:
        """Half full it holds half a cylinder; between, against midpoint slices; scrap's floor."""
        half = math.pi * 0.57**2 / 8 * 0.85
        self.assertAlmostEqual(volume_at(LYING, 0.285), half)
        n = 4000
        slices = sum(math.prod(plan_size(LYING, 0.2 * (k + 0.5) / n)) * 0.2 / n for k in range(n))
        self.assertAlmostEqual(slices / volume_at(LYING, 0.2), 1, places=5)
        width = standing_size(LYING)[1]
        self.assertAlmostEqual(floor_at(LYING, width / 2), 0.3 * 0.57, delta=0.003)
        self.assertEqual(floor_at(LYING, 0.0), 0.0)

    def test_the_level_of_a_volume(self) -> None:
        for tank in (BUCKET, TAPERED, STRAIGHT, DRUM, LYING):
            for share in (0.01, 0.3, 0.77):
                level = share * tank.shape.height_m
                self.assertAlmostEqual(level_of(tank, volume_at(tank, level)), level, places=8)

    def test_too_much_stands_at_the_rim(self) -> None:
        self.assertEqual(level_of(BUCKET, 1.0), 0.37)

    def test_a_level_outside_the_tank_is_refused(self) -> None:
        for level in (-0.01, 0.38):
            with self.assertRaises(OutOfRangeError):
                volume_at(BUCKET, level)

    def test_the_shown_formula_gives_the_volume(self) -> None:
        for tank in (BUCKET, TAPERED, STRAIGHT, DRUM, MARKED):
            rule, inputs, _ = volume_formula(tank, 0.21)
            value = evaluate(rule, {i.symbol: i.value for i in inputs})
            self.assertAlmostEqual(value, volume_at(tank, 0.21))


MARKED = Tank(
    shape=BUCKET.shape,
    marks=[Mark(height_m=h, volume_m3=volume_at(BUCKET, h)) for h in (0.08, 0.16, 0.24, 0.32)],
)


class JugMarks(unittest.TestCase):
    def test_marks_taken_from_a_bucket_give_the_bucket_back(self) -> None:
        for level in (0.04, 0.1, 0.2, 0.3, 0.35):
            got, true = volume_at(MARKED, level), volume_at(BUCKET, level)
            self.assertAlmostEqual(got / true, 1.0, delta=0.01)

    def test_marks_are_met_exactly_and_volume_never_falls(self) -> None:
        odd = Tank(
            shape=BUCKET.shape,
            marks=[
                Mark(height_m=0.05, volume_m3=0.001),
                Mark(height_m=0.10, volume_m3=0.009),
                Mark(height_m=0.20, volume_m3=0.0095),
                Mark(height_m=0.30, volume_m3=0.018),
            ],
        )
        for mark in odd.marks:
            self.assertAlmostEqual(volume_at(odd, mark.height_m), mark.volume_m3)
        volumes = [volume_at(odd, 0.37 * k / 200) for k in range(201)]
        self.assertTrue(all(a <= b for a, b in pairwise(volumes)))

    def test_one_mark_is_not_enough_to_replace_the_sizes(self) -> None:
        one = Tank(shape=BUCKET.shape, marks=[Mark(height_m=0.1, volume_m3=0.5)])
        self.assertEqual(volume_at(one, 0.1), volume_at(BUCKET, 0.1))


class Inverting(unittest.TestCase):
    def test_bisection(self) -> None:
        self.assertAlmostEqual(invert(math.exp, 5.0, 0, 3), math.log(5))


class Inverse(unittest.TestCase):
    def test_a_target_is_met_however_flat_or_steep_the_way(self) -> None:
        """Closed forms: powers, a logistic step and an error function, and ends beyond reach."""
        for rising, back, span in (
            (lambda x: x**9, lambda y: y ** (1 / 9), (0.0, 3.0)),
            (lambda x: 1 / (1 + math.exp(-40 * (x - 7))), lambda y: 7 + math.log(y / (1 - y)) / 40,
             (0.0, 100.0)),
            (math.erf, lambda y: statistics.NormalDist().inv_cdf((y + 1) / 2) / math.sqrt(2),
             (0.0, 6.0)),
        ):  # fmt: skip
            for target in (1e-3, 0.2, 0.5, 0.95):
                found = invert(rising, target, *span)
                self.assertAlmostEqual(found, back(target), delta=1e-9 * span[1])
        self.assertEqual(invert(lambda x: x, -1.0, 0.0, 2.0), 0.0)
        self.assertEqual(invert(lambda x: x, 9.0, 0.0, 2.0), 2.0)
