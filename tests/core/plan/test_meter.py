"""A meter reading on a plan: the amps are then the meter's, and follow the plan from there."""

import math
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from tests.core.checks.test_every_member import FEW
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.checks import find
from yellowbath.core.errors import NotUnderstoodError, OutOfRangeError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer
from yellowbath.core.plan.results.meter import meter_of
from yellowbath.workflows.plans.field import answer_solved, by_meter

LAB = {"kind": "laboratory", "nominal_v": 12.0, "rated_a": 10.0, "limit_a": 3.0}


def read(document: dict[str, Any], amps: float) -> dict[str, Any]:
    """The document with the reading put on it."""
    return {**document, "meter": meter_of(read_plan(document).plan, amps, answer).model_dump()}


def worked(document: dict[str, Any]) -> Answer:
    return answer(read_plan(document).plan)


class Anchored(unittest.TestCase):
    @given(share=st.floats(0.3, 1.8))
    @FEW
    def test_the_plan_then_says_what_the_meter_says(self, share: float) -> None:
        for supply in ({}, {"kind": "laboratory", "nominal_v": 9.0, "rated_a": 60.0,
                            "limit_a": 60.0}):  # fmt: skip
            document = {**QUIET, "supply": {**QUIET["supply"], **supply}}
            amps = worked(document).gives.value * share
            made = worked(read(document, amps))
            self.assertAlmostEqual(made.gives.value / amps, 1, delta=0.004)

    def test_it_narrows_the_amps_and_the_hours(self) -> None:
        before = worked(dict(QUIET))
        after = worked(read(dict(QUIET), before.gives.value))
        for a, b in ((before.gives, after.gives), (before.window, after.window)):
            assert a and b and a.low and a.high and b.low and b.high
            self.assertLess(b.high / b.low, a.high / a.low)
            self.assertAlmostEqual(a.value / b.value, 1, delta=0.005)

    def test_the_factor_stays_when_the_plan_changes(self) -> None:
        """More soda from an anchored bath: as many times more as from one that was not."""
        stronger = {**QUIET["mix"], "concentration_kg_m3": 12.0}
        document = read(dict(QUIET), 0.7 * worked(dict(QUIET)).gives.value)
        plain, held = (
            worked({**d, "mix": stronger}).resistance.value / worked(d).resistance.value
            for d in (dict(QUIET), document)
        )
        # not to the last: fewer amps warm it less
        self.assertAlmostEqual(plain, held, delta=0.003)

    def test_a_second_reading_takes_the_place_of_the_first(self) -> None:
        first = read(dict(QUIET), 0.5 * worked(dict(QUIET)).gives.value)
        again = read(first, worked(dict(QUIET)).gives.value)
        self.assertAlmostEqual(again["meter"]["factor"], 1, delta=0.01)

    def test_a_reading_at_either_end_of_its_range_still_answers(self) -> None:
        for factor in (0.05, 20.0):
            plan = read_plan({**QUIET, "meter": {"read_a": 1.0, "factor": factor}}).plan
            made = answer(plan)
            self.assertTrue(find(plan, made))  # a bath at either end has something to be said of
            self.assertTrue(all(math.isfinite(f.value) for f in made.figures()))
            hottest = made.of("bath.hottest")
            assert hottest is not None
            self.assertLessEqual(hottest.value, 100.0)

    def test_what_says_nothing_or_cannot_be_is_refused_in_words(self) -> None:
        lab = {**QUIET, "supply": {**QUIET["supply"], **LAB}}
        for document, amps, said in (
            (lab, 3.0, "its limit"), (dict(QUIET), 400.0, "cannot come out"),
            (dict(QUIET), 0.0, "cannot come out"), (dict(QUIET), 0.01, "times the resistance"),
        ):  # fmt: skip
            with self.subTest(amps=amps), self.assertRaises(OutOfRangeError) as caught:
                read(document, amps)
            self.assertIn(said, str(caught.exception))
            self.assertTrue(caught.exception.remedy and caught.exception.allowed)

    def test_through_the_solved_field_in_any_unit(self) -> None:
        gives = answer_solved(SOLVER, QUIET, "preview").answer
        assert gives is not None
        half = by_meter(SOLVER, QUIET, f"{gives.gives.value * 500:.1f} mA")
        anchored = {**QUIET, "meter": half.model_dump()}
        found = answer_solved(SOLVER, anchored, "preview").answer
        assert found is not None and half.read_a is not None
        self.assertAlmostEqual(found.gives.value / half.read_a, 1, delta=0.004)
        self.assertEqual(found.doubts, (), "the reading is no quarrel of field and closed form")
        with self.assertRaises(NotUnderstoodError):
            by_meter(SOLVER, QUIET, "quite a lot")
