"""Gas, iron, water, air and heat from constants."""

import unittest

from tests.published import rows
from yellowbath.core.chemistry import faraday
from yellowbath.core.chemistry.cell import (
    Air,
    pressure_at,
    reversible_v,
    thermoneutral_v,
    threshold_figure,
)
from yellowbath.core.data import param
from yellowbath.core.document import Place, Plan
from yellowbath.core.figures import Figure, figure, typed

F = 96485.332  # C/mol, CODATA


def amps(value: float) -> Figure:
    inputs = [typed("i", "Amps", value, "current")]
    return figure("i", "Amps", value, "current", "i", inputs, "ohm")


def some(value: float, quantity: str) -> Figure:
    return figure("x", "x", value, quantity, "x", [typed("x", "x", value, quantity)], "ohm")


class Cell(unittest.TestCase):
    def test_volts_by_warmth(self) -> None:
        for row in rows("cell"):
            t = float(row["t_c"])
            with self.subTest(t):
                self.assertAlmostEqual(reversible_v(t), float(row["gibbs_v"]), delta=0.001)
                self.assertAlmostEqual(reversible_v(t), float(row["leroy_v"]), delta=0.001)
                self.assertAlmostEqual(thermoneutral_v(t), float(row["thermoneutral_v"]), places=3)

    def test_a_warm_bath_starts_at_less_volts(self) -> None:
        plan = Plan()
        cold, warm = (threshold_figure(plan, t).value for t in (20.0, 60.0))
        self.assertAlmostEqual(cold, param("threshold_v").value)
        self.assertAlmostEqual(cold - warm, 1.2331 - 1.1996, delta=0.001)


class Faraday(unittest.TestCase):
    def test_tables_follow_from_the_constants(self) -> None:
        """Molar masses of Fe and H2O (CIAAW)."""
        for key, value in (
            ("fe_kg_ah", 3600 / (2 * F) * 55.845e-3),
            ("water_kg_ah", 3600 / (2 * F) * 18.015e-3),
        ):
            with self.subTest(key):
                self.assertAlmostEqual(param(key).value / value, 1.0, places=4)

    def test_tables_agree_with_the_reference(self) -> None:
        for row in rows("faraday"):
            self.assertAlmostEqual(param(row["key"]).value / float(row["value"]), 1.0, places=4)

    def test_gas_by_warmth_and_pressure(self) -> None:
        for row in rows("gas"):
            air, i = Air(float(row["t_c"])), amps(10.0)
            h2, o2 = faraday.hydrogen_figure(i, air), faraday.oxygen_figure(i, air)
            with self.subTest(row["t_c"]):
                self.assertAlmostEqual(h2.value * 3600 * 100, float(row["hydrogen_l_ah"]), places=4)
                self.assertAlmostEqual(o2.value * 3600 * 100, float(row["oxygen_l_ah"]), places=4)
        high = faraday.hydrogen_figure(amps(10.0), Air(20.0, pressure_at(1500))).value
        low = faraday.hydrogen_figure(amps(10.0), Air(20.0)).value
        # US Standard Atmosphere 1976: 845.6 hPa at 1500 m (from memory)
        self.assertAlmostEqual(high / low, 1013.25 / 845.6, places=3)

    def test_rates(self) -> None:
        i = amps(10.0)
        self.assertAlmostEqual(faraday.water_figure(i).value * 3600 * 1000, 3.3609, places=3)
        self.assertAlmostEqual(faraday.iron_figure(i, "all").value * 3600 * 1000, 10.418, places=2)

    def test_alkaline_iron_loss_is_a_share_with_a_range(self) -> None:
        made = faraday.iron_figure(amps(10.0), "some")
        all_of_it = faraday.iron_figure(amps(10.0), "all").value
        assert made.low is not None and made.high is not None
        self.assertAlmostEqual(made.low / all_of_it, 0.01)
        self.assertAlmostEqual(made.high / all_of_it, 0.30)


class Fresh(unittest.TestCase):
    def test_the_standards_flow(self) -> None:
        """IEC 62485-2 (from memory): 10 A -> 0.5 m3/h, one cell whatever the volts."""
        self.assertAlmostEqual(faraday.air_figure(amps(10)).value * 3600, 0.5)

    def test_a_battery_that_is_charged_gasses_in_each_cell(self) -> None:
        """Six cells at 4 A beside a bath of 10 A: 0.05 (10 + 24) m3/h, by the same rule."""
        self.assertAlmostEqual(faraday.air_figure(amps(10), 6, 4.0).value * 3600, 1.7)

    def test_that_flow_holds_a_fifth_of_the_flammable_limit(self) -> None:
        """Lower flammable limit 4 % (US Bureau of Mines Bulletin 503, from memory)."""
        hydrogen = faraday.hydrogen_figure(amps(10), Air(0.0)).value
        share = hydrogen / faraday.air_figure(amps(10)).value
        self.assertAlmostEqual(share, 0.0084, delta=0.0001)  # 0.0418 L/Ah measured at 0 C

    def test_a_closed_room(self) -> None:
        """Well-mixed: V x 0.01 / (0.449e-3 I) hours."""
        made = faraday.room_figure(Place(room_m3=40), amps(3), Air())
        self.assertAlmostEqual(made.value / 3600, 40 * 0.01 / (0.44876e-3 * 3), places=2)
        self.assertIn("no safe time", made.note)


class Heat(unittest.TestCase):
    def test_gas_carries_its_part_away(self) -> None:
        """12 V x 10 A leaves 105.2 W in the bath, not 120 W."""
        volts, one = some(2.0, "voltage"), some(1.0, "number")
        left = faraday.carried_off(False, 25.0)
        made = faraday.heat_figure(amps(10), volts, some(1.0, "resistance"), one, left)
        self.assertAlmostEqual(made.value, 105.19, places=2)

    def test_where_the_scrap_dissolves_all_stays(self) -> None:
        made = faraday.heat_figure(
            amps(10), some(0.6, "voltage"), some(1.14, "resistance"), some(1.0, "number"),
            faraday.carried_off(True, 25.0),
        )  # fmt: skip
        self.assertAlmostEqual(made.value, 10 * 12.0)

    def test_cost(self) -> None:
        energy = figure("e", "E", 3.6e6, "energy", "e", [typed("e", "e", 3.6e6, "energy")], "ohm")
        self.assertAlmostEqual(faraday.cost_figure(energy, Place(price_kwh=0.4)).value, 0.4)
