"""The straight way of an entry: facts read once, taken, written once, told after the lock."""

from datetime import timedelta
from typing import Any
from unittest.mock import patch

from tests.shops import START, ShopCase, entry
from tests.traced import climbs, walk
from yellowbath.core.run.log import Entry
from yellowbath.workflows.plans.kit import add
from yellowbath.workflows.runs import runs as work
from yellowbath.workflows.runs.runs import enter, view_run

# A whole run, with one entry that comes late and one that is struck out.
STEPS: tuple[tuple[float, str, dict[str, Any]], ...] = (
    (30, "reading", {"current_a": 3.0}),
    (31, "remark", {"text": "brown froth"}),
    (60, "change", {"what": "turned", "after_a": 2.9}),
    (45, "reading", {"current_a": 9.0}),
    (61, "void", {}),
    (70, "look", {"bubbles": "none"}),
    (71, "reading", {"current_a": 3.1}),
    (72, "asked", {"ask": "gas", "outcome": "none"}),
    (90, "lift", {}),
    (91, "inspection", {"verdict": "not_yet"}),
    (95, "back_in", {}),
    (96, "switch_on", {}),
    (190, "lift", {}),
    (191, "inspection", {"verdict": "share", "shares": {}}),
    (192, "clean", {}),
    (193, "finish_start", {}),
    (194, "close", {"mix_kept": True}),
)


class StraightWay(ShopCase):
    def test_an_entry_reads_once_is_taken_is_written_once_and_told_after_the_lock(self) -> None:
        run_id = self.running()
        view_run(self.shop, run_id)
        late: Entry | None = None
        for minutes, kind, detail in STEPS:
            if kind == "void":
                assert late is not None
                detail = {"target": late.client_id}
            made = entry(START + timedelta(minutes=minutes), kind, **detail)
            late = made if minutes == 45 else late
            self.clock.to(max(minutes, 61))
            with self.subTest(kind), patch.object(work, "account", self._after_the_lock):
                rooms = walk(lambda made=made: enter(self.shop, run_id, made))
                self.assertLessEqual(climbs(rooms), 3, rooms)
                self.assertLessEqual(rooms.count("store"), 2, rooms)
        self.assertEqual(view_run(self.shop, run_id).run.state, "closed")

    def _after_the_lock(self, *known: Any) -> Any:
        self.assertEqual(self.shop.engine.pool.checkedout(), 0)  # type: ignore[attr-defined]
        return _ACCOUNT(*known)

    def test_a_thing_of_the_kit_that_cannot_be_read_holds_up_no_bath(self) -> None:
        lead = {"name": "Lead", "detail": {"kind": "lead", "length_m": 2.0}}
        mix = {"name": "Mix", "detail": {"kind": "mix"}}
        things = [add(self.shop, t).id for t in (lead, mix)]
        named = [{"ref": t, "role": r} for t, r in zip(things, ("lead", "batch"), strict=True)]
        run_id = self.running(kit=named)
        with self.shop.engine.begin() as c:
            c.exec_driver_sql("UPDATE kit SET document = '{\"schema_version\": 99}'")
        self.write(run_id, 30, "reading", current_a=3.0)
        self.assertEqual(view_run(self.shop, run_id).run.state, "running")

    def test_a_look_at_a_run_meets_the_store_once(self) -> None:
        run_id = self.running()
        view_run(self.shop, run_id)
        rooms = walk(lambda: view_run(self.shop, run_id))
        self.assertEqual(rooms.count("store"), 1, rooms)


_ACCOUNT = work.account
