"""Whether a piece goes into a tank, and how: the one rule for the first answer, the plan, its mends
and the choice of a tank.

Lengths [m]. A piece counts as the box about it. Scrap stands before and behind its broad side, at
the clearance; liquid over it, sludge under it, room to the rim.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product
from typing import get_args

from yellowbath.core.data import param
from yellowbath.core.document import BoxTank, Hang, Layout, Piece, Tank, Tube
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.geometry.anode import Point
from yellowbath.core.geometry.fit import corners, inside
from yellowbath.core.geometry.piece import footprint, posed
from yellowbath.core.geometry.tank import plan_size, volume_at
from yellowbath.core.words import small, word

_ROD = 0.012  # a usual rod's thickness
_HAIR = 1e-9  # m under the rim, so that what is just enough is no caution by a rounding


@dataclass(frozen=True)
class Fits:
    """How a piece goes into a tank: the pose, whether all of it is covered, liquid wanted [m3].

    ``lacks`` says what is missing, and ``short`` how much depth [m] where that is all.
    """

    fits: bool
    hang: Hang
    turn_deg: float
    tilt_deg: float
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
    side, apart, end = room(), param("clearance_m").value, param("end_gap_m").value
    best: tuple[float, BoxTank, Hang] | None = None
    for hang in get_args(Hang):
        hung = [posed(p.model_copy(update={"hang": hang, "turn_deg": 0.0})) for p in pieces]
        x, z = max(h[0] for h in hung), max(h[2] for h in hung)
        y = len(hung) * (max(h[1] for h in hung) + apart) - apart
        depth = param("sludge_m").value + z + param("cover_m").value
        made = BoxTank(
            length_m=_up(x + 2 * end, 5.0), width_m=_up(y + 2 * side),
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


def rim_room(tank: Tank) -> Figure:
    """Least room up to the rim that a bath needs [m]: froth, the swell as a piece is lifted, and a
    hand that reaches in."""
    shape = tank.shape
    length, width = plan_size(tank, shape.height_m)
    area = math.pi / 4 * length**2 if shape.is_round else length * width
    r, f, s, v, a0 = (
        param(n) for n in ("rim_least_m", "froth_m", "swell_m", "hand_m3", "hand_area_m2")
    )
    value = max(r.value, f.value + s.value + v.value / max(area, a0.value))
    return figure(
        "tank.rim_room", "Room that the rim needs", value, "length", "max(r, f + s + V/max(A, a))",
        [
            uses("r", r), uses("f", f), uses("s", s), uses("V", v), uses("a", a0),
            typed("A", "Area at the rim", area, "area"),
        ],
        "practice",
    )  # fmt: skip


def holes_allow(tank: Tank) -> float:
    """How high the liquid may stand for its rim and its lowest hole [m]."""
    height = tank.shape.height_m
    return (
        height if tank.hole_height_m is None else min(max(tank.hole_height_m - 0.01, 0.01), height)
    )


def usual_level(tank: Tank) -> float:
    """Where the liquid stands unless a piece wants more [m]: a hand's breadth under the rim; in a
    shallow vessel less, or a tray would be half empty."""
    height = tank.shape.height_m
    if tank.is_piece:  # nothing is lifted out of it, and what froths over runs into the tray
        return min(height - min(param("bore_rim_m").value, height / 2), holes_allow(tank))
    shallow = min(param("filled_share").value * height, height - rim_room(tank).value)
    level = max(height - param("freeboard_m").value, shallow, height / 2)
    return min(level, holes_allow(tank))


def full_level(tank: Tank) -> float:
    """How high it may stand where that is what covers a piece [m]."""
    if tank.is_piece:
        return usual_level(tank)
    full = tank.shape.height_m - rim_room(tank).value - _HAIR
    return max(usual_level(tank), min(full, holes_allow(tank)))


# degrees that a long piece is leant by, one end down, where it goes in neither straight nor upright
LEANS = (15.0, 30.0, 45.0, 60.0)


def goes_into(piece: Piece, tank: Tank, layout: Layout) -> Fits:
    """The pose in which a piece goes into a tank with least trouble; else what is lacking.

    First as it hangs and hung otherwise at the usual level, then in a fuller vessel, then leant.
    """
    usual, full = usual_level(tank), full_level(tank)
    if tank.is_piece:
        own, water = isinstance(piece.shape, Tube), volume_at(tank, usual)
        words = _words("long_down", 0.0, 0.0)
        return Fits(own, "long_down", 0.0, 0.0, words, water, "" if own else "no tube")
    straight = tuple(dict.fromkeys((piece.tilt_deg, 0.0)))
    least = param("cover_least_m").value
    found = _at_level(piece, tank, layout, usual, param("cover_m").value, straight)
    if not found.fits:
        found = _at_level(piece, tank, layout, full, least, straight)
    if not found.fits:
        leant = _at_level(piece, tank, layout, full, least, LEANS)
        found = leant if leant.fits else found
    return found


def in_two_dips(piece: Piece, tank: Tank, layout: Layout) -> Fits | None:
    """How a piece hangs that is done one end after the other in a full tank, a hand's breadth of it
    twice; None where two dips do not do."""
    if tank.is_piece:
        return None
    level, sludge = full_level(tank), param("sludge_m").value
    for turn in dict.fromkeys((piece.turn_deg, 0.0, 90.0)):
        hung = piece.model_copy(
            update={"hang": "long_down", "tilt_deg": 0.0, "turn_deg": turn, "bottom_m": None}
        )
        x, y, about = footprint(hung)
        around = [*_ends(x, y, about, param("end_gap_m").value), *_sides(y, about, room(layout))]
        wide = all(inside(tank, around, h) for h in (sludge, level))
        if wide and 2 * (level - sludge) - posed(hung)[2] >= param("dip_overlap_m").value:
            water = volume_at(tank, level)
            return Fits(True, "long_down", turn, 0.0, _words("long_down", 0.0, turn), water, "")
    return None


def _at_level(
    piece: Piece, tank: Tank, layout: Layout, level: float, cover: float, tilts: Sequence[float]
) -> Fits:
    """The same with the liquid standing at a level [m], so much of it over the piece [m], and leant
    by one of these [deg]."""
    side, edge = room(layout), param("end_gap_m").value
    water = volume_at(tank, max(level, 0.0))
    lacking = "neither wide nor deep enough"
    first: Fits | None = None
    poses = product(
        dict.fromkeys((piece.hang, *get_args(Hang))), tilts,
        dict.fromkeys((piece.turn_deg, 0.0, 90.0, 45.0)),
    )  # fmt: skip
    for hang, tilt, turn in poses:
        hung = piece.model_copy(update={"hang": hang, "tilt_deg": tilt, "turn_deg": turn})
        x, y, about = footprint(hung)
        z = posed(hung)[2]
        bottom = level - cover - z
        round_it = all(
            inside(tank, [*_ends(x, y, about, edge), *_sides(y, about, side)], h)
            for h in (max(bottom, 0.0), level)
        )
        deep = bottom >= param("sludge_m").value - 1e-9
        words = _words(hang, tilt, turn)
        if round_it and deep:
            return Fits(True, hang, turn, tilt, words, water, "")
        if round_it:
            short = param("sludge_m").value - bottom
            first = first or Fits(False, hang, turn, tilt, words, water, "not deep enough", short)
        elif deep and first is None:
            lacking = "too narrow for it and scrap on both sides"
    words = _words(piece.hang, 0.0, 0.0)
    return first or Fits(
        False, piece.hang, piece.turn_deg, piece.tilt_deg, words, water, lacking
    )  # fmt: skip


def _ends(x: float, y: float, about: float, edge: float) -> Sequence[Point]:
    """The corners of a piece from above with a gap at either end."""
    return corners((0.0, 0.0), (x + 2 * edge, y), about)


def _sides(y: float, about: float, side: float) -> Sequence[Point]:
    """As far as scrap reaches before the middle of its two broad sides."""
    reach = y / 2 + side
    return [(-s * reach * math.sin(about), s * reach * math.cos(about)) for s in (-1.0, 1.0)]


def _words(hang: Hang, tilt: float, turn: float) -> str:
    leant = f", one end {tilt:.0f}° lower" if tilt else ""
    turned = f", turned {turn:.0f}°" if turn else ""
    return small(word(f"pose.{hang}")) + leant + turned


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
