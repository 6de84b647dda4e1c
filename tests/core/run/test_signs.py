"""What is read and seen outranks the plan: danger, a bath that does not run, a weak one."""

import unittest
from dataclasses import replace
from datetime import timedelta
from typing import Any

from tests.core.run.test_run import BASIS, Book, at, running
from yellowbath.core.dose import prior_need
from yellowbath.core.field.model import Coverage
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.charge import charge_ah, doses_at
from yellowbath.core.run.progress import progress
from yellowbath.core.run.run import Run, replay
from yellowbath.core.run.snapshot import kept, opened
from yellowbath.core.tell.advice import advise
from yellowbath.core.tell.doubts import in_doubt
from yellowbath.core.tell.schedule import Action, Ways, actions

NEED = prior_need("moderate", "black")
GUARDED = replace(BASIS, rated_a=6.0, fuse_a=10.0, limit_c=50.0)


def run_of(book: Book, basis: Basis = GUARDED) -> Run:
    return replay(book.log, basis)


def first(book: Book, minutes: float, basis: Basis = GUARDED, ways: Ways | None = None) -> Action:
    run = run_of(book, basis)
    how_far = progress(run, NEED, at(minutes))
    return actions(run, how_far, ways or Ways(), [], at(minutes))[0]


class Danger(unittest.TestCase):
    SAID: tuple[tuple[str, dict[str, Any]], ...] = (
        ("rated", {"kind": "reading", "current_a": 6.5}),
        ("too hot", {"kind": "reading", "bath_c": 52.0}),
        ("touch", {"kind": "look", "signs": ["touch"]}),
        ("Smoke", {"kind": "look", "signs": ["smoke"]}),
        ("smell", {"kind": "look", "signs": ["smell"]}),
        ("Sparks", {"kind": "look", "signs": ["sparks"]}),
        ("too hot to touch", {"kind": "look", "signs": ["hot"]}),
    )

    def test_each_is_switch_off_now_and_nothing_else_is_first(self) -> None:
        for words, detail in self.SAID:
            with self.subTest(words):
                action = first(running().write(40, **detail), 41)
                self.assertEqual((action.kind, action.danger), ("switch_off_now", True))
                self.assertEqual(action.title, "Switch off now")
                self.assertIn(words, action.why)

    def test_more_than_the_fuse_and_what_others_draw(self) -> None:
        fused = replace(GUARDED, rated_a=20.0)
        self.assertIn("fuse", first(running().write(40, "reading", current_a=11), 41, fused).why)
        shared = replace(GUARDED, other_a=4.0)
        self.assertTrue(first(running().write(40, "reading", current_a=3), 41, shared).danger)
        self.assertFalse(first(running().write(40, "reading", current_a=3), 41).danger)

    def test_it_outranks_silence_and_stays_until_it_is_off(self) -> None:
        book = running().write(40, "look", signs=["smoke"]).write(45, "reading", current_a=0.0)
        self.assertTrue(first(book, 46).danger)
        book.write(50, "look", bubbles="whole")
        self.assertTrue(first(book, 51).danger, "a good look does not unsay smoke")
        book.write(52, "switch_off")
        paused = first(book, 53)
        self.assertEqual((paused.kind, paused.danger), ("mend", False))
        self.assertIn("Smoke", paused.why)
        book.write(60, "switch_on")
        self.assertEqual(first(book, 61).kind, "first_look")

    def test_a_limit_or_setting_that_hands_changed_is_no_danger(self) -> None:
        set_low = replace(GUARDED, limit_a=2.0, open_v=12.0)
        over = running().write(40, "reading", current_a=3.0, supply_v=18.0)
        self.assertEqual(len(run_of(over, set_low).signs), 2)
        changed = running().write(39, "change", what="limit_changed", after_a=3.0)
        changed.write(40, "reading", current_a=3.0, supply_v=18.0)
        self.assertEqual(run_of(changed, set_low).signs, [])

    def test_what_is_said_with_a_change_answered_or_sent_is_judged_alike(self) -> None:
        for detail in (
            {"kind": "change", "what": "other", "after_a": 14.0},
            {"kind": "reading", "supply_v": 48.0},
            {"kind": "reading", "tank_v": 31.0},
            {"kind": "asked", "ask": "leads", "outcome": "swapped"},
            {"kind": "asked", "ask": "leads", "outcome": "touching"},
            {"kind": "asked", "ask": "crust", "outcome": "piece"},
            {"kind": "reading", "current_a": 5.0, "supply_v": 0.4},
            {"kind": "alarm", "which": "backwards", "by": "amps", "reason": "4.6 A backwards."},
        ):
            with self.subTest(detail):
                action = first(running().write(40, **detail), 41, replace(GUARDED, open_v=15.0))
                self.assertEqual((action.kind, action.danger), ("switch_off_now", True))
        book = running().write(40, "asked", ask="leads", outcome="touching")
        book.write(45, "mended", cause="touch", helped=True)
        self.assertFalse(first(book, 46).danger, "mended, it is over")

    def test_a_caution_is_told_and_switches_nothing_off(self) -> None:
        warm = replace(GUARDED, limit_c=80.0, lead_a=2.0)
        for detail in ({"kind": "reading", "bath_c": 60.0}, {"kind": "reading", "current_a": 3.0}):
            book = running().write(40, **detail)
            self.assertFalse(first(book, 41, warm).danger)
            said = advise(run_of(book, warm), warm)
            assert said is not None
            self.assertTrue(said.grave)

    def test_a_newer_reading_of_the_same_takes_its_own_back(self) -> None:
        book = running().write(40, "reading", current_a=9.0).write(42, "reading", bath_c=20.0)
        self.assertTrue(first(book, 43).danger)
        book.write(44, "reading", current_a=3.0)
        self.assertFalse(first(book, 45).danger)

    def test_what_became_known_since_is_one_too(self) -> None:
        action = first(running(), 30, ways=Ways(known=("Lid on. No lid while it runs.",)))
        self.assertTrue(action.danger)
        self.assertIn("Lid on", action.why)


