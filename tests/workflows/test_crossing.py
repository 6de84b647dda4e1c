"""Every check that stops, by every door: each cell is refused, said, asked, or cannot come this
way, with the reason. A new check fails here until it is said by which doors it may come."""

import csv
import io
import unittest
from collections.abc import Callable, Mapping
from datetime import timedelta
from typing import Any
from unittest import mock

from tests.core.checks.test_rules import CALLED, QUIET
from tests.shops import START, ShopCase, entry
from yellowbath.core.checks.limits import check_rows
from yellowbath.core.document.upgrade import SCHEMA_VERSION
from yellowbath.core.errors import StepRefusedError, StopsInForceError
from yellowbath.core.run.samples import Sample
from yellowbath.workflows.line import meter_file
from yellowbath.workflows.line.meter_file import Columns
from yellowbath.workflows.line.samples import ms_of, take
from yellowbath.workflows.plans import kit
from yellowbath.workflows.plans.plans import create_plan, save_plan
from yellowbath.workflows.runs.runs import RunView, enter, start_run, view_run

STOPS = [k for k in CALLED if check_rows()[k]["severity"] == "stop"]
Figures = tuple[float | None, float | None, float | None]
# by which figures [A, V at the supply, C of the bath] what a check fears shows at a meter
METERED: Mapping[str, Figures] = {
    "overload_far": (25.0, None, None), "lead_far": (60.0, None, None),
    "supply_trips": (25.0, None, None), "start_range": (60.0, None, None),
    "fuse_big": (60.0, None, None), "short": (5.0, 0.4, None), "voltage_high": (None, 48.0, None),
    "too_hot": (None, None, 75.0),
}  # fmt: skip
SEEN = {"short": "touch", "overload_far": "hot", "lead_far": "hot", "too_hot": "hot",
        "chlorine_indoors": "smell", "flames": "sparks", "supply_trips": "smell"}  # fmt: skip
ANSWERED = {"short": ("leads", "touching")}
SCRAP = {"anode_refused": "stainless"}
# what each door cannot show, and why
CANNOT = {
    "reading": "no meter shows it",
    "line": "no meter shows it",
    "meter file": "no meter shows it",
    "look": "it cannot be seen, felt or smelt at a bath under power",
    "answer": "nothing that is asked of a running bath tells it",
    "change": "what goes in is scrap, and this is not of the scrap's metal",
    "kit": "no thing of the kit says it",
}
MOST_CANNOT = 231
"""Cells that cannot come their way; may only fall, or grow with a new check."""


