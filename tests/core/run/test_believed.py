"""What is read and seen outranks what was planned."""

import re
import unittest
from dataclasses import replace
from typing import Any

from tests.core.run.test_run import BASIS, Book, at, running
from tests.shops import QUIET
from yellowbath.core.dose import prior_need
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.log import Reading
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.progress import chance_clean, progress
from yellowbath.core.run.run import replay
from yellowbath.core.tell.advice import advise
from yellowbath.core.tell.doubts import in_doubt
from yellowbath.core.tell.ohms import ohms
from yellowbath.core.tell.schedule import Ways, actions
from yellowbath.core.tell.told import look_told


def lifted(book: Book, minutes: float, *changes: dict[str, Any]) -> Book:
    """Off, out, looked at, something done to it, in and on again."""
    book.write(minutes, "lift").write(minutes + 1, "inspection", verdict="not_yet")
    for change in changes:
        book.write(minutes + 2, "change", **change)
    return book.write(minutes + 3, "back_in").write(minutes + 4, "switch_on")


class AfterALift(unittest.TestCase):
    def amps(self, *changes: dict[str, Any]) -> tuple[float, str]:
        book = lifted(running().write(40, "reading", current_a=1.8), 100, *changes)
        last = replay(book.log, BASIS).stretches[-1]
        return last.current_a, last.source

    def test_amps_do_not_jump_back_to_the_plan(self) -> None:
        self.assertEqual(self.amps(), (1.8, "before"))
        self.assertEqual(self.amps({"what": "turned"}), (1.8, "before"))

    def test_what_moves_them_leaves_them_open_until_they_are_read(self) -> None:
        for what in ("scraped", "swapped_anodes", "soda_added", "limit_changed"):
            self.assertEqual(self.amps({"what": what}), (BASIS.expected_a, "expected"), what)
        self.assertEqual(self.amps({"what": "swapped_anodes", "after_a": 4.2}), (4.2, "before"))

    def test_a_bath_that_was_dead_flows_again_as_it_last_did(self) -> None:
        book = running().write(40, "reading", current_a=1.8).write(80, "reading", current_a=0.0)
        last = replay(lifted(book, 100).log, BASIS).stretches[-1]
        self.assertEqual(last.current_a, 1.8)


class NothingFlows(unittest.TestCase):
    def test_where_the_volts_are_says_where_to_look(self) -> None:
        """No amps, read twice: with no volts at the supply, with volts there, with volts at the
        tank, and with nothing more read, it is told otherwise each time."""
        told = set()
        for volts in ({"supply_v": 0.1}, {"supply_v": 13.6}, {"tank_v": 12.0}, {"tank_v": 0.0}, {}):
            book = running().write(38, "reading", current_a=0.0)
            book.write(40, "reading", current_a=0.0, **volts)
            (sign,) = replay(book.log, BASIS).signs
            self.assertEqual(sign.kind, "not_running")
            told.add((sign.title, sign.why))
        self.assertEqual(len(told), 5)

    def test_few_volts_and_amps_are_a_touch_and_no_silence(self) -> None:
        """No bath lets an amp through at 0.3 V: something flows, and not through the liquid."""
        book = running().write(40, "reading", current_a=1.0, supply_v=0.3)
        (sign,) = replay(book.log, BASIS).signs
        self.assertEqual((sign.kind, sign.by), ("danger", "amps"))
        book = running().write(40, "reading", current_a=1.0, supply_v=6.0)
        self.assertEqual(replay(book.log, BASIS).signs, [])


class Looks(unittest.TestCase):
    def seen(self, *shares: float, hours: float = 6.0) -> Any:
        """Looks, so many hours of power before each."""
        book, minutes = running().write(40, "reading", current_a=3.0), 1.0
        for share in shares:
            minutes += hours * 60
            book.write(minutes, "lift")
            book.write(minutes + 1, "inspection", verdict="share", shares={"p1": share})
            book.write(minutes + 2, "back_in").write(minutes + 3, "switch_on")
        run = replay(book.log, BASIS)
        return run, progress(run, prior_need("moderate", "black"), at(minutes + 4))

    def test_three_looks_at_eighty_are_not_a_hundred(self) -> None:
        _, found = self.seen(0.8, 0.8, 0.8)
        self.assertLess(found.share_clean, 0.93)
        self.assertGreater(found.share_clean, 0.7)

    def test_before_a_look_it_is_what_flowed_and_after_it_what_was_seen(self) -> None:
        _, none = self.seen()
        _, low = self.seen(0.2)
        _, high = self.seen(0.9)
        self.assertEqual(none.share_clean < 0.2, True)
        self.assertLess(low.share_clean, 0.4)
        self.assertGreater(high.share_clean, 0.7)

    def test_two_like_looks_with_power_between_are_equal_by_themselves(self) -> None:
        self.assertTrue(nothing_gained(self.seen(0.6, 0.62)[0]))
        self.assertFalse(nothing_gained(self.seen(0.6, 0.7)[0]))
        self.assertFalse(nothing_gained(self.seen(0.6)[0]))
        self.assertFalse(nothing_gained(self.seen(0.97, 0.97)[0]), "that is clean")
        run, _ = self.seen(0.6)
        again = running().write(40, "reading", current_a=3.0).write(100, "lift")
        for minutes in (101, 102):
            again.write(minutes, "inspection", verdict="share", shares={"p1": 0.6})
        self.assertFalse(nothing_gained(replay(again.log, BASIS)), "nothing flowed between")
        self.assertFalse(nothing_gained(run))


