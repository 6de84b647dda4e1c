"""Where to lay a plate on the floor: a walk from under the piece, each step solved in full."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from yellowbath.core.document import FloorAnode, Plan
from yellowbath.core.geometry.piece import largest
from yellowbath.core.geometry.tank import standing_size

Spot = tuple[float, float]
STEPS = (0.5, 0.25)  # of the room that a plate has, the wide one first
_SAME_M = 0.002  # spots nearer than this are one


def floor_plates(plan: Plan) -> list[FloorAnode]:
    """The plates on the floor."""
    return [a for a in plan.anodes if isinstance(a, FloorAnode)]


def first_spots(plan: Plan, plate: FloorAnode) -> list[Spot]:
    """Where a plate lies, the tank's middle, and under the largest piece."""
    piece = largest(plan.pieces)
    return _apart([(plate.x_m, plate.y_m), (0.0, 0.0), (piece.x_m, piece.y_m)])


def steps_from(plan: Plan, plate: FloorAnode, at: Spot, step: float) -> Iterator[Spot]:
    """The four spots a step away [m], as far as there is room for the plate."""
    length, width = standing_size(plan.tank)
    out_x, out_y = plate.outline_m
    rooms = (max(length - out_x, 0.0) / 2, max(width - out_y, 0.0) / 2)
    for axis, way in ((0, -1), (0, 1), (1, -1), (1, 1)):
        spot = list(at)
        spot[axis] = min(max(at[axis] + way * step * rooms[axis], -rooms[axis]), rooms[axis])
        if abs(spot[axis] - at[axis]) > _SAME_M:
            yield (spot[0], spot[1])


def laid(plan: Plan, plate: FloorAnode, spot: Spot) -> Plan:
    """The plan with a plate elsewhere, set out by hand."""
    moved = plate.model_copy(update={"x_m": spot[0], "y_m": spot[1]})
    anodes = [moved if a is plate else a for a in plan.anodes]
    layout = plan.layout.model_copy(update={"arrangement": "by_hand"})
    return plan.model_copy(update={"anodes": anodes, "layout": layout})


def _apart(spots: Sequence[Spot]) -> list[Spot]:
    kept: list[Spot] = []
    for s in spots:
        if all(abs(s[0] - k[0]) + abs(s[1] - k[1]) > _SAME_M for k in kept):
            kept.append(s)
    return kept