class Crossing(ShopCase):
    """One run each door begins from; the field is not solved, since no check here waits for it."""

    def setUp(self) -> None:
        super().setUp()
        quick = mock.patch("yellowbath.workflows.runs.runs.solvable", return_value=False)
        quick.start()
        self.addCleanup(quick.stop)
        self.run_id, self.minutes = self.running(), 0.0

    def changed(self, document: Mapping[str, Any]) -> RunView:
        view = view_run(self.shop, self.run_id)
        save_plan(self.shop, view.row.plan_id, view.head, {**QUIET, **document})
        return view_run(self.shop, self.run_id)

    # --- The doors: each says how what comes by it is met -------------------------------------

    def refuses(self, step: Callable[[], object]) -> str:
        with self.assertRaises((StopsInForceError, StepRefusedError)):
            step()
        return "refused"

    def before(self, check: str) -> str:
        self.clock.to(0)
        return self._begun({**QUIET, **CALLED[check]})

    def imported(self, check: str) -> str:
        """As a plan file of the version before."""
        older = {**QUIET, **CALLED[check], "schema_version": SCHEMA_VERSION - 1}
        return self._begun(older)

    def _begun(self, document: Mapping[str, Any]) -> str:
        made = create_plan(self.shop, document)
        run = start_run(self.shop, made.revision.plan_id)
        ticked = [p.id for p in run.points]
        return self.refuses(lambda: self.write(run.row.id, 0, "checklist", ticked=ticked))

    def found_running(self, check: str) -> str:
        """On since before it was planned: nothing bars that it is said, and it is danger."""
        self.clock.to(0)
        made = create_plan(self.shop, {**QUIET, **CALLED[check]})
        run = start_run(self.shop, made.revision.plan_id)
        on = entry(START - timedelta(hours=2), "switch_on", already=True)
        return self._told(enter(self.shop, run.row.id, on))

    def after_the_list(self, check: str) -> str:
        self.clock.to(0)
        made = create_plan(self.shop, QUIET)
        run = start_run(self.shop, made.revision.plan_id)
        self.write(run.row.id, 0, "checklist", ticked=[p.id for p in run.points])
        save_plan(self.shop, made.revision.plan_id, 1, {**QUIET, **CALLED[check]})
        return self.refuses(lambda: self.write(run.row.id, 1, "switch_on"))

    def under_power(self, check: str) -> str:
        first = self.changed(CALLED[check]).actions[0]
        self.assertIn(first.kind, ("in_bath", "switch_off_now"))
        return "asked" if first.kind == "in_bath" else "said"

    def off_and_on(self, check: str) -> str:
        self.changed(CALLED[check])
        self.minutes += 10
        self.write(self.run_id, self.minutes, "switch_off")
        found = self.refuses(lambda: self.write(self.run_id, self.minutes + 1, "switch_on"))
        self.changed({})
        self.write(self.run_id, self.minutes + 2, "switch_on")
        return found

    def reading(self, check: str) -> str:
        amps, volts, warm = METERED[check]
        view = self.write(self.run_id, 20, "reading", current_a=amps, supply_v=volts, bath_c=warm)
        return self._told(view)

    def line(self, check: str) -> str:
        self.clock.to(30)
        at = ms_of(self.clock.at)
        take(self.shop, self.run_id, [Sample(at - 1000 * k, *METERED[check]) for k in range(9)])
        return self._told(view_run(self.shop, self.run_id))

    def file(self, check: str) -> str:
        self.clock.to(40)
        made = io.StringIO()
        rows = csv.writer(made)
        heads = ("amps (A)", "volts (V)", "bath (°C)")
        given = [(h, v) for h, v in zip(heads, METERED[check], strict=True) if v is not None]
        rows.writerow(["time", *(h for h, _ in given)])
        for k in range(9):
            stamp = (START + timedelta(minutes=39, seconds=k)).isoformat()
            rows.writerow([stamp, *(v for _, v in given)])
        place = {h: k + 1 for k, (h, _) in enumerate(given)}
        columns = Columns(0, *(place.get(h) for h in heads), 0, None, False)
        meter_file.bring(self.shop, self.run_id, made.getvalue().encode(), columns)
        return self._told(view_run(self.shop, self.run_id))

    def look(self, check: str) -> str:
        return self._told(self.write(self.run_id, 20, "look", signs=[SEEN[check]]))

    def answer(self, check: str) -> str:
        ask, outcome = ANSWERED[check]
        return self._told(self.write(self.run_id, 20, "asked", ask=ask, outcome=outcome))

    def change(self, check: str) -> str:
        goes_in = {"material": SCRAP[check]}
        return self._told(self.write(self.run_id, 20, "change", what="added_anode",
                                     goes_in=goes_in))  # fmt: skip

    def kit(self, check: str) -> str:
        """The thing as it was when the bath was set up, then typed anew."""
        role, was, now = in_kit(check) or ("", {}, {})
        self.clock.to(-60)
        thing = kit.add(self.shop, {"name": "Own", "detail": was})
        run_id = self.running(kit=[{"role": role, "ref": thing.id}])
        self.clock.to(5)
        kit.change(self.shop, thing.id, {"name": "Own", "detail": now}, thing.head)
        view = view_run(self.shop, run_id)
        found = {f.id for f in view.asked} | {f.id for f in view.judged}
        self.assertIn(check, found)
        self.assertIn(view.actions[0].kind, ("in_bath", "switch_off_now"))
        return "asked"

    def _told(self, view: RunView) -> str:
        first = view.actions[0]
        self.assertEqual((first.kind, first.danger), ("switch_off_now", True), first)
        return "said"

    # --- The crossing --------------------------------------------------------------------------

    DOORS: Mapping[str, tuple[Callable[["Crossing", str], str], Callable[[str], bool]]] = {
        "before the list": (before, lambda _: True),
        "import": (imported, lambda _: True),
        "found running": (found_running, lambda _: True),
        "after the list": (after_the_list, lambda _: True),
        "running": (under_power, lambda _: True),
        "off and on again": (off_and_on, lambda _: True),
        "reading": (reading, METERED.__contains__),
        "line": (line, METERED.__contains__),
        "meter file": (file, METERED.__contains__),
        "look": (look, SEEN.__contains__),
        "answer": (answer, ANSWERED.__contains__),
        "change": (change, SCRAP.__contains__),
        "kit": (kit, lambda check: in_kit(check) is not None),
    }

    def cross(self, door: str) -> None:
        come, may = self.DOORS[door]
        for check in STOPS:
            if not may(check):
                self.assertTrue(CANNOT[door])
                continue
            with self.subTest(check, door=door):
                self.assertIn(come(self, check), ("refused", "said", "asked"))
                if door in ("reading", "line", "meter file", "look", "answer", "change"):
                    self.run_id = self.running()

    def test_before_the_list(self) -> None:
        self.cross("before the list")

    def test_import(self) -> None:
        self.cross("import")

    def test_found_running(self) -> None:
        self.cross("found running")

    def test_after_the_list(self) -> None:
        self.cross("after the list")

    def test_running(self) -> None:
        self.cross("running")

    def test_off_and_on_again(self) -> None:
        self.cross("off and on again")

    def test_what_is_read_sent_or_brought(self) -> None:
        for door in ("reading", "line", "meter file"):
            self.cross(door)

    def test_what_is_seen_answered_or_put_in(self) -> None:
        for door in ("look", "answer", "change"):
            self.cross(door)

    def test_a_thing_of_the_kit(self) -> None:
        self.cross("kit")

    def test_no_check_is_forgotten_and_what_cannot_come_may_only_fall(self) -> None:
        every = {k for k, row in check_rows().items() if row["severity"] == "stop"}
        self.assertEqual(every, set(STOPS), "a change that calls it up stands in test_rules")
        cannot = sum(not may(c) for c in STOPS for _, may in self.DOORS.values())
        self.assertLessEqual(cannot, MOST_CANNOT)
        for table in (METERED, SEEN, ANSWERED, SCRAP):
            self.assertLessEqual(set(table), every)


