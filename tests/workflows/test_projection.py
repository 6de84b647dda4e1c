"""What is kept of a run is what its whole log comes to, in whatever order it was written."""

import random
import sqlite3
import unittest
from datetime import timedelta
from unittest.mock import patch

from sqlalchemy import Connection, event

from tests.core.run.test_run import BASIS
from tests.core.test_properties import any_log
from tests.longer import of
from tests.shops import QUIET, START, ShopCase, entry
from yellowbath.core import dose
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.run import fold as folding
from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.charge import compact
from yellowbath.core.run.log import Entry, Void
from yellowbath.core.run.progress import Progress, progress
from yellowbath.core.run.run import Run, replay
from yellowbath.core.run.snapshot import kept, mark_of, opened
from yellowbath.store import runs as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.snapshots import past_for, past_of, put_folded
from yellowbath.workflows.plans.plans import create_plan
from yellowbath.workflows.runs.rack import rack
from yellowbath.workflows.runs.runs import RunView, start_run, view_run

NEED = dose.prior_need("moderate", "black")


def far(run: Run, end: float = 9000) -> Progress:
    return progress(run, NEED, START + timedelta(minutes=end))


class Alike(unittest.TestCase):
    def alike(self, one: Run, other: Run) -> None:
        """The same run, whatever of it is added up already."""
        for name in ("state", "signs", "silent", "alive_at", "since", "powered_since", "turns",
                     "flips", "inspections", "finish", "last_current_a", "last_of", "told",
                     "first_a", "count", "begun", "entries"):  # fmt: skip
            self.assertEqual(getattr(one, name), getattr(other, name), name)
        self.assertEqual(one.stretches[-1:], other.stretches[-1:])
        a, b = far(one), far(other)
        for name in ("powered_s", "charge_ah", "raw_ah_m2", "effective_ah_m2", "share_clean"):
            self.assertAlmostEqual(getattr(a, name), getattr(b, name), places=9, msg=name)
        for x, y in zip((*a.need_ah_m2, *a.charge_edges_ah), (*b.need_ah_m2, *b.charge_edges_ah),
                        strict=True):  # fmt: skip
            self.assertAlmostEqual(x, y, places=6)


class Snapshots(Alike):
    def test_a_run_comes_back_as_it_was_kept(self) -> None:
        rng = random.Random(7)
        for _ in range(120):
            run = replay(any_log(rng), BASIS)
            self.alike(run, compact(run))
            self.alike(run, opened(kept(run), BASIS))


class AnyOrder(ShopCase, Alike):
    def test_what_is_kept_is_what_the_whole_log_comes_to(self) -> None:
        """Late entries, struck-out ones and ones refused, with a snapshot every third entry."""
        rng = random.Random(11)
        plan_id = create_plan(self.shop, dict(QUIET)).revision.plan_id
        late = refused = struck = 0
        with patch.object(folding, "EVERY", 3):
            for _ in range(of(60, 15)):
                run_id = start_run(self.shop, plan_id).row.id
                log = any_log(rng)
                for k in range(1, len(log)):  # some come after the one that follows them
                    if rng.random() < 0.2:
                        log[k - 1], log[k] = log[k], log[k - 1]
                        late += 1
                written: list[Entry] = []
                for e in log:
                    if written and rng.random() < 0.1:
                        target = rng.choice(written).client_id
                        e = entry(e.at, "void", target=target)
                    try:
                        with writing(self.shop.engine) as c:
                            self._write(c, run_id, e)
                        written.append(e)
                        struck += e.detail.kind == "void"
                    except StepRefusedError:
                        refused += 1
                    with reading(self.shop.engine) as c:
                        whole = replay(store.log_of(c, run_id), BASIS)
                        stands = folding.fold(past_of(c, run_id, mark_of(BASIS)), BASIS)
                        self.alike(whole, stands.run)
                        self.assertEqual(self._rows(c, run_id), self._seen(whole.stretches))
        self.assertGreater(min(late, refused, struck), 7)

    def _write(self, c: Connection, run_id: str, e: Entry) -> None:
        mark, number = mark_of(BASIS), store.next_number(c)
        struck = e.detail.target if isinstance(e.detail, Void) else None
        target = store.entry_of(c, run_id, struck) if struck else None
        past = past_for(c, run_id, past_of(c, run_id, mark), mark, e, target)
        made = folding.fold(past.with_entry(number, e), BASIS)
        store.append_entry(c, run_id, number, e, self.shop.now())
        put_folded(c, run_id, made)

    @staticmethod
    def _rows(c: Connection, run_id: str) -> list[tuple[int, float, str]]:
        found = c.exec_driver_sql(
            "SELECT seq, current_a, source FROM run_stretches WHERE run_id = ? ORDER BY seq",
            (run_id,),
        )
        return [(seq, round(amps, 9), source) for seq, amps, source in found]

    @staticmethod
    def _seen(stretches: list[Stretch]) -> list[tuple[int, float, str]]:
        return [(k, round(s.current_a, 9), s.source) for k, s in enumerate(stretches)]


class Update(ShopCase):
    def test_what_another_version_kept_is_folded_once_and_then_kept(self) -> None:
        run_id = self.running()
        self.write(run_id, 30, "reading", current_a=3.0, method="clamp")
        before = view_run(self.shop, run_id)
        with self.shop.engine.begin() as c:
            c.exec_driver_sql("UPDATE run_snapshots SET mark = 'older'")
        self.alike_view(before, view_run(self.shop, run_id))
        with patch.object(folding, "extend", side_effect=AssertionError):
            self.alike_view(before, view_run(self.shop, run_id))
            self.assertEqual([on.row.id for on in rack(self.shop)], [run_id])

    def alike_view(self, one: RunView, other: RunView) -> None:
        self.assertEqual(one.run.state, other.run.state)
        self.assertAlmostEqual(one.progress.charge_ah, other.progress.charge_ah, places=9)


class Cost(ShopCase):
    def test_an_entry_in_order_costs_the_database_as_much_after_hundreds_as_after_20(self) -> None:
        """Counted in hundreds of steps of its own machine, which no other work disturbs."""
        run_id, steps = self.running(), [0]

        def stepped() -> int:
            steps[0] += 1
            return 0

        def watch(connection: sqlite3.Connection, *_: object) -> None:
            connection.set_progress_handler(stepped, 100)

        event.listen(self.shop.engine, "checkout", watch)
        cost = []
        count = of(600, 160)
        for k in range(count):
            before = steps[0]
            self.write(run_id, 2 + k, "reading", current_a=3.0, method="clamp")
            cost.append(steps[0] - before)
        early, late = sum(cost[60:100]), sum(cost[-40:])
        self.assertLess(late, 1.1 * early + 40, f"{early} and {late}")
        with reading(self.shop.engine) as c:
            rows = c.exec_driver_sql("SELECT count(*), max(length(state)) FROM run_snapshots").one()
        self.assertEqual(rows[0], count // 256 + 1, "one every 256, and the newest")
        self.assertLess(rows[1], 40_000)
