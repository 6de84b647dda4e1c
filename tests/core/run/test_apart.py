"""Pieces by themselves: what may be done to one while the others go on, and what each then has."""

import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from tests.core.run.test_run import BASIS, Book, at
from yellowbath.core.dose import effective_rate, prior_need
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.field.model import Coverage
from yellowbath.core.run.charge import doses_of, of_piece
from yellowbath.core.run.progress import Progress, progress
from yellowbath.core.run.run import Run, replay
from yellowbath.core.run.snapshot import kept, opened

_PLACES = ("p1.front", "p1.back", "p2.front", "p3.front")
THREE = replace(
    BASIS,
    # a quarter of the surface each; piece 1 gets half of the current, 2 and 3 a quarter each
    coverage=Coverage((0.25,) * 4, ((1.2, 0.8, 1.0, 1.0),), places=_PLACES),
    pieces={"p1": "hook", "p2": "hinge", "p3": "latch"},
    piece_of={name: name[:2] for name in _PLACES},
)
NEED = prior_need("moderate", "black", "mild")


class Of(Book):
    def run(self) -> Run:
        return replay(self.log, THREE)

    def far(self, minutes: float) -> Progress:
        return progress(self.run(), NEED, at(minutes))


def on(amps: float = 4.0) -> Of:
    book = Of()
    book.write(0, "checklist", ticked=[]).write(0, "switch_on").write(0, "reading", current_a=amps)
    return book


def seen(piece: str, share: float, **more: Any) -> dict[str, Any]:
    names = [n for n in _PLACES if n.startswith(piece)]
    return {"piece": piece, "verdict": "share", "shares": dict.fromkeys(names, share), **more}


class Moves(unittest.TestCase):
    def test_one_is_finished_and_booked_while_the_others_go_on(self) -> None:
        book = on()
        for minutes, kind, detail, own, bath in (
            (60, "lift", {}, "lifted", "paused"),
            (61, "switch_on", None, "lifted", "running"),
            (62, "inspection", seen("p1", 1.0), "lifted", "running"),
            (63, "clean", {}, "clean", "running"),
            (64, "finish_start", {}, "finishing", "running"),
            (65, "finish_step", {"step": "scrub", "mark": "done"}, "finishing", "running"),
            (66, "close", {}, "closed", "running"),
            (90, "lift", None, "closed", "lifted"),
            (91, "clean", None, "closed", "clean"),
        ):
            book.write(minutes, kind, **({} if detail is None else {"piece": "p1", **detail}))
            run = book.run()
            self.assertEqual((run.apart["p1"].state, run.state), (own, bath), kind)
        self.assertEqual(set(book.run().finish), set(), "the others have steps of their own")
        self.assertEqual(set(book.run().apart["p1"].finish), {"scrub.done"})

    def test_what_cannot_be_says_so_and_what_can(self) -> None:
        out = on().write(60, "lift", piece="p1").write(61, "switch_on").log
        for kind, detail, why in (
            ("lift", {"piece": "p9"}, "no such piece"),
            ("lift", {"piece": "p1"}, "out of the bath already"),
            ("clean", {"piece": "p2"}, "hinge is in the bath"),
            ("finish_start", {"piece": "p1"}, "hook: power off, piece out"),
            ("inspection", {**seen("p2", 1.0), "piece": "p1"}, "not of what was looked at"),
            ("close", {"piece": "p1"}, "You cannot write it into the book"),
        ):
            book = Of()
            book.log = [*out]
            book.write(70, kind, **detail)
            with self.subTest(kind, **detail), self.assertRaises(StepRefusedError) as caught:
                book.run()
            told = f"{caught.exception} {caught.exception.allowed}"
            self.assertIn(why, told)
            self.assertTrue(caught.exception.remedy)

    def test_the_last_one_is_lifted_as_the_bath_is_and_no_bath_is_closed_over_an_open_piece(
        self,
    ) -> None:
        book = on().write(60, "lift", piece="p1").write(61, "lift", piece="p2")
        with self.assertRaisesRegex(StepRefusedError, "last one"):
            Of.run(_with(book, 62, "lift", piece="p3"))
        for minutes, kind in ((62, "lift"), (63, "clean"), (64, "finish_start")):
            book.write(minutes, kind)
        with self.assertRaisesRegex(StepRefusedError, "hook and hinge"):
            Of.run(_with(book, 65, "close"))

    def test_only_one_goes_back_and_the_others_keep_what_was_done_to_them(self) -> None:
        book = on()
        for minutes, kind in ((60, "lift"), (61, "clean"), (62, "finish_start")):
            book.write(minutes, kind)
        book.write(63, "finish_step", step="scrub", mark="done")
        book.write(64, "finish_step", step="bake.p2", mark="begun")
        run = book.write(65, "back_in", piece="p3").run()
        self.assertEqual((run.state, run.out), ("paused", ("p1", "p2")))
        self.assertEqual(set(run.apart["p1"].finish), {"scrub.done"})
        self.assertEqual(set(run.apart["p2"].finish), {"scrub.done", "bake.begun"})
        self.assertEqual(book.write(66, "switch_on").run().state, "running")

    def test_one_stays_out_of_those_that_lie_out_together(self) -> None:
        book = on().write(60, "lift").write(61, "lift", piece="p2").write(62, "back_in")
        run = book.run()
        self.assertEqual((run.state, run.out), ("paused", ("p2",)))
        self.assertEqual(run.apart["p2"].lifted_at, at(60), "out since all were lifted")


