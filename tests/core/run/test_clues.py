"""What is known of a bath just now, when it is in doubt, and the battery's half way."""

import unittest
from dataclasses import replace
from datetime import timedelta

from tests.core.run.test_run import BASIS, Book, at, running
from yellowbath.core.causes.judge import once
from yellowbath.core.dose import prior_need
from yellowbath.core.errors import InputError
from yellowbath.core.run.admit import require_known
from yellowbath.core.run.clues import Clues
from yellowbath.core.run.log import Asked, Mended
from yellowbath.core.run.progress import progress
from yellowbath.core.run.run import replay
from yellowbath.core.run.snapshot import kept, opened
from yellowbath.core.tell.doubts import evidence_of, in_doubt, questions
from yellowbath.core.tell.schedule import Ways, actions


def clues(book: Book) -> Clues:
    return replay(book.log, BASIS).clues


class Known(unittest.TestCase):
    def test_the_newest_counts_and_what_was_well_before_is_kept_beside_it(self) -> None:
        book = running().write(5, "look", bubbles="whole").write(6, "reading", current_a=3.0)
        book.write(90, "look", bubbles="none").write(91, "reading", current_a=0.3)
        told = {(e.ask, e.before): e.outcome or e.value for e in evidence_of(clues(book))}
        self.assertEqual(told[("gas", False)], "none")
        self.assertEqual(told[("amps", False)], 0.3)
        self.assertEqual((told[("gas", True)], told[("amps", True)]), ("whole", 3.0))

    def test_what_the_bath_did_long_before_no_longer_tells_what_it_does(self) -> None:
        book = running().write(5, "reading", tank_v=11.9, current_a=3.0)
        book.write(120, "look", bubbles="none")
        self.assertEqual({e.ask for e in evidence_of(clues(book)) if not e.before}, {"gas"})

    def test_hands_make_what_was_seen_worthless_and_leave_what_was_looked_at(self) -> None:
        book = running().write(5, "look", bubbles="clip_only")
        book.write(6, "asked", ask="fuse", outcome="whole")
        book.write(7, "asked", ask="joint_piece", outcome="much")
        book.write(9, "change", what="clip_moved")
        self.assertEqual(set(clues(book).now), {"fuse"})
        self.assertEqual(clues(book).change, "clip_moved")

    def test_a_mend_that_helped_ends_it_and_one_that_did_not_is_remembered(self) -> None:
        book = running().write(5, "look", bubbles="none")
        book.write(9, "mended", cause="contact_piece", helped=False)
        self.assertEqual(clues(book).tried, ["contact_piece"])
        self.assertTrue(in_doubt(replay(book.log, BASIS), BASIS))
        book.write(12, "mended", cause="fuse", helped=True)
        self.assertEqual((clues(book).tried, clues(book).now), ([], {}))
        self.assertFalse(in_doubt(replay(book.log, BASIS), BASIS))

    def test_after_a_mend_that_did_not_help_amps_are_asked_anew(self) -> None:
        """The same again: it mended nothing, and what was seen stands. Others: it did mend
        something, and what the bath did before is no longer what it does."""
        for after, stands in ((0.31, {"gas", "amps", "fuse"}), (1.1, {"amps", "fuse"})):
            book = running().write(5, "look", bubbles="none").write(6, "reading", current_a=0.3)
            book.write(7, "asked", ask="fuse", outcome="whole")
            book.write(9, "mended", cause="contact_piece", helped=False)
            self.assertEqual((clues(book).first, set(clues(book).now)), ("amps", {"gas", "fuse"}))
            book.write(10, "reading", current_a=after)
            self.assertEqual((clues(book).first, set(clues(book).now)), ("", stands))

    def test_who_has_no_meter_is_not_asked_for_one_until_something_was_read(self) -> None:
        book = running().write(5, "look", bubbles="none")
        book.write(6, "asked", ask="tank_v", outcome="cannot")
        closed = once(evidence_of(clues(book)))[1]
        self.assertLessEqual({"tank_v", "supply_v", "joint_piece", "poles"}, closed)
        self.assertNotIn("amps", closed)
        book.write(9, "reading", supply_v=12.0)
        self.assertNotIn("tank_v", once(evidence_of(clues(book)))[1])
        require_known(Asked(ask="gas", outcome="cannot"))

    def test_it_is_kept_with_the_run(self) -> None:
        book = (
            running()
            .write(5, "look", bubbles="none")
            .write(6, "asked", ask="fuse", outcome="blown")
        )
        run = replay(book.log, BASIS)
        self.assertEqual(opened(kept(run), BASIS).clues, run.clues)

    def test_what_fits_leaves_no_doubt(self) -> None:
        """And what does not does: gas, amps either way, volts, what was answered."""

        def doubt(kind: str, **detail: object) -> bool:
            return in_doubt(replay(running().write(5, kind, **detail).log, BASIS), BASIS)

        self.assertFalse(doubt("look", bubbles="whole"))
        self.assertFalse(doubt("reading", current_a=3.0))
        self.assertTrue(doubt("look", bubbles="one_side"))
        self.assertTrue(doubt("reading", current_a=0.2))
        self.assertTrue(doubt("reading", current_a=30.0))
        self.assertTrue(doubt("asked", ask="leads", outcome="swapped"))

    def test_with_the_power_off_nothing_tells_of_the_bath(self) -> None:
        """Neither what is read then, nor what was seen before it was found off."""
        book = running().write(5, "switch_off").write(6, "reading", tank_v=0.1)
        self.assertEqual(clues(book.write(7, "look", bubbles="none")).now, {})
        book = running().write(5, "look", bubbles="none").write(9, "found_stopped", cause="fuse")
        self.assertFalse(in_doubt(replay(book.log, BASIS), BASIS))

    def test_a_supply_that_holds_its_current_has_few_volts(self) -> None:
        """0.8 A through 3 ohms and a cell of 1.7 V are 4.1 V: 5 V and 2.1 V fit, 2.0 V do not."""
        holds = replace(BASIS, open_v=15.0, limit_a=0.8, expected_a=0.8, bath_ohm=3.0)
        for volts, doubted in ((5.0, False), (2.1, False), (2.0, True)):
            run = replay(running().write(5, "reading", tank_v=volts).log, holds)
            self.assertEqual(in_doubt(run, holds), doubted, volts)
        free = replace(holds, limit_a=5.0)
        self.assertTrue(in_doubt(replay(running().write(5, "reading", tank_v=5.0).log, free), free))

    def test_what_cannot_be_asked_is_refused_in_words(self) -> None:
        for detail in (Asked(ask="moon", outcome="full"), Asked(ask="fuse", outcome="maybe"),
                       Mended(cause="gremlin")):  # fmt: skip
            with self.assertRaises(InputError) as caught:
                require_known(detail)
            self.assertTrue(caught.exception.allowed)

    def test_every_question_is_made_of_what_can_be_asked(self) -> None:
        self.assertGreaterEqual(len(questions()), 12)
        for q in questions():
            for e in q.seen:
                require_known(Asked(ask=e.ask, outcome=e.outcome))
            self.assertTrue(q.first == "" or q.first in {"crust", "amps"}, q.id)


