"""The drawing of a bath as the page gets it: walls, liquid, scrap and pieces, in metres."""

from __future__ import annotations

import math
from collections.abc import Mapping

from pydantic import BaseModel

from yellowbath.core.document import Anode, BoreAnode, FloorAnode, Plan, PlateAnode, RingAnode
from yellowbath.core.geometry.anode import bore_axis, facing, foot, ring_radius, through
from yellowbath.core.geometry.piece import footprint, posed, sizes
from yellowbath.core.geometry.tank import plan_size, profile
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.units import show


class RodOut(BaseModel):
    """One anode: its middle, from above ``half_x_m`` by ``half_y_m`` turned by ``turn_deg``.

    From the side it stands from ``low_m`` to ``high_m``; None: up to the bar.
    """

    id: str
    kind: str
    x_m: float
    y_m: float
    diameter_m: float
    half_x_m: float
    half_y_m: float
    turn_deg: float
    low_m: float
    high_m: float | None


class PieceOut(BaseModel):
    """One piece as it hangs: middle, extents and lower edge [m].

    From above its box is ``foot_x_m`` by ``foot_y_m``, turned by ``turn_deg``.
    """

    id: str
    x_m: float
    y_m: float
    size_x_m: float
    size_y_m: float
    size_z_m: float
    bottom_m: float
    foot_x_m: float
    foot_y_m: float
    turn_deg: float


class WallOut(BaseModel):
    """A point of the tank's wall from its end; straight between."""

    z_m: float
    half_y_m: float


class SceneOut(BaseModel):
    """What the drawing needs, lengths [m] from the tank's centre line; ``own_vessel``: the tank is
    the piece itself."""

    round: bool
    own_vessel: bool
    floor_x_m: float
    floor_y_m: float
    rim_x_m: float
    rim_y_m: float
    wall: list[WallOut]
    height_m: float
    level_m: float
    rods: list[RodOut]
    pieces: list[PieceOut]
    gap_text: str
    level_text: str
    wall_text: str


def scene_out(plan: Plan, answer: Answer) -> SceneOut:
    """The drawing of a plan."""
    fill = answer.fill
    floor, rim = (plan_size(plan.tank, z) for z in (0.0, plan.tank.shape.height_m))
    return SceneOut(
        round=plan.tank.shape.is_round,
        own_vessel=plan.tank.is_piece,
        floor_x_m=floor[0],
        floor_y_m=floor[1],
        rim_x_m=rim[0],
        rim_y_m=rim[1],
        wall=[WallOut(z_m=z, half_y_m=y) for z, y in profile(plan.tank)],
        height_m=plan.tank.shape.height_m,
        level_m=fill.level.value,
        rods=[_rod_out(a, plan, fill.bottoms) for a in plan.anodes],
        pieces=_pieces_out(plan, fill.level.value),
        gap_text=str(show(max(fill.gap.value, 0.0), "length", plan.system)),
        level_text=str(show(fill.level.value, "length", plan.system)),
        wall_text=str(show(plan.layout.wall_gap_m, "length", plan.system)),
    )


def _rod_out(anode: Anode, plan: Plan, bottoms: Mapping[str, float]) -> RodOut:
    d, low = anode.diameter_m, foot(anode, plan.tank)
    half, turn, high = (anode.outline_m[0] / 2, anode.outline_m[1] / 2), 0.0, None
    match anode:
        case PlateAnode():
            turn = facing(anode, plan.tank)
        case FloorAnode():
            high = low + anode.thickness_m
        case RingAnode():
            radius = ring_radius(anode, plan)
            half, high = (radius, radius), low + d
        case BoreAnode():
            piece = through(anode, plan)
            x, y, z = (abs(c) * sizes(piece)[0] / 2 for c in bore_axis(anode, plan))
            middle = bottoms[piece.id] + posed(piece)[2] / 2
            half = (max(x, d / 2), max(y, d / 2))
            low, high = middle - max(z, d / 2), middle + max(z, d / 2)
    return RodOut(
        id=anode.id, kind=anode.kind, x_m=anode.x_m, y_m=anode.y_m, diameter_m=d,
        half_x_m=half[0], half_y_m=half[1], turn_deg=math.degrees(turn), low_m=low, high_m=high,
    )  # fmt: skip


def _pieces_out(plan: Plan, level: float) -> list[PieceOut]:
    bottoms = bottoms_of(plan, level)
    out = []
    for piece in plan.pieces:
        x, y, z = posed(piece)
        foot_x, foot_y, _ = footprint(piece)
        out.append(
            PieceOut(id=piece.id, x_m=piece.x_m, y_m=piece.y_m, size_x_m=x, size_y_m=y,
                     size_z_m=z, bottom_m=bottoms[piece.id], foot_x_m=foot_x, foot_y_m=foot_y,
                     turn_deg=piece.turn_deg)
        )  # fmt: skip
    return out