class NotRunning(unittest.TestCase):
    SILENT: tuple[dict[str, Any], ...] = (
        {"kind": "reading", "tank_v": 0.0}, {"kind": "look", "bubbles": "none"},
        {"kind": "reading", "current_a": 0.0, "tank_v": 0.1},
        {"kind": "reading", "current_a": 0.0, "method": "line"},
    )  # fmt: skip
    NOUGHT: tuple[dict[str, Any], ...] = (
        {"kind": "reading", "current_a": 0.0},
        {"kind": "reading", "current_a": 0.0, "tank_v": 12.0},
        {"kind": "change", "what": "turned", "after_a": 0.0},
    )

    def test_the_box_asks_for_the_mend_and_is_not_red(self) -> None:
        for detail in self.SILENT:
            action = first(running().write(540, **detail), 541)
            self.assertEqual((action.kind, action.danger), ("mend", False), detail)

    def test_nothing_counts_from_then_and_half_since_the_last_sign_of_life(self) -> None:
        """By hand: 3 A for the 59 min up to the look, then 8 h unsure at half, then nothing."""
        for detail in self.SILENT:
            book = running().write(60, "look", bubbles="whole").write(540, **detail)
            run = run_of(book)
            self.assertTrue(run.silent)
            sure, unsure = 3.0 * 59 / 60, 3.0 * 8
            for later in (540, 900):
                self.assertAlmostEqual(charge_ah(run.stretches, at(later)), sure + unsure / 2)
            p = progress(run, NEED, at(900))
            low, high = p.charge_edges_ah
            self.assertAlmostEqual(low, sure)
            self.assertAlmostEqual(high, sure + unsure)
            self.assertAlmostEqual(p.powered_s, (59 + 240) * 60)
            self.assertIsNone(p.left_s)

    def test_nought_amps_ask_for_gas_and_stop_nothing(self) -> None:
        for detail in self.NOUGHT:
            book = running().write(60, "look", bubbles="whole").write(540, **detail)
            action, run = first(book, 541), run_of(book)
            self.assertEqual((action.kind, action.danger), ("gas", False))
            self.assertFalse(run.silent)
            self.assertAlmostEqual(charge_ah(run.stretches, at(600)), 3.0 * 599 / 60)

    def test_no_gas_no_volts_or_a_second_nought_stop_it_from_the_likeliest_moment(self) -> None:
        for detail in (*self.SILENT, *self.NOUGHT):
            book = running().write(60, "look", bubbles="whole")
            book.write(540, "reading", current_a=0.0).write(560, **detail)
            run = run_of(book)
            self.assertTrue(run.silent, detail)
            self.assertEqual(run.stopped, (at(60), at(300), at(540)), "dead by the first nought")
            self.assertEqual(first(book, 561).kind, "mend")
            self.assertAlmostEqual(charge_ah(run.stretches, at(900)), 3.0 * (59 / 60 + 4))

    def test_a_change_in_the_dark_makes_no_hour_sure(self) -> None:
        """Life at 60 min, the scrap scraped unread at 300, no gas at 540: half of eight hours; but
        amps before the change show that it flowed till then."""
        for before, sure, first_dark in ((None, 59, 60), (3.0, 299, 300)):
            book = running().write(60, "look", bubbles="whole")
            book.write(300, "change", what="scraped", before_a=before)
            run = run_of(book.write(540, "look", bubbles="none"))
            half = (540 - first_dark) / 2
            self.assertEqual(run.stopped, (at(first_dark), at(first_dark + half), at(540)))
            self.assertAlmostEqual(run.powered_s(at(900)), 60 * (sure + half))
            again = opened(kept(run_of(book)), GUARDED)
            self.assertAlmostEqual(again.powered_s(at(900)), 60 * (sure + half))

    def test_nought_of_a_bath_that_is_silent_asks_nothing(self) -> None:
        book = running().write(60, "look", bubbles="none").write(70, "reading", current_a=0.0)
        self.assertEqual((first(book, 71).kind, run_of(book).nought_at), ("mend", None))

    def test_gas_means_the_meter(self) -> None:
        """Seen afterwards or just before, the amps are as they were, and nobody looks for a fault
        of the bath."""
        after = running().write(540, "reading", current_a=0.0).write(545, "look", bubbles="whole")
        before = running().write(540, "look", bubbles="whole").write(545, "reading", current_a=0.0)
        for book in (after, before):
            run = run_of(book)
            self.assertFalse(run.silent)
            said = advise(run, GUARDED)
            assert said
            self.assertIn("meter", said.title)
            self.assertFalse(in_doubt(run, GUARDED))
            self.assertIsNone(run.heard)
            self.assertAlmostEqual(charge_ah(run.stretches, at(600)), 3.0 * 599 / 60)
        run = run_of(after.write(560, "reading", current_a=2.5))
        self.assertEqual((run.signs, run.nought_at), ([], None))

    def test_nought_takes_no_danger_back(self) -> None:
        book = running().write(40, "reading", current_a=9.0).write(42, "reading", current_a=0.0)
        self.assertTrue(first(book, 43).danger)

    def test_a_sign_of_life_begins_again(self) -> None:
        book = running().write(60, "look", bubbles="none").write(90, "reading", current_a=2.0)
        run = run_of(book)
        self.assertFalse(run.silent)
        before = charge_ah(run.stretches, at(90))
        self.assertAlmostEqual(charge_ah(run.stretches, at(150)) - before, 2.0)

    def test_the_exact_hour_entered_afterwards_takes_the_band_away(self) -> None:
        book = running().write(60, "look", bubbles="whole").write(540, "reading", tank_v=0.0)
        book.write(200, "found_stopped", cause="fuse")
        run = run_of(book)
        self.assertEqual([s.source for s in run.stretches], ["expected"])
        self.assertAlmostEqual(charge_ah(run.stretches, at(900)), 3.0 * 199 / 60)

    def test_it_was_never_alive(self) -> None:
        book = running().write(1, "look", bubbles="none").write(30, "switch_off")
        self.assertAlmostEqual(charge_ah(run_of(book).stretches, at(60)), 0.0)

    def test_nought_with_the_power_off_is_no_news(self) -> None:
        book = running().write(60, "switch_off").write(61, "reading", current_a=0.0)
        self.assertEqual(run_of(book).signs, [])


