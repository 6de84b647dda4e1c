"""Runs through the workflows: stops block, entries are kept once, stretches follow the log."""

import os
import shutil
import threading
from datetime import UTC, datetime, timedelta

from sqlalchemy import text

from tests.server import SEEDED
from tests.shops import STAINLESS, START, ShopCase, entry
from yellowbath.core.errors import (
    KnownKeyError,
    NotFoundError,
    OutOfRangeError,
    StepRefusedError,
    StopsInForceError,
)
from yellowbath.store.engine import reading
from yellowbath.workflows.demo import seed
from yellowbath.workflows.plans.plans import create_plan, list_plans, save_plan
from yellowbath.workflows.runs.book import book, book_page
from yellowbath.workflows.runs.rack import rack
from yellowbath.workflows.runs.runs import enter, start_run, view_run


class SwitchingOn(ShopCase):
    def test_a_stop_blocks_the_list_and_the_switch(self) -> None:
        plan = create_plan(self.shop, STAINLESS).revision
        run_id = start_run(self.shop, plan.plan_id).row.id
        points = [p.id for p in view_run(self.shop, run_id).points]
        with self.assertRaises(StopsInForceError) as caught:
            self.write(run_id, 0, "checklist", ticked=points)
        self.assertEqual(caught.exception.findings[0][0], "anode_refused")
        with self.assertRaises(StopsInForceError):
            self.write(run_id, 1, "switch_on")
        self.assertEqual(view_run(self.shop, run_id).lines, [])

    def test_every_point_must_be_ticked_cautions_among_them(self) -> None:
        plan = self.plan(pieces=[{"grease": "some"}]).revision
        run_id = start_run(self.shop, plan.plan_id).row.id
        points = [p.id for p in view_run(self.shop, run_id).points]
        self.assertIn("caution.grease", points)
        with self.assertRaises(StepRefusedError) as caught:
            self.write(run_id, 0, "checklist", ticked=points[:-1])
        self.assertIn("1 of", caught.exception.problem)
        self.assertEqual(self.write(run_id, 0, "checklist", ticked=points).run.state, "ready")

    def test_a_run_stays_on_its_revision(self) -> None:
        plan = self.plan().revision
        run_id = start_run(self.shop, plan.plan_id).row.id
        save_plan(self.shop, plan.plan_id, 1, {**plan.document, "place": {"lid": True}})
        view = view_run(self.shop, run_id)
        self.assertEqual((view.row.revision, len(view.answered.findings)), (1, 0))


class Writing(ShopCase):
    def test_the_same_entry_twice_is_kept_once(self) -> None:
        run_id = self.running()
        reading_ = entry(self.clock.to(40), "reading", "phone-entry-1", current_a=2.0)
        for _ in range(3):
            view = enter(self.shop, run_id, reading_)
        self.assertEqual([e.client_id for e in view.lines].count("phone-entry-1"), 1)

    def test_other_words_under_a_name_that_is_kept_are_refused(self) -> None:
        run_id = self.running()
        at = self.clock.to(40)
        enter(self.shop, run_id, entry(at, "reading", "phone-entry-1", current_a=2.0))
        for other in (entry(at, "reading", "phone-entry-1", current_a=2.5),
                      entry(at + timedelta(minutes=1), "reading", "phone-entry-1", current_a=2.0),
                      entry(at, "remark", "phone-entry-1", text="Smells")):  # fmt: skip
            with self.assertRaisesRegex(KnownKeyError, "under this name"):
                enter(self.shop, run_id, other)

    def test_ten_at_once_are_each_kept_once(self) -> None:
        run_id = self.running()
        self.clock.to(50)
        sent = [entry(START + timedelta(minutes=10 + k), "reading", f"phone-{k:05}", current_a=2.0)
                for k in range(5)]  # fmt: skip
        threads = [
            threading.Thread(target=enter, args=(self.shop, run_id, e)) for e in (*sent, *sent)
        ]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        ids = [e.client_id for e in view_run(self.shop, run_id).lines]
        self.assertEqual(
            sorted(i for i in ids if i.startswith("phone")), [e.client_id for e in sent]
        )

    def test_a_refused_entry_leaves_no_trace(self) -> None:
        run_id = self.running()
        before = view_run(self.shop, run_id).lines
        for minutes, kind, detail in (
            (50, "inspection", {"verdict": "not_yet"}),
            (50, "close", {}),
            (50, "void", {"target": "no-such-entry"}),
        ):
            with self.assertRaises((StepRefusedError, NotFoundError)):
                self.write(run_id, minutes, kind, **detail)
        self.assertEqual(view_run(self.shop, run_id).lines, before)

    def test_times_that_cannot_be(self) -> None:
        run_id = self.running()
        self.clock.to(30)
        for at in (START + timedelta(minutes=60), START - timedelta(days=400)):
            with self.assertRaises(OutOfRangeError):
                enter(self.shop, run_id, entry(at, "reading", current_a=2.0))

    def test_the_stored_stretches_follow_the_log(self) -> None:
        run_id = self.running()
        self.write(run_id, 61, "reading", current_a=2.0)
        self.write(run_id, 121, "switch_off")
        self.clock.to(200)
        enter(self.shop, run_id, entry(START + timedelta(minutes=91), "found_stopped"))
        with reading(self.shop.engine) as c:
            rows = c.execute(text(
                "SELECT start_at, end_at, pose, level_m, anodes, mix, supply, current_a, source,"
                " plan_revision FROM run_stretches ORDER BY seq")).all()  # fmt: skip
        self.assertEqual([r.current_a for r in rows], [2.0, 2.0])
        self.assertTrue(str(rows[-1].end_at).startswith("2026-03-01T19:31:00"))
        for row in rows:
            self.assertEqual((row.source, row.plan_revision, row.pose), ("read", 1, 0))
            self.assertIn("soda_anhydrous 5 g/L", row.mix)
            self.assertIn("plain_steel", row.anodes)
            self.assertAlmostEqual(row.level_m, 0.27)

    def test_a_server_started_again_carries_on(self) -> None:
        run_id = self.running()
        self.write(run_id, 40, "reading", current_a=2.0)
        self.clock.to(100)
        again = view_run(self.open(), run_id)
        self.assertEqual(again.run.state, "running")
        self.assertEqual(again.progress.powered_s, 99 * 60)


