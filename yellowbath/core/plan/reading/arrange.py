"""What follows from a plan's choices by itself: regions of a shape, scrap from an arrangement."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import count

from yellowbath.core.document import (
    Anode,
    BoreAnode,
    BoreTank,
    Layout,
    Piece,
    Plan,
    Region,
    Tank,
    Tube,
)
from yellowbath.core.geometry.tank import standing_size
from yellowbath.core.words import word, words

_SIDES = ("front", "back", "left", "right", "top", "bottom")
_REGIONS = {
    "plate": ("front", "back", "edges"),
    "bar": ("front", "back", "ends"),
    "tube": ("outside", "bore", "ends"),
}


def tidied(plan: Plan) -> Plan:
    """The same plan with derived lists rebuilt; ids stay where the thing stays."""
    plan = _as_its_own(plan)
    pieces = [piece.model_copy(update={"regions": regions(piece)}) for piece in named(plan)]
    layout, anodes = rods(plan)
    bored = plan.model_copy(update={"pieces": pieces})
    anodes = [_through(a, bored) for a in anodes]
    return bored.model_copy(update={"layout": layout, "anodes": anodes})


def _as_its_own(plan: Plan) -> Plan:
    """Where a tube is its own vessel: its bore's sizes, the tube upright, its outside dry."""
    tube = plan.own_tube
    if tube is None or not isinstance(tube.shape, Tube):
        return plan
    bore = BoreTank(diameter_m=tube.shape.inner_diameter_m, height_m=tube.shape.length_m)
    stood = {"hang": "long_down", "turn_deg": 0.0, "tilt_deg": 0.0, "x_m": 0.0, "y_m": 0.0}
    return plan.model_copy(
        update={
            "tank": plan.tank.model_copy(update={"shape": bore}),
            "pieces": [tube.model_copy(update=stood)],
        }
    )


def _through(anode: Anode, plan: Plan) -> Anode:
    """An anode that names the piece it runs through, where it is a bore rod; none where not."""
    piece = plan.bored(anode) if isinstance(anode, BoreAnode) else None
    return anode.model_copy(update={"piece": piece.id if piece else None})


def named(plan: Plan) -> list[Piece]:
    """Pieces with ids of their own, spread along y where several were left in the middle."""
    pieces = plan.pieces
    if len({p.id for p in pieces} - {""}) < len(pieces):
        pieces = [p.model_copy(update={"id": f"p{k}"}) for k, p in enumerate(pieces, start=1)]
    if len(pieces) > 1 and all(p.x_m == 0 and p.y_m == 0 for p in pieces):
        pitch = standing_size(plan.tank)[1] / (len(pieces) + 1)
        middle = (len(pieces) - 1) / 2
        pieces = [p.model_copy(update={"y_m": (k - middle) * pitch}) for k, p in enumerate(pieces)]
    return pieces


def regions(piece: Piece) -> list[Region]:
    """The regions that a shape has, named as a person would point at them; grades stay."""
    shape = piece.shape.kind
    graded = {r.id.rpartition(".")[2]: r.grade for r in piece.regions}
    return [
        Region(
            id=f"{piece.id}.{key}",
            name=words().get(f"region.{shape}.{key}") or word(f"region.{key}"),
            kind="bore" if key == "bore" else "outer",
            grade=graded.get(key),
        )
        for key in _REGIONS.get(shape, _SIDES)
    ]


def rods(plan: Plan) -> tuple[Layout, list[Anode]]:
    """The scrap set out by the plan's arrangement, by hand as it was put; and how it is then set.

    Like anodes are as many as the arrangement has. Unlike ones are all kept, since each is judged
    for what it is: in its places where it has just as many, else by hand.
    """
    layout, anodes = plan.layout, plan.anodes
    if layout.arrangement == "by_hand":
        return layout, _numbered(anodes, [(a.x_m, a.y_m) for a in anodes])
    if not plan.mixed_scrap:
        spots = positions(layout, plan.tank) if plan.sample.stands else [(0.0, 0.0)]
        more = [plan.sample] * (len(spots) - len(anodes))
        return layout, _numbered([*anodes, *more][: len(spots)], spots)
    standing = [a for a in anodes if a.stands]
    spots = positions(layout, plan.tank)
    if len(standing) == len(anodes) == len(spots):
        return layout, _numbered(anodes, spots)
    by_hand = layout.model_copy(update={"arrangement": "by_hand"})
    return by_hand, _numbered(anodes, _apart(plan, standing))


def _apart(plan: Plan, standing: Sequence[Anode]) -> list[tuple[float, float]]:
    """Where unlike anodes stand: as they were put, in a ring where some were put in one place."""
    put = [(a.x_m, a.y_m) for a in plan.anodes]
    if len({(a.x_m, a.y_m) for a in standing}) == len(standing):
        return put
    around = plan.layout.model_copy(update={"arrangement": "ring", "count": max(len(standing), 3)})
    free = iter(positions(around, plan.tank))
    return [next(free) if a.stands else (0.0, 0.0) for a in plan.anodes]


def _numbered(anodes: Sequence[Anode], spots: Sequence[tuple[float, float]]) -> list[Anode]:
    """Each in its spot; an id stays with its anode, and one that stands twice is the first's."""
    ids = {a.id for a in anodes}
    free = (f"a{k}" for k in count(1) if f"a{k}" not in ids)
    seen: set[str] = set()
    made = []
    for anode, (x, y) in zip(anodes, spots, strict=True):
        name = anode.id if anode.id and anode.id not in seen else next(free)
        seen.add(name)
        made.append(anode.model_copy(update={"id": name, "x_m": x, "y_m": y}))
    return made


def positions(layout: Layout, tank: Tank) -> list[tuple[float, float]]:
    """Centres of the rods [m] from the tank's centre line; y is across the piece's broad side."""
    if tank.is_piece:  # one rod down the middle, however they stood before
        return [] if layout.arrangement == "by_hand" else [(0.0, 0.0)]
    length, width = standing_size(tank)
    half_x = max(length / 2 - layout.wall_gap_m, 0.0)
    half_y = max(width / 2 - layout.wall_gap_m, 0.0)
    round_tank = tank.shape.is_round
    match layout.arrangement:
        case "one_side":
            return [(0.0, -half_y)]
        case "opposite":
            return [(0.0, -half_y), (0.0, half_y)]
        case "corners":
            f = math.sqrt(0.5) if round_tank else 1.0
            return [(sx * f * half_x, sy * f * half_y) for sx in (-1, 1) for sy in (-1, 1)]
        case "ring":
            return [_on_ring(k / layout.count, half_x, half_y, round_tank)
                    for k in range(layout.count)]  # fmt: skip
        case "by_hand":
            return []


def _on_ring(share: float, half_x: float, half_y: float, round_tank: bool) -> tuple[float, float]:
    """A point at this share of the way round, starting on the -y side."""
    angle = 2 * math.pi * share - math.pi / 2
    x, y = math.cos(angle), math.sin(angle)
    stretch = 1.0 if round_tank else 1 / max(abs(x), abs(y))
    return (half_x * x * stretch, half_y * y * stretch)
