"""A closed-form estimate of the bath's resistance, until the 3-D solver takes its place.

Rods and piece are line sources in a tank with insulating walls, floor and surface: the plane
Neumann function of a rectangle or a disc gives the shape factor between them. Constrictions for
rods and pieces shorter than the liquid is deep are added in series, and so are the films. Valid
for standing rods round one piece near the middle; pieces in a row, bores and floor anodes are
beyond it. Method, limits and error: docs/models/estimate.md.
"""

from __future__ import annotations

import math
from functools import lru_cache

from yellowbath.core.data import param
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.model import FieldAnswer, RodLayout, lognormal_profile
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.geometry.anode import Point

_TOUCHING = 1e-3  # things in one place (a stop elsewhere) count as this far apart, in tank radii
_IMAGES = 5  # the next one is under exp(-10 pi)
_RING = 12  # points about a rod that its own term is averaged over


@lru_cache(maxsize=4096)
def rectangle_neumann(size: tuple[float, float], a: Point, b: Point) -> float:
    """Neumann function of an insulated rectangle, up to a constant [-].

    ``size`` (length, width) [m]; points from its centre [m]. -lap G = delta - 1/area. The cosine
    series along the shorter side is summed in closed form, sum cos(n u) exp(-n v)/n =
    -ln(1 - 2 exp(-v) cos u + exp(-2 v))/2, over a few images across it.
    Any text on potential theory.
    """
    if size[0] > size[1]:
        size, a, b = (size[1], size[0]), (a[1], a[0]), (b[1], b[0])
    length, width = size
    x, y = a[0] + length / 2, a[1] + width / 2
    x0, y0 = b[0] + length / 2, b[1] + width / 2
    far, near, mirror = max(y, y0), abs(y - y0), y + y0
    total = width / length * (1 / 3 - far / width + (y * y + y0 * y0) / (2 * width * width))
    for image in range(_IMAGES):
        for d in (near, mirror, 2 * width - near, 2 * width - mirror):
            decay = math.exp(-math.pi * (d + 2 * width * image) / length)
            for u in (math.pi * (x - x0) / length, math.pi * (x + x0) / length):
                apart = max(1 - 2 * decay * math.cos(u) + decay * decay, _TOUCHING**2)
                total -= math.log(apart) / (4 * math.pi)
    return total


def disc_neumann(diameter: float, a: Point, b: Point) -> float:
    """Neumann function of an insulated disc, up to a constant [-]; points from its centre [m].

    -(ln|a-b| + ln|a - b*| |b|/R)/(2 pi) + (a^2 + b^2)/(4 pi R^2) with b* the mirror point.
    """
    r = diameter / 2
    ax, ay, bx, by = a[0] / r, a[1] / r, b[0] / r, b[1] / r
    direct = max(math.hypot(ax - bx, ay - by), _TOUCHING)
    aa, bb = ax * ax + ay * ay, bx * bx + by * by
    mirrored = math.sqrt(max(aa * bb - 2 * (ax * bx + ay * by) + 1, 1e-12))
    return -(math.log(direct) + math.log(mirrored)) / (2 * math.pi) + (aa + bb) / (4 * math.pi)


class ClosedFormEstimate:
    """The closed form as a :class:`~yellowbath.core.field.model.FieldModel`."""

    warm = None
    name = "closed-form estimate"

    def solve(self, layout: RodLayout, conductivity: Figure) -> FieldAnswer:
        """Resistance [ohm] and spread; NoAnswerError where rods or piece are out of the liquid."""
        if layout.rod_length_m <= 0 or layout.piece_area_m2 <= 0:
            raise NoAnswerError(
                "No current can flow: the piece or the scrap stands out of the liquid.",
                remedy="Put in more water, hang the piece lower, or take a deeper tank.",
            )
        resistance = resistance_figure(layout, conductivity)
        spread = spread_figure(layout)
        profile = lognormal_profile(spread.value)
        return FieldAnswer(resistance, spread, profile, param("estimate_error").value)


