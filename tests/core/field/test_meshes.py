"""Pieces from files: what is mended, what is refused and how, and that the map is right."""

import copy
import json
import math
import tempfile
import unittest
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import trimesh

from yellowbath.core.errors import CaseError
from yellowbath.core.field.mesh.body import MeshBody
from yellowbath.core.field.mesh.grouping import below, cut, grouped
from yellowbath.core.field.mesh.import_mesh import MOST, clean
from yellowbath.workflows.plans.cases import load_mesh, solve_file

REFERENCE = json.loads(
    (Path(__file__).parents[2] / "published" / "field_cases.json").read_text("utf-8")
)
Make = Callable[[], trimesh.Trimesh | bytes]


def box(*size: float) -> trimesh.Trimesh:
    return trimesh.creation.box(extents=size)


def without(mesh: trimesh.Trimesh, *faces: int) -> trimesh.Trimesh:
    keep = np.ones(len(mesh.faces), dtype=bool)
    keep[list(faces)] = False
    mesh.update_faces(keep)
    return mesh


def faces_again(mesh: trimesh.Trimesh, faces: np.ndarray) -> trimesh.Trimesh:
    return trimesh.Trimesh(mesh.vertices, faces, process=False)


def with_nan() -> trimesh.Trimesh:
    mesh = box(100, 60, 40)
    vertices = np.array(mesh.vertices)
    vertices[3, 1] = math.nan
    return trimesh.Trimesh(vertices, mesh.faces, process=False)


def half_turned() -> trimesh.Trimesh:
    mesh = box(100, 60, 40)
    faces = np.array(mesh.faces)
    faces[::3] = faces[::3, ::-1]
    return faces_again(mesh, faces)


def inside_out() -> trimesh.Trimesh:
    mesh = box(100, 60, 40)
    mesh.invert()
    return mesh


def two_that_overlap() -> trimesh.Trimesh:
    other = box(60, 60, 60)
    other.apply_translation([50, 0, 0])
    return trimesh.util.concatenate([box(60, 60, 60), other])


def hollow() -> trimesh.Trimesh:
    inner = box(60, 40, 20)
    inner.invert()
    return trimesh.util.concatenate([box(100, 60, 40), inner])


def sheet(both_sides: bool) -> trimesh.Trimesh:
    flat = trimesh.Trimesh(
        [[0, 0, 0], [100, 0, 0], [100, 60, 0], [0, 60, 0]], [[0, 1, 2], [0, 2, 3]]
    )
    faces = np.concatenate([flat.faces, flat.faces[:, ::-1]]) if both_sides else flat.faces
    return faces_again(flat, faces)


BOX_AREA = 2 * (100 * 60 + 100 * 40 + 60 * 40)
BALL = trimesh.creation.icosphere(3, radius=40)

MENDED: dict[str, tuple[Make, str, float]] = {
    "inside out": (inside_out, "inside out", BOX_AREA),
    "some faces turned": (half_turned, "turned", BOX_AREA),
    "every face twice": (
        lambda: faces_again(box(100, 60, 40), np.tile(box(1, 1, 1).faces, (2, 1))),
        "duplicate", BOX_AREA,
    ),
    "a small hole": (lambda: without(BALL.copy(), 5), "hole was closed", float(BALL.area)),
    "two bodies that overlap": (two_that_overlap, "joined", 2 * 60 * 60 + 4 * 60 * 110),
    "a sealed hollow": (hollow, "hollow of 48 mL", BOX_AREA),
}  # fmt: skip

REFUSED: dict[str, tuple[Make, str]] = {
    "an empty file": (lambda: b"", "cannot be read|no triangles"),
    "no mesh at all": (lambda: b"solid nothing\nendsolid nothing\n", "cannot be read|no triangles"),
    "cut short": (
        lambda: box(100, 60, 40).export(file_type="stl")[:400],
        "cannot be read|no triangles",
    ),
    "a lid missing": (lambda: without(box(100, 60, 40), 0, 1), "open: a hole .* about x"),
    "a sheet": (lambda: sheet(False), "open|sheet"),
    "a sheet with two sides": (lambda: sheet(True), "open|sheet"),
    "metres called millimetres": (lambda: box(0.1, 0.06, 0.04), "unit is likely wrong.*m, ft"),
    "corners that are no numbers": (with_nan, "no points"),
}


