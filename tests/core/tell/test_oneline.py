"""The one answer says what the other surfaces say, and names the one thing in the way."""

import unittest
from typing import Any

from tests.shops import QUIET, STAINLESS
from yellowbath.core.checks import find
from yellowbath.core.hours.said import outlook_said
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.switch_on import points
from yellowbath.core.tell.bench import written
from yellowbath.core.tell.oneline import one_line
from yellowbath.sheets.card import Reach, card
from yellowbath.workflows.plans.plans import answer_document

PHRASE = {"/mix/concentration_kg_m3": "two heaped tablespoons in all"}


def parts(document: Any) -> dict[str, tuple[str, bool]]:
    plan = read_plan(document).plan
    worked = answer(plan)
    return {s.part: (s.text, s.stop) for s in one_line(plan, worked, find(plan, worked))}


class OneLine(unittest.TestCase):
    def test_it_speaks_in_the_persons_measure_and_grams(self) -> None:
        said, _ = parts({**QUIET, "typed": PHRASE})["put_in"]
        self.assertTrue(said.startswith("2 heaped tablespoons ("), said)
        self.assertIn(" g) in ", said)
        kept = {**QUIET["mix"], "source": "reuse", "kept_kg": 0.3}
        self.assertIn("nothing more", parts({**QUIET, "mix": kept})["put_in"][0])

    def test_a_sound_bath_is_safe_and_a_stop_is_named(self) -> None:
        self.assertEqual(parts(dict(QUIET))["safe"][1], False)
        text, stop = parts(dict(STAINLESS))["safe"]
        self.assertTrue(stop)
        self.assertEqual(text, "This metal must not be on the plus side")

    def test_no_current_is_said(self) -> None:
        weak = {**QUIET, "supply": {**QUIET["supply"], "kind": "laboratory", "nominal_v": 1.5}}
        found = parts(weak)
        self.assertEqual(found["amps"][0], "none")
        self.assertTrue(found["clean"][1])

    def test_the_card_and_the_hours_say_the_same(self) -> None:
        for typed in ({}, PHRASE):
            made = answer_document({**QUIET, "typed": typed})
            plan, worked = made.read.plan, made.answer
            assert worked is not None and worked.outlook is not None
            line = {s.part: s.text for s in one_line(plan, worked, made.findings)}
            printed = card(plan, worked, points(plan, made.findings), made.findings, Reach("", ""))
            self.assertIn(line["put_in"].split(" (")[0], printed)
            self.assertTrue(
                outlook_said(worked.outlook, plan.system)[0][1].startswith(line["clean"])
            )
            self.assertIn(line["clean"], printed)
            self.assertIn(line["amps"].split(" (")[0], written(worked.gives, plan) + " A")
