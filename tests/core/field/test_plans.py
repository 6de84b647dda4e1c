"""Plans as the solver sees them: shapes, scrap, poses, several pieces; reference facets; sight."""

import math
import unittest
from typing import Any

import numpy as np

from tests.longer import of
from yellowbath.core.document import (
    Angle,
    Bar,
    Box,
    Piece,
    Pile,
    Plate,
    Ring,
    Stepped,
    Tube,
    Wheel,
    Wrench,
)
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.field.plan_bath import PieceField, solve_plan
from yellowbath.core.field.reference import reference
from yellowbath.core.geometry.piece import measure
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.plans import answer_document

SHAPES = (Plate, Bar, Tube, Box, Angle, Ring, Wheel, Wrench, Stepped)
BOX = {"tank": {"shape": {"kind": "box"}}, "mix": {"product": "soda_anhydrous"}}


def field(raised: float = 0.0, **document: Any) -> PieceField:
    """A plan's field; the pieces hung so much higher [m] than they would be."""
    quick = answer_document({**BOX, **document})
    assert quick.answer is not None
    level = quick.answer.fill.level.value
    bottoms = bottoms_of(quick.read.plan, level)
    return solve_plan(quick.read.plan, {k: b + raised for k, b in bottoms.items()}, level, 0.8)


def ohms(**document: Any) -> float:
    return field(**document).resistance.value


class Solids(unittest.TestCase):
    def test_area_and_volume_are_those_of_the_formulas(self) -> None:
        """A wheel's spokes meet rim and hub on round ground, which the formula leaves out."""
        for kind in SHAPES:
            shape = kind()
            body = solid(shape)
            a, b, c = (body.vertices[body.faces[:, k]] for k in range(3))
            area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2
            volume = float(np.einsum("nx,nx->n", a, np.cross(b, c)).sum()) / 6
            m = measure(shape)
            with self.subTest(kind.__name__):
                self.assertAlmostEqual(area / m.area, 1, delta=0.02)
                self.assertAlmostEqual(volume / m.volume, 1, delta=0.02)


class LyingDrum(unittest.TestCase):
    def test_against_finite_elements(self) -> None:
        """5.050 ohm, p5 0.584, p95 1.575 by quadratic finite elements (168,000 unknowns; computed).

        A drum of 500 by 600 mm on its side, half full; a block of 250 by 120 by 50 mm between two
        rods of 12 mm; 0.8 S/m.
        """
        got = field(
            tank={"shape": {"kind": "drum", "length_m": 0.6, "diameter_m": 0.5, "height_m": 0.35}},
            pieces=[{"shape": {"kind": "box", "length_m": 0.25, "width_m": 0.12,
                               "height_m": 0.05}}],
        )  # fmt: skip
        self.assertLess(abs(got.resistance.value - 5.050), got.resistance.error)
        self.assertLess(got.resistance.error, 0.01 * 5.050)
        self.assertAlmostEqual(got.p95.value / 1.575, 1, delta=0.03)
        self.assertAlmostEqual(got.rod_share["a1"], 0.5, places=6)


class Poses(unittest.TestCase):
    def test_a_hairs_turn_changes_next_to_nothing(self) -> None:
        """Square pieces are meshed from their sizes, turned ones from a mesh: the same bath."""
        for kind in ("plate", "bar", "tube", "box"):
            square = field(pieces=[{"shape": {"kind": kind}}])
            turned = field(pieces=[{"shape": {"kind": kind}, "turn_deg": 0.01}])
            with self.subTest(kind):
                self.assertAlmostEqual(
                    square.resistance.value / turned.resistance.value, 1, delta=0.004
                )
                self.assertAlmostEqual(square.p95.value / turned.p95.value, 1, delta=0.05)

    def test_a_quarter_turn_is_the_tank_turned(self) -> None:
        swapped = {"tank": {"shape": {"kind": "box", "length_m": 0.3, "width_m": 0.4}}}
        one = ohms(pieces=[{"turn_deg": 90}], layout={"arrangement": "corners"})
        other = ohms(layout={"arrangement": "corners"}, **swapped)
        self.assertAlmostEqual(one / other, 1, delta=0.006)


