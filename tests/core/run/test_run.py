"""The run's state machine and its stretches."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import TypeAdapter, ValidationError

from yellowbath.core.dose import effective_rate, prior_need
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.field.model import Coverage, lognormal_profile
from yellowbath.core.run.charge import charge_ah, doses_at
from yellowbath.core.run.log import AnyDetail, Entry
from yellowbath.core.run.moves import MOVES, STATES, allowed
from yellowbath.core.run.progress import progress
from yellowbath.core.run.run import Basis, Run, replay

START = datetime(2026, 3, 1, 18, 0, tzinfo=UTC)
BASIS = Basis(
    revision=1,
    level_m=0.25,
    anodes="a1 a2 plain_steel",
    mix="soda_anhydrous 5 g/L",
    supply="transformer 12 V",
    expected_a=3.0,
    expected_low_a=2.0,
    expected_high_a=4.5,
    wetted_area_m2=0.06,
    coverage=Coverage.ranked(lognormal_profile(0.4)),
    crust_ah=30.0,
    rods={"a1": 0.5, "a2": 0.5},
)
_DETAIL: TypeAdapter[AnyDetail] = TypeAdapter(AnyDetail)


def at(minutes: float) -> datetime:
    return START + timedelta(minutes=minutes)


class Book:
    """A log being written."""

    def __init__(self) -> None:
        self.log: list[Entry] = []

    def write(self, minutes: float, kind: str, **detail: Any) -> "Book":
        made = _DETAIL.validate_python({"kind": kind, **detail})
        self.log.append(Entry(client_id=f"entry-{len(self.log):04}", at=at(minutes), detail=made))
        return self

    def run(self) -> Run:
        return replay(self.log, BASIS)


def running() -> Book:
    return Book().write(0, "checklist", ticked=[]).write(1, "switch_on")


class States(unittest.TestCase):
    def test_the_whole_way(self) -> None:
        book = Book()
        self.assertEqual(book.run().state, "planned")
        for minutes, kind, detail, state in (
            (0, "checklist", {"ticked": []}, "ready"),
            (1, "switch_on", {}, "running"),
            (2, "look", {"bubbles": "whole"}, "running"),
            (40, "reading", {"current_a": 2.5}, "running"),
            (60, "switch_off", {}, "paused"),
            (70, "switch_on", {}, "running"),
            (300, "lift", {}, "lifted"),
            (301, "inspection", {"verdict": "not_yet"}, "lifted"),
            (305, "back_in", {}, "paused"),
            (306, "switch_on", {}, "running"),
            (600, "lift", {}, "lifted"),
            (601, "inspection", {"verdict": "equal"}, "lifted"),
            (602, "clean", {}, "clean"),
            (603, "finish_start", {}, "finishing"),
            (610, "finish_step", {"step": "scrub", "mark": "done"}, "finishing"),
            (700, "close", {}, "closed"),
        ):
            with self.subTest(kind, minutes=minutes):
                self.assertEqual(book.write(minutes, kind, **detail).run().state, state)

    def test_what_has_no_place_is_refused_and_says_what_has(self) -> None:
        for book, kind, detail in (
            (Book(), "switch_on", {}),
            (Book(), "reading", {"current_a": 1.0}),
            (running(), "inspection", {"verdict": "not_yet"}),
            (running(), "clean", {}),
            (running(), "checklist", {"ticked": []}),
            (running().write(5, "abandon"), "switch_on", {}),
        ):
            with self.subTest(kind), self.assertRaises(StepRefusedError) as caught:
                book.write(10, kind, **detail).run()
            self.assertIn("From here you can", caught.exception.allowed)

    def test_every_state_can_be_reached_and_left_as_the_table_says(self) -> None:
        self.assertEqual(set(MOVES), set(STATES))
        reached = {"planned"} | {s for moves in MOVES.values() for s in moves.values()}
        self.assertEqual(reached, set(STATES))
        for state in ("closed", "abandoned"):
            self.assertEqual(list(allowed(state)), ["remark"])  # type: ignore[arg-type]

    def test_switching_on_needs_the_list_first(self) -> None:
        self.assertNotIn("switch_on", allowed("planned"))

    def test_a_remark_changes_nothing(self) -> None:
        before, after = running().run(), running().write(9, "remark", text="cold night").run()
        self.assertEqual(before.state, after.state)
        self.assertEqual(before.stretches, after.stretches)


class PoweredTime(unittest.TestCase):
    def test_only_hours_under_power_count(self) -> None:
        run = running().write(61, "switch_off").write(100, "switch_on").run()
        self.assertEqual(run.powered_s(at(130)), 90 * 60)
        self.assertEqual([s.end is None for s in run.stretches], [False, True])

    def test_a_stop_found_later_ends_the_stretch_where_it_happened(self) -> None:
        """Entered at breakfast, for half past three: the hours after it are taken off."""
        book = running().write(600, "remark", text="all dark")
        self.assertEqual(book.run().powered_s(at(600)), 599 * 60)
        book.write(300, "found_stopped", cause="fuse")
        run = book.run()
        self.assertEqual(run.state, "paused")
        self.assertEqual(run.powered_s(at(600)), 299 * 60)

    def test_a_stop_before_the_start_is_refused(self) -> None:
        with self.assertRaises(StepRefusedError):
            running().write(-5, "found_stopped").run()

    def test_entries_fall_into_place_by_their_time(self) -> None:
        """Readings sent late, after the network came back, land where they were taken."""
        late = running().write(300, "lift").write(60, "reading", current_a=2.0)
        early = running().write(60, "reading", current_a=2.0).write(300, "lift")
        self.assertEqual(
            [(s.start, s.end, s.current_a) for s in late.run().stretches],
            [(s.start, s.end, s.current_a) for s in early.run().stretches],
        )

    def test_a_void_takes_an_entry_back(self) -> None:
        book = running().write(50, "lift")
        lifted = book.log[-1].client_id
        run = book.write(51, "void", target=lifted).run()
        self.assertEqual(run.state, "running")
        self.assertEqual(len(run.stretches), 1)


class Amps(unittest.TestCase):
    def test_without_a_reading_the_expected_amps_stand_with_their_window(self) -> None:
        (only,) = running().run().stretches
        self.assertEqual((only.current_a, only.source), (3.0, "expected"))
        self.assertEqual((only.low_a, only.high_a), (2.0, 4.5))

    def test_a_look_without_a_reading_splits_nothing(self) -> None:
        run = running().write(40, "reading", method="none").run()
        self.assertEqual([s.source for s in run.stretches], ["expected"])

    def test_between_two_readings_lies_their_mean(self) -> None:
        run = (
            running().write(60, "reading", current_a=3.0).write(120, "reading", current_a=2.0).run()
        )
        self.assertEqual([s.current_a for s in run.stretches], [3.0, 2.5, 2.0])
        self.assertEqual([s.source for s in run.stretches], ["read", "between", "read"])
        self.assertLess(run.stretches[1].low_a, 2.1)
        self.assertEqual(run.last_current_a, 2.0)

    def test_a_needle_is_read_less_well_than_a_clamp(self) -> None:
        spans = []
        for method in ("clamp", "dial"):
            last = running().write(60, "reading", current_a=3.0, method=method).run().stretches[-1]
            spans.append(last.high_a - last.low_a)
        self.assertLess(spans[0], spans[1] / 3)

    def test_scraping_ends_what_was_known_turning_counts_as_a_pose(self) -> None:
        run = (
            running().write(60, "reading", current_a=2.0).write(90, "change", what="scraped").run()
        )
        self.assertEqual(run.stretches[-1].source, "expected")
        run = running().write(60, "reading", current_a=2.0).write(90, "change", what="turned").run()
        self.assertEqual((run.stretches[-1].pose, run.stretches[-1].current_a), (1, 2.0))

    def test_dose_adds_up_where_it_fell_pose_by_pose(self) -> None:
        """Two sides, each served in one pose: turned half way both have had the same."""
        sides = Coverage((0.5, 0.5), ((1.8, 0.2), (0.2, 1.8)))
        basis = replace(BASIS, coverage=sides)
        turned = running().write(121, "change", what="turned")
        for book, even in ((running(), False), (turned, True)):
            run = replay(book.log, basis)
            doses = doses_at(run.stretches, at(241))
            hours, mean = 4.0, BASIS.expected_a / BASIS.wetted_area_m2
            with self.subTest(even):
                rates = [effective_rate(mean * r) for r in (1.8, 0.2)]
                wanted = [hours * sum(rates) / 2] * 2 if even else [hours * r for r in rates]
                for had, want in zip(doses, wanted, strict=True):
                    self.assertAlmostEqual(had / want, 1, places=9)
                self.assertAlmostEqual(charge_ah(run.stretches, at(241)), hours * 3.0, places=9)
        left = [
            progress(replay(b.log, basis), prior_need("moderate", "black"), at(241)).share_clean
            for b in (running(), turned)
        ]
        self.assertGreater(left[1], left[0])

    def test_amps_before_and_after_a_change(self) -> None:
        change = {"what": "scraped", "before_a": 2.0, "after_a": 3.2}
        run = running().write(60, "reading", current_a=3.0).write(120, "change", **change).run()
        self.assertEqual([s.current_a for s in run.stretches], [3.0, 2.5, 3.2])

    def test_two_entries_in_the_same_second_make_no_empty_stretch(self) -> None:
        run = running().write(1, "reading", current_a=2.0).run()
        self.assertEqual(len(run.stretches), 1)


class Entries(unittest.TestCase):
    def test_numbers_have_ranges_and_times_a_zone(self) -> None:
        for detail in (
            {"kind": "reading", "current_a": -1},
            {"kind": "reading", "current_a": 900},
            {"kind": "reading", "tank_v": "x"},
            {"kind": "inspection", "verdict": "share", "shares": {"p1.front": 1.2}},
            {"kind": "look", "bubbles": "some"},
            {"kind": "nonsense"},
        ):
            with self.subTest(detail=detail), self.assertRaises(ValidationError):
                _DETAIL.validate_python(detail)
        with self.assertRaises(ValidationError):
            Entry.model_validate(
                {"client_id": "abcdefgh", "at": "2026-03-01T18:00:00", "detail": {"kind": "lift"}}
            )
