"""What follows from a plan's choices by itself: regions of a shape, scrap from an arrangement."""

from __future__ import annotations

import math

from yellowbath.core.document import Anode, Piece, Placing, Plan, Region, Tank
from yellowbath.core.geometry.tank import standing_size

_SIDES = (
    ("front", "Front"),
    ("back", "Back"),
    ("left", "Left"),
    ("right", "Right"),
    ("top", "Top"),
    ("bottom", "Bottom"),
)
_REGIONS = {
    "plate": (("front", "Front face"), ("back", "Back face"), ("edges", "Edges")),
    "bar": (("front", "Front half"), ("back", "Back half"), ("ends", "Ends")),
    "tube": (("outside", "Outside"), ("bore", "Bore"), ("ends", "Ends")),
}


def settle(plan: Plan) -> Plan:
    """The same plan with derived lists rebuilt; ids stay where the thing stays."""
    pieces = [piece.model_copy(update={"regions": regions(piece)}) for piece in named(plan)]
    return plan.model_copy(update={"pieces": pieces, "anodes": rods(plan)})


def named(plan: Plan) -> list[Piece]:
    """Pieces with ids of their own, spread along y where several were left in the middle."""
    pieces = plan.pieces
    if len({p.id for p in pieces}) < len(pieces):
        pieces = [p.model_copy(update={"id": f"p{k}"}) for k, p in enumerate(pieces, start=1)]
    if len(pieces) > 1 and all(p.x_m == 0 and p.y_m == 0 for p in pieces):
        pitch = standing_size(plan.tank)[1] / (len(pieces) + 1)
        middle = (len(pieces) - 1) / 2
        pieces = [p.model_copy(update={"y_m": (k - middle) * pitch}) for k, p in enumerate(pieces)]
    return pieces


def regions(piece: Piece) -> list[Region]:
    """The regions that a shape has, named as a person would point at them; grades stay."""
    graded = {r.id.rpartition(".")[2]: r.grade for r in piece.regions}
    return [
        Region(
            id=f"{piece.id}.{key}",
            name=name,
            kind="bore" if key == "bore" else "outer",
            grade=graded.get(key),
        )
        for key, name in _REGIONS.get(piece.shape.kind, _SIDES)
    ]


def rods(plan: Plan) -> list[Anode]:
    """Scrap like the first of it, set out by the plan's arrangement; by hand, as it was put."""
    if plan.placing.arrangement == "by_hand":
        return [a.model_copy(update={"id": f"a{k}"}) for k, a in enumerate(plan.anodes, start=1)]
    pattern = plan.anodes[0]
    if pattern.kind in ("floor", "ring", "bore"):
        return [pattern.model_copy(update={"id": "a1", "x_m": 0.0, "y_m": 0.0})]
    spots = positions(plan.placing, plan.tank)
    return [
        pattern.model_copy(update={"id": f"a{k}", "x_m": x, "y_m": y})
        for k, (x, y) in enumerate(spots, start=1)
    ]


def positions(placing: Placing, tank: Tank) -> list[tuple[float, float]]:
    """Centres of the rods [m] from the tank's centre line; y is across the piece's broad side."""
    length, width = standing_size(tank)
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
        case "by_hand":
            return []


def _on_ring(share: float, half_x: float, half_y: float, round_tank: bool) -> tuple[float, float]:
    """A point at this share of the way round, starting on the -y side."""
    angle = 2 * math.pi * share - math.pi / 2
    x, y = math.cos(angle), math.sin(angle)
    stretch = 1.0 if round_tank else 1 / max(abs(x), abs(y))
    return (half_x * x * stretch, half_y * y * stretch)