class Files(unittest.TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def read(self, made: trimesh.Trimesh | bytes, kind: str = "stl") -> MeshBody:
        data = made if isinstance(made, bytes) else made.export(file_type=kind)
        file = self.folder / f"piece.{kind}"
        file.write_bytes(data.encode() if isinstance(data, str) else data)
        vertices, faces = load_mesh(self.folder, file.name)
        unit = "m" if kind == "glb" else "mm"
        return clean(np.asarray(vertices, dtype=float), np.asarray(faces), unit)

    def test_mended_with_a_word(self) -> None:
        for name, (make, word, area) in MENDED.items():
            with self.subTest(name):
                body = self.read(make())
                self.assertTrue(any(word in note for note in body.notes), body.notes)
                self.assertAlmostEqual(body.area * 1e6 / area, 1.0, delta=0.005)
                self.assertGreater(body.volume, 0)

    def test_refused_with_the_reason(self) -> None:
        for name, (make, words) in REFUSED.items():
            with self.subTest(name):
                with self.assertRaises(CaseError) as caught:
                    self.read(make())
                self.assertRegex(str(caught.exception), words)

    def test_too_many_triangles(self) -> None:
        faces = np.tile(np.array([[0, 1, 2]]), (MOST + 1, 1))
        with self.assertRaisesRegex(CaseError, "200,000"):
            clean(np.eye(3), faces, "mm")

    def test_a_clean_mesh_has_nothing_to_say_in_any_format(self) -> None:
        for kind in ("stl", "obj", "ply", "3mf", "glb"):
            unit = 1000 if kind == "glb" else 1
            with self.subTest(kind):
                body = self.read(box(100 / unit, 60 / unit, 40 / unit), kind)
                self.assertEqual(body.notes, ())
                self.assertAlmostEqual(body.area * 1e6, BOX_AREA, places=3)

    def test_many_triangles_are_brought_down_and_the_area_said(self) -> None:
        body = self.read(trimesh.creation.icosphere(6, radius=40))
        self.assertLess(len(body.faces), 20_100)
        self.assertIn("area", body.notes[0])
        self.assertAlmostEqual(body.area / (4 * math.pi * 0.04**2), 1.0, delta=0.002)

    def solve(self, mesh: trimesh.Trimesh, part: dict[str, Any], case: str) -> dict[str, Any]:
        data = copy.deepcopy(REFERENCE["cases"][case])
        data["geometry"]["part"] = {"shape": "mesh", "file": "piece.stl", **part}
        (self.folder / "piece.stl").write_bytes(mesh.export(file_type="stl"))
        (self.folder / "case.json").write_text(json.dumps(data))
        return solve_file(self.folder / "case.json")["case"]

    def test_the_plate_as_a_file_of_twelve_triangles(self) -> None:
        """Against the same finite elements as the plate by its sizes; in inches, turned, moved."""
        turn = [[0, 0, 1, 200], [1, 0, 0, 150], [0, 1, 0, 125], [0, 0, 0, 1]]
        plate = box(6 / 25.4, 150 / 25.4, 200 / 25.4)
        got = self.solve(plate, {"units": "in", "pose": turn}, "C1")
        want = REFERENCE["cases"]["C1"]["results"]
        self.assertAlmostEqual(got["total_current_A"] / want["total_current_A"], 1, delta=0.003)
        self.assertAlmostEqual(got["p5_over_mean"], want["p5_over_mean"], delta=0.009)
        self.assertAlmostEqual(got["p95_over_mean"] / want["p95_over_mean"], 1, delta=0.03)

    def test_a_tube_of_needles(self) -> None:
        """Ninety-six slender strips a side: the bore gets its trickle and nothing goes negative."""
        tube = trimesh.creation.annulus(25, 30, 200, sections=96)
        turn = [[0, 0, 1, 200], [1, 0, 0, 150], [0, 1, 0, 125], [0, 0, 0, 1]]
        got = self.solve(tube, {"pose": turn}, "C5")
        want = REFERENCE["cases"]["C5"]["results"]
        self.assertAlmostEqual(got["total_current_A"] / want["total_current_A"], 1, delta=0.003)
        self.assertAlmostEqual(got["p5_over_mean"], want["p5_over_mean"], delta=0.003)
        self.assertAlmostEqual(got["p95_over_mean"] / want["p95_over_mean"], 1, delta=0.03)


class Groups(unittest.TestCase):
    def test_groups_keep_the_area_at_any_level_and_number(self) -> None:
        ball = trimesh.creation.icosphere(4, radius=0.05)
        fine = cut(np.asarray(ball.vertices), np.asarray(ball.faces), 300)
        for elements in (80, 300):
            for level in (0.2, 0.02):
                surface, owner = grouped(below(fine, level), elements)
                zone = 2 * math.pi * 0.05 * min(level + 0.05, 0.1)  # Archimedes
                self.assertAlmostEqual(float(surface.areas.sum()) / zone, 1, delta=0.003)
                self.assertEqual(len(owner), len(surface.corners))
                self.assertAlmostEqual(len(surface) / elements, 1, delta=0.1)

    def test_groups_do_not_cross_an_edge(self) -> None:
        cube = box(0.1, 0.1, 0.1)
        surface, _ = grouped(cut(np.asarray(cube.vertices), np.asarray(cube.faces), 200), 200)
        starts = surface.first
        assert starts is not None
        for a, b in pairwise(starts):
            n = surface.vectors[a:b] / surface.flat_areas[a:b, None]
            self.assertAlmostEqual(float((n @ n[0]).min()), 1.0, places=6)


if __name__ == "__main__":
    unittest.main()
