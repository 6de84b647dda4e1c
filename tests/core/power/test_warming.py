"""The bath's own warmth against a general ODE solver and a steady table; gas; water lost."""

import unittest
from dataclasses import replace
from typing import Any

from scipy.integrate import solve_ivp

from tests.published import rows
from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.geometry.tank import losing_areas, volume_at
from yellowbath.core.power.heat import Bath, Surroundings, evaporation, mean_of
from yellowbath.core.power.warming import Warm, bubbles_input, temperature_figure
from yellowbath.workflows.plans.plans import answer_document

LEVEL = 0.25


def plan(place: dict[str, Any] | None = None, **mix: Any) -> Plan:
    return Plan.model_validate({"mix": {"temperature_c": 14.0, **mix}, "place": place or {}})


class Warming(unittest.TestCase):
    def test_course_and_mean_are_those_of_the_differential_equation(self) -> None:
        """C dT/dt = P - UA (T - Ta) - L E(T), by SciPy's LSODA; the loss written out again."""
        for place in ({"where": "closed_room", "air_c": 5.0}, {"where": "outdoors"}):
            bath = plan(place)
            made = Bath.of(bath, LEVEL)
            walls, surface = losing_areas(bath.tank, LEVEL)
            held = 4.19e6 * volume_at(bath.tank, LEVEL)
            dry = param("wall_w_m2k").value * walls + param("surface_w_m2k").value * surface

            def rate(
                _: float, y: Any, heat: float, made: Bath = made, dry: float = dry,
                surface: float = surface, held: float = held,
            ) -> list[float]:  # fmt: skip
                wet = evaporation(y[0], made.around) * (2.501e6 - 2370 * y[0]) * surface
                return [(heat - dry * (y[0] - made.around.air_c) - wet) / held, y[0]]

            for heat, hours in ((20.0, 2.0), (60.0, 8.0), (200.0, 40.0)):
                end = hours * 3600
                solved = solve_ivp(
                    rate, (0.0, end), [14.0, 0.0], args=(heat,), rtol=1e-9, atol=1e-9,
                    method="LSODA",
                )  # fmt: skip
                with self.subTest(place, heat=heat):
                    course = made.course(heat, end)
                    self.assertAlmostEqual(course[-1], solved.y[0, -1], delta=0.01)
                    self.assertAlmostEqual(mean_of(course), solved.y[1, -1] / end, delta=0.03)
                    shown = temperature_figure(bath, LEVEL, Warm(heat, hours, 3.0)).value
                    self.assertAlmostEqual(shown, mean_of(course), places=9)

    def test_however_fierce_it_rises_to_where_it_settles_and_no_higher(self) -> None:
        """A litre under a kilowatt boils; steps too long for its losses would overshoot."""
        bath = replace(Bath.of(Plan(), 0.25), volume=1e-3)
        for heat in (1.0, 30.0, 300.0, 1e3, 1e5):
            course = bath.course(heat, 5 * 86_400)
            with self.subTest(heat=heat):
                self.assertIn(course, (sorted(course), sorted(course, reverse=True)))
                self.assertAlmostEqual(course[-1], bath.steady(heat), delta=0.2)

    def test_an_open_bucket_settles_where_the_table_says(self) -> None:
        """Derived elsewhere with the same laws and rounder numbers; its own error is 4 degrees."""
        around = Surroundings(20.0, 0.5, 0.1)
        bucket = Bath(0.020, 0.30, 0.066, 20.0, around, 7.0 * 0.30 + 8.5 * 0.066)
        for row in rows("bucket_heat"):
            with self.subTest(**row):
                got = bucket.steady(float(row["watts"]))
                self.assertAlmostEqual(got, float(row["settles_c"]), delta=0.6)
                end = bucket.course(float(row["watts"]), 400 * 3600)[-1]
                self.assertAlmostEqual(end, got, delta=0.01)

    def test_twenty_litres_without_losses_warm_by_4_6_degrees_an_hour(self) -> None:
        """105.2 W into 20 L, 4.56 K/h at cp 4.08 and 1019 kg/m3 (derived); water alone 4.52."""
        dry = Bath(0.020, 0.0, 0.0, 20.0, Surroundings(20.0, 1.0, 0.0), 0.0)
        self.assertAlmostEqual(dry.course(105.2, 3600)[-1] - 20, 4.54, delta=0.04)

    def test_left_out_or_without_heat_it_is_the_waters_own(self) -> None:
        for bath, warm in ((plan(warming=False), Warm(50.0, 5.0, 3.0)), (plan(), Warm(0, 5, 0))):
            self.assertEqual(temperature_figure(bath, LEVEL, warm).value, 14.0)

    def test_gas_in_the_liquid_goes_with_the_amps_and_is_little(self) -> None:
        """0.627 L of both gases an ampere-hour at 20 C (Faraday), gone at 30 mm/s (judged)."""
        shares = [
            bubbles_input(plan(), LEVEL, Warm(0.0, 0.0, amps), 20.0).value for amps in (2.0, 4.0)
        ]
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


class Water(unittest.TestCase):
    def test_evaporation_against_the_correlations_table(self) -> None:
        for row in rows("evaporation"):
            around = Surroundings(
                float(row["air_c"]), float(row["humidity"]), float(row["speed_m_s"])
            )
            with self.subTest(**row):
                got = evaporation(float(row["water_c"]), around) * 3600
                self.assertAlmostEqual(got / float(row["kg_m2_h"]), 1, delta=0.02)

    def test_moist_air_takes_nothing_and_wind_takes_more(self) -> None:
        calm = Surroundings(20.0, 0.5, 0.1)
        self.assertEqual(evaporation(15.0, replace(calm, humidity=1.0)), 0.0)
        self.assertGreater(evaporation(25.0, replace(calm, speed=1.0)), evaporation(25.0, calm))

    def test_a_day_of_water_is_split_and_evaporated(self) -> None:
        answer = answer_document({"mix": {"product": "soda_anhydrous"}}).answer
        assert answer is not None
        day, gone = answer.of("water.day"), answer.of("water.evaporates")
        assert day and gone
        # 0.336 g an ampere-hour (Faraday, 18.015 g/mol over two electrons)
        split = answer.gives.value * 24 * 0.33609e-3
        self.assertAlmostEqual(day.value * 1000, split + gone.value * 86400, places=4)


class LosingAreas(unittest.TestCase):
    def test_walls_with_floor_and_surface(self) -> None:
        """Elementary: a box of 400 by 300, and a drum of 500 by 600 mm on its side, half full."""
        box = Plan.model_validate({"tank": {"shape": {"kind": "box"}}}).tank
        walls, surface = losing_areas(box, 0.2)
        self.assertAlmostEqual(walls, 2 * (0.4 + 0.3) * 0.2 + 0.12)
        self.assertAlmostEqual(surface, 0.12)
        shape = {"kind": "drum", "length_m": 0.6, "diameter_m": 0.5, "height_m": 0.4}
        drum = Plan.model_validate({"tank": {"shape": shape}}).tank
        walls, surface = losing_areas(drum, 0.25)
        self.assertAlmostEqual(walls, 3.141592653589793 * (0.25 * 0.6 + 0.25**2), places=9)
        self.assertAlmostEqual(surface, 0.5 * 0.6)
