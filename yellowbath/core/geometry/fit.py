"""Whether pieces and scrap are where they can be: inside the tank and not inside one another.

Lengths [m] from the tank's centre line. A piece counts as the box about it, turned with it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from yellowbath.core.document import Anode, FloorAnode, Piece, Plan, PlateAnode, RodAnode, Tank
from yellowbath.core.geometry.anode import Point, facing, foot
from yellowbath.core.geometry.piece import footprint, posed
from yellowbath.core.geometry.tank import plan_size

TOUCHING = 1e-6  # m apart at most: what is nearer is in contact
_SLACK = 1e-6  # m; rounding


def corners(middle: Point, size: Point, turn: float) -> Sequence[Point]:
    """Corners of a rectangle of this size turned by an angle [rad]."""
    c, s = math.cos(turn), math.sin(turn)
    return [
        (middle[0] + c * x - s * y, middle[1] + s * x + c * y)
        for x, y in (
            (-size[0] / 2, -size[1] / 2), (size[0] / 2, -size[1] / 2),
            (size[0] / 2, size[1] / 2), (-size[0] / 2, size[1] / 2),
        )
    ]  # fmt: skip


def inside(tank: Tank, points: Sequence[Point], height: float) -> bool:
    """Whether points at a height are within the wall; above a drum's cut wall it is open."""
    height = min(max(height, 0.0), tank.shape.height_m)
    length, width = plan_size(tank, height)
    if tank.shape.is_round:
        return all(math.hypot(*p) <= length / 2 + _SLACK for p in points)
    return all(abs(x) <= length / 2 + _SLACK and abs(y) <= width / 2 + _SLACK for x, y in points)


def outline(piece: Piece) -> Sequence[Point]:
    """A hung piece from above: the corners of its box."""
    x, y, turn = footprint(piece)
    return corners((piece.x_m, piece.y_m), (x, y), turn)


def piece_fits(piece: Piece, tank: Tank, bottom: float) -> bool:
    """Whether a piece with its lower edge at this height touches neither wall nor floor; one that
    is the vessel fits."""
    return tank.is_piece or (
        bottom >= -_SLACK
        and all(inside(tank, outline(piece), z) for z in (bottom, bottom + posed(piece)[2]))
    )


def scrap_fits(anode: Anode, tank: Tank, level: float) -> bool:
    """Whether an anode is within the wall from its foot to the liquid's surface."""
    middle, r = (anode.x_m, anode.y_m), anode.diameter_m
    match anode:
        case RodAnode():
            points = [(middle[0] + r / 2 * math.cos(a), middle[1] + r / 2 * math.sin(a))
                      for a in (k * math.pi / 4 for k in range(8))]  # fmt: skip
        case PlateAnode():
            points = list(corners(middle, anode.outline_m, facing(anode, tank)))
        case FloorAnode():
            points = list(corners(middle, anode.outline_m, 0.0))
        case _:
            return True
    low = foot(anode, tank)
    heights = (low, level if anode.stands else low)
    return all(inside(tank, points, z) for z in heights)


def pieces_meet(plan: Plan, bottoms: Mapping[str, float]) -> bool:
    """Whether the boxes about two pieces reach into one another."""
    for k, one in enumerate(plan.pieces):
        for other in plan.pieces[:k]:
            a, b = bottoms[one.id], bottoms[other.id]
            if a + posed(one)[2] <= b or b + posed(other)[2] <= a:
                continue
            if overlap(outline(one), outline(other)):
                return True
    return False


def scrap_meets(plan: Plan) -> bool:
    """Whether two rods or flats stand in one place."""
    standing = [a for a in plan.anodes if a.stands]
    return any(
        overlap(_plan_of(one, plan.tank), _plan_of(other, plan.tank))
        for k, one in enumerate(standing)
        for other in standing[:k]
    )


def _plan_of(anode: Anode, tank: Tank) -> Sequence[Point]:
    turn = facing(anode, tank) if isinstance(anode, PlateAnode) else 0.0
    return corners((anode.x_m, anode.y_m), anode.outline_m, turn)


def overlap(one: Sequence[Point], other: Sequence[Point]) -> bool:
    """Whether two convex outlines share more than an edge: no line parts them (separating axes)."""
    for shape in (one, other):
        for (x0, y0), (x1, y1) in zip(shape, [*shape[1:], shape[0]], strict=True):
            nx, ny = y1 - y0, x0 - x1
            a = [nx * x + ny * y for x, y in one]
            b = [nx * x + ny * y for x, y in other]
            slack = _SLACK * math.hypot(nx, ny)
            if max(a) <= min(b) + slack or max(b) <= min(a) + slack:
                return False
    return True
