"""Relief bake, beams, batteries, air and fuses against published rows and elementary sums."""

import unittest

from tests.published import rows
from tests.shops import QUIET
from yellowbath.core.data import param
from yellowbath.core.document import Battery, Fixed, Piece, Plan, Smart, Transformer
from yellowbath.core.figures import Figure, figure, typed
from yellowbath.core.plan.results.anode_life import rust_charge_figures
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.relief import brittle, relief, tensile_of
from yellowbath.core.power.supply import (
    battery_figure,
    battery_lasts_figure,
    given_figure,
    next_fuse,
    source_of,
    trips,
)
from yellowbath.core.power.surroundings import hang_figure
from yellowbath.workflows.plans.plans import answer_document


def amps(value: float) -> Figure:
    return figure("i", "I", value, "current", "i", [typed("i", "i", value, "current")], "ohm")


def answered(**changes: object) -> Answer:
    made = answer_document({**QUIET, **changes}).answer
    assert made is not None
    return made


class Rust(unittest.TestCase):
    def test_a_crust_by_its_formula(self) -> None:
        """FeOOH 88.852 g/mol: 0.10055 and 0.90493 Ah/g (derived), 0.1 mm at 3 g/cm3."""
        made = {f.key: f for f in rust_charge_figures([Piece(crust_m=1e-4)])}
        self.assertAlmostEqual(made["rust.iron"].value, 300 * 0.90493, delta=0.05)
        self.assertAlmostEqual(made["rust.magnetite"].value, 300 * 0.10055, delta=0.01)
        self.assertEqual(list(rust_charge_figures([Piece()])), [])


class HardSteel(unittest.TestCase):
    def test_bakes_by_class(self) -> None:
        for row in rows("bake"):
            hrc = _hrc(float(row["tensile_mpa"]))
            case = "case_hardened" if row["case"] else "hardened"
            with self.subTest(**row):
                made = relief(Piece(metal="hard", hardness_hrc=hrc, treatment=case))
                assert made is not None
                self.assertEqual(
                    [made.low_c, made.high_c, made.hours],
                    [float(row[k]) for k in ("low_c", "high_c", "hours")],
                )

    def test_soft_and_cast_iron_ask_for_none(self) -> None:
        for metal in ("mild", "cast", "wrought"):
            self.assertFalse(brittle(Piece(metal=metal)))
        self.assertTrue(brittle(Piece(metal="spring")))
        self.assertTrue(brittle(Piece(metal="mild", hardness_hrc=40)))
        self.assertFalse(brittle(Piece(metal="tool", hardness_hrc=25)))

    def test_never_above_the_temper(self) -> None:
        made = relief(Piece(metal="spring", hardness_hrc=45, tempered_c=220))
        assert made is not None
        self.assertEqual(made.high_c, 170)
        self.assertIn("Tempered at 220 °C: no more is allowed", made.words("metric"))

    def test_tensile_rises_with_hardness(self) -> None:
        values = [tensile_of(h) for h in range(10, 66)]
        self.assertEqual(values, sorted(values))


def _hrc(tensile: float) -> float:
    low, high = 20.0, 60.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if tensile_of(middle) < tensile else (low, middle)
    return high


class Bars(unittest.TestCase):
    def test_a_round_steel_bar_by_hand(self) -> None:
        """F = 4 s W / L, W = pi d3/32: 20 mm, 290 mm between rims, 100 MPa -> 110 kg."""
        plan = Plan.model_validate({"tank": {"bar": "steel_bar", "bar_m": 0.02}})
        by_hand = 4 * 1e8 * (3.14159265 * 0.02**3 / 32) / 0.29 / 9.81
        self.assertAlmostEqual(hang_figure(plan).value, by_hand, places=3)

    def test_a_tube_carries_less_than_a_bar_and_more_than_half(self) -> None:
        both = [hang_figure(Plan.model_validate({"tank": {"bar": b}})).value
                for b in ("steel_bar", "steel_tube")]  # fmt: skip
        self.assertTrue(0.5 < both[1] / both[0] < 1)


