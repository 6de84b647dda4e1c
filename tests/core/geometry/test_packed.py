"""A mesh in a document: the same body again, or the reason why not."""

import base64
import unittest

import numpy as np
import trimesh
from pydantic import ValidationError

from yellowbath.core.document import Mesh
from yellowbath.core.errors import CaseError
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.geometry.packed import measured, pack, unpack
from yellowbath.core.geometry.piece import measure


class Packed(unittest.TestCase):
    def setUp(self) -> None:
        self.body = trimesh.creation.annulus(0.02, 0.05, 0.12)
        self.texts = pack(np.array(self.body.vertices), np.array(self.body.faces))

    def test_area_and_volume_are_the_librarys(self) -> None:
        """Reference library: trimesh's own area and volume; single precision in between."""
        area, volume, box = measured(*self.texts)
        self.assertAlmostEqual(area / self.body.area, 1, places=6)
        self.assertAlmostEqual(volume / self.body.volume, 1, places=6)
        self.assertAlmostEqual(max(box), 0.12, places=6)

    def test_it_is_scaled_to_what_the_tape_says(self) -> None:
        """Half as long: a quarter of the surface, an eighth of the volume, the same as a solid."""
        shape = Mesh(vertices=self.texts[0], faces=self.texts[1], length_m=0.06)
        m, made = measure(shape), solid(shape)
        self.assertAlmostEqual(m.area / self.body.area, 0.25, places=6)
        self.assertAlmostEqual(m.volume / self.body.volume, 0.125, places=6)
        self.assertAlmostEqual(made.area / m.area, 1, places=6)
        self.assertAlmostEqual(float(np.ptp(made.vertices[:, 0])), 0.06, places=6)

    def test_what_is_broken_is_refused_with_a_reason(self) -> None:
        vertices, faces = self.texts
        gone = np.array(self.body.faces)[1:]
        nowhere = np.array(self.body.faces) + 9000
        for broken, words in (
            ((vertices[:-3], faces), "cut short"),
            (("not base64!", faces), "cut short"),
            ((vertices, base64.b64encode(b"").decode()), "triangles"),
            (pack(np.array(self.body.vertices), gone), "not closed"),
            (pack(np.array(self.body.vertices), nowhere), "no points"),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                unpack(*broken)
        with self.assertRaises(ValidationError):
            Mesh(vertices="A" * 400_000, faces=faces)
