"""Where things can be: outlines against a fine grid of points, tanks, one another."""

import itertools
import math
import random
import unittest
from typing import Any

from yellowbath.core.document import (
    BoxTank,
    BucketTank,
    DrumTank,
    Piece,
    Plan,
    Plate,
    RodAnode,
    Tank,
)
from yellowbath.core.geometry.anode import clearance
from yellowbath.core.geometry.fit import (
    corners,
    inside,
    overlap,
    piece_fits,
    pieces_meet,
    scrap_fits,
    scrap_meets,
)


def covered(middle: tuple[float, float], size: tuple[float, float], turn: float,
            x: float, y: float) -> bool:  # fmt: skip
    """Whether a point lies in a turned rectangle, by turning the point back."""
    dx, dy = x - middle[0], y - middle[1]
    u = math.cos(turn) * dx + math.sin(turn) * dy
    v = math.cos(turn) * dy - math.sin(turn) * dx
    return abs(u) < size[0] / 2 and abs(v) < size[1] / 2


def less(box: tuple[tuple[float, float], tuple[float, float], float]) -> Any:
    """The same rectangle, smaller by what lies between the grid's points."""
    middle, (x, y), turn = box
    return middle, (x - 0.05, y - 0.05), turn


class Outlines(unittest.TestCase):
    def test_overlap_agrees_with_a_grid_of_points(self) -> None:
        """Independent recomputation: two rectangles share a point of a grid, or they do not."""
        rng, met = random.Random(5), 0
        grid = [(-0.5 + k / 60, -0.5 + j / 60) for k in range(61) for j in range(61)]
        for _ in range(150):
            one, other = (
                ((rng.uniform(-0.3, 0.3), rng.uniform(-0.3, 0.3)),
                 (rng.uniform(0.08, 0.3), rng.uniform(0.08, 0.3)), rng.uniform(0, math.pi))
                for _ in range(2)
            )  # fmt: skip
            shared = any(covered(*one, x, y) and covered(*other, x, y) for x, y in grid)
            found = overlap(corners(*one), corners(*other))
            met += found
            if shared:
                self.assertTrue(found)
            elif found:  # a corner only, between the grid's points
                self.assertFalse(overlap(corners(*less(one)), corners(*less(other))))
        self.assertTrue(30 < met < 120)

    def test_a_turned_piece_leaves_room_where_its_straight_box_would_not(self) -> None:
        """A plate on the diagonal: a rod beside its broad side is as far off as it is."""
        plate = Piece(shape=Plate(length_m=0.2, width_m=0.1, thickness_m=0.004), turn_deg=45)
        rod = RodAnode(id="a1", diameter_m=0.01, x_m=0.05, y_m=-0.05)
        dx, dy, reach = clearance(rod, Plan(pieces=[plate], anodes=[rod]), 0.1)
        self.assertLess(dx, 0)
        self.assertAlmostEqual(dy - reach, math.hypot(0.05, 0.05) - 0.002 - 0.005, places=9)


class Tanks(unittest.TestCase):
    def test_a_point_is_inside_where_the_walls_say_so(self) -> None:
        bucket = Tank(shape=BucketTank(floor_diameter_m=0.2, rim_diameter_m=0.3, height_m=0.4))
        self.assertTrue(inside(bucket, [(0.124, 0.0)], 0.2))  # radius there 0.125
        self.assertFalse(inside(bucket, [(0.126, 0.0)], 0.2))
        drum = Tank(shape=DrumTank(length_m=0.8, diameter_m=0.5, height_m=0.4))
        self.assertTrue(inside(drum, [(0.3, 0.15)], 0.06))  # its floor there is at 0.05
        self.assertFalse(inside(drum, [(0.3, 0.15)], 0.04))

    def test_pieces_and_scrap_in_the_wall_are_seen_on_every_side(self) -> None:
        tank = Tank(shape=BoxTank(length_m=0.4, width_m=0.3, height_m=0.35))
        for x, y in itertools.product((-1, 0, 1), repeat=2):
            piece = Piece(x_m=x * 0.12, y_m=y * 0.15)
            self.assertEqual(piece_fits(piece, tank, 0.1), x == 0 and y == 0)
            rod = RodAnode(id="a1", x_m=x * 0.196, y_m=y * 0.146)
            self.assertEqual(scrap_fits(rod, tank, 0.3), x == 0 and y == 0)
        self.assertFalse(piece_fits(Piece(), tank, -0.01))

    def test_two_pieces_one_over_the_other_do_not_meet(self) -> None:
        two = Plan(pieces=[Piece(id="p1"), Piece(id="p2", y_m=0.002)])
        self.assertTrue(pieces_meet(two, {"p1": 0.1, "p2": 0.12}))
        self.assertFalse(pieces_meet(two, {"p1": 0.1, "p2": 0.3}))
        rods = Plan(anodes=[RodAnode(id="a1", x_m=0.1), RodAnode(id="a2", x_m=0.105)])
        self.assertTrue(scrap_meets(rods))
