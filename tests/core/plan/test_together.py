"""Two versions of a plan brought together by the id of the thing and the field."""

import unittest
from typing import Any

from yellowbath.core.document import Plan
from yellowbath.core.document.merge import merge
from yellowbath.core.plan.comparison.merged import Both, Together, together
from yellowbath.core.plan.reading.entries import read_plan

BY_HAND = {"arrangement": "by_hand"}
THREE: dict[str, Any] = {
    "pieces": [
        {"id": "p1", "name": "Wrench"}, {"id": "p2", "name": "Pawl", "y_m": 0.05},
        {"id": "p3", "name": "Strap", "y_m": -0.05},
    ],
    "layout": BY_HAND,
    "anodes": [{"id": "a1", "x_m": 0.1}, {"id": "a2", "x_m": -0.1}, {"id": "a3", "y_m": 0.1}],
}  # fmt: skip


def read(document: dict[str, Any], **typed: str) -> Plan:
    """A plan as it is saved; ``typed`` by pointer with ``_`` for ``/``."""
    found = read_plan({**document, "typed": typed})
    assert not found.faults, found.faults
    return found.plan


def changed(plan: Plan, **parts: Any) -> Plan:
    return read({**plan.model_dump(mode="json", exclude={"typed"}), **parts})


class BringingTogether(unittest.TestCase):
    was = read(THREE)

    def pieces(self, *ids: str, **names: str) -> list[dict[str, Any]]:
        """The pieces of these ids in this order, some by another name."""
        own = {p.id: p.model_dump(mode="json") for p in self.was.pieces}
        return [{**own[i], **({"name": names[i]} if i in names else {})} for i in ids]

    def both(self, mine: Plan, theirs: Plan, **choices: Any) -> Together:
        return together(self.was, mine, theirs, choices)

    def test_other_fields_of_a_piece_that_stands_elsewhere_by_now(self) -> None:
        mine = changed(self.was, pieces=self.pieces("p1", "p2", "p3", p3="Hasp"))
        theirs = changed(self.was, pieces=self.pieces("p3", "p2"), notes="left by the door")
        made = self.both(mine, theirs)
        self.assertEqual(made.clashes, [])
        plan = Plan.model_validate(made.document)
        self.assertEqual([(p.id, p.name) for p in plan.pieces], [("p3", "Hasp"), ("p2", "Pawl")])
        self.assertEqual(plan.notes, "left by the door")
        self.assertIn(Both("pieces/p1", "Piece: Wrench", "still there", "taken out"), made.brought)

    def test_the_same_field_shows_both_and_takes_the_one_that_is_chosen(self) -> None:
        mine = changed(self.was, pieces=self.pieces("p1", "p2", "p3", p2="Mine"))
        theirs = changed(self.was, pieces=self.pieces("p3", "p1", "p2", p2="Theirs"))
        clash = Both("pieces/p2/name", "Piece 2: what is it", "Mine", "Theirs")
        self.assertEqual(self.both(mine, theirs).clashes, [clash])
        for side, name in (("mine", "Mine"), ("theirs", "Theirs")):
            made = together(self.was, mine, theirs, {clash.where: side})  # type: ignore[dict-item]
            self.assertEqual(made.clashes, [])
            kept = Plan.model_validate(made.document).piece("p2")
            self.assertEqual(kept and kept.name, name)

    def test_what_one_took_out_and_the_other_changed_is_asked(self) -> None:
        mine = changed(self.was, pieces=self.pieces("p1", "p2"))
        theirs = changed(self.was, pieces=self.pieces("p1", "p2", "p3", p3="Hasp"))
        (clash,) = self.both(mine, theirs).clashes
        self.assertEqual((clash.yours, clash.theirs), ("taken out", "what is it Hasp"))
        kept = together(self.was, mine, theirs, {clash.where: "theirs"}).document
        self.assertEqual([p["name"] for p in kept["pieces"]], ["Wrench", "Pawl", "Hasp"])

    def test_two_new_things_of_one_id_are_two(self) -> None:
        more = [{"id": "p4", "name": "Tube", "shape": {"kind": "tube"}, "y_m": 0.12}]
        rod = [{"id": "a4", "kind": "bore", "piece": "p4"}]
        own = self.was.model_dump(mode="json")
        mine = changed(self.was, pieces=own["pieces"] + more, anodes=own["anodes"] + rod)
        theirs = changed(
            self.was,
            pieces=[*own["pieces"], {"id": "p4", "name": "Ring", "y_m": -0.12}],
            anodes=[*own["anodes"], {"id": "a4", "x_m": 0.05, "y_m": -0.12}],
        )
        made = self.both(mine, theirs)
        self.assertEqual(made.clashes, [])
        plan = Plan.model_validate(made.document)
        self.assertEqual({p.name for p in plan.pieces}, {"Wrench", "Pawl", "Strap", "Tube", "Ring"})
        self.assertEqual(len({a.id for a in plan.anodes}), 5)
        bore = next(a for a in plan.anodes if a.kind == "bore")
        through = plan.bored(bore)
        self.assertEqual(through and through.name, "Tube")

    def test_typed_texts_and_what_was_said_go_with_their_thing(self) -> None:
        at = "/pieces/2/shape/length_m"
        mine = read({**THREE, "said": ["/pieces/2/metal"]}, **{at: "8 in"})
        was = read({**THREE, "said": []})
        theirs = changed(was, pieces=self.pieces("p3", "p1"), said=["/mix"])
        made = together(was, mine, theirs, {}).document
        self.assertEqual(made["typed"], {"/pieces/0/shape/length_m": "8 in"})
        self.assertAlmostEqual(made["pieces"][0]["shape"]["length_m"], 0.2032)
        self.assertEqual(sorted(made["said"]), ["/mix", "/pieces/0/metal"])

    def test_other_units_alone_are_no_change_of_a_field(self) -> None:
        was = read(THREE, **{"/mix/concentration_kg_m3": "5 g/L"})
        mine = changed(was, system="us")
        theirs = read(THREE, **{"/mix/concentration_kg_m3": "8 g/L"})
        made = together(was, mine, theirs, {})
        self.assertEqual(made.clashes, [])
        self.assertEqual(made.document["system"], "us")
        self.assertEqual(made.document["mix"]["concentration_kg_m3"], 8)

    def test_scrap_that_is_set_out_by_itself_clashes_with_nothing(self) -> None:
        ring = {"arrangement": "ring", "count": 4}
        was = read({"layout": ring, "anodes": [{"id": "a1"}]})
        mine = changed(was, layout={**ring, "count": 6})
        theirs = changed(was, tank={"shape": {"kind": "box", "length_m": 0.9, "width_m": 0.5}})
        made = together(was, mine, theirs, {})
        self.assertEqual(made.clashes, [])
        self.assertEqual(len(read_plan(made.document).plan.anodes), 6)

    def test_another_kind_is_one_thing_and_not_its_fields(self) -> None:
        mine = changed(self.was, supply={"kind": "laboratory"})
        theirs = changed(self.was, supply={"kind": "battery"})
        (clash,) = self.both(mine, theirs).clashes
        self.assertEqual(clash.name, "Power")
        self.assertNotEqual(clash.yours, clash.theirs)

    def test_an_anode_keeps_its_id_when_another_is_taken_out(self) -> None:
        own = self.was.model_dump(mode="json")
        fewer = changed(self.was, anodes=own["anodes"][1:])
        self.assertEqual([a.id for a in fewer.anodes], ["a2", "a3"])

    def test_any_document_merges_by_name(self) -> None:
        was = {"name": "Shop", "scoops": [{"name": "Cap", "level_kg": 0.01}]}
        mine = {**was, "scoops": [*was["scoops"], {"name": "Spoon", "level_kg": 0.02}]}
        theirs = {**was, "scoops": [{"name": "Cap", "level_kg": 0.012}]}
        made = merge(was, mine, theirs)
        self.assertEqual(
            [(s["name"], s["level_kg"]) for s in made.document["scoops"]],
            [("Cap", 0.012), ("Spoon", 0.02)],
        )
