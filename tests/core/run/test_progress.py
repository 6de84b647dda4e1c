"""Dose over stretches, the window that narrows, and the next hand action."""

import math
import unittest
from dataclasses import replace
from datetime import timedelta
from itertools import pairwise

from tests.core.run.test_run import BASIS, START, Book, at, running
from yellowbath.core import dose
from yellowbath.core.checks import find
from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.plan.reading.arrange import tidied
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.plan.results.relief import relief
from yellowbath.core.run.charge import charge_ah, doses_at
from yellowbath.core.run.progress import Progress, progress
from yellowbath.core.run.run import replay
from yellowbath.core.tell.advice import advise
from yellowbath.core.tell.finish import Step, finish_steps, next_step
from yellowbath.core.tell.schedule import Action, Ways, actions

NEED = dose.prior_need("moderate", "black")


def now(book: Book, minutes: float) -> Progress:
    return progress(book.run(), NEED, at(minutes))


def todo(book: Book, minutes: float, one_sided: bool = False) -> list[Action]:
    ways = Ways(one_sided=one_sided)
    return actions(book.run(), now(book, minutes), ways, steps_of(Piece()), at(minutes))


def steps_of(*pieces: Piece) -> list[Step]:
    return finish_steps(Plan(pieces=list(pieces)))


class Doses(unittest.TestCase):
    def test_charge_is_amps_times_hours(self) -> None:
        run = running().write(61, "reading", current_a=3.0).write(121, "switch_off").run()
        self.assertAlmostEqual(charge_ah(run.stretches, at(500)), 6.0)
        self.assertAlmostEqual(now(running(), 61).charge_ah, 3.0)

    def test_raw_dose_is_charge_over_area_and_effective_is_less(self) -> None:
        p = now(running(), 121)
        self.assertAlmostEqual(p.raw_ah_m2, 6.0 / 0.06)
        self.assertLess(p.effective_ah_m2, p.raw_ah_m2)

    def test_stretches_add_up_whatever_their_cuts(self) -> None:
        """Additivity: the same current cut into pieces gives the same dose."""
        whole = running().write(1, "reading", current_a=3.0).write(301, "lift")
        cut = running().write(1, "reading", current_a=3.0)
        for minutes in (60, 111, 200):
            cut.write(minutes, "reading", current_a=3.0)
        cut.write(301, "lift")
        for a, b in zip(doses_at(whole.run().stretches, at(400)),
                        doses_at(cut.run().stretches, at(400)), strict=True):  # fmt: skip
            self.assertAlmostEqual(a, b)

    def test_a_turn_evens_the_dose(self) -> None:
        plain = running().write(1, "reading", current_a=3.0).write(201, "lift")
        turned = (
            running().write(1, "reading", current_a=3.0).write(101, "change", what="turned")
            .write(201, "lift")
        )  # fmt: skip
        spans = [
            max(d) - min(d) for d in (doses_at(b.run().stretches, at(300)) for b in (plain, turned))
        ]
        self.assertLess(spans[1], spans[0] / 2)

    def test_dose_never_falls(self) -> None:
        book = running().write(100, "lift").write(130, "back_in").write(131, "switch_on")
        had = [now(book, m).effective_ah_m2 for m in range(0, 300, 10)]
        self.assertTrue(all(a <= b + 1e-12 for a, b in pairwise(had)))


