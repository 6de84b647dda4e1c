"""The compiled integrals against numerical ones and closed surfaces; the box by its walls."""

import math
import unittest

import numpy as np
from scipy.special import k0

from yellowbath.core.document import Tube
from yellowbath.core.field.assembly.assemble import layers_of
from yellowbath.core.field.integrals import green, kernels, line_kernels
from yellowbath.core.field.mesh.grouping import cut, grouped
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.field.mesh.surfaces import Surface, box_surface, clipped, graded, snapped

TRIANGLE = np.array([[0.0, 0.0, 0.0], [0.03, 0.0, 0.0], [0.005, 0.02, 0.004]])
BOX = (0.4, 0.3, 0.25)


def quadrature(point: np.ndarray, n: int = 400) -> float:
    """1/r over the triangle by n x n midpoints of the unit square folded into it."""
    u, v = np.meshgrid((np.arange(n) + 0.5) / n, (np.arange(n) + 0.5) / n)
    a, b = TRIANGLE[1] - TRIANGLE[0], TRIANGLE[2] - TRIANGLE[0]
    fold = u + v > 1
    u, v = np.where(fold, 1 - u, u), np.where(fold, 1 - v, v)
    at = TRIANGLE[0] + u[..., None] * a + v[..., None] * b
    area = np.linalg.norm(np.cross(a, b)) / 2
    return float((1 / np.linalg.norm(at - point, axis=-1)).mean() * area)


class Triangles(unittest.TestCase):
    def test_potential_against_quadrature(self) -> None:
        for point in ((0.01, 0.005, 0.01), (0.05, 0.03, -0.02), (-0.01, 0.0, 0.001)):
            exact, _ = kernels.flat_exact(*point, TRIANGLE[[0, 1, 2, 2]])
            self.assertAlmostEqual(exact / quadrature(np.array(point)), 1.0, places=3)

    def test_potential_hard_by_the_line_of_a_side(self) -> None:
        """Beyond a corner, on the side's own line but for less than rounding: the same as a hair
        off it (continuity), where r and s cancel."""
        for x in (0.04, 0.3, -0.02):
            near, off = (
                kernels.flat_exact(x, y, y, TRIANGLE[[0, 1, 2, 2]])[0] for y in (1e-16, 1e-9)
            )
            self.assertAlmostEqual(near / off, 1.0, places=6)

    def test_potential_at_its_own_centre(self) -> None:
        """Closed form at the centre of a square: 2 a ln((sqrt 2 + 1)/(sqrt 2 - 1)) for side a."""
        a = 0.02
        square = np.array([[0, 0, 0], [a, 0, 0], [a, a, 0], [0, a, 0]], dtype=float)
        total, _ = kernels.flat_exact(a / 2, a / 2, 1e-12, square)
        root = math.sqrt(2)
        self.assertAlmostEqual(total, 2 * a * math.log((root + 1) / (root - 1)), places=7)

    def test_solid_angles_of_a_closed_box(self) -> None:
        """Gauss: 4 pi from inside, nothing from outside."""
        box = box_surface(np.array([0.1, 0.1, 0.1]), np.array([0.2, 0.15, 0.12]), 0.02)
        for point, total in (((0.15, 0.12, 0.11), 4 * math.pi), ((0.3, 0.12, 0.11), 0.0)):
            angle = sum(
                kernels.solid_angle(*point, t[[0, 1, 2]])
                + kernels.solid_angle(*point, t[[0, 2, 3]])
                for t in box.corners
            )
            self.assertAlmostEqual(angle, total, places=9)


