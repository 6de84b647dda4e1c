"""Scrap as bodies in the tank: where it stands, how much of it is wet, how near it comes.

Lengths [m], areas [m2], volumes [m3]; x and y from the tank's centre line.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yellowbath.core.document import (
    Anode,
    BoreAnode,
    FloorAnode,
    Piece,
    Plan,
    PlateAnode,
    RingAnode,
    RodAnode,
    Tank,
    Tube,
)
from yellowbath.core.geometry.piece import footprint, largest, posed, sizes, turn_of
from yellowbath.core.geometry.tank import floor_at, plan_size, standing_size

Point = tuple[float, float]


@dataclass(frozen=True)
class Wet:
    """What of an anode is in the liquid: length or height, surface, volume."""

    length: float
    area: float
    volume: float


def wet(anode: Anode, plan: Plan, level: float) -> Wet:
    """The wet part of an anode at a level; a perforated sheet counts its metal."""
    standing = max(level - foot(anode, plan.tank) - anode.sleeve_m, 0.0)
    d, w, t = anode.diameter_m, anode.width_m, anode.thickness_m
    match anode:
        case RodAnode():
            cap = math.pi / 4 * d**2 if anode.floor_gap_m > 0 else 0.0
            return Wet(standing, math.pi * d * standing + cap, math.pi / 4 * d**2 * standing)
        case PlateAnode():
            metal = 1 - anode.open_share
            return Wet(standing, metal * (2 * (w + t) * standing + w * t), metal * w * t * standing)
        case FloorAnode():
            n, metal = anode.depth_m, 1 - anode.open_share
            under = 1 if level > foot(anode, plan.tank) + t else 0
            area = 2 * w * n + 2 * (w + n) * t
            return Wet(n * under, metal * area * under, metal * w * n * t * under)
        case RingAnode():
            length = 2 * math.pi * ring_radius(anode, plan) if level > anode.floor_gap_m else 0.0
            return Wet(length, math.pi * d * length, math.pi / 4 * d**2 * length)
        case BoreAnode():
            length = sizes(through(anode, plan))[0]
            return Wet(length, math.pi * d * length, math.pi / 4 * d**2 * length)


def foot(anode: Anode, tank: Tank) -> float:
    """Lowest point of a standing or lying anode above the tank's lowest [m]."""
    reach = anode.y_m
    if isinstance(anode, FloorAnode):
        reach = abs(anode.y_m) + anode.width_m / 2
    elif isinstance(anode, PlateAnode):
        half = anode.width_m / 2 * abs(math.cos(facing(anode, tank)))
        reach = abs(anode.y_m) + half
    elif isinstance(anode, RingAnode):
        reach = 0.0
    return floor_at(tank, reach) + anode.floor_gap_m


def ring_radius(anode: Anode, plan: Plan) -> float:
    """Mean radius of a ring at its height: the layout's gap off the wall."""
    half = min(plan_size(plan.tank, min(anode.floor_gap_m, plan.tank.shape.height_m))) / 2
    return max(half - plan.layout.wall_gap_m, 0.01)


def facing(anode: Anode, tank: Tank) -> float:
    """Direction [rad] from the centre line to a plate; square to the walls in a box."""
    if tank.shape.is_round:
        return math.atan2(anode.y_m, anode.x_m)
    length, width = standing_size(tank)
    if abs(anode.x_m) / length > abs(anode.y_m) / width:
        return 0.0 if anode.x_m > 0 else math.pi
    return math.pi / 2 if anode.y_m >= 0 else -math.pi / 2


def spots(plan: Plan) -> Sequence[Point]:
    """Where the closed form sees rods: a ring, a floor plate and a bore as eight of them."""
    out: list[Point] = []
    for anode in plan.anodes:
        if anode.stands:
            out.append((anode.x_m, anode.y_m))
            continue
        radius = ring_radius(anode, plan)
        if not isinstance(anode, RingAnode):
            extent = posed(
                through(anode, plan) if isinstance(anode, BoreAnode) else largest(plan.pieces)
            )
            radius = min(radius, 0.6 * max(extent[0], extent[1]))
        angles = [2 * math.pi * (k + 0.5) / 8 for k in range(8)]
        out += [(radius * math.cos(a), radius * math.sin(a)) for a in angles]
    return out