class Windows(unittest.TestCase):
    def test_a_reading_narrows_the_window(self) -> None:
        blind, read = now(running(), 41), now(running().write(40, "reading", current_a=3.0), 41)
        assert blind.left_s and read.left_s
        self.assertLess(read.left_s[2] - read.left_s[0], blind.left_s[2] - blind.left_s[0])

    def test_the_window_moves_on_with_the_clock(self) -> None:
        book = running().write(1, "reading", current_a=3.0)
        early, late = now(book, 60).left_s, now(book, 120).left_s
        assert early and late
        for a, b in zip(early, late, strict=True):
            # a little more goes by than the clock: the crust of that hour no longer lies ahead
            self.assertAlmostEqual(a - b, 3600, delta=450)

    def test_low_amps_take_longer(self) -> None:
        weak, strong = (
            now(running().write(1, "reading", current_a=a), 60).left_s for a in (0.5, 4.0)
        )
        assert weak and strong
        self.assertGreater(weak[1], 2 * strong[1])

    def test_no_current_leaves_no_window(self) -> None:
        self.assertIsNone(now(running().write(30, "reading", tank_v=0.0), 40).left_s)
        self.assertIsNone(now(Book(), 0).left_s)

    def test_not_yet_moves_the_window_out_and_clean_draws_it_in(self) -> None:
        base = running().write(1, "reading", current_a=3.0).write(200, "lift")
        unseen = now(base, 201)
        not_yet = now(running().write(1, "reading", current_a=3.0).write(200, "lift")
                      .write(201, "inspection", verdict="not_yet"), 202)  # fmt: skip
        clean = now(running().write(1, "reading", current_a=3.0).write(200, "lift")
                    .write(201, "inspection", verdict="share", shares={"a": 1.0}), 202)  # fmt: skip
        self.assertGreater(not_yet.need_ah_m2[1], unseen.need_ah_m2[1])
        self.assertLess(clean.need_ah_m2[1], unseen.need_ah_m2[1])

    def test_the_inside_of_a_heap_is_behind_its_outside_all_along(self) -> None:
        book = running().write(1, "reading", current_a=3.0)
        run = replay(book.log, replace(BASIS, inside=0.5))
        for minutes in (2, 120, 360):
            made = progress(run, NEED, at(minutes))
            kind, share, left = made.sides[-1]
            assert left is not None and made.left_s is not None
            self.assertEqual((kind, share), ("inner", 0.5))
            self.assertGreater(left[1], 2 * made.left_s[1])

    def test_crust_that_grows_slows_what_is_left(self) -> None:
        """Amps that fall by the law of the cake, scraped when it is due, step by step: the dose of
        the hours at steady amps is reached that much later."""
        book = running().write(1, "reading", current_a=3.0)
        steady, slowed = (
            progress(replay(book.log, replace(BASIS, crust_ah=due)), NEED, at(1)).left_s
            for due in (math.inf, 60.0)
        )
        assert steady and slowed
        rate = lambda amps: dose.effective_rate(amps / BASIS.wetted_area_m2)  # noqa: E731
        wanted, had, hours, charge = steady[1] / 3600 * rate(3.0), 0.0, 0.0, 0.0
        while had < wanted:
            amps = 3.0 / (1 + param("cake_over").value * charge % 60.0 / 60.0)
            had, charge, hours = had + rate(amps) * 0.01, charge + amps * 0.01, hours + 0.01
        self.assertAlmostEqual(slowed[1] / 3600 / hours, 1.0, delta=0.01)
        self.assertGreater(slowed[1], 1.01 * steady[1])


class NextAction(unittest.TestCase):
    def test_look_after_ten_seconds_and_again_at_half_an_hour(self) -> None:
        first = todo(running(), 1)[0]
        self.assertEqual((first.kind, first.at), ("first_look", at(1) + timedelta(seconds=10)))
        second = todo(running().write(1.3, "look", bubbles="whole"), 2)[0]
        self.assertEqual(second.kind, "second_look")
        assert second.at
        self.assertTrue(at(31) <= second.at <= at(41))

    def test_then_a_look_every_few_hours_and_a_first_lift(self) -> None:
        book = running().write(1.3, "look", bubbles="whole").write(36, "reading", current_a=1.0)
        kinds = {a.kind: a.at for a in todo(book, 40)}
        self.assertEqual(kinds["look"], at(36 + 240))
        self.assertIn("lift", kinds)
        self.assertIn("scrape", kinds)

    def test_scrap_is_scraped_by_its_charge_and_not_by_the_clock(self) -> None:
        def due(book: Book, minutes: float) -> timedelta:
            found = next(a.at for a in todo(book, minutes) if a.kind == "scrape")
            assert found
            return found - at(0)

        two = running().write(2, "reading", current_a=2.0)
        four = running().write(2, "reading", current_a=4.0)
        self.assertAlmostEqual(due(two, 60) / timedelta(hours=1), 15, delta=0.1)  # 30 Ah
        self.assertAlmostEqual(due(four, 60) / timedelta(hours=1), 7.5, delta=0.1)
        off = two.write(300, "switch_off").write(1000, "switch_on")
        # the crust stays on while it is off: 20 of 30 Ah are left, at the 2 A that flowed before
        again = timedelta(minutes=1000)
        self.assertAlmostEqual((due(off, 1010) - again) / timedelta(hours=1), 20 / 2, delta=0.1)
        done = running().write(2, "reading", current_a=2.0).write(600, "change", what="scraped")
        after = due(done, 660) - timedelta(hours=10)
        self.assertAlmostEqual(after / timedelta(hours=1), 10, delta=0.1)  # 3 A are expected again

    def test_a_due_action_stays_until_it_is_done(self) -> None:
        self.assertEqual(todo(running(), 500)[0].kind, "first_look")

    def test_a_new_start_is_looked_at_afresh(self) -> None:
        book = running().write(2, "look", bubbles="whole").write(90, "switch_off")
        book.write(100, "switch_on")
        self.assertEqual(todo(book, 101)[0].kind, "first_look")

    def test_turning_is_asked_for_where_scrap_stands_on_one_side(self) -> None:
        self.assertIn("turn", {a.kind for a in todo(running(), 30, one_sided=True)})
        self.assertNotIn("turn", {a.kind for a in todo(running(), 30)})
        turned = running().write(20, "change", what="turned")
        self.assertNotIn("turn", {a.kind for a in todo(turned, 30, one_sided=True)})

    def test_each_state_has_its_own(self) -> None:
        lifted = running().write(60, "lift")
        self.assertEqual(todo(Book(), 0)[0].kind, "checklist")
        self.assertEqual(todo(running().write(9, "switch_off"), 10)[0].kind, "switch_on")
        self.assertEqual(todo(lifted, 61)[0].kind, "inspect")
        lifted.write(62, "inspection", verdict="not_yet")
        self.assertEqual(todo(lifted, 63)[0].kind, "decide")
        lifted.write(64, "inspection", verdict="equal")
        self.assertIn("equal", todo(lifted, 65)[0].why)
        lifted.write(66, "clean")
        self.assertEqual(todo(lifted, 67)[0].kind, "finish_start")
        lifted.write(68, "finish_start")
        self.assertEqual(todo(lifted, 69)[0].kind, "step.scrub")
        for step in steps_of(Piece()):
            lifted.write(70, "finish_step", step=step.id, mark="done")
        self.assertEqual(todo(lifted, 71)[0].kind, "close")
        self.assertEqual(todo(lifted.write(80, "close"), 81), [])


