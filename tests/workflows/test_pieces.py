"""Pieces by themselves, from the solved field to the book."""

import unittest
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from tests.accounts import BATHS
from tests.shops import QUIET, ShopCase
from tests.solving import SOLVER
from yellowbath.core.document import Plan
from yellowbath.core.errors import NotFoundError, StepRefusedError
from yellowbath.core.field.solved import FieldSummary, SolvedField
from yellowbath.core.plan.results.answer import Answer, answer
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.truth import meant
from yellowbath.core.tell.bench import look_and_lift
from yellowbath.workflows.plans.field import run_summary
from yellowbath.workflows.plans.plans import answer_document
from yellowbath.workflows.runs.book import book, book_page
from yellowbath.workflows.runs.rack import rack
from yellowbath.workflows.runs.runs import RunView, start_run

THREE = BATHS["three pieces"]


def solved(pieces: Sequence[Mapping[str, Any]]) -> tuple[Basis, FieldSummary]:
    """A bath of these pieces, by its field."""
    answered = answer_document({**QUIET, **THREE, "pieces": list(pieces)}, fixes=False)
    summary = run_summary(SOLVER, answered)
    worked = answer(answered.read.plan, SolvedField(summary))
    return basis_of(answered.read.plan, 1, worked), summary


class Field(unittest.TestCase):
    """What is taken of a bath with a piece out, against that bath solved by boundary elements: an
    account that knows nothing of the rule."""

    def test_amps_lie_between_their_share_and_all_and_go_where_they_went(self) -> None:
        whole, full = solved(THREE["pieces"])
        for gone in ("p1", "p2"):
            rest, without = solved([p for p in THREE["pieces"] if p["id"] != gone])
            share = whole.share_in((gone,))
            amps = full.resistance_ohm / without.resistance_ohm  # at the same volts
            self.assertLess(share, amps)
            self.assertLess(amps, 1.0)
            self.assertLess(abs(amps / ((1 + share) / 2) - 1), 0.05, "judged; 1 and 3 % here")
            # density over what the mean is with all in, at the same amps
            area = sum(full.areas) / sum(without.areas)
            got = _by_region(rest.coverage.places, np.array(rest.coverage.poses[0]) * area)
            rule = _by_region(whole.coverage.places, whole.under((gone,)).ratios(0, 0))
            for name, value in got.items():
                with self.subTest(gone=gone, region=name):
                    self.assertLess(abs(rule[name] / value - 1), 0.25)  # judged; 22 % at most


def _by_region(places: Sequence[str], ratios: Any) -> dict[str, float]:
    """Mean of ratios by region."""
    names = np.array(places)
    return {str(n): float(ratios[names == n].mean()) for n in dict.fromkeys(places)}


