"""What holds the amps of a bath down, by its plan and by what was read."""

import unittest
from typing import Any

from tests.core.run.test_run import BASIS, Book, running
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.run import replay
from yellowbath.core.tell.limits import what_limits

SODA = {"product": "soda_anhydrous", "concentration_kg_m3": 30}


class Limits(unittest.TestCase):
    def limits(self, book: Book | None = None, **document: Any) -> str | None:
        plan = read_plan({"mix": SODA, **document}).plan
        return what_limits(plan, answer(plan), replay((book or running()).log, BASIS))

    def test_the_largest_drop_that_hands_can_change(self) -> None:
        """A supply that holds its current; its limit set lower; thin leads; one thin rod; far
        scrap of much surface."""
        held = {"kind": "laboratory", "nominal_v": 30, "rated_a": 1, "limit_a": 1}
        self.assertEqual(self.limits(supply=held), "supply")
        self.assertEqual(self.limits(supply={**held, "rated_a": 5}), "setting")
        thin = {"kind": "transformer", "nominal_v": 12, "rated_a": 40, "lead_area_m2": 0.2e-6,
                "lead_length_m": 6}  # fmt: skip
        self.assertEqual(self.limits(supply=thin), "leads")
        rod = [{"id": "a1", "kind": "rod", "diameter_m": 0.002, "x_m": -0.1}]
        wide = {"kind": "battery", "nominal_v": 12, "rated_a": 40}
        self.assertEqual(
            self.limits(supply=wide, anodes=rod, layout={"arrangement": "by_hand"}), "scrap"
        )

    def test_what_was_read_outranks_the_plan(self) -> None:
        """Four volts lost between posts and tank at two amps: the joints."""
        book = running().write(40, "reading", current_a=2.0, supply_v=12.0, tank_v=8.0)
        self.assertEqual(self.limits(book), "joints")

    def test_nothing_is_said_where_it_is_not_known_to_flow(self) -> None:
        self.assertIsNone(self.limits(running().write(40, "look", bubbles="none")))
        self.assertIsNone(self.limits(running().write(40, "reading", current_a=0.0)))
        self.assertIsNone(self.limits(running().write(40, "switch_off")))
