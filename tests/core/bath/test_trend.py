"""The trend of a bath's amps, on baths that share no law with it; its step against a published
scheme, its filter against all readings at once, and a step in a circuit that an ODE solves."""

from __future__ import annotations

import math
import unittest

import numpy as np
from numpy.typing import NDArray
from scipy.integrate import solve_ivp

from tests.core.bath.foreign import CLAMP, DIAL, LAWS
from tests.core.bath.pasts import Faulty, falsely, held, slowly, told
from tests.longer import of
from yellowbath.core.bath.trend import AmpsRead, Trend, planned, step_in, trend_law

BATHS = of(200, 25)
SLACK = of(0.0, 0.12)  # of a share of so few baths: two of its deviations


class OnOtherLaws(unittest.TestCase):
    def test_four_in_five_hold_the_amps_hours_ahead(self) -> None:
        for meter, widest in ((CLAMP, {1.0: 0.12, 6.0: 0.25}), (DIAL, {1.0: 0.26, 6.0: 0.34})):
            for k, law in enumerate(LAWS):
                for hours, (inside, width) in held(law, meter, BATHS, 100 + k).items():
                    with self.subTest(law, meter=meter.method, hours=hours):
                        self.assertGreaterEqual(inside, 0.75 - SLACK)
                        self.assertLessEqual(width, widest[hours] * (1 + SLACK))

    def test_steps_are_told_within_two_readings(self) -> None:
        for meter, amps, least in ((CLAMP, 0.85, 0.75), (CLAMP, 0.75, 0.97), (CLAMP, 0.5, 0.97),
                                   (CLAMP, 1.25, 0.97), (DIAL, 0.67, 0.95)):  # fmt: skip
            with self.subTest(meter.method, amps=amps):
                self.assertGreaterEqual(told(meter, Faulty(amps=amps), BATHS, 200), least - SLACK)

    def test_what_goes_slowly_is_told_before_half_is_gone(self) -> None:
        left = np.array(slowly(CLAMP, 0.1, BATHS, 300))
        self.assertGreaterEqual(float(np.mean(left > 0.5)), 0.95 - SLACK)

    def test_sound_baths_are_left_alone(self) -> None:
        for meter in (CLAMP, DIAL):
            doubted, _ = falsely(meter, BATHS, 400, slips=0.02, mains=0.02)
            self.assertLessEqual(doubted, 0.05 + SLACK)


class Filter(unittest.TestCase):
    def test_one_by_one_is_as_all_at_once(self) -> None:
        """Readings one by one come to what the normal equations of all of them do."""
        reads = [AmpsRead(h, h / 9, 0.05 * h, "clamp", 2.0) for h in (0.1, 1.0, 2.5, 7.0)]
        start = planned(0.2, "clamp")
        state = start
        for r in reads:
            state = state.told(r)
        # level at each reading is one unknown more: a walk between them
        n, mean, prior = len(reads), np.array(start.mean), np.array(start.cov)
        walk, last = np.zeros((n, n)), 0.0
        for k, r in enumerate(reads):
            walk[k:, k:] += trend_law("walk") ** 2 * (r.hours - last)
            last = r.hours
        from yellowbath.core.bath.trend import _row

        rows = np.array([_row(r.hours, r.crust) for r in reads])
        joint = rows @ prior @ rows.T + walk + np.diag([r.each**2 for r in reads])
        cross = prior @ rows.T
        cross[0] += walk[-1]
        off = np.array([r.log for r in reads]) - rows @ mean
        want = mean + cross @ np.linalg.solve(joint, off)
        np.testing.assert_allclose(state.mean, want, atol=1e-9)


class Page(unittest.TestCase):
    """Page's test (CUSUM), two-sided, k 0.5 and h 4 or 5 of a deviation. Average run lengths by
    Montgomery, Introduction to Statistical Quality Control, table of the tabular CUSUM, from
    memory: 168 and 465 without a shift, 8.38 and 10.4 at one deviation, 3.34 and 4.01 at two."""

    @staticmethod
    def length(shift: float, limit: float, rng: np.random.Generator) -> int:
        high = low = 0.0
        for k in range(1, 5000):
            x = rng.standard_normal() + shift
            high, low = max(0.0, high + x - 0.5), max(0.0, low - x - 0.5)
            if max(high, low) > limit:
                return k
        return 5000

    def test_its_own_tables(self) -> None:
        rng = np.random.default_rng(5)
        for limit, shift, table in ((4.0, 0.0, 168), (4.0, 1.0, 8.38), (5.0, 1.0, 10.4),
                                    (4.0, 2.0, 3.34), (5.0, 2.0, 4.01)):  # fmt: skip
            runs = [self.length(shift, limit, rng) for _ in range(of(4000, 600))]
            self.assertAlmostEqual(float(np.mean(runs)) / table, 1.0, delta=0.12)

    def test_a_step_worth_a_word_is_told_no_later_than_by_page(self) -> None:
        """On even ground: 15 %, within two readings."""
        rng = np.random.default_rng(6)
        sigma = math.hypot(0.02, 0.012)
        count, early, page = of(2000, 300), 0, 0
        for _ in range(count):
            row = sigma * rng.standard_normal(14)
            row[12:] += math.log(0.85)
            trend = Trend(planned(0.2, "clamp"), 0.0)
            for k, x in enumerate(row):
                trend = trend.told(AmpsRead(9 + k / 60, 0.0, float(x), "clamp", 3.0))
            early += trend.step is not None
            high = low = 0.0
            for x in row / sigma:
                high, low = max(0.0, high + x - 0.5), max(0.0, low - x - 0.5)
            page += max(high, low) > 4.0
        self.assertGreaterEqual(early / count, page / count - 0.05)


class Solved(unittest.TestCase):
    def test_the_size_of_a_step_in_a_bath_that_an_ode_solves(self) -> None:
        """A bath that heats itself and cakes, its joint worse by a tenth of an ohm at 5.5 h."""
        volts, start, liquid, joint = 12.0, 1.6, 2.0, 0.4

        def amps(t: float, y: NDArray[np.float64]) -> float:
            ohm = liquid * (1 + 0.15 * y[1] / 20) / (1 + 0.02 * y[0])
            return (volts - start) / (ohm + joint * (1.0 if t < 5.5 else 2.0))

        def slopes(t: float, y: NDArray[np.float64]) -> list[float]:
            i = amps(t, y)
            return [i * i * liquid / 25 - y[0] / 3, i]

        grid = np.arange(0.05, 9, 1.0)
        done = solve_ivp(slopes, (0, 9), [0.0, 0.0], t_eval=grid, max_step=0.02)
        trend, kept = Trend(planned(0.2, "line"), 0.0), []
        for t, y in zip(grid, done.y.T, strict=True):
            i = amps(float(t), y)
            read = AmpsRead(float(t), y[1] / 60, math.log(i / 4), "line", i)
            kept.append((trend.state, read))
            trend = trend.told(read)
            if trend.step is not None:
                break
        step = trend.step
        assert step is not None
        before = (volts - start) / ((volts - start) / kept[-1][1].amps - joint)
        self.assertAlmostEqual(step.log, math.log(kept[-1][1].amps / before), delta=0.03)
        self.assertLess(step.by_h, 7.1)
        self.assertIsNone(step_in([kept[0]], 0.0), "the first of all: only the plan speaks of it")


if __name__ == "__main__":
    unittest.main()