class Told(unittest.TestCase):
    def look(self, share: float, minutes: float = 180, sure: bool = False) -> Any:
        book = (
            running().write(min(40, minutes - 1), "reading", current_a=3.0).write(minutes, "lift")
        )
        book.write(minutes + 1, "inspection", verdict="share", shares={"p1": share}, sure=sure)
        out, need = replay(book.log, BASIS), prior_need("moderate", "black")
        book.write(minutes + 2, "back_in").write(minutes + 3, "switch_on")
        run, now = replay(book.log, BASIS), at(minutes + 4)
        found = progress(run, need, now)
        self.assertEqual(look_told(run, need, now, "metric", found.left_s).text, "", "back in")
        return look_told(out, need, now, "metric", found.left_s), found

    def test_all_of_it_clean_is_a_fact(self) -> None:
        """Nothing is left where that fits, or once it was said again; a surprise is asked first."""
        for minutes, sure, done in ((480, False, True), (5, False, False), (5, True, True)):
            told, found = self.look(1.0, minutes, sure)
            self.assertEqual(found.left_s == (0.0, 0.0, 0.0), done, (minutes, sure))
            self.assertEqual("nothing left" in told.text, done)
            if done:
                self.assertEqual((found.share_clean, found.sides), (1.0, ()))

    def test_of_what_was_not_named_nothing_was_said(self) -> None:
        coverage = replace(BASIS.coverage, places=tuple(
            f"p1.{'front' if k % 2 else 'back'}" for k in range(len(BASIS.coverage.weights))
        ))  # fmt: skip
        basis, need = replace(BASIS, coverage=coverage), prior_need("moderate", "black")
        for sides, done in ((("front",), False), (("front", "back"), True)):
            book = running().write(40, "reading", current_a=3.0).write(480, "lift")
            shares = {f"p1.{side}": 1.0 for side in sides}
            book.write(481, "inspection", verdict="share", shares=shares, sure=True)
            run = replay(book.log, basis)
            found = progress(run, need, at(482))
            chance = chance_clean(run, need, at(482), [0.0])
            assert chance is not None
            self.assertEqual(found.left_s == (0.0, 0.0, 0.0), done, sides)
            self.assertEqual(bool((chance == 1.0).all()), done, "the map says the same")

    def told(self, share: float, minutes: float = 180) -> str:
        text: str = self.look(share, minutes)[0].text
        return text

    def test_what_is_far_from_what_was_thought_is_asked_about_once(self) -> None:
        """Unanswered it may be a slip; said once more it is what was seen."""
        for share, minutes, far in ((0.9, 60, True), (0.1, 600, True), (0.5, 180, False)):
            asked, found = self.look(share, minutes)
            again, sure = self.look(share, minutes, sure=True)
            self.assertEqual((asked.far, again.far), (far, False), (share, minutes))
            self.assertLessEqual(abs(sure.share_clean - share), 0.1)
            self.assertLessEqual(
                abs(sure.share_clean - share), abs(found.share_clean - share) + 0.02
            )

    def test_what_became_of_a_look_is_told(self) -> None:
        few, many = self.told(0.0, 360), self.told(0.95, 90)
        self.assertIn("You saw 0 %", few)
        self.assertIn("longer than thought", few)
        self.assertIn("sooner than thought", many)
        self.assertIn("without this look", few)
        book = running().write(40, "reading", current_a=3.0)
        need = prior_need("moderate", "black")
        self.assertEqual(look_told(replay(book.log, BASIS), need, at(60), "metric", None).text, "")

    def test_what_was_thought_before_does_not_know_the_look(self) -> None:
        """The window told as thought is the same whatever was then seen."""
        found = {re.search(r"; we expected (.*?)\.", self.told(s))[1] for s in (0.05, 0.4, 0.9)}  # type: ignore[index]
        self.assertEqual(len(found), 1)