def _with(book: Of, minutes: float, kind: str, **detail: Any) -> Of:
    more = Of()
    more.log = [*book.log]
    more.write(minutes, kind, **detail)
    return more


class Doses(unittest.TestCase):
    def test_by_hand(self) -> None:
        """Four amps for an hour with all in; then piece 1 is out and two amps go to the others."""
        book = on().write(60, "lift", piece="p1").write(60, "switch_on")
        book.write(60, "reading", current_a=2.0)
        mean = 4.0 / THREE.wetted_area_m2
        first = [float(effective_rate(mean * r)) for r in (1.2, 0.8, 1.0, 1.0)]
        # what went to pieces 2 and 3 of 4 A goes to them now: as much a square metre as before
        expected = [first[0], first[1], 2 * first[2], 2 * first[3]]
        np.testing.assert_allclose(doses_of(book.run(), at(120)), expected, rtol=1e-9)
        self.assertEqual(of_piece(book.run(), "p1", at(120)), (1.0, 2.0))
        hours, charge = of_piece(book.run(), "p2", at(120))
        self.assertAlmostEqual(hours, 2.0)
        self.assertAlmostEqual(charge, 2.0)

    def test_amps_nobody_has_read_since_lie_between_their_share_and_all(self) -> None:
        run = on().write(60, "lift", piece="p1").write(61, "switch_on").run()
        last = run.stretches[-1]
        self.assertEqual(last.source, "before")
        np.testing.assert_allclose([last.low_a, last.high_a], [2.0, 4.0])
        held = replace(THREE, limit_a=4.0)
        book = on().write(60, "lift", piece="p1").write(61, "switch_on")
        last = replay(book.log, held).stretches[-1]
        self.assertEqual(
            (last.current_a, last.low_a), (4.0, 2.0), "a supply that holds its current"
        )
        back = on().write(60, "lift", piece="p1").write(61, "switch_on")
        run = back.write(62, "back_in", piece="p1").write(63, "switch_on").run()
        self.assertAlmostEqual(run.stretches[-1].current_a, 4.0, msg="as it was with all in")

    def test_a_snapshot_keeps_what_was_out(self) -> None:
        book = on().write(60, "lift", piece="p1").write(61, "switch_on")
        run = book.write(90, "reading", current_a=2.0).run()
        again = opened(kept(run), THREE)
        self.assertEqual(again.apart, run.apart)
        np.testing.assert_allclose(doses_of(again, at(200)), doses_of(run, at(200)), rtol=1e-12)


class Seen(unittest.TestCase):
    def test_what_one_was_seen_to_be_says_nothing_of_another(self) -> None:
        book = on().write(60, "lift", piece="p1").write(61, "switch_on")
        before = {p.id: p for p in book.far(70).pieces}
        book.write(70, "inspection", **seen("p1", 1.0, sure=True))
        after = {p.id: p for p in book.far(70).pieces}
        self.assertEqual((after["p1"].share_clean, after["p1"].left_s), (1.0, (0.0, 0.0, 0.0)))
        self.assertEqual(after["p2"], before["p2"])
        self.assertEqual(book.far(70).left_s, after["p2"].left_s, "the last one's")

    def test_its_own_two_like_looks_stop_its_hours_and_no_others(self) -> None:
        book = on().write(60, "lift", piece="p1").write(61, "inspection", **seen("p1", 0.4))
        book.write(62, "back_in", piece="p1").write(63, "switch_on")
        book.write(200, "lift", piece="p1").write(201, "inspection", **seen("p1", 0.4))
        found = {p.id: p.left_s for p in book.far(202).pieces}
        self.assertIsNone(found["p1"])
        self.assertIsNotNone(found["p2"])
