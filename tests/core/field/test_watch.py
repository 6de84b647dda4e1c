"""The watch on the solved field: silent on sound solves, speaking where a fault was once hidden."""

import json
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest.mock import patch

from tests.shops import QUIET, ShopCase
from tests.solving import SOLVER
from yellowbath.core.checks import find
from yellowbath.core.document import Plan
from yellowbath.core.field import watch
from yellowbath.core.field.model import FieldAnswer
from yellowbath.core.field.watch import Doubt, class_of, doubts, layout_row
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, answer, layout, tells_amps
from yellowbath.core.tell.oneline import one_line
from yellowbath.workflows.plans.doubted import doubted, doubted_file, settled
from yellowbath.workflows.plans.field import field_of

PUBLISHED = Path(__file__).parents[2] / "published" / "plan_fields.json"
PLATES: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "by_hand"},
    "anodes": [{"id": "a1", "kind": "plate", "x_m": 0.0, "y_m": -0.12}],
}


def solved(plan: Plan, ohm_factor: float = 1.0) -> tuple[float, FieldAnswer]:
    """The closed form's resistance of a plan [ohm], and a field that says so many times it."""
    quick = answer(plan)
    made = FIELD_MODEL.solve(layout(plan, quick.fill, quick.wetted_area.value), quick.conductivity)
    ohm = made.resistance.value
    value = replace(made.resistance, value=ohm * ohm_factor)
    return ohm, replace(made, resistance=value, error=0.005)


def signs(*found: Doubt) -> list[str]:
    return [d.sign for d in found]


class Quick(unittest.TestCase):
    def test_the_amps_of_a_layout_that_the_closed_form_does_not_know_are_not_told(self) -> None:
        """Scrap on the floor: 0.9 to 2.4 times the solved amps, so nothing is told before those."""
        floor = {**QUIET, "anodes": [{"id": "a1", "kind": "floor"}]}
        for document, told in ((QUIET, True), (PLATES, True), (floor, False)):
            plan = read_plan(document).plan
            quick = answer(plan)
            amps = next(s.text for s in one_line(plan, quick, ()) if s.part == "amps")
            self.assertEqual((tells_amps(plan, quick), "worked out" not in amps), (told, told))
        solved = field_of(SOLVER, floor, "preview")
        self.assertTrue(tells_amps(solved.plan, solved.answer))

    def test_the_window_of_sheets_is_wider_than_that_of_rods(self) -> None:
        spans = [answer(read_plan(d).plan).gives.span for d in (QUIET, PLATES)]
        rods, sheets = (high / low for low, high in spans)
        self.assertGreater(sheets, 1.05 * rods)


class Signs(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = read_plan(QUIET).plan

    def test_a_sound_solve_is_not_doubted(self) -> None:
        ohm, field = solved(self.plan, 0.95)
        self.assertEqual(
            doubts(self.plan, 0.1, ohm, replace(field, earlier=(ohm, 0.06)), 0.005), ()
        )

    def test_the_faults_that_were_once_hidden_are_seen(self) -> None:
        """Plates backed on walls read 5.26 A for 0.334; sheets on the floor nearly none: found
        with the flush faces, each with a small claimed error."""
        for document, factor in ((PLATES, 0.334 / 5.26), (PLATES, 40.0), (QUIET, 0.3)):
            plan = read_plan(document).plan
            ohm, field = solved(plan, factor)
            self.assertEqual(signs(*doubts(plan, 0.1, ohm, field, 0.005)), ["closed_form"])

    def test_a_finer_solve_beyond_the_claim_of_the_coarser_is_seen(self) -> None:
        ohm, field = solved(self.plan)
        for before, claim, said in ((1.02, 0.01, ["refined"]), (1.012, 0.01, []), (0.98, 0.03, [])):
            found = doubts(self.plan, 0.1, ohm, replace(field, earlier=(ohm * before, claim)), 0.0)
            self.assertEqual(signs(*found), said)

    def test_meshes_that_leave_much_open_are_seen(self) -> None:
        ohm, field = solved(self.plan)
        self.assertEqual(
            signs(*doubts(self.plan, 0.1, ohm, replace(field, error=0.025), 0.0)), ["meshes"]
        )
        self.assertEqual(signs(*doubts(self.plan, 0.1, ohm, field, 0.16)), ["hours"])

    def test_each_sign_is_said_in_words(self) -> None:
        for sign in ("closed_form", "meshes", "refined", "hours"):
            made = replace(answer(self.plan), doubts=(Doubt(sign, 3.1, 0.63, 1.98, "rods"),))
            found = next(f for f in find(self.plan, made) if f.id == "field_doubted")
            self.assertEqual((found.severity, found.case), ("caution", sign))
            self.assertNotIn("{", found.evidence + found.fix)
            self.assertIn("3.1" if sign == "closed_form" else "310", found.evidence)

    def test_what_finite_elements_found_is_never_doubted(self) -> None:
        """Their resistances against the closed form: every layout lies in its class's range."""
        cases = [c for v in json.loads(PUBLISHED.read_text("utf-8")).values() for c in v
                 if isinstance(c, dict)]  # fmt: skip
        self.assertGreaterEqual(len(cases), 47)
        for case in cases:
            plan = read_plan(case["plan"]).plan
            ohm, _ = solved(plan)
            quick = answer(plan)
            ratio = ohm * quick.conductivity.value / case["conductivity"] / case["found"]["ohms"][0]
            row = layout_row(class_of(plan, quick.fill.gap.value))
            with self.subTest(case["kind"]):  # films do not scale with the liquid: a tenth of room
                self.assertTrue(0.9 * row["low"] < ratio < 1.1 * row["high"], ratio)


class TheLog(ShopCase):
    def test_a_doubted_bath_is_refined_kept_once_and_given_away(self) -> None:
        with patch.object(watch, "layout_row", lambda key: {**layout_row(key), "low": 5.0}):
            first = settled(self.shop, QUIET, "fine")
            settled(self.shop, QUIET, "fine")
        self.assertEqual(signs(*first.doubted), ["closed_form"])
        self.assertIn("field_doubted", {f.id for f in first.answered.findings})
        plain = field_of(SOLVER, QUIET, "fine")
        self.assertGreater(first.field.facets, plain.field.facets, "solved on finer meshes")
        self.assertAlmostEqual(
            first.answer.resistance.value / plain.answer.resistance.value, 1, delta=0.005
        )
        kept = json.loads(doubted_file(self.shop))
        self.assertEqual(len(kept), 1)
        self.assertFalse(kept[0]["trusted_after_refining"])
        self.assertEqual(read_plan(kept[0]["document"]).faults, {})

    def test_a_sound_bath_leaves_no_trace(self) -> None:
        settled(self.shop, QUIET, "preview")
        self.assertEqual(settled(self.shop, QUIET, "fine").answer.doubts, ())
        self.assertEqual(doubted(self.shop), [])