class Scrap(unittest.TestCase):
    def anode(self, **of: Any) -> list[dict[str, Any]]:
        return [{"id": "a1", **of}]

    def test_more_metal_draws_more(self) -> None:
        one = {"layout": {"arrangement": "one_side"}}
        rod = ohms(**one)
        sheet = ohms(anodes=self.anode(kind="plate", width_m=0.25), **one)
        holed = ohms(anodes=self.anode(kind="plate", width_m=0.25, open_share=0.6), **one)
        narrow = ohms(anodes=self.anode(kind="plate", width_m=0.012, thickness_m=0.012), **one)
        self.assertLess(sheet, holed)
        self.assertLess(holed, rod)
        self.assertAlmostEqual(narrow / rod, 1, delta=0.12)  # a square bar is a fat rod

    def test_a_sleeve_takes_away_what_it_covers(self) -> None:
        whole, half = ohms(), ohms(anodes=self.anode(sleeve_m=0.13))
        self.assertGreater(half, 1.25 * whole)

    def test_a_ring_is_like_many_rods_and_a_floor_plate_serves_the_underside(self) -> None:
        ring = field(anodes=self.anode(kind="ring", floor_gap_m=0.15))
        floor = field(anodes=self.anode(kind="floor", width_m=0.2, depth_m=0.2))
        self.assertEqual(list(ring.rod_share), ["a1"])
        self.assertAlmostEqual(ring.regions["p1.front"].value, ring.regions["p1.back"].value, 2)
        flat = field(
            anodes=self.anode(kind="floor", width_m=0.2, depth_m=0.2), pieces=[{"hang": "flat"}]
        )
        self.assertGreater(flat.regions["p1.front"].value, 1.5 * flat.regions["p1.back"].value)
        self.assertGreater(floor.p95.value, 1.0)

    def test_a_rod_in_the_bore_serves_the_bore(self) -> None:
        tube = {"shape": {"kind": "tube"}}
        outside = field(pieces=[tube]).regions["p1.bore"].value
        within = field(pieces=[tube], anodes=self.anode(kind="bore", diameter_m=0.008))
        self.assertLess(outside, 0.2)
        self.assertGreater(within.regions["p1.bore"].value, 1.5)
        # the rod sees the bore and its mouths, and nothing outside
        self.assertAlmostEqual(within.sight.blind, within.carried.tails()["outer"][0], places=6)


class SeveralPieces(unittest.TestCase):
    """Bounds from practice: common practice, no source."""

    def test_a_second_like_piece(self) -> None:
        one = ohms(pieces=[{"y_m": 0.0}])
        two = field(pieces=[{"id": "p1", "y_m": -0.03}, {"id": "p2", "y_m": 0.03}])
        self.assertTrue(1.1 <= one / two.resistance.value <= 1.9, one / two.resistance.value)
        self.assertAlmostEqual(two.piece_share["p1"], 0.5, delta=0.01)

    def test_half_out_and_a_second_rod(self) -> None:
        whole = ohms()
        half = field(raised=0.07)
        self.assertAlmostEqual(float(half.carried.areas @ half.carried.wet),
                               float(half.carried.areas.sum()) / 2, delta=1e-3)  # fmt: skip
        self.assertTrue(0.5 <= whole / half.resistance.value <= 0.85)
        single = ohms(layout={"arrangement": "one_side"})
        self.assertTrue(1.6 <= single / whole <= 1.95, single / whole)

    def test_a_bad_clip_leaves_its_piece_behind(self) -> None:
        two = [{"id": "p1", "y_m": -0.03}, {"id": "p2", "y_m": 0.03, "contact_ohm": 5.0}]
        shares = field(pieces=two).piece_share
        self.assertGreater(shares["p1"], 2 * shares["p2"])
        self.assertGreater(shares["p2"], 0)

    def test_a_taped_face_gets_nothing(self) -> None:
        """The mean is of what is bare, and the other side gets some more at the same volts."""
        backs = []
        for masked in ([], ["p1.front"]):
            made = field(pieces=[{"masked": masked}])
            mean = float(made.ratio @ made.bare / made.bare.sum())
            self.assertAlmostEqual(mean, 1.0, delta=1e-3)
            density = 1 / made.resistance.value / made.bare.sum()
            backs.append(made.regions["p1.back"].value * density)
        self.assertLess(made.regions["p1.front"].value, 1e-3)
        over_all = float(made.surface.areas.sum() / made.bare.sum())
        self.assertGreater(made.regions["p1.back"].value * over_all, 1.3)
        self.assertTrue(1.0 < backs[1] / backs[0] < 2.0, backs)