class Weak(unittest.TestCase):
    def test_amps_stand_against_no_gas_whichever_came_first(self) -> None:
        for one, other in ((40, 45), (45, 40)):
            book = running().write(one, "look", bubbles="none")
            book.write(other, "reading", current_a=0.8)
            run = run_of(book)
            self.assertFalse(run.silent)
            self.assertFalse(any(s.source == "unsure" for s in run.stretches))
        book = running().write(40, "reading", current_a=0.8).write(45, "look", bubbles="none")
        said = advise(run_of(book), GUARDED)
        assert said
        self.assertEqual(said.title, "Weak but working")
        self.assertFalse(said.grave)


class Halves(unittest.TestCase):
    """A piece of four parts: the lower two under first, the upper two once put end for end."""

    COVER = Coverage((0.25,) * 4, ((1.0, 1.0, 0.0, 0.0),), (), ((0.0, 0.0, 1.0, 1.0),))
    BASIS = replace(GUARDED, coverage=COVER)

    def doses(self, book: Book, minutes: float) -> list[float]:
        return doses_at(run_of(book, self.BASIS).stretches, at(minutes))

    def test_dose_falls_on_what_was_under_in_each_dip(self) -> None:
        book = running().write(1, "reading", current_a=3.0).write(121, "switch_off")
        one = self.doses(book, 121)
        self.assertGreater(one[0], 0)
        self.assertEqual(one[2:], [0.0, 0.0], "the fresh half starts at nothing")
        book.write(125, "change", what="flipped").write(130, "switch_on")
        book.write(130, "reading", current_a=3.0).write(250, "switch_off")
        two = self.doses(book, 250)
        self.assertEqual(two[:2], one[:2])
        self.assertAlmostEqual(two[2], one[0])

    def test_what_stands_out_is_of_the_main_surface_once_it_is_turned(self) -> None:
        """The half that has no side while it is dry: all of it wants as long as both halves."""
        sides = {"main": (1.0, 1.0, 0.0, 0.0), "away": (0.0,) * 4}
        halves = replace(self.COVER, sides=sides)
        self.assertEqual(halves.shares("main"), self.COVER.weights)
        self.assertEqual(replace(halves, dipped=()).shares("main"), (0.25, 0.25, 0.0, 0.0))
        book = running().write(1, "reading", current_a=3.0).write(400, "change", what="flipped")
        one, other = (
            progress(run_of(book, replace(self.BASIS, coverage=c)), NEED, at(401)).left_s
            for c in (self.COVER, halves)
        )
        self.assertEqual(one, other)

    def test_the_next_action_says_when(self) -> None:
        book = running().write(1, "reading", current_a=3.0).write(1, "look", bubbles="whole")
        run = run_of(book, self.BASIS)
        p = progress(run, NEED, at(10))
        todo = actions(run, p, Ways(by_halves=True), [], at(10))
        flip = next(a for a in todo if a.kind == "flip")
        assert p.here_s and p.left_s and flip.at
        self.assertEqual(flip.at, at(10) + timedelta(seconds=p.here_s[1]))
        # the other half takes as long again, from nothing
        whole = progress(run, NEED, at(1))
        assert whole.left_s and whole.here_s
        self.assertAlmostEqual(whole.left_s[1] / whole.here_s[1], 2.0, places=6)

    def test_turning_counts_with_the_power_off_too(self) -> None:
        for power in ("on", "off"):
            book = running()
            if power == "off":
                book.write(50, "switch_off")
            book.write(51, "change", what="turned")
            self.assertEqual(run_of(book).turns, 1, power)


