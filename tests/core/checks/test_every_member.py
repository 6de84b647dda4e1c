"""A rule over a list judges every member: permuted, added to, mended, drawn by Hypothesis."""

import math
import unittest
from collections import Counter
from itertools import permutations
from typing import Any, get_args

from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.core.checks.test_rules import CALLED, QUIET
from tests.longer import of
from yellowbath.core import document as d
from yellowbath.core.checks import find, judged
from yellowbath.core.checks.fixes.trying import changed
from yellowbath.core.checks.limits import check_rows
from yellowbath.core.checks.registry import Finding
from yellowbath.core.checks.scrap import REFUSED
from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import Answer, answer
from yellowbath.core.tell.finish import finish_steps

FEW = settings(max_examples=of(60, 12), deadline=None, suppress_health_check=list(HealthCheck),
               derandomize=True)  # fmt: skip


def _of(*values: Any) -> st.SearchStrategy[Any]:
    return st.sampled_from(values)


PIECE = st.fixed_dictionaries({
    "shape": _of({"kind": "plate", "length_m": 0.1, "width_m": 0.04},
                 {"kind": "bar", "length_m": 0.12, "diameter_m": 0.01},
                 {"kind": "tube", "length_m": 0.1, "outer_diameter_m": 0.03,
                  "inner_diameter_m": 0.02},
                 {"kind": "bar", "length_m": 0.3, "diameter_m": 0.012}),
    "hang": _of("long_across", "long_down"),
    "metal": st.sampled_from(get_args(d.Metal)), "grade": st.sampled_from(get_args(d.Grade)),
    "fragility": st.sampled_from(get_args(d.Fragility)), "aim": st.sampled_from(get_args(d.Aim)),
    "other_metals": st.lists(st.sampled_from(get_args(d.OtherMetal)), max_size=2, unique=True),
    "paint": _of("none", "patches", "most"), "grease": _of("none", "some"),
    "hollow": _of("none", "vented", "sealed"), "ordnance": _of("none", "none", "fragment", "whole"),
    "treatment": _of("none", "hardened", "case_hardened"), "duty": _of("none", "load"),
    "hanger": _of("soft_steel", "chain", "galvanised"),
    "coats": st.lists(st.sampled_from(get_args(d.Coat)), max_size=2, unique=True),
    "parts": st.lists(st.sampled_from(get_args(d.Part)), max_size=2, unique=True),
})  # fmt: skip
ANODE = st.fixed_dictionaries({
    "kind": _of("rod", "rod", "plate"), "material": st.sampled_from(get_args(d.Scrap)),
    "width_m": _of(0.02, 0.04),
})  # fmt: skip
BATH = st.fixed_dictionaries({
    "pieces": st.lists(PIECE, min_size=2, max_size=3),
    "anodes": st.lists(ANODE, min_size=2, max_size=4),
    "mix": st.fixed_dictionaries({
        "product": _of("soda_anhydrous", "soda_anhydrous", "table_salt", "vinegar_salt"),
        "source": _of("fresh", "reuse"), "kept_salt_kg": _of(0.0, 0.01, 0.5)}),
    "place": st.fixed_dictionaries({
        "where": _of("outdoors", "open_door", "closed_room"), "room_m3": _of(3.0, 40.0),
        "lid": _of(None, True, False)}),
    "supply": st.fixed_dictionaries({
        "kind": _of("transformer", "selector", "laboratory", "smart", "fixed", "battery"),
        "nominal_v": _of(6.0, 12.0, 24.0, 36.0), "rated_a": _of(0.5, 6.0, 40.0),
        "fuse_a": _of(None, 5.0, 80.0), "lead_area_m2": _of(0.3e-6, 2.5e-6),
        "protection": _of("foldback", "hiccup"), "other_a": _of(0.0, 2.0)}),
})  # fmt: skip
_PLACES = ((-0.3, -0.17), (0.3, -0.17), (-0.3, 0.17), (0.3, 0.17))


def bath(drawn: dict[str, Any]) -> dict[str, Any]:
    """A drawn bath in a tub, everything in a place of its own."""
    pieces = [{**p, "id": f"p{k}", "name": f"Piece {'ABC'[k]}", "y_m": 0.09 * (k - 1), "x_m": 0.0}
              for k, p in enumerate(drawn["pieces"])]  # fmt: skip
    anodes = [
        {**a, "id": f"a{k}", "x_m": x, "y_m": y}
        for k, (a, (x, y)) in enumerate(zip(drawn["anodes"], _PLACES, strict=False))
    ]
    tub = {"kind": "box", "length_m": 0.8, "width_m": 0.5, "height_m": 0.4}
    return {**drawn, "pieces": pieces, "anodes": anodes, "tank": {"shape": tub},
            "layout": {"arrangement": "by_hand", "joint_clear": True}}  # fmt: skip


def worked(document: dict[str, Any]) -> tuple[Plan, Answer, list[Finding]]:
    plan = read_plan(document).plan
    try:
        made = answer(plan)
    except NoAnswerError:
        assume(False)
        raise
    return plan, made, list(judged(plan, made))


def stops(found: list[Finding]) -> set[str]:
    return {f.id for f in found if f.severity == "stop"}


def about(plan: Plan, found: list[Finding]) -> Counter[tuple[Any, ...]]:
    """Findings with what they are about, by what that is and not by where it stands."""
    names = {p.id: p.name for p in plan.pieces}
    names |= {a.id: f"{a.x_m} {a.y_m}" for a in plan.anodes}
    return Counter((f.id, f.severity, tuple(sorted(names[i] for i in f.about))) for f in found)


