"""Dose and time: closed forms, the practice windows, and what inspections do to belief."""

import math
import random
import unittest
from statistics import NormalDist

from yellowbath.core import dose
from yellowbath.core.data import param, table
from yellowbath.core.document import Piece, Region
from yellowbath.core.field.model import SLICES, Coverage, lognormal_profile, profile_of

EVEN = lognormal_profile(0.4)


class Slices(unittest.TestCase):
    def test_mean_is_kept_and_the_lowest_comes_first(self) -> None:
        for spread in (0.0, 0.25, 0.6, 1.0):
            densities = dose.slice_densities(50.0, lognormal_profile(spread))
            self.assertAlmostEqual(sum(densities) / len(densities), 50.0)
            self.assertEqual(densities, sorted(densities))

    def test_percentiles_against_drawn_samples(self) -> None:
        """Independent recomputation: 200,000 draws of a log-normal with mean 50."""
        rng = random.Random(7)
        mean, spread = 50.0, 0.5
        mu = math.log(mean) - spread**2 / 2
        drawn = sorted(rng.lognormvariate(mu, spread) for _ in range(200_000))
        for share in (0.05, 0.5, 0.95):
            got = dose.percentile(mean, spread, share)
            self.assertAlmostEqual(got / drawn[int(share * len(drawn))], 1.0, delta=0.02)
        below = sum(d < 20 for d in drawn) / len(drawn)
        self.assertAlmostEqual(dose.share_below(mean, spread, 20), below, delta=0.003)

    def test_slices_of_solved_quantiles(self) -> None:
        """Twenty means of a hundred quantiles; what cannot be reached is left out."""
        quantiles = [0.005] * 40 + [0.5 + 0.02 * k for k in range(60)]
        profile = profile_of(quantiles)
        self.assertEqual(len(profile), 20)
        self.assertAlmostEqual(profile[0], 0.52)
        self.assertAlmostEqual(sum(profile) / 20, sum(quantiles[40:]) / 60)
        self.assertEqual(profile_of([1.0] * 100), (1.0,) * 20)


class EffectiveCharge(unittest.TestCase):
    def test_saturates(self) -> None:
        """j/(1 + j/js): slope one at small j, js at large j, half of j at js."""
        js = param("js_a_m2").value
        self.assertAlmostEqual(dose.effective_rate(0.01) / 0.01, 1.0, places=3)
        self.assertAlmostEqual(dose.effective_rate(js), js / 2)
        self.assertLess(dose.effective_rate(1e6), js)

    def test_doubling_the_amps_does_not_halve_the_hours(self) -> None:
        slow, fast = (dose.hours_per_need(j, EVEN) for j in (40.0, 80.0))
        self.assertTrue(1.0 < slow / fast < 2.0, slow / fast)


class Time(unittest.TestCase):
    def test_even_current_and_no_scatter_in_one_line(self) -> None:
        """Closed form: N is the need of the slow twentieth, so with equal density everywhere 95 %
        is met at N/rate."""
        expected = 1 / dose.effective_rate(50.0)
        self.assertAlmostEqual(
            dose.hours_per_need(50.0, lognormal_profile(0.0)) / expected, 1.0, places=6
        )

    def test_hours_fall_linearly_with_need_and_add_up(self) -> None:
        rates = [dose.effective_rate(j) for j in dose.slice_densities(50, EVEN)]
        whole = dose.dose_to_clean([0.0] * SLICES, rates, 100.0)
        half_way = [r * whole / 2 for r in rates]
        self.assertAlmostEqual(dose.dose_to_clean(half_way, rates, 100.0), whole / 2, places=6)
        self.assertAlmostEqual(dose.dose_to_clean([0.0] * SLICES, rates, 200.0), 2 * whole, 6)

    def test_a_face_graded_by_itself_counts_by_its_own_need(self) -> None:
        """Half the surface wanting k times as much in an even field: scatter aside, the last of
        it is met when the thirstier half is; by share_clean, written out again."""
        wants = dose.wanted_by_region(
            [
                Piece(
                    grade="light",
                    regions=[Region(id="p1.front", name="F", grade="heavy"),
                             Region(id="p1.back", name="B")],
                )
            ]
        )  # fmt: skip
        k = wants["p1.front"]
        rows = table("needs")
        self.assertAlmostEqual(k, rows["heavy"]["median_ah_m2"] / rows["light"]["median_ah_m2"])
        self.assertEqual(wants["p1.back"], 1.0)
        even = Coverage((0.5, 0.5), ((1.0, 1.0),), (k, 1.0))
        hours = dose.hours_per_need(50.0, EVEN, even)
        had = dose.effective_rate(50.0) * hours
        scatter = param("need_scatter").value
        met = [NormalDist().cdf(math.log(had / n) / scatter + 1.6448536) for n in (k, 1.0)]
        self.assertAlmostEqual(sum(met) / 2, param("clean_share").value, places=4)
        alike = [Piece(grade="light", regions=[Region(id="p1.front", name="F", grade="light")])]
        self.assertEqual(dose.wanted_by_region(alike), {})

    def test_nothing_flows_nothing_ends(self) -> None:
        none = [0.0] * SLICES
        self.assertEqual(dose.dose_to_clean(none, none, 100.0), math.inf)
        self.assertEqual(dose.dose_to_clean([1e4] * SLICES, none, 100.0), 0.0)

    def test_harder_grades_and_brighter_aims_want_more(self) -> None:
        grades = [
            dose.prior_need(g, "black").median for g in ("light", "moderate", "heavy", "scaled")
        ]
        aims = [dose.prior_need("heavy", a).median for a in table("needs")["aims"]]
        self.assertEqual(grades, sorted(grades))
        self.assertEqual(aims, sorted(aims))
