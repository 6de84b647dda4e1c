"""Every way of working in docs/ways is read, answered, solved and explained as its table says."""

import json
import re
import unittest
from pathlib import Path

from tests.longer import some
from tests.solving import SOLVER
from yellowbath.core.data import table
from yellowbath.core.field.watch import class_of, layout_row
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.workflows.plans.field import live, warm_up

DOCS = Path(__file__).parents[3] / "docs"
ROW = re.compile(r"^\| \[([\w-]+)\]\(ways/[\w-]+\.json\) \| [^|]+ \| ([^|]+) \| ([^|]+) \|$", re.M)


class Ways(unittest.TestCase):
    def test_each_plan_file_fires_the_checks_of_its_row_and_no_other(self) -> None:
        warm_up(SOLVER)
        rows = ROW.findall((DOCS / "ways.md").read_text("utf-8"))
        self.assertEqual({name for name, _, _ in rows},
                         {p.stem for p in (DOCS / "ways").glob("*.json")})  # fmt: skip
        self.assertGreaterEqual(len(rows), 45)
        for name, amps, checks in some(rows, 3):
            document = json.loads((DOCS / "ways" / f"{name}.json").read_text("utf-8"))
            with self.subTest(name):
                read = read_plan(document)
                self.assertEqual(read.faults, {})
                self.assertEqual(
                    read.plan.model_dump(mode="json", exclude={"typed"}), document,
                    "the file holds the settled plan, all of its geometry",
                )  # fmt: skip
                made = live(SOLVER, document, ready=True)
                self.assertIsNotNone(made.field)
                found = [f.id for f in made.answered.findings]
                self.assertEqual(found, re.findall(r"`(\w+)`", checks))
                gives = made.answered.answer
                assert gives is not None
                shown = "none" if gives.gives.value <= 0 else f"{gives.gives.value:.2g} A"
                self.assertEqual(shown, amps)
                quick = answer(read.plan)
                ratio = quick.resistance.value / gives.resistance.value
                row = layout_row(class_of(read.plan, quick.fill.gap.value))
                self.assertTrue(row["low"] < ratio < row["high"], f"doubted at {ratio:.2f}")

    def test_every_product_supply_and_tank_is_among_them(self) -> None:
        plans = [json.loads(p.read_text("utf-8")) for p in (DOCS / "ways").glob("*.json")]
        products = {p["mix"]["product"] for p in plans}
        self.assertEqual(products, {*table("products"), "unknown"})
        self.assertEqual(
            {p["supply"]["kind"] for p in plans},
            {"transformer", "selector", "laboratory", "smart", "fixed", "battery"},
        )
        self.assertEqual({p["tank"]["shape"]["kind"] for p in plans}, {"box", "bucket", "drum"})
        self.assertEqual(
            {a["kind"] for p in plans for a in p["anodes"]}, {"rod", "plate", "floor", "bore"}
        )