class Batteries(unittest.TestCase):
    def test_the_charger_gives_up_to_its_rating_and_the_battery_the_rest(self) -> None:
        smart = Smart(battery_ah=60, buffer_battery=True, rated_a=2)
        out = battery_figure(smart, amps(3.5))
        assert out is not None
        self.assertAlmostEqual(out.value, 1.5)
        lasts = battery_lasts_figure(smart, out)
        assert lasts is not None
        self.assertAlmostEqual(lasts.value / 3600, 0.5 * 60 / 1.5)
        held = battery_figure(smart, amps(1.5))
        self.assertIsNone(battery_lasts_figure(smart, held))

    def test_alone_it_gives_all(self) -> None:
        """Common practice, no source: 2-4 A for 15 h is 30-60 Ah."""
        alone = Battery(battery_ah=120)
        lasts = battery_lasts_figure(alone, battery_figure(alone, amps(4.0)))
        assert lasts is not None
        self.assertAlmostEqual(lasts.value / 3600, 15)

    def test_a_smart_charger_alone_stays_off(self) -> None:
        off, on = (
            answered(supply={"kind": "smart"}),
            answered(supply={"kind": "smart", "manual_mode": True}),
        )
        self.assertEqual(off.gives.value, 0)
        self.assertGreater(on.gives.value, 1)
        self.assertTrue(Smart().asleep)


class Supplies(unittest.TestCase):
    def test_what_trips(self) -> None:
        for protection, wanted, off in (
            ("foldback", 20, False), ("hiccup", 5, False), ("hiccup", 7, True), ("fuse", 7, False),
            ("fuse", 9, True),
        ):  # fmt: skip
            supply = Fixed(rated_a=6, protection=protection)
            with self.subTest(protection, wanted=wanted):
                self.assertEqual(trips(supply, wanted), off)

    def test_other_baths_leave_less(self) -> None:
        """A charger's droop by the sum of both; a limit by what is left of it."""
        for kind in ("transformer", "laboratory", "fixed"):
            alone, shared = (
                answered(supply={"kind": kind, "rated_a": 6, "limit_a": 6, "other_a": other})
                for other in (0.0, 4.5)
            )
            with self.subTest(kind):
                self.assertLess(shared.gives.value, alone.gives.value)
                self.assertGreater(shared.load.value, alone.load.value)

    def test_two_like_baths_on_one_charger_add_up(self) -> None:
        """Conservation: E = (I + I) Rs + V0 + I (Rb + Rl), by hand."""
        supply = Transformer(rated_a=6)
        inner = source_of(supply).inner.value
        one = (15 - 2.0) / (3.0 + 0.1 + 2 * inner)
        ohm = [
            figure("r", "R", r, "resistance", "r", [typed("r", "r", r, "resistance")], "ohm")
            for r in (3.0, 0.1)
        ]
        got = given_figure(supply.model_copy(update={"other_a": one}), param("threshold_v"), *ohm)
        self.assertAlmostEqual(got.value, one, places=9)

    def test_fuses_come_in_sizes(self) -> None:
        self.assertEqual([next_fuse(a) for a in (0.5, 4.2, 7.5, 11)], [1, 5, 7.5, 15])


class Air(unittest.TestCase):
    def test_flow_and_opening(self) -> None:
        for row in rows("ventilation"):
            made = answered(supply={"rated_a": float(row["amps"])}, pieces=[{}])
            with self.subTest(**row):
                ratio = max(made.gives.value, float(row["amps"])) / float(row["amps"])
                self.assertAlmostEqual(made.air.value * 3600 / ratio, float(row["m3_per_h"]))
                opening = made.of("air.opening")
                assert opening is not None
                self.assertAlmostEqual(opening.value * 1e4 / ratio, float(row["opening_cm2"]))

    def test_the_rule_rederived(self) -> None:
        """0.418 L of hydrogen an ampere-hour at 0 C, thinned to 4 % and five times more: 0.0502."""
        self.assertAlmostEqual(0.41815e-3 * (100 - 4) / 4 * 5, 0.0502, places=4)
        made = answered()
        self.assertAlmostEqual(made.air.value * 3600 / 0.05, max(made.gives.value, 6.0))

    def test_chlorine_only_from_an_inert_anode_in_salt(self) -> None:
        salt = {"mix": {"product": "table_salt"}}
        inert = [{"id": "a1", "material": "graphite"}]
        self.assertIsNone(answered().of("gas.chlorine"))
        steel, coal = answered(**salt), answered(**salt, anodes=inert)
        self.assertEqual(steel.of("gas.chlorine").value, 0)  # type: ignore[union-attr]
        # 70.906 g/mol over two electrons: 1.3228 g an ampere-hour
        made = coal.of("gas.chlorine")
        assert made is not None
        self.assertAlmostEqual(made.value * 3600 / coal.gives.value, 1.3228e-3)
        self.assertEqual(coal.iron.value, 0)
        self.assertGreater(steel.iron.value * 3600 / steel.gives.value, 1.0e-3)
