"""Faces on a wall, the floor or another body: closed forms, and no step as a gap closes."""

import unittest
from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np

from tests.core.field.test_plans import field
from tests.longer import of
from yellowbath.core.data import param
from yellowbath.core.field.mesh.flush import bare
from yellowbath.core.field.mesh.surfaces import Surface, box_surface
from yellowbath.core.field.plan_bath import PieceField
from yellowbath.workflows.plans.plans import answer_document

S = 0.8  # S/m, of ``field``
LENGTH, WIDTH, DEPTH = 0.4, 0.3, 0.2
BOX = {"shape": {"kind": "box", "length_m": LENGTH, "width_m": WIDTH, "height_m": 0.25},
       "level_m": DEPTH}  # fmt: skip
TAPER = {"shape": {"kind": "box", "length_m": 0.36, "width_m": 0.26, "top_length_m": LENGTH,
                   "top_width_m": WIDTH, "height_m": 0.25}, "level_m": DEPTH}  # fmt: skip
ROUND = {"shape": {"kind": "bucket", "floor_diameter_m": 0.3, "rim_diameter_m": 0.3,
                   "height_m": 0.3}, "level_m": DEPTH}  # fmt: skip
BUCKET = {"shape": {**ROUND["shape"], "floor_diameter_m": 0.26}, "level_m": DEPTH}
DRUM = {"shape": {"kind": "drum", "length_m": 0.6, "diameter_m": 0.5, "height_m": 0.35},
        "level_m": 0.25}  # fmt: skip
TOUCH = (0.0, 1e-9, 1e-7, 1e-6)  # m
APART = (1e-6, 1e-5, 1e-3, 1e-2)
FILMS = param("film_piece_ohm_m2").value + param("film_anode_ohm_m2").value


def bath(tank: Any, pieces: list[Any], anodes: list[Any]) -> PieceField:
    named = [{"id": f"a{k}", **a} for k, a in enumerate(anodes)]
    bodies = [{"id": f"p{k}", **p} for k, p in enumerate(pieces)]
    return field(tank=tank, pieces=bodies, anodes=named, layout={"arrangement": "by_hand"})


def backed(gap: float) -> PieceField:
    """Two plates that fill the tank's ends, each so far from the wall behind it."""
    plate = {"kind": "plate", "length_m": WIDTH, "width_m": DEPTH, "thickness_m": 0.006}
    return bath(
        BOX,
        [{"shape": plate, "turn_deg": 90, "x_m": gap + 0.003 - LENGTH / 2, "bottom_m": 0.0}],
        [{"kind": "plate", "width_m": WIDTH, "thickness_m": 0.004, "floor_gap_m": 0.0,
          "x_m": LENGTH / 2 - gap - 0.002}],
    )  # fmt: skip


def on_floor(tank: Any, gap: float) -> PieceField:
    piece = {"shape": {"kind": "plate", "length_m": 0.12}, "hang": "flat", "bottom_m": gap}
    return bath(tank, [piece], [{"kind": "rod", "x_m": -0.1}, {"kind": "rod", "x_m": 0.1}])


def floored(gap: float, thick: float = 0.004) -> PieceField:
    """A plate cut to the floor under one that fills the surface."""
    plate = {"kind": "plate", "length_m": LENGTH, "width_m": WIDTH, "thickness_m": 0.006}
    return bath(
        BOX, [{"shape": plate, "hang": "flat", "bottom_m": DEPTH - 0.006}],
        [{"kind": "floor", "width_m": WIDTH, "depth_m": LENGTH, "thickness_m": thick,
          "floor_gap_m": gap}],
    )  # fmt: skip


def at_wall(tank: Any, reach: float, anode: dict[str, Any], half: float, gap: float) -> PieceField:
    piece = {"shape": {"kind": "plate", "length_m": 0.12}, "bottom_m": 0.05}
    return bath(tank, [piece], [{**anode, "x_m": gap + half - reach}])


def bar_at_wall(tank: Any, reach: float, gap: float) -> PieceField:
    bar = {"shape": {"kind": "bar", "length_m": 0.15, "diameter_m": 0.03}, "hang": "long_down",
           "bottom_m": 0.02, "x_m": reach - gap - 0.015}  # fmt: skip
    return bath(tank, [bar], [{"kind": "rod", "x_m": -0.1}])


def blocks(gap: float) -> PieceField:
    """Two blocks side by side, one smaller than the other."""
    sizes = {"kind": "box", "length_m": 0.08, "width_m": 0.08}
    return bath(
        BOX,
        [{"shape": {**sizes, "height_m": 0.06}, "bottom_m": 0.05, "x_m": -0.04 - gap},
         {"shape": {**sizes, "width_m": 0.05, "height_m": 0.04}, "bottom_m": 0.06, "x_m": 0.04}],
        [{"kind": "rod", "x_m": -0.15}, {"kind": "rod", "x_m": 0.15}],
    )  # fmt: skip


