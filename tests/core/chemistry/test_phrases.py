"""How people say how much: sixty-six phrases of our own, read in three unit systems."""

import csv
import unittest
from contextlib import suppress
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from tests.core.checks.test_every_member import FEW
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.api.views.plan import read_out
from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.chemistry.phrases import read_said, read_vinegar
from yellowbath.core.document import VINEGAR
from yellowbath.core.errors import InputError, NotUnderstoodError, OutOfRangeError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.results.measures import (
    as_dry,
    dose_of,
    in_hands,
    needed_kg,
    one_more,
    own_measure,
    said_in,
    spoken,
    ways,
)  # fmt: skip
from yellowbath.core.units import SYSTEMS, System
from yellowbath.workflows.plans.field import answer_solved

AT = "/mix/concentration_kg_m3"
ROWS = list(csv.DictReader((Path(__file__).parent / "phrases.csv").open(encoding="utf-8")))
# level millilitres by household measures: US customary (NIST SP 811, appendix B.8), metric spoons
ML = {"metric": {"teaspoon": 5.0, "tablespoon": 15.0, "cup": 250.0}}
HEAPS = {"level": 1.0, "heaped": 1.8, "rounded": 1.35}


class Phrases(unittest.TestCase):
    def test_each_is_read_as_its_row_says(self) -> None:
        self.assertGreaterEqual(len(ROWS), 60)
        for row in ROWS:
            for system in SYSTEMS:
                with self.subTest(row["phrase"], system=system):
                    said = read_said(row["phrase"], system)
                    count = said.count * (1000 if said.measure == "mass" else 1)
                    self.assertAlmostEqual(count / float(row["count"]), 1, places=5)
                    self.assertEqual(
                        (said.measure, said.heap, str(int(said.dry))),
                        (row["measure"], row["heap"], row["dry"]),
                    )
                    into = row[f"into_l_{system}"]
                    if not into:
                        self.assertIsNone(said.per_m3)
                    else:
                        assert said.per_m3 is not None
                        self.assertAlmostEqual(said.per_m3 * 1000 / float(into), 1, places=5)

    def test_loose_measures_ranges_and_shares(self) -> None:
        """A handful is 35 to 100 mL, a mug a quarter more or less (judged); else arithmetic."""
        for text, count, measure, low, high in (
            ("a mug of washing soda in all", 1, "mug", 0.8, 1.25),
            ("two dessert spoons in all", 2, "dessertspoon", 1, 1),
            ("a couple of handfuls", 2, "handful", 0.6, 1.7),
            ("a pinch per litre", 1, "pinch", 0.5, 2.0),
            ("2 to 3 tablespoons in all", 2.5, "tablespoon", 0.8, 1.2),
            ("about 4-6 heaped tea spoons", 5, "teaspoon", 0.8, 1.2),
            ("a spoon and a half in all", 1.5, "tablespoon", 1, 1),
            ("1 in 200", 0.005, "share", 1, 1),
            ("5000 ppm", 0.005, "share", 1, 1),
            ("half a per cent", 0.005, "share", 1, 1),
            ("a dozen level teaspoons", 12, "teaspoon", 1, 1),
            ("100 to 120 g in all", 0.11, "mass", 0.909, 1.091),
        ):
            with self.subTest(text):
                said = read_said(text)
                self.assertAlmostEqual(said.count, count, places=6)
                self.assertEqual(said.measure, measure)
                for got, wanted in zip(said.reach, (low, high), strict=True):
                    self.assertAlmostEqual(got, wanted, places=3)

    def test_what_it_comes_to_in_twenty_litres(self) -> None:
        """By hand: millilitres, 1 g/mL of dry grains, what crystals hold, a scoop of 21 g."""
        dry, crystals = product("soda_anhydrous"), product("soda_decahydrate")
        for row in ROWS:
            said = read_said(row["phrase"], "metric")
            count, measure = float(row["count"]), row["measure"]
            litres = float(row["into_l_metric"] or 20)
            if measure == "share":
                expected = 1000 * count
            else:
                each = 1.0 if measure == "mass" else 21.0 if measure == "scoop" else (
                    ML["metric"][measure])  # fmt: skip
                expected = count * each * HEAPS[row["heap"]] / litres
            with self.subTest(row["phrase"]):
                found = said.concentration(dry, 0.020, "metric", 0.021)
                self.assertAlmostEqual(found / expected, 1, places=4)
                if measure == "cup":
                    weak = said.concentration(crystals, 0.020, "metric", 0.021)
                    self.assertAlmostEqual(weak / expected, 0.87 * 0.37041, places=4)

    def test_what_is_no_amount_is_refused_with_examples(self) -> None:
        for text in ("", "some", "1 part soda", "-3 g", "twelve", "a bucket", "3 g per hour",
                     "half", "cup half", "heaped 5 g", "1,500 g", "1/0 cup",
                     "5 g of sugar"):  # fmt: skip
            with self.subTest(text), self.assertRaises(NotUnderstoodError) as caught:
                read_said(text)
            self.assertIn("half a cup", caught.exception.remedy)
        with self.assertRaises(OutOfRangeError):
            read_said("4 caps").product_kg(product("soda_anhydrous"), "metric", None)

    @given(text=st.text(max_size=40))
    @FEW
    def test_whatever_is_typed_is_read_or_refused(self, text: str) -> None:
        with suppress(InputError):
            self.assertGreaterEqual(read_said(text).count, 0)


