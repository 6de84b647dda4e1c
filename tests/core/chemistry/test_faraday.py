"""Gas, iron, water, air and heat from constants."""

import unittest

from tests.published import rows
from yellowbath.core.chemistry import faraday
from yellowbath.core.data import param
from yellowbath.core.document import Place
from yellowbath.core.figures import Figure, figure, typed

F = 96485.332  # C/mol, CODATA
R = 8.314462618  # J/mol/K, CODATA


def amps(value: float) -> Figure:
    inputs = [typed("i", "Amps", value, "current")]
    return figure("i", "Amps", value, "current", "i", inputs, "ohm")


class Faraday(unittest.TestCase):
    def test_tables_follow_from_the_constants(self) -> None:
        """Ideal gas at 20 C and 101325 Pa; molar masses of Fe and H2O (CIAAW)."""
        mole = R * 293.15 / 101325
        for key, value in (
            ("h2_m3_ah", 3600 / (2 * F) * mole),
            ("o2_m3_ah", 3600 / (4 * F) * mole),
            ("fe_kg_ah", 3600 / (2 * F) * 55.845e-3),
            ("water_kg_ah", 3600 / (2 * F) * 18.015e-3),
        ):
            with self.subTest(key):
                self.assertAlmostEqual(param(key).value / value, 1.0, places=4)

    def test_tables_agree_with_the_reference(self) -> None:
        for row in rows("faraday"):
            self.assertAlmostEqual(param(row["key"]).value / float(row["value"]), 1.0, places=4)

    def test_rates(self) -> None:
        i = amps(10.0)
        self.assertAlmostEqual(faraday.hydrogen_figure(i).value * 3600 * 1000, 4.4876, places=3)
        self.assertAlmostEqual(faraday.oxygen_figure(i).value * 3600 * 1000, 2.2438, places=3)
        self.assertAlmostEqual(faraday.water_figure(i).value * 3600 * 1000, 3.3609, places=3)
        self.assertAlmostEqual(faraday.iron_figure(i, "all").value * 3600 * 1000, 10.418, places=2)

    def test_alkaline_iron_loss_is_a_share_with_a_range(self) -> None:
        made = faraday.iron_figure(amps(10.0), "some")
        all_of_it = faraday.iron_figure(amps(10.0), "all").value
        assert made.low is not None and made.high is not None
        self.assertAlmostEqual(made.low / all_of_it, 0.01)
        self.assertAlmostEqual(made.high / all_of_it, 0.30)


class Air(unittest.TestCase):
    def test_the_standards_flow(self) -> None:
        """IEC 62485-2 (from memory): 10 A -> 0.5 m3/h, one cell whatever the volts."""
        self.assertAlmostEqual(faraday.air_figure(amps(10)).value * 3600, 0.5)

    def test_that_flow_holds_a_fifth_of_the_flammable_limit(self) -> None:
        """Lower flammable limit 4 % (US Bureau of Mines Bulletin 503, from memory)."""
        hydrogen = faraday.hydrogen_figure(amps(10)).value
        share = hydrogen / faraday.air_figure(amps(10)).value
        self.assertAlmostEqual(share, 0.04 / 5, delta=0.001)

    def test_a_closed_room(self) -> None:
        """Well-mixed: V x 0.01 / (0.449e-3 I) hours."""
        made = faraday.room_figure(Place(room_m3=40), amps(3))
        self.assertAlmostEqual(made.value / 3600, 40 * 0.01 / (0.44876e-3 * 3), places=2)
        self.assertIn("no safe time", made.note)


class Heat(unittest.TestCase):
    def test_gas_carries_its_part_away(self) -> None:
        """12 V x 10 A leaves 105.2 W in the bath, not 120 W."""
        volts = figure("u", "Volts", 12.0, "voltage", "u", [typed("u", "u", 12, "voltage")], "ohm")
        self.assertAlmostEqual(faraday.heat_figure(amps(10), volts).value, 105.19, places=2)

    def test_cost(self) -> None:
        energy = figure("e", "E", 3.6e6, "energy", "e", [typed("e", "e", 3.6e6, "energy")], "ohm")
        self.assertAlmostEqual(faraday.cost_figure(energy, Place(price_kwh=0.4)).value, 0.4)