PLATE = {"kind": "plate", "width_m": 0.08, "floor_gap_m": 0.0}
ROD = {"kind": "rod"}
GAPS: dict[str, Callable[[float], PieceField]] = {
    "plates backed on walls": backed,
    "floor plate": floored,
    "piece on the floor of a box": lambda g: on_floor(BOX, g),
    "of a tapered box": lambda g: on_floor(TAPER, g),
    "of a bucket": lambda g: on_floor(BUCKET, g),
    "in a drum": lambda g: on_floor(DRUM, g),
    "plate at a straight wall": lambda g: at_wall(BOX, 0.2, PLATE, 0.002, g),
    "plate in the wedge of a leaning wall": lambda g: at_wall(TAPER, 0.18, PLATE, 0.002, g),
    "rod at a round wall": lambda g: at_wall(ROUND, 0.15, ROD, 0.006, g),
    "bar at a round wall": lambda g: bar_at_wall(ROUND, 0.15, g),
    "bar at a leaning wall": lambda g: bar_at_wall(TAPER, 0.1816, g),
    "blocks side by side": blocks,
}


# a floor, a wedge and a round, of the usual run
USUAL = [
    "piece on the floor of a box",
    "plate in the wedge of a leaning wall",
    "rod at a round wall",
]


class ClosedForms(unittest.TestCase):
    """Films in series with the liquid, elementary."""

    def test_plates_backed_on_walls_with_their_sides_flush(self) -> None:
        for gap in TOUCH:
            ohms = ((LENGTH - 0.010 - 2 * gap) / S + FILMS) / (WIDTH * DEPTH)
            with self.subTest(gap):
                got = backed(gap).resistance
                self.assertLess(abs(got.value - ohms), got.error)
                self.assertLess(got.error, 0.012 * ohms)

    def test_what_lies_on_a_wall_gets_nothing_and_the_rest_is_even(self) -> None:
        got = backed(0.0)
        self.assertAlmostEqual(got.p5.value, 1, delta=0.005)
        self.assertAlmostEqual(got.p95.value, 1, delta=0.005)
        front = got.carried.areas @ got.carried.wet
        self.assertAlmostEqual(front, WIDTH * DEPTH, delta=1e-4 * front)

    def test_a_floor_plate_cut_to_the_tank_however_thin(self) -> None:
        for thick in (0.001, 0.004):
            ohms = ((DEPTH - 0.006 - thick) / S + FILMS) / (WIDTH * LENGTH)
            with self.subTest(thick):
                got = floored(0.0, thick).resistance
                self.assertLess(abs(got.value - ohms), got.error)


class Gaps(unittest.TestCase):
    def test_no_step_as_a_gap_closes(self) -> None:
        """In contact as nearly so, within the claim; and more metal bare never draws less."""
        for name in of(list(GAPS), USUAL):
            solved = GAPS[name]
            touching = [solved(g).resistance for g in TOUCH[::2]]
            apart = [solved(g).resistance for g in APART]
            with self.subTest(name):
                for r in (*touching, *apart[:2]):
                    self.assertLess(abs(r.value - touching[0].value), r.error)
                for near, far in pairwise(apart):
                    self.assertLess(far.value, near.value * 1.0002)


class Contact(unittest.TestCase):
    def test_what_two_pieces_hide_of_one_another_is_in_neither(self) -> None:
        got, wide = blocks(0.0), blocks(1e-4)
        hidden = [1 - c.areas @ c.wet / c.areas.sum() for c in (got.carried, wide.carried)]
        both = 2 * 0.05 * 0.04 / got.carried.areas.sum()
        self.assertAlmostEqual(hidden[0], both, delta=0.01 * both)
        self.assertAlmostEqual(hidden[1], 0, places=9)
        self.assertAlmostEqual(got.piece_share["p0"], wide.piece_share["p0"], delta=0.003)

    def test_a_face_covered_in_part_is_clipped_to_the_rest(self) -> None:
        low, size = np.zeros(3), np.array([0.1, 0.1, 0.02])
        block = box_surface(low, size, 0.03)
        on_top = box_surface(np.array([0.02, 0.03, 0.02]), np.array([0.07, 0.08, 0.05]), 0.01)
        left = bare(block, [(2, 0.0)], [on_top])
        assert left is not None
        top = left.normals[:, 2] > 0.9
        self.assertAlmostEqual(float(left.areas[top].sum()), 0.1**2 - 0.05**2, places=9)
        self.assertFalse((left.normals[:, 2] < -0.9).any())
        self.assertTrue(np.isfinite(left.centres).all())
        self.assertIsNone(bare(_face(block, "-z"), [(2, 0.0)]))

    def test_a_piece_that_touches_scrap_is_a_short(self) -> None:
        sheet = {"id": "a1", "kind": "plate", "width_m": 0.1}
        for gap, codes in ((0.0, True), (1e-7, True), (1e-3, False)):
            piece = {"shape": {"kind": "box"}, "bottom_m": 0.05}
            answer = answer_document({
                "tank": BOX, "mix": {"product": "soda_anhydrous"}, "pieces": [piece],
                "anodes": [{**sheet, "x_m": -0.077 - gap}], "layout": {"arrangement": "by_hand"},
            })  # fmt: skip
            stops = {f.id for f in answer.findings if f.severity == "stop"}
            with self.subTest(gap):
                self.assertEqual("short" in stops, codes)


def _face(block: Surface, name: str) -> Surface:
    keep = np.array([p == name for p in block.patch])
    return Surface(block.corners[keep], (name,) * int(keep.sum()))
