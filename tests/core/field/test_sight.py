"""Line of sight and openness against view factors; slices of what facets get."""

import unittest
from itertools import pairwise

import numpy as np
import trimesh

from yellowbath.core.field.mesh.surfaces import Rod, box_surface
from yellowbath.core.field.model import REACH, SLICES, Coverage, profile_of, sliced
from yellowbath.core.field.sight import Blockers, openness, sight


def triangles(mesh: trimesh.Trimesh) -> np.ndarray:
    return np.array(mesh.vertices[mesh.faces])


class Openness(unittest.TestCase):
    def test_the_bottom_of_a_cup(self) -> None:
        """From the middle of its bottom the mouth fills R2/(R2 + h2) of the sky (view factor of a
        disc from an element on its axis; elementary)."""
        for radius, deep in ((0.02, 0.02), (0.02, 0.05), (0.05, 0.02)):
            tube = trimesh.creation.annulus(radius, radius + 0.004, deep, sections=128)
            tube.apply_translation([0, 0, deep / 2])
            got = openness(triangles(tube), np.zeros((1, 3)), np.array([[0.0, 0.0, 1.0]]))[0]
            with self.subTest(radius, deep=deep):
                self.assertAlmostEqual(got, radius**2 / (radius**2 + deep**2), delta=0.03)

    def test_a_convex_body_leaves_the_whole_sky(self) -> None:
        ball = trimesh.creation.icosphere(2, 0.05)
        got = openness(triangles(ball), ball.triangles_center, ball.face_normals)
        self.assertEqual(got.min(), 1.0)

    def test_an_inner_corner_halves_it(self) -> None:
        """Close to a wall as high as the sky, half is left (by symmetry)."""
        wall = trimesh.creation.box((0.01, 4.0, 4.0))
        wall.apply_translation([0.006, 0, 2.0])
        got = openness(triangles(wall), np.zeros((1, 3)), np.array([[0.0, 0.0, 1.0]]))[0]
        self.assertAlmostEqual(got, 0.5, delta=0.04)


class Seen(unittest.TestCase):
    def setUp(self) -> None:
        half = np.array([0.05, 0.02, 0.05])
        self.piece = box_surface(-half, half, 0.02)
        self.body = triangles(trimesh.creation.box((0.1, 0.04, 0.1)))

    def rod(self, y: float) -> Rod:
        return Rod("r", np.array([0.0, y, -0.04]), np.array([0.0, y, 0.04]), 0.004)

    def test_a_rod_before_a_face_is_seen_by_that_face_alone(self) -> None:
        found = sight(self.piece, self.piece.areas, self.body, [self.rod(-0.10)], {})
        face = 0.1 * 0.1 / self.piece.areas.sum()
        self.assertAlmostEqual(found.seen["r"], face, places=9)
        self.assertAlmostEqual(found.blind, 1 - face, places=9)

    def test_a_screen_between_hides_it(self) -> None:
        screen = trimesh.creation.box((1.0, 0.002, 1.0))
        screen.apply_translation([0, -0.06, 0])
        blockers = np.concatenate([self.body, triangles(screen)])
        self.assertEqual(
            sight(self.piece, self.piece.areas, blockers, [self.rod(-0.10)], {}).blind, 1.0
        )

    def test_a_face_before_a_large_sheet_faces_it_however_near(self) -> None:
        """Nearly all of the sheet grazes then; the face away from it sees nothing of it."""
        for gap in (0.003, 0.01, 0.1):
            half = np.array([0.3, 0.001, 0.25])
            middle = np.array([0.0, -0.02 - gap - 0.001, 0.0])
            sheet = {"s": box_surface(middle - half, middle + half, 0.02)}
            plane = trimesh.creation.box(2 * half)
            plane.apply_translation(middle)
            blockers = np.concatenate([self.body, triangles(plane)])
            found = sight(self.piece, self.piece.areas, blockers, [], sheet)
            front, back = (found.facets.normals[:, 1] * s > 0.9 for s in (-1, 1))
            with self.subTest(gap=gap):
                self.assertGreater(found.facing[front].min(), 0.35)
                self.assertEqual(found.facing[back].max(), 0.0)

    def test_rays_end_where_they_are_sent(self) -> None:
        """What lies behind the target does not count."""
        block = Blockers(self.body)
        start, near, far = (np.array([[0.0, y, 0.0]]) for y in (-0.2, -0.1, 0.2))
        self.assertTrue(block.free(start, near)[0])
        self.assertFalse(block.free(start, far)[0])


class Slices(unittest.TestCase):
    def test_slices_keep_the_mean_and_the_order(self) -> None:
        rng = np.random.default_rng(3)
        for count in (3, 20, 157):
            values, weights = rng.random(count), rng.random(count)
            weights /= weights.sum()
            made = sliced([float(v) for v in values], [float(w) for w in weights])
            self.assertEqual(len(made), SLICES)
            self.assertAlmostEqual(sum(made) / SLICES, float(values @ weights), places=12)
            self.assertTrue(all(a <= b + 1e-12 for a, b in pairwise(made)))

    def test_equal_parts_are_the_slices_themselves(self) -> None:
        quantiles = [0.1 * k for k in range(1, 21)]
        for a, b in zip(sliced(quantiles, [0.05] * 20), profile_of(quantiles), strict=True):
            self.assertAlmostEqual(a, b, places=12)

    def test_what_the_first_pose_does_not_reach_is_left_out(self) -> None:
        made = Coverage.of([1.0, 1.0, 2.0], [[1.5, REACH / 2, 0.9], [0.2, 1.0, 1.2]])
        self.assertEqual(made.poses, ((1.5, 0.9), (0.2, 1.2)))
        self.assertAlmostEqual(sum(made.weights), 1.0)
        self.assertEqual(made.in_pose(2), made.in_pose(0))
        dark = Coverage.of([1.0, 3.0], [[0.0, 0.001]])
        self.assertEqual(len(dark.weights), 2)
