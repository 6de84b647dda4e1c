"""What a running bath's plan says since, what went in by hand and what was typed anew of its things
reaches the bath: asked, answered, judged, and never switched on over."""

import unittest
from collections.abc import Mapping
from typing import Any

from tests.core.checks.test_rules import CALLED
from tests.shops import QUIET, ShopCase
from yellowbath.core.checks.limits import check_rows
from yellowbath.core.errors import StepRefusedError, StopsInForceError
from yellowbath.core.run.in_bath import key_of
from yellowbath.core.run.log import GoesIn
from yellowbath.workflows.plans import kit
from yellowbath.workflows.plans.plans import save_plan
from yellowbath.workflows.runs.estimate import goes_in
from yellowbath.workflows.runs.runs import RunView, view_run

STEEL = {"anodes": [{"id": "a1"}, {"id": "a2"}]}
STAINLESS = {"anodes": [{"id": "a1"}, {"id": "x9", "material": "stainless"}]}


class InTheBath(ShopCase):
    def changed(self, run_id: str, document: Mapping[str, Any]) -> RunView:
        """The plan of a run saved anew, as from its page."""
        view = view_run(self.shop, run_id)
        save_plan(self.shop, view.row.plan_id, view.head, {**QUIET, **document})
        return view_run(self.shop, run_id)

    def says(self, run_id: str, minutes: float, so: str) -> RunView:
        view = view_run(self.shop, run_id)
        stops = [key_of(f) for f in view.asked]
        return self.write(run_id, minutes, "in_bath", so=so, head=view.head, stops=stops)

    def test_an_anode_under_a_new_id_is_asked_and_bars_the_next_switching_on(self) -> None:
        run_id = self.running(**STEEL)
        view = self.changed(run_id, STAINLESS)
        self.assertEqual([f.id for f in view.asked], ["anode_refused"])
        self.assertEqual((view.actions[0].kind, view.actions[0].danger), ("in_bath", False))
        self.write(run_id, 5, "switch_off")
        with self.assertRaisesRegex(StepRefusedError, "in the bath now"):
            self.write(run_id, 6, "switch_on")
        self.says(run_id, 7, "idea")
        self.assertEqual(self.write(run_id, 8, "switch_on").run.state, "running")

    def test_said_to_be_so_it_is_a_danger_and_stays_one_over_later_revisions(self) -> None:
        run_id = self.running(**STEEL)
        self.changed(run_id, STAINLESS)
        first = self.says(run_id, 5, "now").actions[0]
        self.assertEqual((first.kind, first.danger), ("switch_off_now", True))
        later = self.changed(run_id, {**STAINLESS, "name": "Another name"})
        self.assertTrue(later.actions[0].danger)
        self.write(run_id, 6, "switch_off")
        with self.assertRaises(StopsInForceError):
            self.write(run_id, 7, "switch_on")
        self.assertFalse(any(a.danger for a in self.changed(run_id, STEEL).actions), "mended")

    def test_a_change_that_stops_nothing_is_asked_once_and_bars_nothing(self) -> None:
        run_id = self.running(**STEEL)
        view = self.changed(run_id, {**STEEL, "mix": {"product": "soda_anhydrous",
                                                      "concentration_kg_m3": 7.0}})  # fmt: skip
        self.assertTrue(view.since)
        self.assertFalse(view.asked)
        self.assertNotEqual(view.actions[0].kind, "in_bath")

    def test_every_check_that_stops_reaches_a_running_bath(self) -> None:
        """Each is asked about, is a danger at once as a fact, or the change cannot be worked out:
        none of them is silent."""
        stopping = [k for k in CALLED if check_rows()[k]["severity"] == "stop"]
        self.assertGreater(len(stopping), 30)
        silent = []
        run_id = self.running()
        for check in stopping:
            view = self.changed(run_id, CALLED[check])
            asked, known = {f.id for f in view.asked}, {f.id for f in view.judged}
            if check not in asked | known:
                silent.append(check)
            if check in asked:
                self.assertIn(view.actions[0].kind, ("in_bath", "switch_off_now"), check)
        self.assertEqual(silent, [])

    def test_what_was_logged_as_gone_in_is_judged(self) -> None:
        run_id = self.running(**STEEL)
        view = self.write(run_id, 30, "change", what="added_anode",
                          goes_in={"material": "galvanised"})  # fmt: skip
        self.assertTrue(view.actions[0].danger)
        self.assertIn("plus side", view.actions[0].why)
        view = self.write(run_id, 31, "change", what="swapped_anodes",
                          goes_in={"material": "plain_steel"})  # fmt: skip
        self.assertFalse(view.actions[0].danger)

    def test_what_would_go_in_is_told_before_it_does(self) -> None:
        run_id = self.running(**STEEL)
        few = goes_in(self.shop, run_id, "added_anode", GoesIn(material="plain_steel"))
        many = goes_in(self.shop, run_id, "added_anode", GoesIn(material="plain_steel", count=6))
        self.assertFalse(few.stops)
        self.assertGreater(many.most_a, few.most_a)
        self.assertIn("over_rating", [d.key for d in many.dangers])
        bad = goes_in(self.shop, run_id, "swapped_anodes", GoesIn(material="chromed", size="10 mm"))
        self.assertEqual([f.id for f in bad.stops], ["anode_refused"])

    def test_a_thing_of_the_kit_typed_anew_is_asked_about(self) -> None:
        self.clock.to(-60)
        thing = {"name": "Tub", "detail": {"kind": "tank", "tank": {"material": "plastic"}}}
        made = kit.add(self.shop, thing)
        run_id = self.running(kit=[{"role": "tank", "ref": made.id}])
        self.clock.to(10)
        metal = {"name": "Tub", "detail": {"kind": "tank", "tank": {"material": "metal"}}}
        kit.change(self.shop, made.id, metal, made.head)
        self.assertEqual([f.id for f in view_run(self.shop, run_id).asked], ["tank_metal"])

    def test_a_caution_known_after_the_list_is_read_before_the_next_switching_on(self) -> None:
        run_id = self.running()
        self.changed(run_id, {"place": {**QUIET["place"], "visitors": True}})
        self.write(run_id, 5, "switch_off")
        with self.assertRaisesRegex(StepRefusedError, "New since the list"):
            self.write(run_id, 6, "switch_on")
        view = view_run(self.shop, run_id)
        new = [p.id for p in view.points if p.id not in view.run.ticked]
        self.assertEqual(new, ["caution.visitors"])
        self.write(run_id, 7, "checklist", ticked=new)
        self.assertEqual(self.write(run_id, 8, "switch_on").run.state, "running")


if __name__ == "__main__":
    unittest.main()