def shape_factor(layout: RodLayout) -> float:
    """Plane resistance times conductivity times depth between rods and piece [-].

    All rods share the current equally, which is exact for the symmetrical arrangements.
    """
    if layout.wall_is_piece:
        return _in_bore(layout)
    room = 0.45 * min(layout.tank_m)
    radius = min((layout.piece_m[0] + layout.piece_m[1]) / 4, room)
    rods, n = layout.rods_m, len(layout.rods_m)
    piece_self = _self(layout, (0.0, 0.0), radius)
    total = piece_self
    for p in rods:
        total -= 2 * _neumann(layout, p, (0.0, 0.0)) / n
        for other in rods:
            value = (
                _self(layout, p, layout.rod_radius_m) if other is p else _neumann(layout, p, other)
            )
            total += value / n**2
    return max(total, 0.02)


def _in_bore(layout: RodLayout) -> float:
    """The same of rods within a tube: a line and its image in an earthed cylinder, ln(b/a)/(2 pi)
    for one on the axis. Any text on potential theory."""
    b, n, total = layout.tank_m[0] / 2, len(layout.rods_m), 0.0
    for x, y in layout.rods_m:
        for u, v in layout.rods_m:
            apart = max(math.hypot(x - u, y - v), layout.rod_radius_m) / b
            square = ((x * x + y * y) * (u * u + v * v)) / b**4
            mirrored = math.sqrt(max(square - 2 * (x * u + y * v) / b**2 + 1, _TOUCHING**2))
            total += math.log(mirrored / apart) / (2 * math.pi * n * n)
    return max(total, _TOUCHING)


def _neumann(layout: RodLayout, a: Point, b: Point) -> float:
    if layout.round_tank:
        return disc_neumann(layout.tank_m[0], a, b)
    return rectangle_neumann(layout.tank_m, a, b)


def _self(layout: RodLayout, centre: Point, radius: float) -> float:
    """Mean of the Neumann function on a circle about its own source."""
    steps = [2 * math.pi * (k + 0.5) / _RING for k in range(_RING)]
    ring = [(centre[0] + radius * math.cos(t), centre[1] + radius * math.sin(t)) for t in steps]
    return sum(_neumann(layout, p, centre) for p in ring) / _RING


def resistance_figure(layout: RodLayout, conductivity: Figure) -> Figure:
    """Bath resistance [ohm]: liquid, constrictions and both films in series."""
    ra, rc = param("film_anode_ohm_m2"), param("film_piece_ohm_m2")
    n, r, length = len(layout.rods_m), layout.rod_radius_m, layout.rod_length_m
    depth, girth = layout.depth_m, 2 * (layout.piece_m[0] + layout.piece_m[1])
    height = min(layout.piece_m[2], depth)
    anode_area = n * (2 * math.pi * r * length + math.pi * r * r)
    inputs = [
        typed("S", "Shape factor, rods to piece in this tank", shape_factor(layout), "number"),
        uses("s", conductivity),
        typed("D", "Depth of the liquid", depth, "length"),
        typed("h", "Height of the piece in the liquid", height, "length"),
        typed("g", "Girth of the piece, seen from above", girth, "length"),
        typed("n", "Rods", n, "count"),
        typed("L", "Rod length in the liquid", length, "length"),
        typed("r", "Rod radius", r, "length"),
        uses("ra", ra), typed("Aa", "Surface of the rods in the liquid", anode_area, "area"),
        uses("rc", rc),
        typed("Ac", "Surface of the piece in the liquid", layout.piece_area_m2, "area"),
    ]  # fmt: skip
    s = conductivity.value
    value = (
        inputs[0].value / (s * depth)
        - math.log(math.sin(math.pi * height / (2 * depth))) / (math.pi * s * girth)
        + (1 / length - 1 / depth) * math.log(max(length / r, 1.0)) / (2 * math.pi * s * n)
        + ra.value / anode_area
        + rc.value / layout.piece_area_m2
    )
    return figure(
        "bath.resistance", "Resistance of the bath", value, "resistance",
        "S/(s*D) - ln(sin(pi*h/(2*D)))/(pi*s*g) + (1/L - 1/D)*ln(max(L/r, 1))/(2*pi*s*n)"
        " + ra/Aa + rc/Ac",
        inputs, "estimate",
    )  # fmt: skip


def spread_figure(layout: RodLayout) -> Figure:
    """Log-spread of density over the piece [-]: a judged figure by how far rods surround it."""
    key = "spread_one_side" if layout.one_sided else "spread_two_sides"
    p = param("spread_all_round" if layout.all_round else key)
    made = figure("density.spread", p.name, p.value, "number", "d", [uses("d", p)], "estimate")
    return made.with_window(p.low, p.high)
