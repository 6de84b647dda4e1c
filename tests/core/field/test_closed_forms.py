"""The solver against closed forms, an empirical cell formula, and laws that any field obeys."""

import math
import unittest
from dataclasses import replace

import numpy as np
import trimesh

from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.integrals.green import box_green
from yellowbath.core.field.mesh.grouping import cut, grouped
from yellowbath.core.field.mesh.shapes import BoxBody, CylinderBody, mesh
from yellowbath.core.field.mesh.surfaces import Rod, Surface, graded, join, moved, quad_grid
from yellowbath.core.field.solver.bath import Body, FieldBath
from yellowbath.core.field.solver.result import PieceCurrent
from yellowbath.core.field.solver.solve import solve

SIGMA = 1.3
FILM = 0.004
X, Y, Z = np.eye(3)


def bath(
    size: tuple[float, float, float], bodies: list[Body], rods: list[Rod] | None = None
) -> FieldBath:
    return FieldBath(box_green(size), bodies, rods or [], 1.0, FILM, None, SIGMA)


def current(b: FieldBath, name: str = "part") -> float:
    body = next(x for x in b.bodies if x.name == name)
    return float(solve(b).density[name] @ body.surface.areas)


def sheet(origin: np.ndarray, along: np.ndarray, up: float, size: float) -> Surface:
    """A thin sheet from wall to wall and floor to surface: its two faces, no edges."""
    length = float(np.linalg.norm(along))
    one = along / length
    u, v = graded(length, round(length / size)), graded(up, round(up / size))
    front = quad_grid(origin, one, Z, u, v, "front")
    normal = np.cross(one, Z)
    back = quad_grid(origin - 0.002 * normal, Z, one, v, u, "back")
    return join([front, back])


class ClosedForms(unittest.TestCase):
    """Elementary: films in series with the liquid."""

    def test_parallel_plates(self) -> None:
        size = (0.30, 0.10, 0.12)
        part = sheet(np.array([0.04, 0.10, 0.0]), -0.10 * Y, 0.12, 0.012)
        plate = sheet(np.array([0.26, 0.0, 0.0]), 0.10 * Y, 0.12, 0.012)
        # both fronts look away from one another: turned round, they look at one another
        one, other = Body("part", part, 0.0, FILM), Body("a", plate, 1.0, FILM)
        gap = 0.26 - 0.04 if part.normals[0, 0] > 0 else 0.26 - 0.04 - 0.004
        area = 0.10 * 0.12
        expected = 1 / ((gap / SIGMA + 2 * FILM) / area)
        self.assertAlmostEqual(current(bath(size, [one, other])) / expected, 1, delta=0.005)

    def test_concentric_spheres(self) -> None:
        """Two spheres: R = (1/a - 1/b)/(4 pi s), and films."""
        a, b, middle = 0.03, 0.08, np.array([0.1, 0.1, 0.1])
        ball = trimesh.creation.icosphere(4, a)
        shell = trimesh.creation.icosphere(4, b)
        inner = moved(grouped(cut(ball.vertices, ball.faces, 300), 300)[0], np.eye(3), middle)
        flipped = np.ascontiguousarray(shell.faces[:, ::-1])
        outer = moved(grouped(cut(shell.vertices, flipped, 300), 300)[0], np.eye(3), middle)
        films = FILM / (4 * math.pi * a**2) + FILM / (4 * math.pi * b**2)
        expected = 1 / ((1 / a - 1 / b) / (4 * math.pi * SIGMA) + films)
        got = current(
            bath((0.2, 0.2, 0.2), [Body("part", inner, 0.0, FILM), Body("a", outer, 1.0, FILM)])
        )
        self.assertAlmostEqual(got / expected, 1, delta=0.006)

    def test_eccentric_cylinders(self) -> None:
        """R L = acosh((a2 + b2 - c2)/(2ab))/(2 pi s); next to no film, so that both are level."""
        a, b, depth, tiny = 0.02, 0.06, 0.10, 1e-5
        for off in (0.0, 0.02):
            inner = CylinderBody(2, (0.10 + off, 0.10), a, 0.0, depth)
            outer = CylinderBody(2, (0.10, 0.10), b + 0.01, 0.0, depth, bore=b)
            bodies = [
                Body("part", mesh(inner, depth, 0.008), 0.0, tiny),
                Body("a", mesh(outer, depth, 0.01), 1.0, tiny),
            ]
            ratio = (a * a + b * b - off * off) / (2 * a * b)
            expected = 2 * math.pi * SIGMA * depth / math.acosh(ratio)
            with self.subTest(off):
                self.assertAlmostEqual(
                    current(bath((0.2, 0.2, depth), bodies)) / expected, 1, delta=0.01
                )


