"""Conductivity and kitchen measures against published rows."""

import unittest

from tests.published import rows
from yellowbath.core.chemistry.electrolyte import (
    SPOONS,
    concentration_figure,
    conductivity,
    conductivity_figure,
    product,
    product_mass_figure,
    scoop_figure,
    spoon_figure,
)
from yellowbath.core.data import param
from yellowbath.core.document import Mix
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import Figure, figure, typed

# Atomic weights, CIAAW (abridged), typed in apart from the tables under test.
H, C, O, NA = 1.008, 12.011, 15.999, 22.990  # noqa: E741


def litres(value: float) -> Figure:
    return figure(
        "v",
        "Water",
        value / 1e3,
        "volume",
        "v",
        [typed("v", "v", value / 1e3, "volume")],
        "frustum",
    )


class Conductivity(unittest.TestCase):
    def test_against_handbook_rows(self) -> None:
        for row in rows("conductivity"):
            with self.subTest(salt=row["salt"], g=row["g_per_l"], source=row["source"]):
                got = conductivity(row["salt"], float(row["g_per_l"]), float(row["t_c"]))
                self.assertAlmostEqual(
                    got / float(row["s_per_m"]), 1.0, delta=float(row["tolerance"])
                )

    def test_near_freezing_it_conducts_about_half(self) -> None:
        """Limiting conductivities at 0 and 25 C, Robinson and Stokes (from memory): 0.52."""
        ratio = conductivity("sodium_carbonate", 20, 0) / conductivity("sodium_carbonate", 20, 25)
        self.assertAlmostEqual(ratio, 0.52, delta=0.03)

    def test_temperature_coefficient(self) -> None:
        """Kohlrausch: +2.52 %/K at 18 C for 5 % soda (from memory)."""
        low, high = (conductivity("sodium_carbonate", 52.5, t) for t in (17, 19))
        self.assertAlmostEqual((high - low) / (high + low) * 100, 2.52, delta=0.1)

    def test_rises_with_dose_and_warmth(self) -> None:
        for salt in ("sodium_carbonate", "sodium_bicarbonate", "sodium_chloride"):
            doses = [conductivity(salt, g, 20) for g in (0.5, 2, 5, 15, 40, 60)]
            warmth = [conductivity(salt, 5, t) for t in (0, 10, 20, 40, 60)]
            self.assertEqual(doses, sorted(doses))
            self.assertEqual(warmth, sorted(warmth))

    def test_outside_its_range_it_is_refused(self) -> None:
        for dose in (0.0, -1.0, 60.1):
            with self.assertRaises(OutOfRangeError):
                conductivity("sodium_carbonate", dose, 20)


class Measures(unittest.TestCase):
    def test_spoon_masses(self) -> None:
        for row in rows("spoons"):
            with self.subTest(product=row["product"], spoon=row["spoon"]):
                box = product(row["product"])
                size = SPOONS[row["set"]][row["spoon"]]
                for bulk, grams in (
                    (box.bulk, row["grams"]),
                    (box.bulk_low, row["low"]),
                    (box.bulk_high, row["high"]),
                ):
                    self.assertAlmostEqual(bulk * size * 1000 / float(grams), 1, delta=0.02)

    def test_bake_yield_and_hydrates(self) -> None:
        """2 NaHCO3 -> Na2CO3 + H2O + CO2, from atomic weights."""
        soda = 2 * NA + C + 3 * O
        baking = NA + H + C + 3 * O
        water = 2 * H + O
        self.assertAlmostEqual(param("bake_ratio").value, soda / (2 * baking), places=4)
        for key, waters in (("soda_monohydrate", 1), ("soda_decahydrate", 10)):
            share = soda / (soda + waters * water)
            self.assertAlmostEqual(product(key).share, share, places=4)
            self.assertAlmostEqual(
                param(key.removeprefix("soda_") + "_share").value, share, places=4
            )

    def test_crystals_want_two_point_seven_times_the_mass(self) -> None:
        dry = product_mass_figure(Mix(product="soda_anhydrous"), litres(20))
        wet = product_mass_figure(Mix(product="soda_decahydrate"), litres(20))
        self.assertAlmostEqual(dry.value, 0.1)
        self.assertAlmostEqual(wet.value / dry.value, 2.6997, places=3)

    def test_spoons_and_scoop_say_the_same_mass(self) -> None:
        mix = Mix(product="soda_anhydrous", scoop_kg=0.02, scoop_name="lid")
        mass = product_mass_figure(mix, litres(20))
        spoons = spoon_figure(mix, mass)
        self.assertAlmostEqual(spoons.value * 15, 100, places=6)
        assert spoons.low is not None and spoons.high is not None
        self.assertLess(spoons.low, spoons.value)
        self.assertGreater(spoons.high, spoons.value)
        scoops = scoop_figure(mix, mass)
        assert scoops is not None
        self.assertAlmostEqual(scoops.value, 5)
        self.assertIsNone(scoop_figure(Mix(), mass))

    def test_a_kept_mix_takes_only_what_is_missing(self) -> None:
        short = Mix(product="soda_anhydrous", source="reuse", kept_kg=0.06)
        self.assertAlmostEqual(product_mass_figure(short, litres(20)).value, 0.04)
        rich = Mix(product="soda_anhydrous", source="reuse", kept_kg=0.3)
        self.assertEqual(product_mass_figure(rich, litres(20)).value, 0)
        self.assertAlmostEqual(concentration_figure(rich, litres(20)).value, 15)
        fresh = Mix(product="soda_anhydrous", source="fresh", kept_kg=0.3)
        self.assertAlmostEqual(product_mass_figure(fresh, litres(20)).value, 0.1)

    def test_an_unnamed_box_is_reckoned_as_dry_soda(self) -> None:
        self.assertEqual(product("unknown").key, "soda_anhydrous")

    def test_the_window_of_conductivity_is_the_salts_own(self) -> None:
        mix = Mix(product="baking_soda")
        at = typed("T", "T", 20.0, "temperature")
        warm = figure("t", "Bath", 20.0, "temperature", "T", [at], "warming")
        gas = typed("e", "Gas", 0.0, "ratio")
        kappa = conductivity_figure(mix, concentration_figure(mix, litres(20)), warm, gas)
        assert kappa.low is not None
        self.assertAlmostEqual(kappa.low / kappa.value, 0.95)