class Stepped(unittest.TestCase):
    """What the amps did themselves, before any plan is asked."""

    def told(self, book: Book, minutes: float) -> tuple[str, bool, str]:
        """The next hand action, whether it is in doubt, and what is said of the amps."""
        run = replay(book.log, BASIS)
        far = progress(run, prior_need("moderate", "black"), at(minutes))
        said = advise(run, BASIS)
        return (actions(run, far, Ways(), [], at(minutes))[0].kind, in_doubt(run, BASIS),
                said.title if said else "")  # fmt: skip

    @staticmethod
    def with_amps(book: Book, amps: float, method: str) -> Book:
        more = Book()
        more.log = list(book.log)
        return more.write(220, "reading", current_a=amps, method=method)

    def test_a_step_is_read_again_before_it_is_doubted(self) -> None:
        for method in ("clamp", "line"):
            book = running().write(2, "look", bubbles="whole")
            for k, amps in enumerate((3.0, 3.02, 2.97)):
                book.write(40 + 60 * k, "reading", current_a=amps, method=method)
            self.assertEqual(self.told(book, 161)[1:], (False, ""))
            book.write(200, "reading", current_a=1.7, method=method)
            self.assertEqual(self.told(book, 201)[:2], ("again", False))
            slip, back = Book(), Book()
            slip.log, back.log = list(book.log), list(book.log)
            slip.write(201, "reading", current_a=2.98, method=method)
            self.assertEqual(self.told(slip, 202)[1:], (False, ""), "it was the meter")
            book.write(201, "reading", current_a=1.72, method=method)
            _, doubted, said = self.told(book, 202)
            self.assertTrue(doubted)
            self.assertEqual(said, "Amps fell from 2.97 A to 1.72 A")
            run = replay(book.log, BASIS)
            assert run.heard
            self.assertEqual(run.heard.stepped, (at(160), at(200)))
            self.assertTrue(self.told(self.with_amps(book, 1.7, method), 221)[1])
            self.assertFalse(self.told(self.with_amps(book, 2.96, method), 221)[1], "it is back")
            book.write(230, "mended", cause="contact_piece", helped=True)
            book.write(235, "reading", current_a=2.9, method=method)
            self.assertFalse(self.told(book, 236)[1])

    def test_drift_is_one_calm_line_and_a_step_is_never_called_so(self) -> None:
        book = running().write(2, "look", bubbles="whole")
        for k in range(12):  # 3 to 2 A in eleven hours, crust by crust
            book.write(30 + 60 * k, "reading", current_a=round(3 - k / 11, 2))
            self.assertFalse(self.told(book, 31 + 60 * k)[1], k)
        self.assertIn("drift", self.told(book, 700)[2])
        book.write(750, "reading", current_a=1.4).write(752, "reading", current_a=1.4)
        _, doubted, said = self.told(book, 753)
        self.assertTrue(doubted)
        self.assertNotIn("drift", said)

    def test_what_a_supply_holds_says_nothing_and_its_volts_do(self) -> None:
        held = replace(BASIS, limit_a=2.0, open_v=24.0)
        for volts, doubted in (((9.0, 9.1, 9.0, 9.05), False), ((9.0, 9.1, 14.0, 14.1), True)):
            book = running().write(2, "look", bubbles="whole")
            for k, v in enumerate(volts):
                book.write(30 + 60 * k, "reading", current_a=2.0, supply_v=v)
            self.assertEqual(in_doubt(replay(book.log, held), held), doubted, volts)
        dumb = running().write(30, "reading", current_a=2.0).write(90, "reading", current_a=2.0)
        self.assertIsNone(replay(dumb.log, held).heard)


class Resists(unittest.TestCase):
    PLAN = read_plan(dict(QUIET)).plan
    ANSWER = answer(PLAN)

    def test_volts_over_amps_by_hand_and_where_they_sit(self) -> None:
        start = self.ANSWER.threshold.value
        bath, leads = ohms(Reading(current_a=2.0, tank_v=11.0, supply_v=13.0), self.ANSWER)
        self.assertAlmostEqual(bath.read.value, (11.0 - start) / 2.0)
        self.assertAlmostEqual(leads.read.value, 1.0)
        self.assertTrue(leads.more)
        (whole,) = ohms(Reading(current_a=2.0, supply_v=13.0), self.ANSWER)
        self.assertAlmostEqual(whole.read.value, (13.0 - start) / 2.0)
        self.assertIn("tank", whole.ask)

    def test_as_planned_nothing_is_more(self) -> None:
        amps, a = self.ANSWER.gives.value, self.ANSWER
        tank = a.threshold.value + amps * a.resistance.value
        found = ohms(Reading(current_a=amps, tank_v=tank, supply_v=tank + amps * a.leads.value), a)
        self.assertEqual([o.more for o in found], [False, False])
        worse = ohms(Reading(current_a=0.6 * amps, tank_v=tank), a)
        self.assertEqual([o.more for o in worse], [True])

    def test_nothing_is_made_of_what_was_not_read(self) -> None:
        for reading in (None, Reading(), Reading(current_a=2.0), Reading(tank_v=12.0),
                        Reading(current_a=0.0, tank_v=12.0)):  # fmt: skip
            self.assertEqual(list(ohms(reading, self.ANSWER)), [])


if __name__ == "__main__":
    unittest.main()