class OnAPlan(unittest.TestCase):
    def read(
        self, text: str, system: System = "metric", **mix: object
    ) -> tuple[float, dict[str, str]]:
        document = {**QUIET, "system": system, "mix": {**QUIET["mix"], **mix}, "typed": {AT: text}}
        read = read_plan(document)
        self.assertEqual(read.shown[AT], text, "kept as it was typed")
        return read.plan.mix.concentration_kg_m3, read.faults

    def test_it_goes_by_the_plans_own_water_also_when_that_changes(self) -> None:
        found = []
        for level in (0.12, 0.24):
            document = {**QUIET, "tank": {"shape": {"kind": "box"}, "level_m": level},
                        "typed": {AT: "half a cup in all"}}  # fmt: skip
            plan = read_plan(document).plan
            water = answer(plan).fill.water.value
            self.assertAlmostEqual(plan.mix.concentration_kg_m3 * water, 0.125, places=6)
            found.append(plan.mix.concentration_kg_m3)
        self.assertGreater(found[0], 1.8 * found[1])

    def test_a_plain_number_stays_grams_per_litre_in_every_shop(self) -> None:
        for system in SYSTEMS:
            self.assertEqual(self.read("7", system), (7.0, {}))

    def test_what_cannot_be_leaves_the_last_good_value_and_says_why(self) -> None:
        for text, words in (("a bucketful", "half a cup"), ("10 kg", "outside the range"),
                            ("4 caps", "weighed")):  # fmt: skip
            value, faults = self.read(text)
            self.assertEqual(value, 5.0)
            self.assertIn(words, faults[AT])
        self.assertEqual(self.read("4 caps", scoop_kg=0.02)[1], {})

    def test_every_way_of_saying_it_reads_back_to_the_same_amount(self) -> None:
        """What is told beside the field can be typed into it: within what a hand rounds it to."""
        for system in SYSTEMS:
            for product_ in ("soda_anhydrous", "soda_decahydrate", "baking_soda", "table_salt"):
                plan = read_plan(
                    {**QUIET, "system": system, "mix": {"product": product_, "spoon": system},
                     "typed": {AT: "8 g/L"}}
                ).plan  # fmt: skip
                for way in ways(plan, answer(plan)):
                    text = way.split(" of dry")[0]
                    again, faults = self.read(text, system, product=product_, spoon=system)
                    with self.subTest(way, system=system, product=product_):
                        self.assertEqual(faults, {})
                        self.assertAlmostEqual(again / 8, 1, delta=0.11)
                        self.assertEqual("soda" in way, "salt" not in product_ and "dry" in way)

    def test_what_counts_dry_says_so_where_the_box_is_not(self) -> None:
        """Molar masses 105.99 and 286.14 g/mol (CRC Handbook, from memory): crystals hold 37 %."""
        mix = {"product": "soda_decahydrate"}
        for text, told in (("5 g/L", True), ("half a per cent", True), ("3 spoons", False)):
            plan = read_plan({**QUIET, "mix": mix, "typed": {AT: text}}).plan
            found = as_dry(plan, answer(plan))
            self.assertEqual(found is not None, told, text)
            if found:
                self.assertAlmostEqual(found[0] / found[1], 105.99 / 286.14, delta=0.002)
        dry = read_plan({**QUIET, "typed": {AT: "5 g/L"}}).plan
        self.assertIsNone(as_dry(dry, answer(dry)), "what is dry is the same either way")

    def test_own_measure_and_one_more(self) -> None:
        plan = read_plan({**QUIET, "typed": {AT: "two heaped tablespoons in all"}}).plan
        made = answer(plan)
        mass = made.product_mass.value
        own = own_measure(plan, mass)
        self.assertEqual(own.name, "heaped tablespoon")
        self.assertAlmostEqual(mass / own.holds_kg, 2, places=6)
        more = one_more(plan, made, own, answer)
        assert more is not None
        third = answer(read_plan({**QUIET, "typed": {AT: "3 heaped tablespoons in all"}}).plan)
        self.assertAlmostEqual(more.amps[1], third.gives.value, places=6)
        assert more.hours is not None
        self.assertLess(more.hours[1], more.hours[0])

    def test_every_dose_that_can_be_typed_is_solved_and_told(self) -> None:
        """Of the strongest there is no more to try."""
        for dose, more in (
            ("0.2 g/L", True),
            ("30 g/L", True),
            ("58 g/L", False),
            ("60 g/L", False),
        ):
            told = read_out(answer_solved(SOLVER, {**QUIET, "typed": {AT: dose}}, "preview")).answer
            assert told is not None and told.amount is not None
            with self.subTest(dose):
                self.assertEqual(bool(told.amount.more), more)

    def test_a_kept_mix_counts_only_what_goes_in(self) -> None:
        """What is in already is no part of the spoons; what is said for a dose makes that dose."""
        kept = {**QUIET["mix"], "source": "reuse", "kept_kg": 0.05, "concentration_kg_m3": 8.0}
        plan = read_plan({**QUIET, "mix": kept}).plan
        made = answer(plan)
        for dose in (4.0, 8.0, 12.0):
            mass = needed_kg(plan, made, dose)
            self.assertAlmostEqual(mass, dose * made.fill.water.value - 0.05, places=9)
            self.assertAlmostEqual(dose_of(plan, made, mass), dose, places=9)
        own = own_measure(plan, made.product_mass.value)
        spoons = made.product_mass.value / own.holds_kg
        self.assertEqual(in_hands(plan, made, 8.0), spoken(spoons, own.name))

    def test_what_no_hand_comes_near_to_is_said_by_weight(self) -> None:
        plan = read_plan({**QUIET, "typed": {AT: "a cup in all"}}).plan
        own = own_measure(plan, answer(plan).product_mass.value)
        self.assertEqual(own.name, "level cup")
        self.assertEqual(said_in(plan, own, 0.5 * own.holds_kg), "1/2 level cup")
        self.assertEqual(said_in(plan, own, 0.02), "20 g")

    def test_spoken_counts(self) -> None:
        for count, said in ((0.02, "1/4 cup"), (0.74, "3/4 cup"), (1.6, "1 1/2 cups"),
                            (5.3, "5 1/2 cups"), (12.4, "12 cups")):  # fmt: skip
            self.assertEqual(spoken(count, "cup"), said)