class Battery(unittest.TestCase):
    def test_half_way_is_by_what_flows_less_what_charges_it(self) -> None:
        """3 A of 60 Ah: ten hours; with 1 A charged, fifteen; with 4 A never."""
        book = running().write(1, "reading", current_a=3.0)
        run = replay(book.log, BASIS)
        far = progress(run, prior_need("moderate", "black"), at(1))
        for charges, hours in ((0.0, 10.0), (1.0, 15.0), (4.0, None)):
            ways = Ways(battery_ah=60.0, charges_a=charges)
            found = [a for a in actions(run, far, ways, [], at(1)) if a.kind == "battery"]
            if hours is None:
                self.assertEqual(found, [])
                continue
            assert found[0].at
            self.assertAlmostEqual((found[0].at - at(1)) / timedelta(hours=1), hours, delta=0.1)

    def test_a_buffered_bath_is_not_off_because_it_is_unplugged(self) -> None:
        book = running().write(5, "look", bubbles=None, signs=["smoke"])
        run = replay(book.log, BASIS)
        far = progress(run, prior_need("moderate", "black"), at(6))
        said = [actions(run, far, Ways(buffered=b), [], at(6))[0].why for b in (True, False)]
        self.assertIn("plug", said[0])
        self.assertNotIn("plug", said[1])
