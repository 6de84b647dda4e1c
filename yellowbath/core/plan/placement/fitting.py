"""Which tank: the smallest sensible one for a piece, and the best of those owned.

Lengths [m]. A piece counts as the box about it. Scrap stands before and behind its broad side, at
the clearance; liquid over it, sludge under it, a hand's breadth to the rim.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from yellowbath.core.data import param
from yellowbath.core.document import BoxTank, Hang, Layout, Piece, Tank
from yellowbath.core.geometry.fit import corners, inside
from yellowbath.core.geometry.piece import footprint, posed
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.words import small, word

_ROD = 0.012  # a usual rod's thickness


@dataclass(frozen=True)
class Fits:
    """How a piece goes into a tank: the pose, whether all of it is covered, liquid wanted [m3].

    ``lacks`` says what is missing, and ``short`` how much depth [m] where that is all.
    """

    fits: bool
    hang: Hang
    turn_deg: float
    words: str
    water: float
    lacks: str
    short: float = 0.0


def room(layout: Layout | None = None) -> float:
    """From the piece's broad side to the wall: clearance, rod, gap [m]."""
    gap = (layout or Layout()).wall_gap_m
    return param("clearance_m").value + _ROD / 2 + gap


def smallest(pieces: Sequence[Piece]) -> tuple[BoxTank, Hang]:
    """The box that holds all pieces side by side with the least liquid, and how they then hang."""
    side, edge = room(), param("clearance_m").value
    best: tuple[float, BoxTank, Hang] | None = None
    for hang in get_args(Hang):
        hung = [posed(p.model_copy(update={"hang": hang, "turn_deg": 0.0})) for p in pieces]
        x, z = max(h[0] for h in hung), max(h[2] for h in hung)
        y = len(hung) * (max(h[1] for h in hung) + edge) - edge
        depth = param("sludge_m").value + z + param("cover_m").value
        made = BoxTank(
            length_m=_up(x + 2 * edge, 5.0), width_m=_up(y + 2 * side),
            height_m=_up(depth + param("freeboard_m").value),
        )  # fmt: skip
        liquid = made.length_m * made.width_m * depth
        if best is None or liquid < best[0]:
            best = (liquid, made, hang)
    assert best is not None
    return best[1], best[2]


def _up(length: float, most: float = 3.0) -> float:
    """Up to the next centimetre, within what a tank can be."""
    return min(max(math.ceil(length * 100 - 1e-9) / 100, 0.03), most)


def goes_into(piece: Piece, tank: Tank, layout: Layout) -> Fits:
    """The pose in which a piece goes into a tank with least trouble; else what is lacking."""
    side, edge = room(layout), param("clearance_m").value
    height = tank.shape.height_m
    cap = height if tank.hole_height_m is None else tank.hole_height_m - 0.01
    level = min(max(height - param("freeboard_m").value, height / 2), cap)
    water = volume_at(tank, max(level, 0.0))
    lacking = "neither wide nor deep enough"
    first: Fits | None = None
    for hang in dict.fromkeys((piece.hang, *get_args(Hang))):
        for turn in dict.fromkeys((piece.turn_deg, 0.0, 90.0, 45.0)):
            hung = piece.model_copy(update={"hang": hang, "turn_deg": turn})
            x, y, about = footprint(hung)
            z = posed(hung)[2]
            bottom = level - param("cover_m").value - z
            wide = corners((0.0, 0.0), (x + 2 * edge, y + 2 * side), about)
            round_it = all(inside(tank, wide, h) for h in (max(bottom, 0.0), level))
            deep = bottom >= param("sludge_m").value - 1e-9
            words = small(word(f"pose.{hang}")) + ("" if turn == 0 else f", turned {turn:.0f}°")
            if round_it and deep:
                return Fits(True, hang, turn, words, water, "")
            if round_it:
                short = param("sludge_m").value - bottom
                first = first or Fits(False, hang, turn, words, water, "not deep enough", short)
            elif deep and first is None:
                lacking = "too narrow for it and scrap on both sides"
    return first or Fits(
        False, piece.hang, piece.turn_deg, small(word(f"pose.{piece.hang}")), water, lacking
    )


def best_owned(
    pieces: Sequence[Piece], tanks: Sequence[tuple[str, Tank]], layout: Layout
) -> list[tuple[str, Fits]]:
    """Every tank with how the most awkward piece goes in; those that fit first, least liquid
    first."""
    made = [(name, _worst([goes_into(p, tank, layout) for p in pieces])) for name, tank in tanks]
    return sorted(made, key=lambda m: (not m[1].fits, m[1].water))


def _worst(fits: Sequence[Fits]) -> Fits:
    """Of several pieces the one that goes in least."""
    return min(fits, key=lambda f: (f.fits, -f.short, f.words))
