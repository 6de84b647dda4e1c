"""Practice baths: every card can be played, what is entered acts on the bath, and nothing of it
reaches the shop."""

import subprocess
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

from tests.longer import some
from tests.shops import ShopCase
from tests.solving import SOLVER
from yellowbath.core.errors import NotFoundError, OutOfRangeError, StepRefusedError, YellowBathError
from yellowbath.core.run.log import Entry
from yellowbath.core.simulation.faults import fault_ids, possible
from yellowbath.store.engine import reading
from yellowbath.store.runs import log_of
from yellowbath.workflows.line.stand_in import design_of
from yellowbath.workflows.plans.plans import list_plans
from yellowbath.workflows.practice.debrief import debrief
from yellowbath.workflows.practice.deck import BATHS, FIRST, card_of, deck, practice_document
from yellowbath.workflows.practice.practice import MOST, Practice, Practices
from yellowbath.workflows.runs.runs import enter, view_run
from yellowbath.workflows.shop.shop import Wanted

BEGUN = datetime(2026, 11, 2, 9, 0, tzinfo=UTC)


class Clock:
    def __init__(self) -> None:
        self.at = BEGUN

    def __call__(self) -> datetime:
        self.at += timedelta(milliseconds=40)
        return self.at


class Played(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.practices = Practices(SOLVER, Clock())
        self.addCleanup(self.practices.close)

    def begin(self, card: str) -> Practice:
        made = self.practices.begin(card, "metric")
        ticked = [p.id for p in view_run(made.shop, made.run_id).points]
        self.write(made, "checklist", ticked=ticked)
        return made

    def write(self, p: Practice, kind: str, **detail: Any) -> None:
        body = {"client_id": uuid4().hex, "at": p.now(), "detail": {"kind": kind, **detail}}
        entry = Entry.model_validate(body)
        enter(p.shop, p.run_id, entry, p.now())
        p.heed(p.run_id, entry)

    def test_a_piece_taken_out_by_itself_is_out_of_the_bath_there(self) -> None:
        p = self.begin(next(c.id for c in deck() if c.bath == "pair"))
        for kind, detail in (("switch_on", {}), ("lift", {"piece": "p1"}), ("switch_on", {}),
                             ("clean", {"piece": "p1"})):  # fmt: skip
            self.write(p, kind, **detail)
        assert p.bath is not None
        self.assertEqual((p.bath.out, p.bath.supply.on), ({"p1"}, True), "the other goes on")

    def test_the_first_five_minutes(self) -> None:
        """Switch on, look, read, ask, switch off, mend, on again, look: named, and told so."""
        p = self.begin(FIRST)
        self.write(p, "switch_on")
        gas = p.observe("gas").text
        self.assertTrue(gas.startswith(("Only at the clip", "No gas", "From one side")), gas)
        p.observe("amps")
        joint = p.observe("joint_piece")
        self.assertIn("or more", joint.text)
        with reading(p.shop.engine) as c:  # what is met is written down, and nothing is by hand
            kinds = [e.detail.kind for e in log_of(c, p.run_id)]
        self.assertEqual(kinds[-3:], ["look", "reading", "asked"])
        with self.assertRaises(StepRefusedError) as caught:
            p.mend("contact_piece")
        self.assertIn("hands stay out", str(caught.exception))
        self.write(p, "switch_off")
        p.mend("contact_piece")
        self.write(p, "switch_on")
        self.assertTrue(p.observe("gas").text.startswith("From the whole piece"))
        self.write(p, "mended", cause="contact_piece", helped=True)
        told = debrief(p)
        self.assertEqual((told.cause, told.named), ("contact_piece", True))
        self.assertIsNotNone(told.gone)
        chances = [m.chance for m in told.moments if m.chance is not None]
        self.assertGreater(max(chances), 0.7)
        assert told.soonest is not None
        self.assertGreater(told.soonest[2], 0.6)
        self.assertLess(p.now() - BEGUN, timedelta(minutes=30))

    def test_time_passes_as_fast_as_wanted_and_the_bath_with_it(self) -> None:
        p = self.begin(FIRST)
        self.write(p, "switch_on")
        before = p.hung().charge_ah
        p.let_pass(240)
        self.assertAlmostEqual(p.hung().time_s / 3600, 4.0, delta=0.05)
        self.assertGreater(p.hung().charge_ah, before)
        for minutes in (-1.0, 60 * 24 * 30, float("1e9")):
            with self.assertRaises(OutOfRangeError):
                p.let_pass(minutes)

    def test_every_card_is_played_and_told(self) -> None:
        """Each switched on, looked at after its fault has come, and debriefed; what cannot be
        asked is refused in words."""
        self.assertEqual(sorted(c.fault for c in deck()), sorted(fault_ids()))
        self.assertEqual(sorted({c.grade for c in deck()}), [1, 2, 3])
        designs = {k: design_of(practice_document(k)) for k in BATHS}
        for card in deck():
            self.assertIn(card.fault, possible(designs[card.bath]), card.id)
        for card in some(deck(), 9):
            with self.subTest(card.fault):
                p = self.begin(card.id)
                self.write(p, "switch_on")
                p.let_pass(640)
                p.observe("amps")
                self.write(p, "switch_off")
                self.assertTrue(p.observe("leads").text)
                told = debrief(p)
                self.assertEqual(told.cause, card.fault)
                self.assertFalse(told.named)
                self.assertIsNotNone(told.soonest)
                self.assertGreater(told.lost_min, 30)
                if card.fault == "reversed":
                    self.assertGreater(told.eaten_kg, 1e-4)
                with self.assertRaises(YellowBathError):
                    p.observe("the moon")
                self.practices.end(p.id)

    def test_nothing_of_it_reaches_the_shop(self) -> None:
        p = self.begin(FIRST)
        self.write(p, "switch_on")
        self.assertEqual(list_plans(self.shop, False, Wanted()).rows, [])
        with reading(self.shop.engine) as c:
            self.assertEqual(log_of(c, p.run_id), [])
        folder = p.folder
        self.practices.end(p.id)
        self.assertFalse(folder.exists())
        with self.assertRaises(NotFoundError):
            self.practices.get(p.id)

    def test_what_a_server_left_that_was_killed_is_cleared_up(self) -> None:
        ended = subprocess.run([sys.executable, "-c", "import os; print(os.getpid())"],
                               capture_output=True, text=True, check=True)  # fmt: skip
        left = Path(tempfile.mkdtemp(prefix=f"yellow-bath-practice-{ended.stdout.strip()}-"))
        ours = self.practices.begin(FIRST, "metric", own_plan=True)
        Practices(SOLVER)
        self.assertFalse(left.exists())
        self.assertTrue(ours.folder.exists())

    def test_the_one_longest_untouched_ends_when_there_are_too_many(self) -> None:
        first = self.practices.begin(FIRST, "metric", own_plan=True)
        second = self.practices.begin(FIRST, "metric", own_plan=True)
        self.practices.get(first.id)
        for _ in range(MOST - 1):
            self.practices.begin(FIRST, "metric", own_plan=True)
        self.assertIs(self.practices.get(first.id), first)
        with self.assertRaises(NotFoundError):
            self.practices.get(second.id)
        with self.assertRaises(NotFoundError):
            card_of("9-9")
