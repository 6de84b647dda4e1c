"""Figures whose formula is one symbol say nothing by being evaluated: each has an outside value.

Through a whole plan, so that what feeds the figure is judged with it.
"""

import json
import math
import re
import unittest
from pathlib import Path
from typing import Any

from tests.published import rows
from tests.shops import QUIET
from yellowbath.core.figures import Figure
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer

WAYS = Path(__file__).parents[2] / "docs" / "ways"


def answered(**changes: Any) -> Answer:
    return answer(read_plan({**QUIET, **changes}).plan)


def of(made: Answer, key: str) -> Figure:
    found = next((f for f in made.figures() if f.key == key), None)
    assert found is not None, key
    return found


class OneSymbol(unittest.TestCase):
    def test_every_one_has_a_test_here(self) -> None:
        """Over every way of working; a new figure of one symbol wants a value of its own."""
        found = set()
        for path in WAYS.glob("*.json"):
            for f in answer(read_plan(json.loads(path.read_text("utf-8"))).plan).figures():
                if re.fullmatch(r"\w+", f.expression):
                    found.add(f.key)
        tested = {"mix.concentration", "density.spread", "scrap.area", "mix.ph", "mix.dissolves",
                  "bath.settles", "bath.temperature", "bath.threshold", "power.form"}  # fmt: skip
        self.assertEqual(found, tested)

    def test_ph_of_a_plans_mix(self) -> None:
        """PHREEQC 3.8.6 with phreeqc.dat, closed to the air; rows of tests/published/ph.csv."""
        tried = 0
        kinds = {"sodium_carbonate": "soda_anhydrous", "sodium_bicarbonate": "baking_soda"}
        for row in rows("ph"):
            if row["salt"] not in kinds or float(row["acid_percent"]) > 0:
                continue
            mix = {"product": kinds[row["salt"]], "concentration_kg_m3": float(row["g_per_l"]),
                   "temperature_c": float(row["t_c"]), "warming": False}  # fmt: skip
            with self.subTest(row=row):
                got = of(answered(mix=mix), "mix.ph").value
                self.assertAlmostEqual(got, float(row["ph"]), delta=0.15)
            tried += 1
        self.assertGreater(tried, 20)

    def test_what_dissolves_in_a_plans_water(self) -> None:
        """21.6 g in 100 g of water at 20 C (Seidell and Linke, from memory) is 17.8 % by mass, and
        such a solution weighs about 1.19 kg a litre (CRC, 18 % soda at 20 C, from memory)."""
        mix = {"product": "soda_anhydrous", "temperature_c": 20.0}
        got = of(answered(mix=mix), "mix.dissolves").value
        self.assertAlmostEqual(got / (0.1776 * 1190), 1.0, delta=0.03)

    def test_a_litre_holds_what_was_weighed_in(self) -> None:
        """Mass balance: what the plan says to weigh out, over the water that it says to put in."""
        for product, share in (("soda_anhydrous", 1.0), ("soda_decahydrate", 105.988 / 286.14)):
            made = answered(mix={"product": product, "concentration_kg_m3": 8.0})
            litres = made.fill.water.value
            self.assertAlmostEqual(made.product_mass.value * share / litres / 8.0, 1.0, places=3)
            self.assertEqual(of(made, "mix.concentration").value, 8.0)

    def test_the_scraps_surface_by_tape(self) -> None:
        """Two rods of 12 mm from 20 mm over the floor to the liquid, their ends included."""
        made = answered()
        level = made.fill.level.value
        one = math.pi * 0.012 * (level - 0.02) + math.pi * 0.006**2
        self.assertAlmostEqual(of(made, "scrap.area").value / (2 * one), 1.0, places=6)

    def test_where_the_bath_would_settle(self) -> None:
        """An open 20 L bucket, rows of bucket_heat.csv (derived, 4 K either way)."""
        table = sorted((float(r["watts"]), float(r["settles_c"])) for r in rows("bucket_heat"))
        supply = {**QUIET["supply"], "kind": "laboratory", "nominal_v": 12, "limit_a": 2.4,
                  "rated_a": 10}  # fmt: skip
        place = {**QUIET["place"], "where": "outdoors", "air_c": 20.0, "humidity": 0.5}
        mix = {"product": "soda_anhydrous", "concentration_kg_m3": 12.0, "temperature_c": 20.0}
        made = answered(supply=supply, place=place, mix=mix)
        watts, got = made.heat.value, of(made, "bath.settles").value
        below = [p for p in table if p[0] <= watts][-1]
        above = next(p for p in table if p[0] > watts)
        part = (watts - below[0]) / (above[0] - below[0])
        self.assertAlmostEqual(got, below[1] + part * (above[1] - below[1]), delta=4.0)

    def test_the_spread_of_an_even_bath_and_of_a_one_sided_one(self) -> None:
        """By practice an all-round bath stays within a factor of two of its mean over nine tenths
        of the surface, and a one-sided one does not (common practice, no source)."""
        even, one = (
            of(answered(layout={"arrangement": a, "count": 8}), "density.spread").value
            for a in ("ring", "one_side")
        )
        self.assertLess(math.exp(1.645 * even), 2.0)
        self.assertGreater(math.exp(2 * 1.645 * one), 2.0)

    def test_salt_on_steel_starts_at_the_irons_own_volts(self) -> None:
        """0.4 to 0.9 V: Fe2+/Fe at -0.447 V (CRC) and water, with overpotentials (estimated)."""
        got = of(answered(mix={"product": "table_salt"}), "bath.threshold")
        self.assertTrue(0.4 <= got.value <= 0.9)

    def test_a_smooth_supply_heats_by_its_mean(self) -> None:
        """RMS over mean of a constant is one, of a full-wave sine pi / (2 sqrt 2) or more."""
        smooth, pulsed = (
            of(answered(supply={"kind": kind}), "power.form").value
            for kind in ("laboratory", "transformer")
        )
        self.assertEqual(smooth, 1.0)
        self.assertGreater(pulsed, math.pi / (2 * math.sqrt(2)))

    def test_a_bath_that_does_not_warm_is_as_warm_as_its_water(self) -> None:
        mix = {"product": "soda_anhydrous", "temperature_c": 11.0, "warming": False}
        self.assertEqual(of(answered(mix=mix), "bath.temperature").value, 11.0)
