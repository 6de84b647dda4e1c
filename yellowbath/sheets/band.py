"""A paper band at full size to lay round the tank's wall: where each anode is tied, how high the
liquid stands, and the line under which no hole may be.

The wall between a little under the fill line and the rim, rolled out flat: a bucket's as an arc of
a ring, a box's as its four sides side by side, from the middle of the back round by the left, the
front and the right. Lengths in millimetres on paper. A lying drum has no wall to lay it round.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yellowbath.core.document import Anode, DrumTank, Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.geometry.anode import Point
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.units import mm
from yellowbath.sheets.templates import filled

UNDER = 25.0  # of the band below the fill line
CLEAR = 10.0  # from the fill line up to the lowest place for a hole
_TIES = 22.0  # between the two holes of a tie
PAPERS = {"a4": (297.0, 210.0), "letter": (279.4, 215.9)}  # lying
_EDGE, _OVERLAP, _HEAD = 10.0, 12.0, 16.0


@dataclass(frozen=True)
class BandMark:
    """An anode on the band: how far round from its left end, and the heights of its holes."""

    number: int
    along: float
    holes: tuple[float, ...]


@dataclass(frozen=True)
class TankBand:
    """A rolled-out wall: ``flat`` maps (along the rim, height over the floor) to paper.

    ``length`` along the rim; heights of fill line, hole line, rim and the band's foot; ``folds``
    are the box's corners.
    """

    flat: Callable[[float, float], Point]
    length: float
    low: float
    fill: float
    hole: float
    rim: float
    marks: Sequence[BandMark]
    folds: Sequence[float]
    tilted: float

    def line(self, height: float) -> list[Point]:
        """The band at one height, as points not 8 mm apart, folds among them."""
        n = max(int(self.length / 8), 2)
        places = sorted({*(self.length * k / n for k in range(n + 1)), *self.folds})
        return [self.flat(s, height) for s in places]


def band(plan: Plan, answer: Answer, wall: float = 0.0) -> TankBand:
    """The band of a plan's tank, laid inside or, with the thickness of its ``wall`` [mm], outside.

    Only scrap that stands by the wall is marked. Raises NoAnswerError for a lying drum, and where
    there is nothing to mark.
    """
    shape = plan.tank.shape
    if isinstance(shape, DrumTank):
        raise NoAnswerError(
            "A lying drum has no wall to lay a band round.",
            remedy="Take the layout: its dimensions run from the edges of the cut.",
        )
    rim = mm(shape.height_m)
    fill = mm(answer.fill.level.value)
    hole = fill + CLEAR
    low = max(fill - UNDER, 0.0)
    if hole > rim - 4:
        raise NoAnswerError(
            "There is no room for a hole between the liquid and the rim.",
            remedy="Lower the water level, or hang the scrap from a bar.",
        )
    holes = (hole + 4.0, hole + 4.0 + _TIES) if hole + _TIES + 8 < rim else (hole + 4.0,)
    top = [mm(s) + 2 * wall for s in plan_size(plan.tank, shape.height_m)]
    floor = [mm(s) + 2 * wall for s in plan_size(plan.tank, 0.0)]
    around = _round if shape.is_round else _boxed
    flat, length, folds, along, tilted = around(top, floor, rim)
    marks = [
        BandMark(k, along(a), holes) for k, a in enumerate(plan.anodes, start=1)
        if a.stands and _off_wall(plan, a) <= _BY_THE_WALL
    ]  # fmt: skip
    if not marks:
        raise NoAnswerError("This scrap is not tied to the wall.", remedy="Use the layout.")
    return TankBand(flat, length, low, fill, hole, rim, marks, folds, tilted)


_BY_THE_WALL = 60.0  # mm from its middle to the rim, within which scrap is tied to the wall; judged


def _off_wall(plan: Plan, anode: Anode) -> float:
    """How far an anode's middle is from the rim [mm], less half of its own width."""
    x, y = plan_size(plan.tank, plan.tank.shape.height_m)
    own = min(anode.outline_m) / 2
    if plan.tank.shape.is_round:
        return mm(x / 2 - math.hypot(anode.x_m, anode.y_m) - own)
    return mm(min(x / 2 - abs(anode.x_m), y / 2 - abs(anode.y_m)) - own)


_Rolled = tuple[
    Callable[[float, float], Point], float, Sequence[float], Callable[[Anode], float], float
]


def _round(top: Sequence[float], floor: Sequence[float], rim: float) -> _Rolled:
    """A cone's wall unrolls to a ring's arc about its tip; the cut is at the back."""
    r, slope = top[0] / 2, (top[0] - floor[0]) / 2 / rim
    length, slant = 2 * math.pi * r, math.hypot(1.0, slope)

    def straight(s: float, z: float) -> Point:
        return s, z

    def conical(s: float, z: float) -> Point:
        far = r / abs(slope) * slant  # from the tip to the rim, along the wall
        turn = (s - length / 2) / far
        reach = far - (rim - z) * slant * (1 if slope > 0 else -1)
        sign = 1 if slope > 0 else -1
        return length / 2 + reach * math.sin(turn), rim + sign * (reach * math.cos(turn) - far)

    def along(anode: Anode) -> float:
        # from the back (+y) round by the left (-x), seen from outside left to right
        turn = math.atan2(anode.x_m, anode.y_m) % (2 * math.pi)
        return length * (1 - turn / (2 * math.pi)) % length

    flat = straight if abs(slope) < 1e-6 else conical
    return flat, length, [], along, math.degrees(math.atan(slope))


