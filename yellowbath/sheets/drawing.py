"""The bath's layout as lines on paper, in millimetres: what SVG, DXF and the card are made from.

Two views, first angle: from the front above, from above below it; x to the right, y up the paper.
Dimensions run from the inside edges of the rim.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.document import Anode, FloorAnode, Plan, PlateAnode, RingAnode, RodAnode
from yellowbath.core.geometry.anode import Point, facing, foot, ring_radius
from yellowbath.core.geometry.fit import corners, outline
from yellowbath.core.geometry.piece import posed
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.units import mm, show
from yellowbath.core.words import word

LAYERS = ("tank", "liquid", "piece", "scrap", "dimensions", "words")


@dataclass(frozen=True)
class Path:
    """A line through points, closed or not; a layer says what it belongs to."""

    layer: str
    points: Sequence[Point]
    closed: bool = False
    dashed: bool = False


@dataclass(frozen=True)
class Round:
    """A circle."""

    layer: str
    middle: Point
    radius: float
    dashed: bool = False


@dataclass(frozen=True)
class Words:
    """Text, its foot at a point; ``size`` is the height of its capitals."""

    layer: str
    at: Point
    text: str
    size: float
    middle: bool = True
    upright: bool = False


Item = Path | Round | Words


class LayoutDrawing:
    """A plan's layout; ``items`` in millimetres."""

    def __init__(self, plan: Plan, answer: Answer) -> None:
        self.plan, self.level = plan, mm(answer.fill.level.value)
        self.bottoms = bottoms_of(plan, answer.fill.level.value)
        self.height = mm(plan.tank.shape.height_m)
        self.rim = tuple(mm(s) for s in plan_size(plan.tank, plan.tank.shape.height_m))
        self.floor = tuple(mm(s) for s in plan_size(plan.tank, 0.0))
        self.text = max(self.rim[0], self.height) / 32
        self.drop = self.rim[1] / 2 + 6.5 * self.text
        self.items: list[Item] = []
        self._front()
        self._above()

    def _show(self, mm: float) -> str:
        return str(show(mm / 1000, "length", self.plan.system))

    # --- From the front -----------------------------------------------------------------------

    def _front(self) -> None:
        rim, floor, h = self.rim[0] / 2, self.floor[0] / 2, self.height
        at = floor + (rim - floor) * self.level / h
        self.items += [
            Path("tank", [(-rim, h), (-floor, 0), (floor, 0), (rim, h)]),
            Path("liquid", [(-at, self.level), (at, self.level)], dashed=True),
            Path("tank", [(-rim - 20, h + 12), (rim + 20, h + 12)]),
            Words("words", (0, -3.2 * self.text), word("view.front"), self.text),
        ]
        for piece in self.plan.pieces:
            x, _, z = (mm(s) for s in posed(piece))
            left, low = mm(piece.x_m) - x / 2, mm(self.bottoms[piece.id])
            box = [(left, low), (left + x, low), (left + x, low + z), (left, low + z)]
            self.items += [
                Path("piece", box, closed=True),
                Path("piece", [(mm(piece.x_m), low + z), (mm(piece.x_m), h + 12)]),
            ]
        for k, anode in enumerate(self.plan.anodes, start=1):
            low = mm(foot(anode, self.plan.tank))
            if anode.stands:
                half = 500 * self._wide(anode)
                x = mm(anode.x_m)
                box = [(x - half, low), (x + half, low), (x + half, h + 12), (x - half, h + 12)]
                self.items += [
                    Path("scrap", box, closed=True, dashed=anode.y_m > 0),
                    Words("words", (x, h + 12 + self.text / 2), f"+{k}", self.text),
                ]
        side = -rim - 2.2 * self.text
        self._rule((side, 0), (side, self.level), self._show(self.level))
        low = mm(min(self.bottoms.values()))
        right = rim + 2.2 * self.text
        self._rule((right, 0), (right, low), self._show(low))
        self._rule((right + 2.4 * self.text, 0), (right + 2.4 * self.text, h), self._show(h))

    def _wide(self, anode: Anode) -> float:
        """How wide it looks from the front [m]."""
        if not isinstance(anode, PlateAnode):
            return anode.across_m
        turn = facing(anode, self.plan.tank)
        return abs(math.sin(turn)) * anode.width_m + abs(math.cos(turn)) * anode.thickness_m

    # --- From above ---------------------------------------------------------------------------

    def _down(self, x: float, y: float) -> Point:
        return (mm(x), mm(y) - self.drop)

    def _above(self) -> None:
        plan, tank = self.plan, self.plan.tank
        if tank.shape.is_round:
            self.items += [
                Round("tank", (0, -self.drop), self.rim[0] / 2),
                Round("tank", (0, -self.drop), self.floor[0] / 2, dashed=True),
            ]
        else:
            for (x, y), dashed in ((self.rim, False), (self.floor, True)):
                box = corners((0, -self.drop), (x, y), 0.0)
                if x * y:
                    self.items.append(Path("tank", box, closed=True, dashed=dashed))
        for piece in plan.pieces:
            points = [self._down(x, y) for x, y in outline(piece)]
            self.items.append(Path("piece", points, closed=True))
        for k, anode in enumerate(plan.anodes, start=1):
            self._scrap(k, anode)
        rim_y = self.rim[1] / 2
        ranked = sorted(plan.anodes, key=lambda a: a.x_m)
        standing = [a for a in ranked if a.stands][:6]
        foot_at = -self.drop - rim_y - 2.2 * self.text
        for k, x in enumerate(sorted({round(mm(a.x_m), 1) for a in standing})):
            y = foot_at - k * 2.2 * self.text
            self._rule((-self.rim[0] / 2, y), (x, y), self._show(x + self.rim[0] / 2))
        for k, y in enumerate(sorted({round(mm(a.y_m), 1) for a in standing})):
            x = -self.rim[0] / 2 - (2.2 + 2.2 * k) * self.text
            self._rule((x, -self.drop - rim_y), (x, y - self.drop), self._show(y + rim_y))
        lowest = foot_at - 2.2 * self.text * max(len({round(a.x_m, 4) for a in standing}), 1)
        self.items.append(Words("words", (0, lowest - self.text), word("view.above"), self.text))

    def _scrap(self, number: int, anode: Anode) -> None:
        at, middle = self._down(anode.x_m, anode.y_m), (anode.x_m, anode.y_m)
        match anode:
            case RodAnode():
                self.items.append(Round("scrap", at, 500 * anode.diameter_m))
            case PlateAnode():
                points = corners(middle, anode.outline_m, facing(anode, self.plan.tank))
                self.items.append(Path("scrap", [self._down(*p) for p in points], closed=True))
            case FloorAnode():
                points = [self._down(*p) for p in corners(middle, anode.outline_m, 0.0)]
                self.items.append(Path("scrap", points, closed=True, dashed=True))
            case RingAnode():
                radius = mm(ring_radius(anode, self.plan))
                self.items.append(Round("scrap", (0, -self.drop), radius))
        if anode.stands:
            far = math.hypot(anode.x_m, anode.y_m) or 1.0
            off = 1.5 * self.text + (10 if isinstance(anode, PlateAnode) else 500 * anode.across_m)
            inward = (at[0] - anode.x_m / far * off, at[1] - anode.y_m / far * off - self.text / 2)
            self.items.append(Words("words", inward, f"+{number}", self.text))

    def _rule(self, a: Point, b: Point, text: str) -> None:
        """A dimension between two points on one upright or level line."""
        upright, t = a[0] == b[0], self.text / 3
        tick = [[(p[0] - t, p[1]), (p[0] + t, p[1])] if upright else
                [(p[0], p[1] - t), (p[0], p[1] + t)] for p in (a, b)]  # fmt: skip
        self.items += [Path("dimensions", line) for line in ([a, b], *tick)]
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        at = (middle[0] - t, middle[1]) if upright else (middle[0], middle[1] + t)
        self.items.append(Words("dimensions", at, text, self.text, upright=upright))


def bounds(items: Sequence[Item]) -> tuple[float, float, float, float]:
    """Left, low, right, high [mm] of everything drawn, words by a guess of their width."""
    xs: list[float] = []
    ys: list[float] = []
    for item in items:
        match item:
            case Path(points=points):
                xs += [p[0] for p in points]
                ys += [p[1] for p in points]
            case Round(middle=(x, y), radius=r):
                xs += [x - r, x + r]
                ys += [y - r, y + r]
            case Words(at=(x, y), text=text, size=size, upright=upright):
                half = 0.35 * size * len(text)
                dx, dy = (size, half) if upright else (half, size)
                xs += [x - dx, x + dx]
                ys += [y - dy, y + dy]
    return min(xs), min(ys), max(xs), max(ys)
