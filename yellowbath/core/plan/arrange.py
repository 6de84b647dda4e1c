"""What follows from a plan's choices by itself: regions of a shape, rods from an arrangement."""

from __future__ import annotations

import math

from yellowbath.core.document import Anode, Piece, Placing, Plan, Region, Tank
from yellowbath.core.geometry.tank import plan_size

_REGIONS = {
    "plate": (("front", "Front face"), ("back", "Back face"), ("edges", "Edges")),
    "bar": (("front", "Front half"), ("back", "Back half"), ("ends", "Ends")),
    "tube": (("outside", "Outside"), ("bore", "Bore"), ("ends", "Ends")),
    "box": (
        ("front", "Front"),
        ("back", "Back"),
        ("left", "Left"),
        ("right", "Right"),
        ("top", "Top"),
        ("bottom", "Bottom"),
    ),
}


def settle(plan: Plan) -> Plan:
    """The same plan with derived lists rebuilt; ids stay where the thing stays."""
    pieces = [piece.model_copy(update={"regions": regions(piece)}) for piece in plan.pieces]
    return plan.model_copy(update={"pieces": pieces, "anodes": rods(plan)})


def regions(piece: Piece) -> list[Region]:
    """The regions that a shape has, named as a person would point at them."""
    return [
        Region(id=f"{piece.id}.{key}", name=name, kind="bore" if key == "bore" else "outer")
        for key, name in _REGIONS[piece.shape.kind]
    ]


def rods(plan: Plan) -> list[Anode]:
    """Rods like the first one, set out by the plan's arrangement."""
    pattern = plan.anodes[0]
    spots = positions(plan.placing, plan.tank)
    return [
        pattern.model_copy(update={"id": f"a{k}", "x_m": x, "y_m": y})
        for k, (x, y) in enumerate(spots, start=1)
    ]


def positions(placing: Placing, tank: Tank) -> list[tuple[float, float]]:
    """Centres of the rods [m] from the tank's centre line; y is across the piece's broad side."""
    length, width = plan_size(tank, 0.0)
    half_x = max(length / 2 - placing.wall_gap_m, 0.0)
    half_y = max(width / 2 - placing.wall_gap_m, 0.0)
    round_tank = tank.shape.kind == "bucket"
    match placing.arrangement:
        case "one_side":
            return [(0.0, -half_y)]
        case "opposite":
            return [(0.0, -half_y), (0.0, half_y)]
        case "corners":
            f = math.sqrt(0.5) if round_tank else 1.0
            return [(sx * f * half_x, sy * f * half_y) for sx in (-1, 1) for sy in (-1, 1)]
        case "ring":
            return [_on_ring(k / placing.count, half_x, half_y, round_tank)
                    for k in range(placing.count)]  # fmt: skip


def _on_ring(share: float, half_x: float, half_y: float, round_tank: bool) -> tuple[float, float]:
    """A point at this share of the way round, starting on the -y side."""
    angle = 2 * math.pi * share - math.pi / 2
    x, y = math.cos(angle), math.sin(angle)
    stretch = 1.0 if round_tank else 1 / max(abs(x), abs(y))
    return (half_x * x * stretch, half_y * y * stretch)