def in_kit(check: str) -> tuple[str, dict[str, Any], dict[str, Any]] | None:
    """The role, the thing as it was and as it is typed anew, where what calls a check up is one
    thing's: its tank, its supply, its scrap or its mix. None where it is not."""
    change = dict(CALLED[check])
    if set(change) == {"tank"}:
        of = {k: v for k, v in change["tank"].items() if k not in ("water_m3", "level_m")}
        if len(of) == len(change["tank"]):
            return "tank", {"kind": "tank"}, {"kind": "tank", "tank": of}
    if set(change) == {"supply"}:
        plain = {"kind": "supply", "supply": {"rated_a": 6.0}}
        of = {k: v for k, v in change["supply"].items() if not k.startswith("lead_")}
        if len(of) == len(change["supply"]):
            return "supply", plain, {"kind": "supply", "supply": of}
        lead = {"kind": "lead", "area_m2": change["supply"]["lead_area_m2"]}
        return "lead", {"kind": "lead"}, lead
    if set(change) == {"anodes"} and len(change["anodes"]) == 1 and "x_m" not in str(change):
        return "anode", {"kind": "anode"}, {"kind": "anode", "anode": change["anodes"][0]}
    if set(change) == {"mix"} and set(change["mix"]) == {"product"}:
        product = change["mix"]["product"]
        return "chemical", {"kind": "chemical"}, {"kind": "chemical", "product": product}
    return None


if __name__ == "__main__":
    unittest.main()
