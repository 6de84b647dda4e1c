"""The live field: what it claims against the settled one, and that keeping changes nothing."""

import random
import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from tests.core.test_properties import any_document
from tests.longer import of
from tests.shops import QUIET
from yellowbath.core.field.assembly.assemble import BlockCache, _own_block
from yellowbath.core.field.live import LiveField, solve_live
from yellowbath.core.field.plan_bath import solve_plan
from yellowbath.core.field.plan_bodies import build
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.field import solvable
from yellowbath.workflows.plans.plans import answer_document

BOX: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "by_hand"},
    "anodes": [{"id": "a1", "x_m": 0.02, "y_m": -0.12}, {"id": "a2", "x_m": 0.0, "y_m": 0.12}],
}


def asked(document: dict[str, Any]) -> tuple[Any, ...]:
    quick = answer_document(document)
    assert quick.answer is not None
    level = quick.answer.fill.level.value
    plan = quick.read.plan
    return plan, bottoms_of(plan, level), level, quick.answer.conductivity.value


def live(document: dict[str, Any], kept: BlockCache, ready: bool = False) -> LiveField:
    return solve_live(*asked(document), kept, ready)


class Live(unittest.TestCase):
    def test_resistance_and_faces_are_within_what_is_claimed_of_the_settled_field(self) -> None:
        """Independent recomputation: two finer meshes; random plans of every kind of tank."""
        rng, tried = random.Random(11), 0
        faces_off: dict[bool, list[float]] = {True: [], False: []}
        documents = [BOX, dict(QUIET)]
        while len(documents) < of(8, 4):
            document = any_document(rng)
            quick = answer_document(document)
            wet = quick.answer is not None and quick.answer.fill.wetted_share > 0.05
            if wet and solvable(quick) and quick.answer and quick.answer.gives.value > 0:
                documents.append(document)
        for document in documents:
            settled = solve_plan(*asked(document), "fine")
            for ready in (True, False):
                found = live(document, BlockCache(), ready)
                self.assertEqual(found.fine, ready)
                with self.subTest(document=document, ready=ready):
                    off = abs(found.resistance.value - settled.resistance.value)
                    self.assertLess(off, found.resistance.error + settled.resistance.error)
                    tried += 1
                faces_off[ready] += [
                    abs(found.regions[k] - n.value) for k, n in settled.regions.items()
                    if k in found.regions
                ]  # fmt: skip
        self.assertEqual(tried, 2 * len(documents))
        self.assertLess(float(np.percentile(faces_off[True], 95)), 0.16)
        self.assertLess(float(np.percentile(faces_off[False], 95)), 0.42)

    def test_what_is_kept_changes_nothing_but_the_mesh(self) -> None:
        """A moved rod beside a kept one gives what a solve from nothing gives."""
        kept = BlockCache()
        live(BOX, kept, ready=True)
        moved = {**BOX, "anodes": [{**BOX["anodes"][0], "x_m": -0.07}, BOX["anodes"][1]]}
        warm, cold = live(moved, kept), live(moved, BlockCache(), ready=True)
        self.assertTrue(warm.fine)
        self.assertEqual(warm.facets, cold.facets)
        # the rods' own place is taken from the last solve: thousandths
        self.assertAlmostEqual(warm.resistance.value / cold.resistance.value, 1, delta=3e-3)
        np.testing.assert_allclose(warm.ratio, cold.ratio, rtol=1e-9)

    def test_a_moved_piece_finds_what_it_does_to_itself(self) -> None:
        """Independent recomputation: blocks of a copy that was turned and shifted, and all that is
        brought along with it, against the same corners with no history; boxes, buckets, bores."""
        rng, tried = random.Random(4), 0
        while tried < of(12, 6):
            document = any_document(rng)
            quick = answer_document(document)
            if quick.answer is None or not solvable(quick):
                continue
            plan, bottoms, depth, conductivity = asked(document)
            bath, pieces = build(plan, dict(bottoms), depth, conductivity, 90)
            for body in bath.bodies[:pieces]:
                mine = body.surface
                fresh = replace(mine, model=None)
                np.testing.assert_allclose(mine.flat_centres, fresh.flat_centres, atol=1e-12)
                np.testing.assert_allclose(mine.normals, fresh.normals, atol=1e-9)
                for name in ("flat", "whole"):
                    one, other = (getattr(s.elements, name) for s in (mine, fresh))
                    np.testing.assert_allclose(one, other, atol=1e-9)
                kept, plain = (_own_block(s, bath.green, BlockCache()) for s in (mine, fresh))
                for one, other in zip(kept, plain, strict=True):
                    # a square group is quartered either way: the quadrature's own error
                    np.testing.assert_allclose(one, other, atol=1e-4 * np.abs(other).max())
                tried += mine.model is not None
        shown = [live({**BOX, "pieces": [{"x_m": x}]}, BlockCache()) for x in (0.0, 0.03)]
        self.assertEqual(shown[0].surface.still, shown[1].surface.still)
        self.assertNotEqual(shown[0].surface.digest, shown[1].surface.digest)

    def test_a_moved_piece_is_answered_on_the_coarser_mesh_until_it_rests(self) -> None:
        kept = BlockCache()
        live(BOX, kept, ready=True)
        moved = {**BOX, "pieces": [{"x_m": 0.03}]}
        self.assertFalse(live(moved, kept).fine)
        self.assertTrue(live(moved, kept, ready=True).fine)
        self.assertTrue(live(moved, kept).fine)

    def test_the_worst_is_no_better_than_any_face_and_rods_share_all(self) -> None:
        found = live(BOX, BlockCache())
        self.assertLessEqual(found.worst, min(found.regions.values()))
        self.assertAlmostEqual(sum(found.rod_share.values()), 1, places=9)
