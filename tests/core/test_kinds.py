"""Kinds of the document: each has a class and its words, and no other room asks which it is."""

import ast
import unittest
from pathlib import Path
from typing import get_args

from pydantic import TypeAdapter, ValidationError

from yellowbath.core.chemistry.electrolyte import product, salt
from yellowbath.core.chemistry.liquid import Liquid
from yellowbath.core.data import table
from yellowbath.core.document import PRODUCTS, Anode, Plan, Supply, Tank
from yellowbath.core.errors import InvalidDocumentError
from yellowbath.core.geometry.anode import foot, wet
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.power.supply import source_of
from yellowbath.core.words import options

CORE = Path(__file__).parents[2] / "yellowbath" / "core"
ANODES, SUPPLIES = TypeAdapter(Anode), TypeAdapter(Supply)


def kinds(union: object) -> dict[str, type]:
    """The classes of a union by the kind that each says it is."""
    members = [get_args(m)[0] for m in get_args(get_args(union)[0])]
    return {m.model_fields["kind"].default: m for m in members}


class Unions(unittest.TestCase):
    def test_every_kind_has_its_words_in_the_same_order(self) -> None:
        self.assertEqual(list(kinds(Anode)), list(options("anode.kind")))
        self.assertEqual(list(kinds(Supply)), list(options("supply.kind")))
        self.assertEqual(list(options("mix.product")), list(PRODUCTS))

    def test_what_says_no_kind_is_of_the_usual_one_and_an_unknown_one_is_refused(self) -> None:
        self.assertEqual(ANODES.validate_python({"id": "a1"}).kind, "rod")
        self.assertEqual(SUPPLIES.validate_python({}).kind, "transformer")
        for union, bad in ((ANODES, {"id": "a1", "kind": "wire"}), (SUPPLIES, {"kind": "solar"})):
            with self.assertRaises(ValidationError):
                union.validate_python(bad)
        with self.assertRaises(InvalidDocumentError) as refused:
            read_plan({"anodes": [{"id": "a1", "kind": "wire"}]})
        self.assertIn("wire is no kind that is known here", str(refused.exception))

    def test_a_change_of_kind_and_back_loses_nothing(self) -> None:
        """Every kind keeps the fields of all, with their quantities and ranges."""
        for union in (Anode, Supply):
            members = list(kinds(union).values())
            shapes = [set(m.model_fields) for m in members]  # type: ignore[attr-defined]
            self.assertTrue(all(s == shapes[0] for s in shapes))
        lab = SUPPLIES.validate_python({"kind": "laboratory", "limit_a": 2.5})
        plain = SUPPLIES.validate_python({**lab.model_dump(), "kind": "transformer"})
        back = SUPPLIES.validate_python({**plain.model_dump(), "kind": "laboratory"})
        self.assertEqual(back, lab)

    def test_every_kind_of_scrap_is_wet_somewhere_and_has_a_foot(self) -> None:
        plan = Plan.model_validate({"pieces": [{"shape": {"kind": "tube"}}]})
        for kind in kinds(Anode):
            with self.subTest(kind):
                anode = ANODES.validate_python({"id": "a1", "kind": kind, "x_m": 0.08})
                made = wet(anode, plan, 0.25)
                self.assertGreater(min(made.length, made.area, made.volume), 0)
                self.assertGreaterEqual(foot(anode, Tank()), 0)
                self.assertGreater(anode.line_radius_m, 0)
                self.assertEqual(anode.stands, kind in ("rod", "plate"))

    def test_every_kind_of_supply_has_a_source(self) -> None:
        for kind in kinds(Supply):
            self.assertIsNotNone(source_of(SUPPLIES.validate_python({"kind": kind})), kind)

    def test_no_room_asks_a_supply_or_an_anode_for_its_kind(self) -> None:
        """What differs by kind stands in its class; geometry matches on the class."""
        for path in sorted(CORE.rglob("*.py")):
            for node in ast.walk(ast.parse(path.read_text("utf-8"))):
                if not (isinstance(node, ast.Compare) and isinstance(node.left, ast.Attribute)):
                    continue
                holder = node.left.value
                name = getattr(holder, "id", getattr(holder, "attr", ""))
                asked = node.left.attr == "kind" and name in ("anode", "a", "supply", "sample")
                self.assertFalse(asked, f"{path.name}:{node.lineno}")


class Rows(unittest.TestCase):
    def test_every_product_is_of_a_salt_that_is_known_whole(self) -> None:
        for key in table("products"):
            row = salt(product(key).salt)
            for name in ("molar_g", "sodium", "carbonate", "chloride", "strength", "l20",
                         "density_a", "known_to", "short"):  # fmt: skip
                self.assertIn(name, row, key)

    def test_charges_balance_in_every_salt(self) -> None:
        """Sodium is one plus; carbonate two minus, hydrogencarbonate and chloride one, the rest
        hydroxide or a proton: the ionic strength follows from the formula."""
        for key, row in table("salts").items():
            rest = row["sodium"] - 2 * row["carbonate"] - row["chloride"]
            if rest < 0:  # hydrogencarbonate keeps its proton
                self.assertEqual((rest, row["strength"]), (-1, 1.0), key)
            else:
                expected = (row["sodium"] + 4 * row["carbonate"] + row["chloride"] + rest) / 2
                self.assertEqual(row["strength"], expected, key)

    def test_more_lye_is_more_alkaline_than_as_much_soda(self) -> None:
        lye, soda = (Liquid({s: 5.0}) for s in ("sodium_hydroxide", "sodium_carbonate"))
        self.assertGreater(lye.ph(20) - soda.ph(20), 1.0)
        self.assertGreater(lye.conductivity(20) / soda.conductivity(20), 2.0)

    def test_what_is_said_of_lye_is_what_the_model_says(self) -> None:
        self.assertIn("some three to four times what soda does", product("lye").refused)
        for grams in (2.0, 5.0, 10.0, 20.0):
            lye, soda = (Liquid({s: grams}) for s in ("sodium_hydroxide", "sodium_carbonate"))
            for warmth in (10.0, 20.0, 40.0):
                ratio = lye.conductivity(warmth) / soda.conductivity(warmth)
                self.assertTrue(2.7 < ratio < 4.3, f"{grams} g/L, {warmth} C: {ratio:.2f}")
