"""A plain charger's pulses against numerical waveforms and a circuit stepped in time."""

import math
import unittest

import numpy as np
from scipy.integrate import quad, solve_ivp
from scipy.optimize import brentq

from yellowbath.core.chemistry import faraday
from yellowbath.core.document import Laboratory, Transformer
from yellowbath.core.figures import Figure, evaluate, figure, typed
from yellowbath.core.power.waveform import form_factor, form_figure, start_angle


def some(value: float, quantity: str) -> Figure:
    return figure("x", "x", value, quantity, "x", [typed("x", "x", value, quantity)], "ohm")


def wave(x: float, peak: float, one_way: bool) -> float:
    """Volts of a rectifier at an angle [rad] of the mains."""
    v = peak * math.sin(x)
    return max(v, 0.0) if one_way else abs(v)


class Waveforms(unittest.TestCase):
    def test_rms_over_mean_by_quadrature(self) -> None:
        for back, peak in ((0.0, 17.0), (2.0, 12.0), (2.0, 17.0), (2.0, 8.5), (0.6, 17.0)):
            a = start_angle(back, peak)
            for one_way in (False, True):
                ends = [a, math.pi - a, math.pi, math.pi + a, 2 * math.pi - a]

                def over(
                    x: float,
                    power: int,
                    peak: float = peak,
                    back: float = back,
                    one_way: bool = one_way,
                ) -> float:
                    return float(max(wave(x, peak, one_way) - back, 0.0) ** power)  # fmt: skip

                mean, square = (
                    quad(over, 0, 2 * math.pi, args=(k,), points=ends, limit=200)[0] / (2 * math.pi)
                    for k in (1, 2)
                )
                with self.subTest(back=back, peak=peak, one_way=one_way):
                    self.assertAlmostEqual(
                        form_factor(a, one_way), math.sqrt(square) / mean, places=6
                    )

    def test_usual_chargers_at_twelve_volts(self) -> None:
        """About 1.15 to 1.19 both ways and 1.65 one way, 12 V into 2 V (worked out elsewhere)."""
        two = form_figure(Transformer(), some(2.0, "voltage"))
        one = form_figure(Transformer(rectifier="one_way"), some(2.0, "voltage"))
        self.assertAlmostEqual(two.value, 1.16, delta=0.02)
        self.assertAlmostEqual(one.value, 1.64, delta=0.03)
        for made in (two, one):
            given = {i.symbol: i.value for i in made.inputs}
            self.assertAlmostEqual(evaluate(made.expression, given), made.value)
        self.assertEqual(form_figure(Laboratory(), some(2.0, "voltage")).value, 1.0)

    def test_heat_of_a_circuit_stepped_in_time(self) -> None:
        """The mean is made the droop line's 5 A by the loop's resistance; what the bath's 1.2 ohm
        and its back voltage then take over a period is the figure's heat."""
        back, peak, amps, bath, hz = 2.0, 17.0, 5.0, 1.2, 50.0
        for one_way in (False, True):
            t = np.linspace(0, 1 / hz, 20_001)
            volts = np.array([wave(2 * math.pi * hz * x, peak, one_way) for x in t])

            i = np.maximum(volts - back, 0.0)
            moved = float(np.trapezoid(i, t)) * hz  # at one ohm round the loop
            i = i / brentq(lambda loop, moved=moved: moved / loop - amps, 1e-3, 100)
            power = float(np.trapezoid(i * back + i**2 * bath, t)) * hz
            angle = form_factor(start_angle(back, peak), one_way)
            made = faraday.heat_figure(
                some(amps, "current"), some(back, "voltage"), some(bath, "resistance"),
                some(angle, "number"), faraday.carried_off(True, 20.0),
            )  # fmt: skip
            with self.subTest(one_way=one_way):
                self.assertAlmostEqual(made.value / power, 1, places=4)

    def test_a_windings_own_inductance_only_smooths(self) -> None:
        """L di/dt = |u| - U0 - R i by an ODE solver: little L changes little, more lowers F."""
        back, peak, loop, hz = 2.0, 17.0, 2.0, 50.0

        def factor(henry: float) -> float:
            def slope(t: float, i: np.ndarray) -> np.ndarray:
                drive = wave(2 * math.pi * hz * t, peak, False) - back - loop * i[0]
                return np.array([0.0 if i[0] <= 0 and drive < 0 else drive / henry])

            end = 6 / hz
            t = np.linspace(end - 1 / hz, end, 2001)
            got = solve_ivp(slope, (0, end), [0.0], t_eval=t, max_step=2e-5, method="RK23").y[0]
            i = np.maximum(got, 0.0)
            return float(np.sqrt((i**2).mean()) / i.mean())

        plain = form_factor(start_angle(back, peak))
        little, more = factor(2e-4), factor(5e-3)
        self.assertAlmostEqual(little / plain, 1, delta=0.02)
        self.assertLess(more, little)
        self.assertGreater(more, 1.0)
