"""Two levels of a supply: threshold and resistance, against an ODE-free circuit of one's own and on
simulated baths."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import brentq

from tests.core.bath.baths import kind
from yellowbath.core.bath.levels import AtLevel, levels
from yellowbath.core.bath.loop import Loop, slope_v
from yellowbath.core.causes.asks import asks
from yellowbath.core.errors import InputError
from yellowbath.core.simulation.asked import true_answer
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.faults import fault
from yellowbath.core.simulation.truth import drawn


def at(amps: float, loop: Loop, ohm: float, touch_ohm: float = math.inf) -> AtLevel:
    """A bath's volts at amps by a general root finder, some of them past it through a touch."""

    def cell_v(i: float) -> float:
        return loop.start_v + slope_v() * math.asinh(i / (2 * loop.knee_a)) + i * ohm

    def through(volts: float) -> float:
        passes = brentq(lambda i: cell_v(i) - volts, 0.0, 1e4) if volts > loop.start_v else 0.0
        return passes + volts / touch_ohm - amps

    return AtLevel(brentq(through, 1e-6, 1e4), amps)


class Line(unittest.TestCase):
    def test_a_sound_bath_has_the_plans_threshold_and_resistance(self) -> None:
        for k in (0, 5, 9):
            loop = kind(k)[1]
            planned = loop.liquid_ohm + loop.leads_ohm
            for over, outcome in ((1.0, "right"), (1.3, "right"), (2.0, "more")):
                made = levels(
                    at(loop.meant_a, loop, over * planned),
                    at(0.6 * loop.meant_a, loop, over * planned), loop,
                )  # fmt: skip
                self.assertAlmostEqual(made.threshold_v, made.planned_v, delta=1e-6)
                self.assertAlmostEqual(
                    made.ohm - made.planned_ohm, (over - 1) * planned, delta=1e-6
                )
                self.assertEqual(made.outcome, outcome)

    def test_a_touch_has_none(self) -> None:
        loop = kind(1)[1]
        planned = loop.liquid_ohm + loop.leads_ohm
        for ohm in (0.005, 0.05, 0.3):
            pair = (at(a * loop.meant_a, loop, planned, ohm) for a in (1.0, 0.6))
            self.assertEqual(levels(*pair, loop).outcome, "none", ohm)

    def test_what_tells_nothing_is_refused(self) -> None:
        loop = kind(1)[1]
        one = AtLevel(12.0, 2.0)
        for other in (AtLevel(11.8, 1.9), AtLevel(3.0, 0.0), AtLevel(math.nan, 1.0)):
            with self.assertRaises(InputError):
                levels(one, other, loop)
        self.assertEqual(levels(one, AtLevel(8.0, 1.0), loop), levels(AtLevel(8.0, 1.0), one, loop))


class Simulated(unittest.TestCase):
    def test_baths_that_hide_their_values_are_told_apart(self) -> None:
        """Stepped down by the simulation's own circuit, as a line does it: twenty baths each."""
        told = {}
        for name in ("", "touch", "thin", "caked"):
            some = [self._answer(name, seed) for seed in range(20)]
            told[name] = {o: some.count(o) for o in asks()["two_levels"].outcomes}
        self.assertGreaterEqual(told["touch"]["none"], 19, told)
        self.assertGreaterEqual(told[""]["right"], 17, told)
        self.assertEqual(told[""]["none"] + told["thin"]["none"] + told["caked"]["none"], 0, told)
        self.assertGreaterEqual(told["thin"]["more"], 18, told)

    def _answer(self, name: str, seed: int) -> str:
        design, loop = kind(8 + seed % 4)
        rng = np.random.default_rng(300 + seed)
        faults = [Scheduled(0.0, fault(name, design, rng))] if name else []
        bath = SimulatedBath(design, drawn(design, rng), faults, start_c=loop.temperature_c)
        bath.switch_on()
        return true_answer("two_levels", bath, replace(loop), rng)


if __name__ == "__main__":
    unittest.main()
