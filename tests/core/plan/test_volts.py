"""Where the volts go: round the loop they add up, whatever feeds it."""

import math
import random
import unittest

from tests.core.test_properties import any_document
from tests.shops import QUIET
from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer
from yellowbath.core.plan.results.volts import where_volts_go
from yellowbath.core.power.supply import source_of


def made(**changes: object) -> tuple[Plan, Answer]:
    plan = read_plan({**QUIET, **changes}).plan
    return plan, answer(plan)


class Volts(unittest.TestCase):
    def test_they_add_up_to_the_supplys_open_volts(self) -> None:
        """Kirchhoff's law, for 150 random baths of every supply; none is negative."""
        rng, seen = random.Random(8), set()
        for _ in range(150):
            plan = read_plan(any_document(rng)).plan
            try:
                worked = answer(plan)
            except NoAnswerError:
                continue
            drops = where_volts_go(plan, worked)
            if worked.gives.value <= 0:
                self.assertEqual(drops, ())
                continue
            seen.add(plan.supply.kind)
            total = sum(d.volts for d in drops)
            self.assertAlmostEqual(total, source_of(plan.supply).volts.value, delta=1e-5)
            self.assertGreater(min(d.volts for d in drops), 0)
        self.assertGreaterEqual(len(seen), 5)

    def test_the_tank_has_what_threshold_scrap_and_piece_take(self) -> None:
        plan, worked = made()
        part = {d.part: d.volts for d in where_volts_go(plan, worked)}
        bath = part["threshold"] + part["scrap"] + part["piece"]
        self.assertAlmostEqual(bath, worked.bath_volts.value, places=9)
        self.assertAlmostEqual(part["leads"] + part["contacts"], worked.drop.value, places=9)

    def test_a_limit_that_holds_back_is_named(self) -> None:
        supply = {**QUIET["supply"], "kind": "laboratory", "limit_a": 0.5, "rated_a": 5}
        plan, worked = made(supply=supply)
        parts = [d.part for d in where_volts_go(plan, worked)]
        self.assertIn("limit", parts)
        self.assertNotIn("supply", parts)

    def test_more_scrap_takes_less_of_them_and_the_piece_more(self) -> None:
        """One, two and four rods: the scrap's own share of the liquid falls."""
        share = {}
        for arrangement in ("one_side", "opposite", "corners"):
            layout = {**QUIET["layout"], "arrangement": arrangement}
            plan, worked = made(layout=layout)
            part = {d.part: d.volts for d in where_volts_go(plan, worked)}
            share[arrangement] = part["scrap"] / (part["scrap"] + part["piece"])
        self.assertLess(share["opposite"], share["one_side"])
        self.assertLess(share["corners"], share["opposite"])

    def test_thin_leads_are_seen(self) -> None:
        """4 m of 0.5 mm2 each way at 20 C: 2 x 4 x 0.0172/0.5 = 0.275 ohm, before they warm."""
        supply = {**QUIET["supply"], "lead_length_m": 4.0, "lead_area_m2": 0.5e-6}
        plan, worked = made(supply=supply)
        part = {d.part: d.volts for d in where_volts_go(plan, worked)}
        copper = part["leads"] / worked.gives.value
        self.assertTrue(0.27 < copper < 0.34, copper)
        self.assertTrue(math.isfinite(copper))