class Vinegar(unittest.TestCase):
    def test_by_volume_by_acid_by_what_is_poured(self) -> None:
        """US cup 236.588 mL and gallons 3.785412 and 4.54609 L (NIST SP 811, appendix B.8); 20 L of
        liquid, vinegar of 5 %."""
        for text, system, share in (
            ("14 %", "metric", 0.14), ("14% by volume", "us", 0.14), ("0.7 % acid", "metric", 0.14),
            ("0.7 per cent acetic acid", "metric", 0.14), ("2 L in all", "metric", 0.1),
            ("2 L", "metric", 0.1), ("1 cup per gallon", "us", 0.236588 / 3.785412),
            ("half a litre of vinegar", "metric", 0.025), ("100 mL per litre", "metric", 0.1),
            ("1 gal in all", "imperial", 4.54609 / 20), ("3 cups", "metric", 0.75 / 20),
        ):  # fmt: skip
            with self.subTest(text):
                got = read_vinegar(text, 0.02, 0.05, system)  # type: ignore[arg-type]
                self.assertAlmostEqual(got, share, places=4)
        for text in ("plenty", "2 kg", "%", "1 cup per mile"):
            with self.assertRaisesRegex(NotUnderstoodError, "amount of vinegar"):
                read_vinegar(text, 0.02, 0.05)

    def test_on_a_plan_a_stronger_bottle_wants_less_of_it(self) -> None:
        bath = {**QUIET, "mix": {"product": "vinegar_salt"}, "typed": {VINEGAR: "0.7 % acid"}}
        poured = []
        for strength in (0.05, 0.10):
            read = read_plan({**bath, "mix": {**bath["mix"], "vinegar_strength": strength}})
            self.assertEqual(read.faults, {})
            worked = answer(read.plan)
            made = worked.of("mix.vinegar")
            assert made is not None
            poured.append(made.value)
            self.assertAlmostEqual(read.plan.mix.vinegar_share * strength, 0.007, places=6)
            self.assertLess(made.value, worked.fill.water.value, "in place of water")
        self.assertAlmostEqual(poured[0] / poured[1], 2.0, places=6)
        typed = {VINEGAR: "a splash"}
        self.assertIn("vinegar", read_plan({**bath, "typed": typed}).faults[VINEGAR])
