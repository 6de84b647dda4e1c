"""The bath's own warmth against a general ODE solver; gas in the liquid; what switches it off."""

import unittest
from typing import Any

from scipy.integrate import solve_ivp

from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.power.warming import (
    Warm,
    bubbles_input,
    losing_area,
    temperature_figure,
)
from yellowbath.workflows.plans import answer_document

LEVEL = 0.25


def plan(**mix: Any) -> Plan:
    return Plan.model_validate({"mix": {"temperature_c": 14.0, **mix}})


class Warming(unittest.TestCase):
    def test_the_mean_over_a_run_is_that_of_the_differential_equation(self) -> None:
        """c V dT/dt = P - h A (T - T0), by SciPy's Runge-Kutta; water's c from memory."""
        bath = plan()
        loss = param("loss_w_m2k").value * losing_area(bath.tank, LEVEL)
        held = 4.19e6 * volume_at(bath.tank, LEVEL)
        for heat, hours in ((20.0, 2.0), (60.0, 8.0), (200.0, 40.0)):

            def rate(_: float, y: Any, heat: float = heat) -> list[float]:
                rise = y[0]
                return [(heat - loss * rise) / held, rise]

            end = hours * 3600
            solved = solve_ivp(rate, (0.0, end), [0.0, 0.0], rtol=1e-9, atol=1e-9)
            mean = 14.0 + solved.y[1, -1] / end
            with self.subTest(heat, hours=hours):
                got = temperature_figure(bath, LEVEL, Warm(heat, hours, 3.0)).value
                self.assertAlmostEqual(got, mean, places=5)

    def test_left_out_or_without_heat_it_is_the_waters_own(self) -> None:
        for bath, warm in ((plan(warming=False), Warm(50.0, 5.0, 3.0)), (plan(), Warm(0, 5, 0))):
            self.assertEqual(temperature_figure(bath, LEVEL, warm).value, 14.0)

    def test_gas_in_the_liquid_goes_with_the_amps_and_is_little(self) -> None:
        """0.627 L of both gases an ampere-hour at 20 C (Faraday), gone at 30 mm/s (judged)."""
        shares = [bubbles_input(plan(), LEVEL, Warm(0.0, 0.0, amps)).value for amps in (2.0, 4.0)]
        self.assertAlmostEqual(shares[1] / shares[0], 2.0)
        self.assertLess(shares[1], 0.002)

    def test_a_warming_bath_draws_more_and_is_sooner_done(self) -> None:
        made = []
        for warming in (False, True):
            mix = {"product": "soda_anhydrous", "temperature_c": 12, "warming": warming}
            answer = answer_document({"mix": mix}).answer
            assert answer is not None and answer.window is not None
            made.append((answer.gives.value, answer.window.value, answer.temperature.value))
        (cold, slow, start), (warm, quick, mean) = made
        self.assertEqual(start, 12.0)
        self.assertTrue(1.0 < warm / cold < 1.4 and quick < slow and 12.0 < mean < 40.0)


class LosingArea(unittest.TestCase):
    def test_walls_and_surface(self) -> None:
        """Elementary: a box of 400 by 300, and a drum of 500 by 600 mm on its side, half full."""
        box = Plan.model_validate({"tank": {"shape": {"kind": "box"}}}).tank
        self.assertAlmostEqual(losing_area(box, 0.2), 2 * (0.4 + 0.3) * 0.2 + 0.12)
        shape = {"kind": "drum", "length_m": 0.6, "diameter_m": 0.5, "height_m": 0.4}
        drum = Plan.model_validate({"tank": {"shape": shape}}).tank
        half = 3.141592653589793 * (0.25 * 0.6 + 0.25**2) + 0.5 * 0.6
        self.assertAlmostEqual(losing_area(drum, 0.25), half, places=9)
