"""Supplies and leads: lines, limits and drops."""

import unittest

from tests.published import rows
from yellowbath.core.data import param
from yellowbath.core.document import (
    Battery,
    Fixed,
    Laboratory,
    Selector,
    Smart,
    SupplyBase,
    Transformer,
)
from yellowbath.core.figures import Figure, figure, typed
from yellowbath.core.power.supply import (
    bath_volts_figure,
    copper_c,
    drop_figure,
    given_figure,
    lead_figure,
    load_figure,
    source_of,
    wanted_figure,
)

V0 = param("threshold_v")


def ohms(value: float) -> Figure:
    return figure("r", "R", value, "resistance", "r", [typed("r", "r", value, "resistance")], "ohm")


class Supplies(unittest.TestCase):
    def test_a_transformer_gives_nominal_volts_at_rated_amps(self) -> None:
        """Open volts 1.25 x nominal, linear droop: the point (12 V, 6 A) lies on its line."""
        supply = Transformer(nominal_v=12, rated_a=6)
        bath = ohms((12 - V0.value) / 6)
        self.assertAlmostEqual(given_figure(supply, V0, bath, ohms(0.0)).value, 6.0)

    def test_a_selector_droops_as_a_plain_charger_and_knows_its_other_positions(self) -> None:
        plain, chosen = Transformer(nominal_v=24, rated_a=4), Selector(nominal_v=24, rated_a=4)
        one, other = (given_figure(s, V0, ohms(2.0), ohms(0.05)).value for s in (plain, chosen))
        self.assertEqual(one, other)
        self.assertEqual(chosen.other_settings_v, (6.0, 12.0))
        self.assertEqual(Selector(nominal_v=9).other_settings_v, ())

    def test_a_kind_without_a_source_is_an_error_and_not_a_transformer(self) -> None:
        class Dynamo(SupplyBase):
            kind: str = "dynamo"

        with self.assertRaises(TypeError):
            source_of(Dynamo())

    def test_a_higher_range_gives_more(self) -> None:
        amps = [
            given_figure(Transformer(rated_a=r), V0, ohms(2.0), ohms(0.05)).value
            for r in (2, 6, 10)
        ]
        self.assertEqual(amps, sorted(amps))

    def test_a_laboratory_supply_holds_volts_then_amps(self) -> None:
        supply = Laboratory(nominal_v=12, rated_a=10, limit_a=3)
        self.assertAlmostEqual(given_figure(supply, V0, ohms(5), ohms(0)).value, 2.0)
        self.assertAlmostEqual(given_figure(supply, V0, ohms(1), ohms(0)).value, 3.0)

    def test_between_large_sheets_the_supply_sets_the_amps(self) -> None:
        """Common practice, no source: at 24 V and a low bath resistance the limit rules."""
        supply = Fixed(nominal_v=24, rated_a=20)
        self.assertEqual(given_figure(supply, V0, ohms(0.3), ohms(0.05)).value, 20)

    def test_a_buffered_smart_charger_shows_the_battery_to_the_bath(self) -> None:
        smart = Smart(buffer_battery=True, rated_a=2)
        battery = Battery(rated_a=2)
        for r in (0.5, 4.0):
            self.assertEqual(
                given_figure(smart, V0, ohms(r), ohms(0)).value,
                given_figure(battery, V0, ohms(r), ohms(0)).value,
            )
        self.assertGreater(given_figure(battery, V0, ohms(0.2), ohms(0)).value, 40)

    def test_below_the_threshold_the_answer_is_zero(self) -> None:
        supply = Laboratory(nominal_v=1.5, limit_a=3)
        self.assertEqual(given_figure(supply, V0, ohms(1), ohms(0)).value, 0)
        self.assertEqual(wanted_figure(supply, V0, ohms(1), ohms(0)).value, 0)
        still = given_figure(supply, V0, ohms(1), ohms(0))
        self.assertEqual(bath_volts_figure(V0, ohms(1), still).value, 0)

    def test_the_loop_adds_up(self) -> None:
        """Conservation: threshold, bath, leads and inner resistance take the source's volts."""
        supply, leads, bath = Transformer(), ohms(0.2), ohms(3.0)
        i = given_figure(supply, V0, bath, leads)
        inner = 0.25 * supply.nominal_v / supply.rated_a
        total = bath_volts_figure(V0, bath, i).value + drop_figure(leads, i).value + i.value * inner
        self.assertAlmostEqual(total, 15.0)
        self.assertAlmostEqual(load_figure(supply, i).value, i.value / 6)


class Leads(unittest.TestCase):
    def test_drop_of_a_metre_each_way(self) -> None:
        """1 m each way of 2.5 mm2 at 10 A is 0.14 V of ideal copper (1/58 micro-ohm metre).

        The 0.16 V often quoted is for class 5 strand at its limit, 7.98 ohm/km (IEC 60228).
        """
        made = lead_figure(Transformer(lead_length_m=1.0, lead_area_m2=2.5e-6))
        copper = made.value - param("contact_ohm").value
        self.assertAlmostEqual(copper * 10, 0.138, places=3)
        self.assertLess(copper * 10, 0.16)

    def test_copper_by_its_warmth(self) -> None:
        for row in rows("wire_warm"):
            area = float(row["mm2"]) * 1e-6
            for warm in (20, 60):
                made = lead_figure(Transformer(lead_length_m=0.5, lead_area_m2=area), warm)
                copper = made.value - param("contact_ohm").value
                with self.subTest(row["awg"], warm=warm):
                    self.assertAlmostEqual(
                        copper * 1000 / float(row[f"ohm_km_{warm}"]), 1, delta=0.002
                    )

    def test_copper_warms_as_far_as_cords_are_rated_for(self) -> None:
        """HD 21 cords in air of 30 C (from memory): conductors at 60 to 70 C at their amps."""
        for mm2, amps in ((1.0, 12), (2.5, 23), (4.0, 30)):
            got = copper_c(Transformer(lead_area_m2=mm2 * 1e-6), 30.0, amps)
            with self.subTest(mm2):
                self.assertGreater(got, 50)
                self.assertLess(got, 72)
        self.assertEqual(copper_c(Transformer(), 20.0, 0.0), 20.0)
        self.assertEqual(copper_c(Transformer(lead_area_m2=2e-7), 20.0, 100.0), 150.0)

    def test_contacts_are_most_of_the_spread(self) -> None:
        made = lead_figure(Transformer())
        assert made.low is not None and made.high is not None
        self.assertAlmostEqual(made.high - made.low, 0.29)