class Order(unittest.TestCase):
    @FEW
    @given(BATH, st.integers(0, 5), st.integers(0, 23))
    def test_permuting_pieces_or_anodes_changes_nothing(
        self, drawn: dict[str, Any], one: int, other: int
    ) -> None:
        document = bath(drawn)
        pieces = list(permutations(document["pieces"]))
        anodes = list(permutations(document["anodes"]))
        shuffled = {**document, "pieces": list(pieces[one % len(pieces)]),
                    "anodes": list(anodes[other % len(anodes)])}  # fmt: skip
        plan, made, found = worked(document)
        plan2, made2, found2 = worked(shuffled)
        for a, b in zip(made.figures(), made2.figures(), strict=True):
            self.assertEqual(a.key, b.key)
            self.assertTrue(math.isclose(a.value, b.value, rel_tol=1e-9, abs_tol=1e-12), a.key)
        self.assertEqual(made.band, made2.band)
        self.assertEqual(made.keeps, made2.keeps)
        self.assertEqual(about(plan, found), about(plan2, found2))
        steps, steps2 = ({(s.how, s.duration_s) for s in finish_steps(p)} for p in (plan, plan2))
        self.assertEqual(steps, steps2)


class Added(unittest.TestCase):
    @FEW
    @given(BATH, st.sampled_from(sorted(REFUSED)))
    def test_a_refused_anode_adds_a_stop_that_names_it_and_lifts_none(
        self, drawn: dict[str, Any], metal: str
    ) -> None:
        document = bath({**drawn, "anodes": drawn["anodes"][:3]})
        place = dict(zip(("x_m", "y_m"), _PLACES[3], strict=True))
        more = {"id": "new", "kind": "rod", "material": metal, **place}
        before = stops(worked(document)[2])
        plan, _, found = worked({**document, "anodes": [*document["anodes"], more]})
        added = plan.anodes[-1]
        named = [f for f in found if f.id == "anode_refused" and added.id in f.about]
        self.assertEqual(len(named), 1)
        self.assertEqual(named[0].case, metal)
        # only what too little scrap, or too few amps, had brought may go
        self.assertLessEqual(before - stops(found), {"no_current"})

    def test_unlike_scrap_is_never_dropped_by_an_arrangement(self) -> None:
        for arrangement in get_args(d.Layout.model_fields["arrangement"].annotation):
            for count in (2, 3, 5):
                anodes = [{"id": f"a{k}"} for k in range(count - 1)]
                anodes.append({"id": "b", "material": "stainless"})
                document = {"layout": {"arrangement": arrangement}, "anodes": anodes}
                with self.subTest(arrangement, count=count):
                    plan = read_plan(document).plan
                    self.assertEqual(len(plan.anodes), count)
                    ids = stops(list(judged(plan, answer(plan))))
                    self.assertIn("anode_refused", ids)


class Mends(unittest.TestCase):
    @FEW
    @given(BATH)
    def test_any_mend_clears_its_finding_on_every_member_and_raises_no_other_stop(
        self, drawn: dict[str, Any]
    ) -> None:
        plan = read_plan(bath(drawn)).plan
        try:
            made = answer(plan)
        except NoAnswerError:
            assume(False)
        found = find(plan, made)
        before = stops(list(found))
        for f in found:
            for change in f.changes:
                after = changed(plan, change.sets)
                assert after is not None
                found_after = list(judged(after, answer(after)))
                self.assertNotIn(f.id, {x.id for x in found_after}, change.label)
                self.assertLessEqual(stops(found_after), before, change.label)

    def test_every_stop_has_a_mend_that_works(self) -> None:
        """Each stop called up by its case; the mends are pressed one after another until none is
        left, in at most as many presses as there are stops."""
        for check_id, case in CALLED.items():
            if check_rows()[check_id]["severity"] != "stop":
                continue
            with self.subTest(check_id):
                plan = read_plan({**QUIET, **case}).plan
                self.assertTrue(mended(self, plan))

    def test_what_used_to_have_none(self) -> None:
        acid = {"mix": {"product": "vinegar_salt"}, "place": {"where": "outdoors"}}
        titanium = [{"id": f"a{k}", "material": "titanium"} for k in (1, 2)]
        sheet = [{"id": "a1", "kind": "plate", "width_m": 0.2}]
        long_bar = {"shape": {"kind": "bar", "length_m": 2.5, "diameter_m": 0.03}}
        for document in (
            {**acid, "anodes": titanium},
            {"anodes": sheet},
            {"anodes": [{"id": "a1", "kind": "plate", "width_m": 0.5}]},
            {"anodes": [{"id": "a1", "kind": "floor", "width_m": 0.5, "depth_m": 0.5}]},
            {"pieces": [long_bar]},
            {"pieces": [{"ordnance": "whole"}, {"ordnance": "fragment", "hollow": "vented"}]},
            {"anodes": [{"id": "a1", "material": m} for m in sorted(REFUSED)]},
        ):
            with self.subTest(document=document):
                plan = read_plan({**QUIET, **document}).plan
                self.assertTrue(stops(list(find(plan, answer(plan)))))
                self.assertTrue(mended(self, plan))

    @FEW
    @given(BATH)
    def test_whatever_is_drawn_can_be_mended_by_presses_alone(self, drawn: dict[str, Any]) -> None:
        plan = read_plan(bath(drawn)).plan
        try:
            answer(plan)
        except NoAnswerError:
            assume(False)
        self.assertTrue(mended(self, plan))


def mended(case: unittest.TestCase, plan: Plan) -> bool:
    """Press the first mend of the first stop until none is left."""
    for _ in range(30):
        found = [f for f in find(plan, answer(plan)) if f.severity == "stop"]
        if not found:
            return True
        offered = [f for f in found if f.changes]
        case.assertTrue(offered, [(f.id, f.evidence) for f in found])
        after = changed(plan, offered[0].changes[0].sets)
        assert after is not None
        plan = after
    return False