class Dips(ShopCase):
    """A bar longer than its bucket is deep, solved in both poses."""

    def test_what_was_under_in_each_dip_gets_the_dose(self) -> None:
        bar = {"shape": {"kind": "bar", "length_m": 0.38, "diameter_m": 0.02}, "hang": "long_down"}
        run_id = self.running(pieces=[bar])
        self.write(run_id, 1, "look", bubbles="whole")
        one = self.write(run_id, 121, "switch_off")
        first = one.progress.parts_ah_m2
        self.assertTrue(view_run(self.shop, run_id).answer)
        self.assertIn(0.0, first, "what hangs dry gets nothing")
        self.write(run_id, 125, "change", what="flipped")
        self.write(run_id, 126, "switch_on")
        self.write(run_id, 126, "look", bubbles="whole")
        second = self.write(run_id, 246, "switch_off").progress.parts_ah_m2
        fresh = [b for a, b in zip(first, second, strict=True) if a == 0.0 < b]
        self.assertTrue(fresh, "the fresh end begins at nothing and gets its share")
        # one dip is as good as the other: the bar is the same from both ends
        self.assertAlmostEqual(max(fresh) / max(first), 1.0, delta=0.1)
        # in the middle both dips count, at each end one
        self.assertTrue(any(b > 1.5 * a > 0 for a, b in zip(first, second, strict=True)))
        self.assertTrue(any(b == a > 0 for a, b in zip(first, second, strict=True)))


class Closing(ShopCase):
    def finish(self, **close: object) -> str:
        run_id = self.running()
        self.write(run_id, 61, "reading", current_a=2.0)
        self.write(run_id, 181, "lift")
        shares = {"p1.front": 1.0, "p1.back": 0.9}
        self.write(run_id, 182, "inspection", verdict="share", shares=shares)
        self.write(run_id, 183, "clean")
        self.write(run_id, 184, "finish_start")
        self.write(run_id, 190, "finish_step", step="protect", mark="done", choice="oil")
        self.write(run_id, 200, "close", **close)
        return run_id

    def test_the_entry_holds_planned_against_happened(self) -> None:
        run_id = self.finish(hands_s=1800, materials=2.5, stamps="WL", worth_after=30.0)
        closed, page = book_page(self.shop, run_id)
        self.assertEqual(closed, START + timedelta(minutes=200))
        self.assertEqual((page.piece, page.powered_s, page.looks), ("Gate latch", 3 * 3600.0, 1))
        self.assertAlmostEqual(page.charge_ah, 6.0)
        self.assertAlmostEqual(page.mean_current_a, 2.0)
        self.assertAlmostEqual(page.energy_cost, 6.0 * 12 / 1000 * 0.30)
        self.assertLess(page.effective_ah_m2, page.raw_ah_m2)
        self.assertEqual(page.shares, {"p1.front": 1.0, "p1.back": 0.9})
        self.assertEqual(page.finish, ["protect: oil"])
        self.assertEqual((page.hands_s, page.stamps, page.worth_after), (1800, "WL", 30.0))
        assert page.planned_time_s
        self.assertLess(page.planned_time_s.low, page.planned_time_s.high)

    def test_a_closed_run_takes_remarks_and_nothing_else(self) -> None:
        run_id = self.finish()
        last = view_run(self.shop, run_id).lines[0].client_id
        for kind, detail in (("switch_on", {}), ("close", {}), ("void", {"target": last})):
            with self.assertRaises(StepRefusedError):
                self.write(run_id, 300, kind, **detail)
        self.write(run_id, 301, "remark", text="held up over the winter")
        self.assertEqual(len(book(self.shop)), 1)

    def test_the_rack_holds_what_is_not_over_most_urgent_first(self) -> None:
        self.finish()
        waiting, calm = self.running(), self.running()
        self.write(calm, 2, "look", bubbles="whole")
        self.write(calm, 36, "reading", current_a=0.5)
        self.write(waiting, 37, "lift")
        self.assertEqual([on.row.id for on in rack(self.shop, patience_s=60)], [waiting, calm])


class Demo(ShopCase):
    def test_the_demo_shop_has_what_a_newcomer_should_see(self) -> None:
        """Several runs behind it, one running, one waiting for hands, a plan with a stop."""
        self.clock.at = datetime.now(UTC)
        if SEEDED in os.environ:  # made once for all tests, as the command makes it
            shutil.copytree(os.environ[SEEDED], self.file.parent / "demo")
            self.file = self.file.parent / "demo" / "shop.sqlite"
            self.shop = self.open()
        else:
            seed(self.shop.engine, self.clock.at)
        states = [on.view.run.state for on in rack(self.shop, patience_s=60) if on.view]
        self.assertEqual(states, ["lifted", "running"])
        self.assertEqual(len(book(self.shop)), 2)
        self.assertEqual(sum(p.summary.stops > 0 for p in list_plans(self.shop)), 1)
        entries = [over.entry for over in book(self.shop) if over.entry]
        self.assertEqual(sum(e.stops_found_later for e in entries), 1)