class ReferenceFacets(unittest.TestCase):
    POSES = ({}, {"turn_deg": 40, "tilt_deg": 30}, {"hang": "long_down", "turn_deg": 90})

    def test_the_current_is_carried_whole_in_every_pose_and_level(self) -> None:
        for kind in of(("plate", "tube", "stepped", "wrench"), ("plate", "wrench")):
            for pose in self.POSES:
                for water in (None, 0.009):
                    got = field(
                        pieces=[{"shape": {"kind": kind}, **pose}],
                        tank={"shape": {"kind": "box"}, "water_m3": water},
                    )
                    c = got.carried
                    wet = c.areas * c.wet
                    with self.subTest(kind, pose=pose, water=water):
                        self.assertAlmostEqual(float(c.ratio @ wet) / float(wet.sum()), 1, places=6)
                        mesh = float(got.surface.areas.sum())
                        self.assertAlmostEqual(float(wet.sum()) / mesh, 1, delta=2e-3)
                        _, low, high = c.tails()["outer"]
                        self.assertLess(low, got.p95.value)
                        self.assertLess(high, 1.25 * got.p95.value + 0.5)

    def test_facets_have_one_name_whatever_the_pose(self) -> None:
        names = {field(pieces=[pose]).carried.name for pose in self.POSES}
        self.assertEqual(len(names), 1)
        self.assertNotEqual({reference(Piece(shape=Box())).name}, names)

    def test_turned_round_the_dark_side_faces_the_rod(self) -> None:
        side = {"layout": {"arrangement": "one_side"}}
        one = field(pieces=[{}], **side).carried.ratio
        other = field(pieces=[{"turn_deg": 180}], **side).carried.ratio
        front = reference(Piece()).surface.normals[:, 2] > 0.9
        back = reference(Piece()).surface.normals[:, 2] < -0.9
        self.assertGreater(one[front].mean(), 1.5 * one[back].mean())
        self.assertAlmostEqual(one[front].mean(), other[back].mean(), delta=0.03)

    def test_bores_and_recesses_are_known_by_their_sky(self) -> None:
        """A bore's sky against the view between discs: elementary (the mean over its length)."""
        kinds = reference(Piece(shape=Tube())).kinds
        self.assertEqual({"outer", "recess", "bore"}, set(kinds))
        self.assertEqual({"outer"}, set(reference(Piece(shape=Plate())).kinds))
        self.assertIn("recess", reference(Piece(shape=Wheel())).kinds)
        self.assertEqual({"outer"}, set(reference(Piece(shape=Pile())).kinds))


class Sight(unittest.TestCase):
    def test_one_rod_leaves_the_far_face_blind_and_two_none(self) -> None:
        one = field(layout={"arrangement": "one_side"})
        m = measure(Plate())
        face = 0.20 * 0.08 / m.area
        self.assertAlmostEqual(one.sight.blind, face, delta=0.06)
        two = field()
        self.assertLess(two.sight.blind, 0.05)
        self.assertAlmostEqual(two.sight.seen["a1"], two.sight.seen["a2"], places=6)
        # and yet the blind face gets its share: sight is not current
        self.assertGreater(one.regions["p1.back"].value, 0.4)

    def test_a_dry_piece_has_no_field(self) -> None:
        with self.assertRaises(NoAnswerError):
            field(raised=0.2)


class Grid(unittest.TestCase):
    def test_a_neighbouring_conductivity_is_reached_to_first_order(self) -> None:
        """The solver meets a grid of conductivities; what is asked for is on the straight line."""
        quick = answer_document(BOX)
        assert quick.answer is not None
        plan, level = quick.read.plan, quick.answer.fill.level.value
        made = [
            solve_plan(plan, bottoms_of(plan, level), level, math.exp(0.01 * k)).resistance.value
            for k in (-20, -19.5, -19)
        ]
        self.assertAlmostEqual(made[1] / math.sqrt(made[0] * made[2]), 1, delta=2e-5)
