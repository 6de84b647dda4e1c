"""Stored documents of every past schema are read today, and lose nothing that was answered."""

import json
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from yellowbath.core.checks import find
from yellowbath.core.document import SCHEMA_VERSION, Plan
from yellowbath.core.document.upgrade import STEPS, THING_STEPS, upgrade, upgrade_thing
from yellowbath.core.errors import InvalidDocumentError, LaterVersionError, YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.workflows.plans.kit import read_thing

STORED = Path(__file__).parents[1] / "stored"


def stored(kind: str, schema: int) -> Iterator[tuple[str, dict[str, Any]]]:
    for path in sorted((STORED / f"schema-{schema}").glob(f"{kind}-*.json")):
        yield path.stem.removeprefix(f"{kind}-"), json.loads(path.read_text("utf-8"))


def leaves(node: Any, where: str = "") -> Iterator[tuple[str, Any]]:
    pairs = node.items() if isinstance(node, dict) else enumerate(node)
    for name, value in pairs:
        if isinstance(value, dict | list):
            yield from leaves(value, f"{where}/{name}")
        else:
            yield f"{where}/{name}", value


class Upgrade(unittest.TestCase):
    def test_every_past_step_has_its_function_and_its_stored_documents(self) -> None:
        past = range(1, SCHEMA_VERSION)
        self.assertEqual(list(STEPS), list(past))
        self.assertEqual(list(THING_STEPS), list(past))
        for schema in past:
            self.assertGreaterEqual(len(list(stored("plan", schema))), 8)
            self.assertGreaterEqual(len(list(stored("thing", schema))), 5)

    def test_every_stored_plan_is_read_and_computed(self) -> None:
        for schema in STEPS:
            for name, old in stored("plan", schema):
                with self.subTest(name, schema=schema):
                    plan = read_plan(old)
                    self.assertEqual(plan.plan.schema_version, SCHEMA_VERSION)
                    self.assertTrue(answer(plan.plan).figures)
                    self.assertEqual(old, dict(stored("plan", schema))[name])  # left as it is

    def test_nothing_that_was_answered_is_lost(self) -> None:
        opened = {"rcd", "polarity_tested", "battery_ah", "joint_clear", "lid", "flames",
                  "visitors"}  # fmt: skip
        renamed = (("/placing/", "/layout/"), ("/dose_kg_m3", "/concentration_kg_m3"),
                   ("/kept_chloride_kg", "/kept_salt_kg"))  # fmt: skip
        for name, old in (*stored("plan", 1), *stored("plan", 2)):
            with self.subTest(name, schema=old["schema_version"]):
                now = dict(leaves(upgrade(old)))
                for where, value in leaves(old):
                    for before, after in renamed:
                        where = where.replace(before, after)
                    last = where.rsplit("/", 1)[1]
                    if last == "other_metal":
                        expected = {} if value == "none" else {f"{where}s/0": value}
                        self.assertLessEqual(expected.items(), now.items())
                    elif last == "parts":
                        expected = {} if value == "one" else {f"{where}/0": value}
                        self.assertLessEqual(expected.items(), now.items())
                    elif last in opened:
                        self.assertIn(now[where], (value, None))
                    elif last != "schema_version":
                        self.assertEqual(now[where], value, where)

    def test_what_was_typed_goes_along_to_the_new_name(self) -> None:
        typed = upgrade(dict(stored("plan", 2))["one-mix-for-a-queue"])["typed"]
        self.assertEqual(
            typed,
            {"/mix/concentration_kg_m3": "5 g/L", "/layout/wall_gap_m": "20 mm",
             "/mix/kept_salt_kg": "0 g"},
        )  # fmt: skip

    def test_what_only_stood_at_a_default_is_asked_again_and_an_answer_stays(self) -> None:
        stood = dict(stored("plan", 1))["battery-alone"]  # at the 60 Ah that nobody typed
        self.assertIsNone(upgrade(stood)["supply"]["battery_ah"])
        typed = {**stood, "typed": {"/supply/battery_ah": "60"}}
        self.assertEqual(upgrade(typed)["supply"]["battery_ah"], 60.0)
        other = dict(stored("thing", 1))["battery"]
        self.assertEqual(upgrade_thing(other)["detail"]["supply"]["battery_ah"], 44.0)
        lid = Plan.model_validate(upgrade(dict(stored("plan", 1))["lid-for-storage-only"]))
        self.assertTrue(lid.place.lid and lid.supply.polarity_tested)
        for asked in (lid.supply.rcd, lid.place.flames, lid.place.visitors):
            self.assertIsNone(asked)
        bore = Plan.model_validate(upgrade(dict(stored("plan", 1))["rod-down-a-bore"]))
        self.assertEqual([a.piece for a in bore.anodes if a.kind == "bore"], ["p1"])
        light = Plan.model_validate(upgrade(dict(stored("plan", 1))["aluminium-on-it"]))
        self.assertEqual(light.pieces[0].other_metals, ["aluminium"])
        self.assertIn("metal_light", {f.id for f in find(light, answer(light))})

    def test_every_stored_thing_is_read(self) -> None:
        for schema in THING_STEPS:
            for name, old in stored("thing", schema):
                with self.subTest(name, schema=schema):
                    self.assertTrue(read_thing(old, "metric").thing.name)

    def test_a_later_version_is_left_alone_and_no_version_is_a_fault(self) -> None:
        with self.assertRaises(LaterVersionError):
            upgrade({"schema_version": SCHEMA_VERSION + 1})
        for version in ("2", None, 0, -1, True, 1.5, []):
            with self.subTest(version=version), self.assertRaises(InvalidDocumentError):
                upgrade({"schema_version": version})

    def test_damaged_documents_are_refused_in_words(self) -> None:
        damaged: list[Any] = [
            {"schema_version": 1, "pieces": "none"}, {"schema_version": 1, "anodes": [7, None]},
            {"schema_version": 1, "supply": []}, {"schema_version": 1, "pieces": [{"id": {}}]},
            {"schema_version": 1, "typed": 3}, {"schema_version": 1, "typed": None},
            {"schema_version": 1, "place": {"lid": "perhaps"}}, {"pieces": {}}, [], "plan", None, 7,
        ]  # fmt: skip
        for document in damaged:
            with self.subTest(document=document), self.assertRaises(YellowBathError):
                read_plan(document)
