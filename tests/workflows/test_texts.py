"""Texts that state a figure, against what the model says."""

import unittest
from typing import Any

from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.data import table
from yellowbath.workflows.field import field_of


def amps(grams: float, **document: Any) -> float:
    mix = {**QUIET["mix"], "concentration_kg_m3": grams}
    return field_of(SOLVER, {**QUIET, **document, "mix": mix}, "preview").answer.gives.value


class Soda(unittest.TestCase):
    def test_from_15_to_30_grams_adds_a_quarter_to_a_third(self) -> None:
        """Solved, for two rods, one side, and a supply that holds its volts."""
        says = str(table("checks")["dose_high"]["reason"])
        self.assertIn("From 15 to 30 g/L the amps rise by a quarter to a third", says)
        strong = {"kind": "laboratory", "nominal_v": 12, "rated_a": 60, "limit_a": 60}
        for what in ({}, {"layout": {"arrangement": "one_side"}}, {"supply": strong}):
            more = amps(30, **what) / amps(15, **what)
            with self.subTest(what=what):
                self.assertTrue(1.2 <= more <= 1.4, more)