def mean_line_radius(anodes: Sequence[Anode]) -> float:
    """One radius for all, by the mean of their logs, which is how they enter a line source [m]."""
    return math.exp(sum(math.log(a.line_radius_m) for a in anodes) / len(anodes))


def apart(dx: float, dy: float) -> float:
    """Distance [m] to a rectangle, this far beyond its side in x and y; negative inside."""
    return max(dx, dy) if dx <= 0 and dy <= 0 else math.hypot(max(dx, 0.0), max(dy, 0.0))


def clearance(anode: Anode, plan: Plan, bottoms: Mapping[str, float]) -> tuple[float, float, float]:
    """How far its middle is beyond the nearest piece's side, along and across it, and its own reach
    [m]; ``bottoms`` are the lower edges of the pieces by id [m].

    The gap is max(x, y) less the reach where both are negative, else the distance less it.
    """
    if plan.tank.is_piece:
        return _in_own(anode, plan)
    best = (math.inf, (math.inf, math.inf, 0.0))
    for piece in plan.pieces:
        extent = footprint(piece)
        turn = extent[2]
        x, y = anode.x_m - piece.x_m, anode.y_m - piece.y_m
        dx = abs(math.cos(turn) * x + math.sin(turn) * y) - extent[0] / 2
        dy = abs(math.cos(turn) * y - math.sin(turn) * x) - extent[1] / 2
        reach = anode.diameter_m / 2
        if isinstance(anode, PlateAnode):
            along = facing(anode, plan.tank) - turn
            half, thin = anode.width_m / 2, anode.thickness_m / 2
            dx -= half * abs(math.sin(along)) + thin * abs(math.cos(along))
            dy -= half * abs(math.cos(along)) + thin * abs(math.sin(along))
            reach = 0.0
        elif isinstance(anode, FloorAnode):
            dx, dy = bottoms[piece.id] - foot(anode, plan.tank) - anode.thickness_m, -math.inf
            reach = 0.0
        elif isinstance(anode, RingAnode):
            dx = ring_radius(anode, plan) - math.hypot(extent[0], extent[1]) / 2
            dy = -math.inf
        elif isinstance(anode, BoreAnode):
            if piece != through(anode, plan):
                continue
            shape = piece.shape
            dx = shape.inner_diameter_m / 2 if isinstance(shape, Tube) else 0.0
            dy = -math.inf
        gap = apart(dx, dy) - reach
        best = min(best, (gap, (dx, max(dy, -9.0), reach)))
    return best[1]


def _in_own(anode: Anode, plan: Plan) -> tuple[float, float, float]:
    """The same where the piece is the vessel: from its wall."""
    half = min(plan_size(plan.tank, 0.0)) / 2
    if isinstance(anode, RingAnode):
        return half - ring_radius(anode, plan), -9.0, anode.diameter_m / 2
    if isinstance(anode, PlateAnode | FloorAnode):
        return half - math.hypot(anode.x_m, anode.y_m), -9.0, math.hypot(*anode.outline_m) / 2
    off = 0.0 if isinstance(anode, BoreAnode) else math.hypot(anode.x_m, anode.y_m)
    return half - off, -9.0, anode.diameter_m / 2


def through(anode: Anode, plan: Plan) -> Piece:
    """The piece that a bore rod runs through; the largest where it names none that is there."""
    return plan.bored(anode) or largest(plan.pieces)


def bore_axis(anode: Anode, plan: Plan) -> tuple[float, float, float]:
    """Direction of a bore rod: of its piece's length in the tank."""
    x, y, z = (row[0] for row in turn_of(through(anode, plan)))
    return x, y, z