class WherePlusIs(unittest.TestCase):
    def kinds(self, book: Book, minutes: float) -> list[tuple[str, bool]]:
        run = run_of(book)
        far = progress(run, NEED, at(minutes))
        found = actions(run, far, Ways(), [], at(minutes))
        return [(a.kind, a.at is not None and a.at <= at(minutes)) for a in found]

    def test_fresh_crust_is_asked_for_once_after_the_first_hour(self) -> None:
        book = running().write(2, "look", bubbles="whole")
        self.assertIn(("crust", False), self.kinds(book, 30))
        self.assertIn(("crust", True), self.kinds(book, 70))
        book.write(71, "asked", ask="crust", outcome="nowhere")
        self.assertIn(("crust", False), self.kinds(book, 100))
        self.assertIn(("crust", False), self.kinds(book, 132), "asked once more when as old again")
        self.assertIn(("crust", True), self.kinds(book, 145))
        for ask, outcome in (("crust", "scrap"), ("poles", "right")):
            told = Book()
            told.log = list(book.log)
            told.write(133, "asked", ask=ask, outcome=outcome)
            self.assertNotIn("crust", [k for k, _ in self.kinds(told, 300)])
        for ask, outcome in (("crust", "piece"), ("poles", "swapped")):
            told = Book()
            told.log = list(book.log)
            told.write(133, "asked", ask=ask, outcome=outcome)
            self.assertEqual(self.kinds(told, 134)[0][0], "switch_off_now")
