"""Hostile clocks: whoever's is wrong, an entry stands when it was, and the next step goes on."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import select

from tests.shops import START, ShopCase, entry
from yellowbath.core.errors import OutOfRangeError, StepRefusedError, YellowBathError
from yellowbath.core.run.moves import allowed
from yellowbath.store.engine import reading
from yellowbath.store.tables import run_log
from yellowbath.workflows.runs.runs import RunView, enter, start_run, view_run


def minutes(m: float) -> timedelta:
    return timedelta(minutes=m)


class Clocks(ShopCase):
    def row(self, client_id: str) -> tuple[datetime, datetime, datetime | None]:
        t = run_log
        query = select(t.c.at, t.c.device_at, t.c.device_now).where(t.c.client_id == client_id)
        with reading(self.shop.engine) as c:
            return tuple(c.execute(query).one())  # type: ignore[return-value]

    def said(
        self, run_id: str, at: datetime, kind: str, ahead: timedelta, **detail: object
    ) -> RunView:
        """Entered at a time by a device that runs ahead by so much, as it happens."""
        self.clock.at = at
        return enter(self.shop, run_id, entry(at + ahead, kind, **detail), at + ahead)

    def test_a_device_that_is_wrong_by_anything_enters_when_it_was(self) -> None:
        for ahead in (-3e5, -90, -4, -0.03, 0, 0.02, 4, 6, 90, 1e6):
            with self.subTest(ahead=ahead):
                run_id = self.running()
                at = START + minutes(40)
                self.clock.at = at + minutes(5)
                typed = at + minutes(ahead)
                made = entry(typed, "reading", current_a=2.0)
                enter(self.shop, run_id, made, self.clock.at + minutes(ahead))
                kept, raw, now = self.row(made.client_id)
                self.assertLess(abs(kept - at), timedelta(seconds=2.1))
                self.assertEqual((raw, now), (typed, self.clock.at + minutes(ahead)))
                # the same once more, however the clock was set since
                enter(self.shop, run_id, made, self.clock.at)
                self.assertEqual(len(view_run(self.shop, run_id).lines), 3)

    def test_a_fast_phone_does_not_bar_the_laptops_next_step(self) -> None:
        for ahead in (0.04, 4, 60):  # within what a request takes, minutes, an hour
            with self.subTest(ahead=ahead):
                run_id = self.running()
                at = START + minutes(40)
                self.said(run_id, at, "switch_off", minutes(ahead))
                view = self.said(run_id, at + timedelta(seconds=1), "switch_on", minutes(0))
                self.assertEqual(view.run.state, "running")

    def test_a_device_without_its_clock_is_never_ahead_of_the_shop(self) -> None:
        run_id = self.running()
        at = self.clock.to(40)
        made = entry(at + minutes(4), "switch_off")
        enter(self.shop, run_id, made)
        self.assertEqual(self.row(made.client_id)[0], at)
        self.clock.to(40.1)
        self.assertEqual(self.write(run_id, 40.1, "switch_on").run.state, "running")

    def test_a_shop_whose_clock_went_back_goes_on(self) -> None:
        run_id = self.running()
        self.said(run_id, START + minutes(60), "reading", minutes(0), current_a=2.0)
        real = START + minutes(90)
        self.clock.at = START - minutes(60 * 24 * 40)  # after a power cut, without a battery
        off = entry(real, "switch_off")
        view = enter(self.shop, run_id, off, real)
        self.assertEqual((view.run.state, self.row(off.client_id)[0]), ("paused", real))
        self.assertGreaterEqual(view_run(self.shop, run_id).now, real)
        # by a device that knows no better it stands still, and refuses nothing
        view = enter(self.shop, run_id, entry(self.clock.at, "switch_on"), self.clock.at)
        self.assertEqual(view.run.state, "running")

    def refused(self, run_id: str, minute: float, kind: str, **detail: object) -> YellowBathError:
        now = self.clock.at
        with self.assertRaises(YellowBathError) as caught:
            enter(self.shop, run_id, entry(START + minutes(minute), kind, **detail), now)
        self.assertTrue(caught.exception.remedy)
        return caught.exception

    def test_what_cannot_have_been_is_refused_in_words(self) -> None:
        run_id = self.running()
        self.write(run_id, 60, "switch_off")
        self.write(run_id, 90, "switch_on")
        self.clock.to(120)
        clock = f"{(START + minutes(90)).astimezone():%H:%M}"
        for minute, kind, kind_of, words in (
            (80, "switch_off", StepRefusedError, f"switched on at {clock}, after that"),
            (80, "found_stopped", StepRefusedError, f"switched on at {clock}, after that"),
            (180, "reading", OutOfRangeError, "has not come yet"),
            (-60 * 24 * 400, "remark", OutOfRangeError, "more than a year before"),
        ):  # fmt: skip
            with self.subTest(kind=kind, minute=minute):
                detail = {"text": "x"} if kind == "remark" else {}
                error = self.refused(run_id, minute, kind, **detail)
                self.assertIsInstance(error, kind_of)
                self.assertIn(words, str(error))
        self.assertEqual(view_run(self.shop, run_id).run.state, "running")

    def test_the_step_that_is_in_the_way_is_named(self) -> None:
        run_id = self.running()
        self.write(run_id, 60, "lift")
        self.write(run_id, 70, "back_in")
        self.clock.to(120)
        lifted, back = (f"{(START + minutes(m)).astimezone():%H:%M}" for m in (60, 70))
        before = str(self.refused(run_id, 65, "reading", current_a=2.0))
        self.assertIn(f"“lift the piece” at {lifted}", before)
        after = str(self.refused(run_id, 65, "abandon"))
        self.assertIn(f"“put the piece back in” of {back}", after)

    def test_a_bath_is_not_switched_on_before_it_was_planned(self) -> None:
        run_id = self.running()
        self.write(run_id, 60, "switch_off")
        self.clock.to(120)
        self.assertIn("not planned yet", str(self.refused(run_id, -30, "switch_on")))

    def test_a_bath_that_runs_already_counts_from_when_it_was_switched_on(self) -> None:
        """Set up at nought, on since two hours before; what was read meanwhile goes in as well."""
        self.clock.to(0)
        run_id = start_run(self.shop, self.plan().revision.plan_id).row.id
        self.assertNotIn("switch_on", allowed("planned"), "only what runs already")
        self.clock.to(1)
        self.assertIn("You cannot switch on", str(self.refused(run_id, 1, "switch_on")))
        enter(self.shop, run_id, entry(START - minutes(120), "switch_on", already=True))
        amps = round(view_run(self.shop, run_id).answer.gives.value, 2)
        enter(self.shop, run_id, entry(START - minutes(60), "reading", current_a=amps))
        view = view_run(self.shop, run_id)
        self.assertTrue(view.run.already)
        self.assertAlmostEqual(view.progress.powered_s, 121 * 60)
        self.assertAlmostEqual(view.run.stretches[-1].current_a, amps)
        first = view.actions[0]
        self.assertEqual((first.kind, first.at), ("checklist", self.clock.at), "nobody read it yet")
        read = self.write(run_id, 2, "checklist", ticked=[p.id for p in view.points])
        self.assertEqual(read.run.state, "running")
        self.assertNotEqual(read.actions[0].kind, "checklist")
        again = str(self.refused(run_id, -30, "switch_on", already=True))
        self.assertIn("under power here already", again)

    def test_strike_outs(self) -> None:
        run_id = self.running()
        read = entry(self.clock.to(20), "reading", current_a=2.0)
        enter(self.shop, run_id, read)
        void = entry(self.clock.to(21), "void", target=read.client_id)
        enter(self.shop, run_id, void)
        self.assertIn(
            "strike-out itself", str(self.refused(run_id, 21, "void", target=void.client_id))
        )
        self.assertIn("already", str(self.refused(run_id, 21, "void", target=read.client_id)))
        with self.assertRaisesRegex(YellowBathError, "no such entry"):
            enter(self.shop, run_id, entry(self.clock.at, "void", target="never-there"))