class Finishing(unittest.TestCase):
    def test_each_piece_has_the_steps_it_needs(self) -> None:
        plain = ["scrub", "dry", "protect"]
        for piece, steps in (
            (Piece(), plain),
            (Piece(fragility="relic"), ["scrub_soft", "soak", "dry", "heat_dry", "protect"]),
            (Piece(metal="cast"), ["scrub", "dry", "heat_dry", "protect"]),
            (Piece(metal="spring"), ["scrub", "dry", "bake", "protect"]),
        ):
            self.assertEqual([s.id for s in steps_of(piece)], steps)

    def test_protection_follows_the_aim(self) -> None:
        paint = steps_of(Piece(aim="paint_ready"))[-1].choices
        bright = steps_of(Piece(aim="bright"))[-1].choices
        self.assertIn("primer", [c.id for c in paint])
        self.assertNotIn("primer", [c.id for c in bright])

    def test_a_step_left_out_counts_as_settled(self) -> None:
        book = running().write(9, "lift").write(10, "clean").write(11, "finish_start")
        book.write(12, "finish_step", step="scrub", mark="skipped")
        book.write(13, "finish_step", step="dry", mark="begun")
        step = next_step(steps_of(Piece()), book.run())
        assert step
        self.assertEqual(step.id, "dry")


class Advice(unittest.TestCase):
    def title(self, *entries: dict[str, object]) -> str:
        book = running()
        for k, detail in enumerate(entries):
            book.write(10 + 30 * k, **detail)  # type: ignore[arg-type]
        said = advise(book.run(), BASIS)
        return said.title if said else ""

    def test_what_a_look_or_a_reading_means(self) -> None:
        read = {"kind": "reading"}
        for entries, words in (
            ([{"kind": "look", "bubbles": "clip_only"}], "only at the clip"),
            ([{"kind": "look", "bubbles": "whole"}], ""),
            ([{**read, "current_a": 0.4}], "Far below"),
            ([{**read, "current_a": 0.4}, {"kind": "look", "bubbles": "none"}], ""),
            ([{**read, "current_a": 6.0}], "More than was expected"),
            ([{**read, "current_a": 3.1}], ""),
            ([{**read, "current_a": 1.8}], "Fewer amps than planned"),
            ([{**read, "current_a": 2.4}, {**read, "current_a": 0.9}], ""),
            ([{**read, "current_a": 2.4}, *2 * [{**read, "current_a": 0.9}]], "fell from 2.4"),
        ):
            with self.subTest(entries=entries):
                self.assertIn(words, self.title(*entries))

    def test_nothing_is_said_before_it_runs(self) -> None:
        self.assertIsNone(advise(Book().run(), BASIS))
        self.assertEqual(START.tzinfo is not None, True)