class SlantedCell(unittest.TestCase):
    def test_an_inclined_sheet_against_the_empirical_law(self) -> None:
        """Trapezoid cell of 267 mL: i/I = 5.10 - 5.24 log10(x cm), in 1/dm2 (from memory).

        The law was read off plated panels and adds up to 104 % of the current; brought to 100 %, it
        is met within 13 % from 1.5 to 6.5 cm (judged), over which the density falls fivefold. On
        a panel of 600 elements the first strip came within it by the error of the tank's table.
        """
        depth, near, far = 0.0487, 0.0476, 0.127
        tank = (0.14, 0.0635, depth)
        slant = np.array([far - near, 0.0635, 0.0])
        panel = sheet(np.array([near, 0.0, 0.0]), slant, depth, 0.003)
        anode = sheet(np.array([0.003, 0.0, 0.0]), 0.0635 * Y, depth, 0.004)
        bodies = [Body("part", panel, 0.0, 1e-5), Body("a", anode, 1.0, 1e-5)]
        solved = solve(bath(tank, bodies)).density["part"]
        total = float(solved @ panel.areas)
        length = float(np.linalg.norm(slant))
        along = (panel.centres - np.array([near, 0.0, 0.0])) @ (slant / length)
        for x in (0.015, 0.025, 0.035, 0.05, 0.065):
            strip = np.abs(along - x) < 0.004
            served = strip & (panel.normals[:, 0] < 0)
            got = float(solved[served] @ panel.areas[served] / panel.areas[served].sum()) / total
            with self.subTest(x):
                law = (5.10 - 5.24 * math.log10(100 * x)) / 1.04
                self.assertAlmostEqual(got / 100 / law, 1, delta=0.13)


class Laws(unittest.TestCase):
    def setUp(self) -> None:
        self.size = (0.30, 0.24, 0.20)
        low, high = np.array([0.12, 0.10, 0.06]), np.array([0.20, 0.13, 0.15])
        self.part = Body("part", mesh(BoxBody(low, high), 0.2, 0.018), 0.0, FILM)

    def rod(self, x: float, y: float, name: str = "r") -> Rod:
        return Rod(name, np.array([x, y, 0.02]), np.array([x, y, 0.2]), 0.006, (True, False))

    def test_reciprocity(self) -> None:
        """What flows between two is the same whichever of them is raised."""
        other = Body("a", mesh(BoxBody(np.array([0.03, 0.05, 0.04]), np.array([0.04, 0.19, 0.16])),
                               0.2, 0.02), 0.0, FILM)  # fmt: skip
        up = bath(self.size, [self.part, replace(other, volts=1.0)])
        down = bath(self.size, [replace(self.part, volts=1.0), other])
        self.assertAlmostEqual(current(up) / current(down, "a"), 1, delta=0.002)

    def test_mirror_images_draw_alike(self) -> None:
        left = current(bath(self.size, [self.part], [self.rod(0.16, 0.03)]))
        back = np.diag([1.0, -1.0, 1.0])
        turned = moved(self.part.surface, back, np.array([0.0, 0.24, 0.0]))
        flipped = Surface(np.ascontiguousarray(turned.corners[:, ::-1]), turned.patch)
        mirrored = replace(self.part, surface=flipped)
        right = current(bath(self.size, [mirrored], [self.rod(0.16, 0.21)]))
        self.assertAlmostEqual(left / right, 1, places=9)

    def test_leads_are_resistances_in_series(self) -> None:
        rods = [self.rod(0.16, 0.03)]
        bare = current(bath(self.size, [self.part], rods))
        led = replace(bath(self.size, [replace(self.part, lead=0.7)], rods), rod_leads=[0.4])
        self.assertAlmostEqual(1 / current(led) - 1 / bare, 1.1, delta=1e-3)

    def test_parts_of_one_name_hang_on_one_lead(self) -> None:
        parts = [self.rod(0.10, 0.03), self.rod(0.22, 0.03)]
        bare = current(bath(self.size, [self.part], parts))
        led = replace(bath(self.size, [self.part], parts), rod_leads=[0.5, 0.5])
        self.assertAlmostEqual(1 / current(led) - 1 / bare, 0.5, delta=2e-3)

    def test_no_current_runs_backwards_out_of_a_piece(self) -> None:
        """A neighbour on a very bad clip floats: below the threshold nothing leaves it."""
        near = moved(self.part.surface, np.eye(3), np.array([0.0, 0.06, 0.0]))
        floating = Body("b", near, 0.0, FILM, lead=50.0)
        solved = solve(bath(self.size, [self.part, floating], [self.rod(0.16, 0.03)]))
        self.assertGreater(solved.density["b"].min(), -1e-4 * solved.density["part"].max())

    def test_paint_keeps_current_off(self) -> None:
        masked = np.array([p == "+y" for p in self.part.surface.patch])
        solved = solve(
            bath(self.size, [replace(self.part, masked=masked)], [self.rod(0.16, 0.03)])
        ).density["part"]
        self.assertLess(solved[masked].max(), 1e-3 * solved.max())

    def test_convergence(self) -> None:
        """The current settles with about the square of the element size."""
        sizes, found = (0.036, 0.024, 0.016, 0.008), []
        low, high = np.array([0.12, 0.10, 0.06]), np.array([0.20, 0.13, 0.15])
        for size in sizes:
            body = replace(self.part, surface=mesh(BoxBody(low, high), 0.2, size))
            found.append(current(bath(self.size, [body], [self.rod(0.16, 0.03)])))
        errors = [abs(f / found[-1] - 1) for f in found[:-1]]
        self.assertGreater(math.log(errors[0] / errors[2]) / math.log(sizes[0] / sizes[2]), 1.3)

    def test_what_is_kept_changes_nothing(self) -> None:
        kept = BlockCache()
        b = bath(self.size, [self.part], [self.rod(0.16, 0.03)])
        solve(bath(self.size, [self.part], [self.rod(0.05, 0.05)]), kept)
        again = PieceCurrent(self.part.surface, solve(b, kept).density["part"]).current
        self.assertAlmostEqual(again / current(b), 1, places=12)