class Alone(ShopCase):
    """From a bath of three to a page of the book for one of them."""

    def setUp(self) -> None:
        super().setUp()
        view = start_run(self.shop, self.plan(**THREE).revision.plan_id)
        self.run_id = view.row.id
        self.write(self.run_id, 0, "checklist", ticked=[p.id for p in view.points])
        self.write(self.run_id, 1, "switch_on")
        self.write(self.run_id, 2, "reading", current_a=3.6)
        self.now = 60.0

    def then(self, kind: str, **detail: Any) -> RunView:
        self.now += 1
        return self.write(self.run_id, self.now, kind, **detail)

    def finished(self, piece: str) -> RunView:
        """One taken out, the power back on, and finished to its page."""
        view = self.then("lift", piece=piece)
        self.then("switch_on")
        own = [r.id for p in view.plan.pieces if p.id == piece for r in p.regions]
        self.then("inspection", piece=piece, verdict="share", shares=dict.fromkeys(own, 1.0))
        self.then("clean", piece=piece)
        view = self.then("finish_start", piece=piece)
        for step in next(p.steps for p in view.pieces if p.id == piece):
            self.then("finish_step", piece=piece, step=step.id, mark="done")
        return self.then("close", piece=piece, hands_s=600, remarks="fine")

    def test_one_has_its_page_while_the_others_are_on_the_rack(self) -> None:
        view = self.finished("p1")
        self.assertEqual((view.run.state, view.run.out), ("running", ("p1",)))
        _, page = book_page(self.shop, self.run_id, "p1")
        self.assertEqual((page.piece, page.grade, page.remarks), ("piece 1", "light", "fine"))
        self.assertEqual(set(page.shares), {"p1.front", "p1.back", "p1.edges"})
        self.assertEqual(page.finish, ["scrub", "dry", "protect"])
        self.assertAlmostEqual(page.powered_s, 60 * 60.0)
        share = 1 - view.basis.share_in(("p1",))
        self.assertAlmostEqual(page.mean_current_a, 3.6 * share, delta=0.05 * share)
        assert page.planned_time_s is not None
        whole = view.answer.window
        assert whole is not None
        self.assertLess(page.planned_time_s.mid, whole.value, "a light one is sooner than the last")
        self.assertEqual([o.piece for o in book(self.shop)], ["p1"])
        self.assertEqual([o.row.id for o in rack(self.shop)], [self.run_id])
        with self.assertRaises(NotFoundError):
            book_page(self.shop, self.run_id)

    def test_the_rest_have_the_page_of_what_was_not_booked_alone(self) -> None:
        self.finished("p1")
        for kind in ("lift", "clean", "finish_start", "close"):
            view = self.then(kind)
        self.assertEqual(view.run.state, "closed")
        _, rest = book_page(self.shop, self.run_id)
        _, one = book_page(self.shop, self.run_id, "p1")
        self.assertEqual((rest.piece, rest.grade), ("piece 2 and piece 3", "heavy"))
        self.assertAlmostEqual(rest.charge_ah + one.charge_ah, view.progress.charge_ah, places=6)
        self.assertEqual(len(book(self.shop)), 2)

    def test_a_page_of_the_book_is_not_struck_out_again(self) -> None:
        view = self.finished("p1")
        close = next(e for e in view.lines if e.detail.kind == "close")
        with self.assertRaisesRegex(StepRefusedError, "in the book already"):
            self.then("void", target=close.client_id)

    def test_what_is_early_is_told_before_the_others(self) -> None:
        view = self.write(self.run_id, 50, "reading", current_a=3.6)
        sooner = next(a for a in view.actions if a.kind == "lift_piece")
        whole = next(a for a in view.actions if a.kind == "lift")
        assert sooner.at is not None and whole.at is not None
        self.assertLess(sooner.at, whole.at)
        self.assertIn("piece 1 and piece 3", sooner.title)
        view = self.then("lift", piece="p1")
        self.assertEqual(view.actions[-1].piece, "p1")
        view = self.then("switch_on")
        kinds = [(a.kind, a.piece) for a in view.actions[:2]]
        self.assertEqual(kinds, [("first_look", ""), ("inspect", "p1")], "gas within seconds")


class Simulated(unittest.TestCase):
    """The simulated bath, which knows nothing of the run's rule."""

    def test_a_piece_that_is_out_has_nothing_and_the_others_all(self) -> None:
        answered = answer_document({**QUIET, **THREE}, fixes=False)
        model = SolvedField(run_summary(SOLVER, answered))
        worked = answer(answered.read.plan, model)
        design = Design.of(answered.read.plan, worked)
        bath = SimulatedBath(design, meant(design))
        bath.switch_on()
        bath.advance(600)
        before, amps = bath.doses.copy(), bath.flow.bath_a
        bath.lift("p1")
        self.assertEqual(bath.settle().bath_a, 0.0, "hands go in with the power off")
        bath.switch_on()
        bath.advance(600)
        self.assertLess(bath.flow.bath_a, amps)
        gone = np.array([p.startswith("p1") for p in design.coverage.places])
        self.assertTrue(gone.any())
        np.testing.assert_array_equal(bath.doses[gone], before[gone])
        self.assertTrue((bath.doses[~gone] > before[~gone]).all())
        bath.lift()
        bath.back_in("p3")
        self.assertEqual(bath.out, {"p1", "p2"})


class Planned(unittest.TestCase):
    def test_a_plan_tells_the_last_pieces_hours_and_lifts_the_first_in_its_own(self) -> None:
        answered = answer_document({**QUIET, **THREE}, fixes=False)
        worked = answer(answered.read.plan, SolvedField(run_summary(SOLVER, answered)))
        found = worked.outlook
        assert found is not None and found.main.hours is not None and found.first is not None
        self.assertLess(found.first[2], found.main.hours[0], "light rust beside heavy")
        due = look_and_lift(answered.read.plan, worked)
        assert due is not None
        self.assertEqual(due[1], look_and_lift(*_light_alone())[1])  # type: ignore[index]


def _light_alone() -> tuple[Plan, Answer]:
    """The same bath with all three as the light ones are: none is sooner than another."""
    light = [{**p, "grade": "light"} for p in THREE["pieces"]]
    answered = answer_document({**QUIET, **THREE, "pieces": light}, fixes=False)
    return answered.read.plan, answer(
        answered.read.plan, SolvedField(run_summary(SOLVER, answered))
    )