class Relief(unittest.TestCase):
    """One rule for check, step, clock and book."""

    STEELS: tuple[Piece, ...] = (
        Piece(metal="spring"), Piece(metal="hard"), Piece(metal="tool"),
        Piece(metal="spring", tempered_c=300), Piece(metal="spring", tempered_c=220),
        Piece(treatment="case_hardened"), Piece(treatment="hardened"),
        Piece(metal="mild", hardness_hrc=52), Piece(metal="hard", hardness_hrc=60),
        Piece(metal="spring", other_metals=["cadmium"]), Piece(metal="cast", hardness_hrc=40),
        Piece(treatment="case_hardened", hardness_hrc=50),
    )  # fmt: skip

    def test_check_step_and_clock_say_the_same(self) -> None:
        for piece in self.STEELS:
            with self.subTest(piece=piece.model_dump(exclude_defaults=True)):
                made = relief(piece)
                assert made
                plan = tidied(Plan(pieces=[piece]))
                words = made.words("metric")
                found = [f for f in find(plan, answer(plan)) if f.id == "embrittlement"]
                self.assertIn(words, found[0].fix)
                step = next(s for s in finish_steps(plan) if s.from_lift)
                self.assertTrue(step.how.startswith(words))
                self.assertEqual(step.duration_s, (made.hours or 0) * 3600)
                self.assertEqual(step.within_s, 4 * 3600)

    def test_soft_iron_has_none_anywhere(self) -> None:
        for piece in (Piece(), Piece(metal="cast"), Piece(metal="spring", hardness_hrc=25)):
            self.assertIsNone(relief(piece))
            self.assertFalse([s for s in steps_of(piece) if s.from_lift])

    def test_hours_are_the_classs_and_never_beyond_the_last(self) -> None:
        """ASTM B850's classes (from memory): 1401-1500 MPa 16 h, up to 1800 22 h, then none."""
        for hrc, hours in ((45, 16.0), (38, 10.0), (52.0, 22.0), (52.6, None), (58, None)):
            made = relief(Piece(metal="hard", hardness_hrc=hrc))
            assert made
            self.assertEqual(made.hours, hours, hrc)
            self.assertEqual("Not in the table" in made.words("metric"), hours is None)

    def test_an_unknown_temper_says_so_in_the_step_itself(self) -> None:
        how = next(s.how for s in steps_of(Piece(metal="spring")) if s.from_lift)
        self.assertIn("temper is not known", how)
        self.assertIn("do not bake", how)

    def test_the_deadline_is_a_clock_time_after_the_lift(self) -> None:
        book = running().write(60, "lift").write(61, "clean")
        steps = steps_of(Piece(metal="spring"))
        for minutes in (62, 400):
            todo = actions(book.run(), now(book, minutes), Ways(), steps, at(minutes))
            self.assertEqual(todo[0].by, at(60) + timedelta(hours=4))
        book.write(63, "finish_start").write(70, "finish_step", step="bake", mark="begun")
        self.assertIsNone(actions(book.run(), now(book, 71), Ways(), steps, at(71))[0].by)

    def test_a_bake_does_not_wait_for_anothers_day_of_soaking(self) -> None:
        plan = Plan(pieces=[Piece(id="p1", fragility="relic"), Piece(id="p2", metal="spring")])
        order = [s.id for s in finish_steps(plan)]
        self.assertLess(order.index("bake.p2"), order.index("soak.p1"))
        hard_relic = [s.id for s in steps_of(Piece(fragility="relic", metal="spring"))]
        self.assertLess(hard_relic.index("bake"), hard_relic.index("soak_after"))

    def test_a_relic_is_never_told_to_brush_hard(self) -> None:
        for fragility in ("relic", "thin"):
            piece = Piece(fragility=fragility)
            said = [s.how + s.title for s in steps_of(piece)]
            for book in (running(), running().write(60, "lift"),
                         running().write(60, "lift").write(61, "inspection", verdict="not_yet"),
                         running().write(60, "lift").write(61, "clean")):  # fmt: skip
                ways = Ways(delicate=True)
                todo = actions(book.run(), now(book, 62), ways, steps_of(piece), at(62))
                said += [a.title + a.why for a in todo]
            for words in said:
                for hard in ("scour", "wool", "brass brush", "scrub", "brush a patch", "brushed"):
                    self.assertNotIn(hard, words.lower())
