"""A clamp round one lead: told against the field's share, and never the bath's own amps."""

import unittest
from dataclasses import replace

from tests.core.run.test_run import BASIS, Book, at, running
from yellowbath.core.errors import InputError
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.one_lead import LeadShare, told_leads
from yellowbath.core.run.run import Run, replay
from yellowbath.core.run.snapshot import kept, opened
from yellowbath.core.tell.doubts import in_doubt

FOUR = replace(BASIS, rods={"a1": 0.4, "a2": 0.3, "a3": 0.2, "a4": 0.1})


def told(book: Book, basis: Basis = FOUR) -> tuple[Run, dict[str, LeadShare]]:
    run = replay(book.log, basis)
    return run, {t.lead: t for t in told_leads(run.leads, run.last_current_a, basis)}


class OneLeadRead(unittest.TestCase):
    def test_each_is_held_against_the_fields_share_of_the_amps_that_were_read(self) -> None:
        book = running().write(5, "reading", current_a=3.0)
        for k, (lead, amps) in enumerate((("a1", 1.25), ("a2", 0.05), ("a3", 0.3), ("a4", 0.7))):
            book.write(6 + k, "one_lead", lead=lead, current_a=amps)
        book.log.pop()  # all four together would be the whole
        _, leads = told(book)
        self.assertEqual({k: t.verdict for k, t in leads.items()},
                         {"a1": "right", "a2": "idle", "a3": "little"})  # fmt: skip
        self.assertAlmostEqual(leads["a2"].should_a, 0.9)

    def test_all_scrap_together_is_the_whole_where_nobody_read_that(self) -> None:
        book = running()
        for k, amps in enumerate((1.2, 0.9, 0.6, 0.3)):
            book.write(6 + k, "one_lead", lead=f"a{k + 1}", current_a=amps)
        run, leads = told(book)
        self.assertEqual({t.verdict for t in leads.values()}, {"right"})
        self.assertEqual(run.clues.now["shares"].outcome, "alike")

    def test_it_is_no_reading_of_the_bath(self) -> None:
        """Charge, amps and trend are what they were without it; a line above all."""
        book = running().write(5, "reading", current_a=3.0)
        without = replay(book.log, FOUR)
        run, _ = told(book.write(9, "one_lead", lead="a2", current_a=0.05))
        for name in ("last_current_a", "first_a", "flowed_a", "metered", "told"):
            self.assertEqual(getattr(run, name), getattr(without, name), name)
        self.assertEqual(run.heard.trend, without.heard.trend)  # type: ignore[union-attr]
        self.assertEqual(run.powered_s(at(60)), without.powered_s(at(60)))
        self.assertEqual(run.count, without.count)

    def test_a_lead_without_amps_is_asked_about_and_hands_end_it(self) -> None:
        book = running().write(5, "reading", current_a=3.0).write(6, "look", bubbles="whole")
        self.assertFalse(in_doubt(replay(book.log, FOUR), FOUR))
        book.write(9, "one_lead", lead="a2", current_a=0.02)
        run, _ = told(book)
        self.assertEqual(run.clues.now["shares"].outcome, "one_idle")
        self.assertTrue(in_doubt(run, FOUR))
        self.assertEqual(opened(kept(run), FOUR).leads, run.leads)
        run, leads = told(book.write(12, "change", what="scraped"))
        self.assertEqual((leads, "shares" in run.clues.now), ({}, False))

    def test_without_power_it_tells_nothing(self) -> None:
        book = running().write(5, "reading", current_a=3.0).write(8, "switch_off")
        run, leads = told(book.write(9, "one_lead", lead="a2", current_a=0.0))
        self.assertEqual((leads, "shares" in run.clues.now), ({}, False))

    def test_a_lead_that_there_is_not_is_refused_with_those_that_there_are(self) -> None:
        with self.assertRaises(InputError) as caught:
            told(running().write(6, "one_lead", lead="a9", current_a=1.0))
        self.assertIn("a1", caught.exception.allowed)

    def test_of_two_pieces_it_is_told_which_gets_nothing(self) -> None:
        two = replace(FOUR, pieces={"p1": "Hook", "p2": "Bar"})
        for lead, outcome in (("p1", "far_only"), ("p2", "near_only")):
            book = running().write(5, "reading", current_a=3.0)
            run, leads = told(book.write(6, "one_lead", lead=lead, current_a=0.05), two)
            self.assertEqual(leads[lead].verdict, "idle")
            self.assertEqual(run.clues.now["each_piece"].outcome, outcome)


if __name__ == "__main__":
    unittest.main()