def _boxed(top: Sequence[float], floor: Sequence[float], rim: float) -> _Rolled:
    """Four sides in a row; where the tank is tapered each is narrower below, about its middle."""
    x, y = top
    sides = [x / 2, y, x, y, x / 2]  # half the back, left, front, right, half the back
    starts = [sum(sides[:k]) for k in range(6)]
    below = [floor[0] / top[0], floor[1] / top[1]]
    tilted = math.degrees(math.atan(max(top[0] - floor[0], top[1] - floor[1]) / 2 / rim))

    def flat(s: float, z: float) -> Point:
        k = min(max(sum(s > e + 1e-9 for e in starts[1:-1]), 0), 4)
        share = below[1 if k in (1, 3) else 0]
        middle = {0: starts[0], 4: starts[5]}.get(k, (starts[k] + starts[k + 1]) / 2)
        narrow = share + (1 - share) * z / rim
        return middle + (s - middle) * narrow, z

    def along(anode: Anode) -> float:
        ax, ay = mm(anode.x_m), mm(anode.y_m)
        gaps = {"back": y / 2 - ay, "left": x / 2 + ax, "front": y / 2 + ay, "right": x / 2 - ax}
        match min(gaps, key=lambda side: gaps[side]):
            case "left":
                return starts[1] + y / 2 - ay
            case "front":
                return starts[2] + x / 2 + ax
            case "right":
                return starts[3] + y / 2 + ay
            case _:
                return -ax if ax <= 0 else starts[5] - ax

    return flat, starts[5], starts[1:5], along, tilted


# --- Sheets -----------------------------------------------------------------------------------


def sheets(made: TankBand, paper: str, name: str, where: str = "inside") -> str:
    """The band cut into sheets of a paper, as HTML for the printer; true to size. ``where``: on
    which side of the wall it is laid."""
    wide, tall = PAPERS[paper]
    every = [p for z in (made.low, made.rim) for p in made.line(z)]
    left, right = min(p[0] for p in every), max(p[0] for p in every)
    low, high = min(p[1] for p in every), max(p[1] for p in every)
    across = wide - 2 * _EDGE
    up = tall - 2 * _EDGE - _HEAD
    columns = max(1, math.ceil((right - left - _OVERLAP) / (across - _OVERLAP)))
    rows = max(1, math.ceil((high - low - _OVERLAP) / (up - _OVERLAP)))
    pages = []
    for row in range(rows):
        for column in range(columns):
            x = left + column * (across - _OVERLAP)
            # where the next sheet is laid over this one, and this over the one before
            joins = [x + across - _OVERLAP] if column < columns - 1 else []
            joins += [x + _OVERLAP] if column > 0 else []
            number = row * columns + column + 1
            how = f"Lay sheet {number + 1} over this one up to the dotted line on the right. " * (
                column < columns - 1
            )
            how += f"Sheet {number + columns} goes on below." * (row < rows - 1)
            top = -(high - row * (up - _OVERLAP))
            pages.append({"x": x, "y": top, "joins": joins, "how": how})
    return filled(
        "band.html", wide=wide, tall=tall, edge=_EDGE, head=_HEAD, across=across, up=up, name=name,
        where=where, pages=pages, paths=_paths(made), holes=_holes(made), words=_all_words(made),
    )  # fmt: skip


def _paths(made: TankBand) -> list[dict[str, object]]:
    """The lines of the band, as the template draws them."""

    def across(along: float, width: float, dash: str = "") -> dict[str, object]:
        return _path([made.flat(along, made.low), made.flat(along, made.rim)], width, dash)

    return [
        _path(made.line(made.rim), 0.6), _path(made.line(made.low), 0.25, "4 3"),
        _path(made.line(made.fill), 0.7, "8 3"), _path(made.line(made.hole), 0.35),
        *(across(s, 0.4) for s in (0.0, made.length)),
        *(across(s, 0.25, "6 2 1 2") for s in made.folds),
        *(across(m.along, 0.3) for m in made.marks),
    ]  # fmt: skip


def _holes(made: TankBand) -> list[Point]:
    flat = (made.flat(m.along, height) for m in made.marks for height in m.holes)
    return [(x, -y) for x, y in flat]


def _all_words(made: TankBand) -> list[dict[str, object]]:
    return [
        *(_words(made, s, made.fill - 5.2, "fill to this line, piece in") for s in _often(made)),
        *(_words(made, s, made.hole + 1.2, "no hole below this line") for s in _often(made)),
        *(_words(made, s, made.rim - 5, "rim of the tank") for s in _often(made)),
        *(_words(made, s, made.low + 2, w) for s, w in ((2, "back"), (made.length / 2, "front"))),
        *(_words(made, m.along + 2, made.rim - 12, f"+{m.number}", 9.0) for m in made.marks),
    ]


def _often(made: TankBand) -> list[float]:
    return [60 + 240 * k for k in range(max(1, int((made.length - 90) // 240) + 1))]


def _path(points: Sequence[Point], width: float, dash: str = "") -> dict[str, object]:
    d = "L".join(f"{x:.3f} {-y:.3f}" for x, y in points)
    return {"d": f"M{d}", "width": width, "dash": dash}


def _words(
    made: TankBand, s: float, height: float, text: str, size: float = 4.0
) -> dict[str, object]:
    """Words along the band, their foot at a height."""
    (x, y), (x1, y1) = made.flat(s, height), made.flat(s + 1.0, height)
    turn = -math.degrees(math.atan2(y1 - y, x1 - x))
    return {"x": x, "y": -y, "turn": turn, "text": text, "size": size}