class FarOnes(unittest.TestCase):
    """What is not near, by moments, against sums over many small parts (independent)."""

    def parts(self, surface: Surface, cuts: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Middles, vector areas and elements of every flat piece's small parts."""
        t = np.arange(cuts + 1) / cuts
        u, v = t[:, None, None], t[None, :, None]
        a, b, c, d = (surface.corners[:, k, None, None] for k in range(4))
        grid = (1 - u) * ((1 - v) * a + v * d) + u * ((1 - v) * b + v * c)
        cells = np.stack([grid[:, :-1, :-1], grid[:, 1:, :-1], grid[:, 1:, 1:], grid[:, :-1, 1:]])
        vectors = np.cross(cells[2] - cells[0], cells[3] - cells[1]) / 2
        owner = np.repeat(surface.owners, cuts * cuts)
        return cells.mean(axis=0).reshape(-1, 3), vectors.reshape(-1, 3), owner

    def test_elements_of_one_and_of_many_flat_pieces(self) -> None:
        rng = np.random.default_rng(5)
        body = solid(Tube())
        one = box_surface(np.zeros(3), np.array([0.06, 0.05, 0.02]), 0.01)
        for surface, cuts in ((one, 24), (grouped(cut(body.vertices, body.faces, 400), 240)[0], 4)):
            at, vectors, owner = self.parts(surface, cuts)
            away = rng.normal(size=(80, 3))
            away *= (rng.uniform(0.15, 0.4, 80) / np.linalg.norm(away, axis=1))[:, None]
            points = surface.centres.mean(axis=0) + away
            nowhere = green.Green(np.full(3, -1.0), np.zeros((2, 1, 2, 10)))
            found = layers_of(points, np.full(80, -1), surface.elements, nowhere, kernels.ALONE)
            d = points[:, None] - at[None]
            q = 1 / np.linalg.norm(d, axis=2) / (4 * math.pi)
            single = q * np.linalg.norm(vectors, axis=1)
            cube = q / (d**2).sum(axis=2)
            double = (d * vectors).sum(axis=2) * cube
            for mine, theirs in zip(found, (single, double), strict=True):
                want = np.stack([np.bincount(owner, row, len(surface)) for row in theirs])
                off = np.linalg.norm(mine - want) / np.linalg.norm(want)
                self.assertLess(off, 3e-4, len(surface))


class BoxGreen(unittest.TestCase):
    def potential(self, x: np.ndarray, y: np.ndarray) -> float:
        """G(x, y) [1/m] by a very small facet at y."""
        g = green.box_green(BOX)
        e = 1e-4
        facet = y + e * np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], dtype=float)
        element = Surface(facet[None], ("",)).elements
        single, _ = layers_of(x[None], np.array([-1]), element, g)
        return float(single[0, 0]) / e**2

    def test_nothing_flows_through_the_walls(self) -> None:
        y = np.array([0.1, 0.12, 0.1])
        for axis, wall in ((0, 0.4), (1, 0.0), (2, 0.25), (0, 0.0), (1, 0.3), (2, 0.0)):
            x = np.array([0.22, 0.17, 0.15])
            x[axis] = wall
            inward = np.zeros(3)
            inward[axis] = 1.0 if wall == 0 else -1.0
            near, far = (
                abs(self.potential(x + d * inward, y) - self.potential(x, y)) / d
                for d in (0.001, 0.03)
            )
            self.assertLess(near, 0.1 * far)

    def test_reciprocity(self) -> None:
        a, b = np.array([0.07, 0.21, 0.2]), np.array([0.31, 0.05, 0.04])
        self.assertAlmostEqual(self.potential(a, b) / self.potential(b, a), 1.0, places=2)

    def test_the_table_is_third_order_in_value(self) -> None:
        """Against a table three times as fine."""
        coarse = green.box_green(BOX)
        green.GRID, kept = 97, green.GRID
        try:
            fine = green.box_green(BOX)
        finally:
            green.GRID = kept
        rng = np.random.default_rng(3)
        d = rng.random((kernels.BLOCK, 3)) * BOX
        found = []
        for g in (coarse, fine):
            work, index = np.zeros((7, len(d))), np.zeros(len(d), dtype=np.int64)
            work[:3] = d.T
            kernels.rest(g.table, kernels.steps_of(g.size, g.table), len(d), work, index)
            found.append(work[6])
        self.assertLess(np.abs(found[0] - found[1]).max(), 3e-6)


class BetweenFloorAndSurface(unittest.TestCase):
    def test_against_its_fourier_series(self) -> None:
        """Differences of potential, since the constant is left open: logarithm and K0 waves."""
        depth, z0 = 0.2, 0.06
        slab = green.slab_green(0.6, depth)
        e = 1e-4
        facet = e * np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], dtype=float)
        element = Surface((facet + np.array([0, 0, z0]))[None], ("",)).elements
        points = np.array([[0.05, 0, 0.16], [0.1, 0.1, 0.09], [0.3, 0.1, 0.2], [0.02, 0.4, 0.01]])
        single, _ = layers_of(points, np.full(4, -1), element, slab)
        rho = np.hypot(*(points[:, :2] - e / 2).T)
        waves = np.arange(1, 60)[:, None] * math.pi / depth
        heights = sum(np.cos(waves * (points[:, 2] - s * z0)) for s in (1, -1))
        series = -np.log(rho) / (2 * math.pi * depth)
        series += (k0(waves * rho) * heights).sum(axis=0) / (2 * math.pi * depth)
        found = single[:, 0] / e**2
        np.testing.assert_allclose(found[1:] - found[0], series[1:] - series[0], rtol=1e-4)


class Meshes(unittest.TestCase):
    def test_a_box_keeps_its_area_and_looks_outwards(self) -> None:
        low, high = np.array([0.1, 0.1, 0.1]), np.array([0.3, 0.106, 0.25])
        box = box_surface(low, high, 0.012)
        self.assertAlmostEqual(float(box.areas.sum()), 0.0642)
        outward = ((box.centres - (low + high) / 2) * box.normals).sum(axis=1)
        self.assertTrue((outward > 0).all())

    def test_cutting_at_the_surface_keeps_what_is_under(self) -> None:
        box = box_surface(np.array([0.0, 0.0, 0.0]), np.array([0.1, 0.1, 0.1]), 0.02)
        cut = clipped(box, 0.04)
        self.assertAlmostEqual(float(cut.areas.sum()), 0.01 + 4 * 0.1 * 0.04)
        self.assertLessEqual(float(cut.corners[..., 2].max()), 0.04 + 1e-12)
        self.assertEqual(len(clipped(box, -0.01).corners), 0)

    def test_grading(self) -> None:
        cuts = graded(0.2, 12)
        steps = np.diff(cuts)
        self.assertAlmostEqual(cuts[-1], 0.2)
        self.assertLess(steps[0], steps[6] / 3)
        self.assertTrue(np.isclose(snapped(cuts, 4), 0.05).any())


class Segments(unittest.TestCase):
    def test_a_long_thin_segment_keeps_its_potential_to_the_axis(self) -> None:
        """Quadrature of 1/(4 pi r) with a substitution that flattens the peak; where the sum of
        distances less the length would be lost to rounding, a difference of logarithms."""
        half = 0.2
        for along, apart in ((0.0, 1e-6), (0.15, 1e-8), (0.25, 1e-12), (-0.19, 1e-20)):
            found = line_kernels.segment_at(along, apart, half)
            off = math.sqrt(apart)
            exact = math.asinh((half - along) / off) + math.asinh((half + along) / off)
            if abs(along) > half:  # beyond its end: no peak, and no cancellation in the ratio
                exact = math.log((abs(along) + half) / (abs(along) - half))
            self.assertAlmostEqual(found * 4 * math.pi / exact, 1.0, places=9)
