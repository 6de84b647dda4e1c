"""Saving plans: immutable revisions, nobody overwrites anybody silently."""

from typing import Any
from unittest.mock import patch

from numpy.linalg import LinAlgError
from sqlalchemy import text

from tests.shops import QUIET, ShopCase
from yellowbath.core.document import SCHEMA_VERSION
from yellowbath.core.errors import InvalidDocumentError, NotFoundError, StaleRevisionError
from yellowbath.store.engine import reading
from yellowbath.store.plans import revision
from yellowbath.workflows.plans.plans import (
    answer_document,
    get_plan,
    list_plans,
    save_plan,
    summary_of,
)
from yellowbath.workflows.plans.unread import unread


def dose(value: float) -> dict[str, object]:
    return {**QUIET, "mix": {"product": "soda_anhydrous", "concentration_kg_m3": value}}


class NumbersThatLeadNowhere(ShopCase):
    """A plan can always be opened, whatever its numbers do."""

    def test_a_piece_lifted_out_of_the_liquid_takes_no_current(self) -> None:
        """Whichever of several alike it is; against the bath with the others alone."""
        names = ("Ring", "Strap", "Pawl")
        alone = answer_document({**QUIET, "pieces": [{"name": "Pawl"}]}).answer
        assert alone is not None
        for wet in range(3):
            pieces = [{"name": n, "y_m": 0.001, **({} if k == wet else {"bottom_m": 0.5})}
                      for k, n in enumerate(names)]  # fmt: skip
            found = answer_document({**QUIET, "pieces": pieces})
            assert found.answer is not None, found.trouble
            self.assertAlmostEqual(found.answer.resistance.value, alone.resistance.value, places=9)
        dry = [{"name": n, "bottom_m": 0.5} for n in names]
        self.assertIn("out of the liquid", answer_document({**QUIET, "pieces": dry}).trouble)

    def test_what_arithmetic_raises_is_told_with_a_remedy_and_logged(self) -> None:
        class Broken:
            name, warm = "broken", None

            def __init__(self, error: Exception) -> None:
                self.error = error

            def solve(self, *_: object) -> Any:
                raise self.error

        for error in (ValueError("math domain error"), ZeroDivisionError(), OverflowError(),
                      LinAlgError("Singular matrix")):  # fmt: skip
            with self.subTest(error), self.assertLogs("yellowbath.workflows.shop.faults"):
                found = answer_document(dict(QUIET), Broken(error))
                self.assertIsNone(found.answer)
                self.assertEqual(found.read.plan.title, "Gate latch")
                self.assertIn("undo the last change", found.trouble)


class Saving(ShopCase):
    def test_a_save_makes_a_revision_and_keeps_the_old_one(self) -> None:
        first = self.plan().revision
        second = save_plan(self.shop, first.plan_id, 1, dose(8)).revision
        self.assertEqual((second.number, second.base), (2, 1))
        old = get_plan(self.shop, first.plan_id, 1).answered.read.plan
        self.assertEqual(old.mix.concentration_kg_m3, 5)
        self.assertEqual(
            get_plan(self.shop, first.plan_id).answered.read.plan.mix.concentration_kg_m3, 8
        )

    def test_a_stale_save_is_refused_and_brings_the_other_version(self) -> None:
        plan = self.plan().revision
        save_plan(self.shop, plan.plan_id, 1, dose(8))
        with self.assertRaises(StaleRevisionError) as caught:
            save_plan(self.shop, plan.plan_id, 1, dose(12))
        error = caught.exception
        self.assertEqual((error.base, error.head), (1, 2))
        self.assertEqual(error.theirs["mix"]["concentration_kg_m3"], 8)  # type: ignore[index]
        mine = save_plan(self.shop, plan.plan_id, error.head, dose(12)).revision
        self.assertEqual(mine.number, 3)

    def test_saving_the_same_again_makes_no_revision(self) -> None:
        plan = self.plan().revision
        save_plan(self.shop, plan.plan_id, 1, dose(8))
        for base in (1, 2):
            self.assertEqual(save_plan(self.shop, plan.plan_id, base, dose(8)).revision.number, 2)

    def test_faults_are_not_saved(self) -> None:
        typed = {"/mix/concentration_kg_m3": "a lot"}
        with self.assertRaises(InvalidDocumentError) as caught:
            self.plan(typed=typed)
        self.assertEqual(caught.exception.faults[0][0], "/mix/concentration_kg_m3")

    def test_a_plan_with_a_stop_may_be_saved(self) -> None:
        kept = self.plan(place={"lid": True})
        self.assertEqual(kept.answered.findings[0].id, "lid")

    def test_what_was_typed_is_kept_with_it(self) -> None:
        pointer = "/pieces/0/shape/length_m"
        kept = self.plan(typed={pointer: "3/8 in"})
        again = get_plan(self.shop, kept.revision.plan_id)
        self.assertEqual(again.answered.read.shown[pointer], "3/8 in")

    def test_the_document_says_its_version_and_answers_the_same_when_read_again(self) -> None:
        kept = self.plan()
        with reading(self.shop.engine) as c:
            stored = revision(c, kept.revision.plan_id)
        self.assertEqual(stored.document["schema_version"], SCHEMA_VERSION)
        again = answer_document(stored.document).answer
        assert again and kept.answered.answer
        self.assertEqual(again.gives, kept.answered.answer.gives)

    def test_unknown_plans_and_revisions(self) -> None:
        plan = self.plan().revision
        for plan_id, number in (("nope", None), (plan.plan_id, 9)):
            with self.assertRaises(NotFoundError):
                get_plan(self.shop, plan_id, number)

    def test_the_list_holds_the_newest_revision_of_each(self) -> None:
        a = self.plan().revision
        self.clock.to(5)
        b = self.plan().revision
        self.clock.to(9)
        save_plan(self.shop, a.plan_id, 1, dose(8))
        listed = [(p.plan_id, p.number) for p in list_plans(self.shop)]
        self.assertEqual(listed, [(a.plan_id, 2), (b.plan_id, 1)])


class Trouble(ShopCase):
    def test_a_plan_without_a_current_path_says_so(self) -> None:
        answered = answer_document({"anodes": [{"id": "a1", "floor_gap_m": 0.9}]})
        self.assertIsNone(answered.answer)
        self.assertIn("stands out of the liquid", answered.trouble)


class Summaries(ShopCase):
    def test_a_list_tells_what_the_plan_comes_to(self) -> None:
        self.plan()
        self.plan(place={"lid": True})
        for listed in list_plans(self.shop):
            kept = get_plan(self.shop, listed.plan_id)
            self.assertEqual(listed.summary, summary_of(kept.answered))
        self.assertTrue(any(p.summary.stop for p in list_plans(self.shop)))

    def test_what_another_version_kept_is_worked_out_anew_and_kept(self) -> None:
        plan_id = self.plan().revision.plan_id
        with self.shop.engine.begin() as c:
            c.execute(text("UPDATE plan_summaries SET mark = 'older', summary = '{}'"))
        (listed,) = list_plans(self.shop)
        self.assertEqual(listed.summary, summary_of(get_plan(self.shop, plan_id).answered))
        with patch("yellowbath.workflows.plans.plans.answer_document", side_effect=AssertionError):
            self.assertEqual([*list_plans(self.shop)], [listed])
            self.assertEqual(unread(self.shop), [])
