"""The rack remembers what it told, and tells anew what was entered or has fallen due."""

from datetime import timedelta
from unittest.mock import patch

from tests.shops import ShopCase
from yellowbath.workflows.plans.plans import get_plan, save_plan
from yellowbath.workflows.runs import rack as work


class Rack(ShopCase):
    def told(self, patience_s: float = 60.0) -> tuple[list[str], int]:
        """States on the rack, and how many baths were worked out for it."""
        with patch.object(work, "view_at", wraps=work.view_at) as made:
            found = work.rack(self.shop, patience_s=patience_s)
        states = [on.view.run.state if on.view else "checking" for on in found]
        return sorted(states), made.call_count

    def test_what_was_told_is_told_again_until_something_happens(self) -> None:
        one, two = self.running(), self.running()
        self.assertEqual(self.told(), (["running", "running"], 2))
        self.assertEqual(self.told(), (["running", "running"], 0))
        self.write(one, 1.01, "switch_off")
        self.assertEqual(self.told(), (["paused", "running"], 1))
        plan = get_plan(self.shop, self.plan_of(two)).revision
        save_plan(self.shop, plan.plan_id, plan.number, {**plan.document, "notes": "new"})
        self.assertEqual(self.told()[1], 1, "by a later revision of its plan")
        self.clock.at += timedelta(minutes=3)
        with patch.object(work, "_OLD_S", 60.0):
            self.assertEqual(self.told()[1], 2, "two minutes old at the most")

    def plan_of(self, run_id: str) -> str:
        found = work.rack(self.shop)
        return next(on.row.plan_id for on in found if on.row.id == run_id)

    def test_what_falls_due_is_told_at_once(self) -> None:
        self.running()
        (on,) = work.rack(self.shop)
        assert on.view
        due = min(a.at for a in on.view.actions if a.at and a.at > self.clock.at)
        self.clock.at = due + timedelta(seconds=1)
        (again,) = work.rack(self.shop, patience_s=0)
        assert again.view
        self.assertEqual(again.view.now, self.clock.at)

    def test_a_look_without_time_names_the_rest_and_works_out_one(self) -> None:
        for _ in range(3):
            self.running()
        self.assertEqual(self.told(patience_s=0), (["checking", "checking", "running"], 1))
        self.assertEqual(self.told(patience_s=0), (["checking", "running", "running"], 1))
        self.assertEqual(self.told(), (["running"] * 3, 1))
