"""Areas and volumes of the shapes against closed forms."""

import math
import unittest

from yellowbath.core.document import Bar, Box, Piece, Plate, Tube
from yellowbath.core.figures import evaluate
from yellowbath.core.geometry.piece import area_figure, posed, sizes, thinnest, volume

PLATE = Piece(shape=Plate(length_m=0.2, width_m=0.15, thickness_m=0.006))
BAR = Piece(shape=Bar(length_m=0.3, diameter_m=0.02))
TUBE = Piece(shape=Tube(length_m=0.2, outer_diameter_m=0.06, inner_diameter_m=0.05))
BOX = Piece(shape=Box(length_m=0.1, width_m=0.1, height_m=0.1))


class Shapes(unittest.TestCase):
    def test_areas(self) -> None:
        for piece, area in (
            (PLATE, 0.0642),  # field-cases.json, C1: part_wetted_area_m2
            (BAR, math.pi * 0.02 * 0.3 + 2 * math.pi * 0.01**2),
            (TUBE, math.pi * 0.2 * (0.06 + 0.05) + 2 * math.pi * (0.03**2 - 0.025**2)),
            (BOX, 0.06),
        ):
            with self.subTest(piece.shape.kind):
                made = area_figure(piece)
                self.assertAlmostEqual(made.value, area)
                again = evaluate(made.expression, {i.symbol: i.value for i in made.inputs})
                self.assertAlmostEqual(again, area)

    def test_volumes(self) -> None:
        self.assertAlmostEqual(volume(PLATE), 0.2 * 0.15 * 0.006)
        self.assertAlmostEqual(volume(BAR), math.pi * 0.01**2 * 0.3)
        self.assertAlmostEqual(volume(TUBE), math.pi * (0.03**2 - 0.025**2) * 0.2)
        self.assertAlmostEqual(volume(BOX), 0.001)

    def test_thinnest_section(self) -> None:
        self.assertAlmostEqual(thinnest(PLATE), 0.006)
        self.assertAlmostEqual(thinnest(TUBE), 0.005)

    def test_poses_keep_the_sizes_and_turn_the_long_side(self) -> None:
        for hang, up in (("long_down", 0.2), ("long_across", 0.15), ("flat", 0.006)):
            extent = posed(PLATE.model_copy(update={"hang": hang}))
            self.assertEqual(sorted(extent, reverse=True), list(sizes(PLATE)))
            self.assertEqual(extent[2], up)
