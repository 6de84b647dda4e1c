"""Area, volume and size of a piece from what a tape can give.

Lengths [m], areas [m2], volumes [m3]. Exact for the bodies named, except that a wheel's spokes are
taken to meet rim and hub on flat ground. A real piece with fretwork or rough scale has more
surface, which the spread of the need covers.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from yellowbath.core.data import param
from yellowbath.core.document import (
    Angle,
    Anvil,
    Bar,
    Box,
    Lattice,
    Mesh,
    Pan,
    Piece,
    Pile,
    Plate,
    Ring,
    Shape,
    Shaped,
    Shell,
    Stepped,
    Tines,
    Tube,
    Weighed,
    Wheel,
    Wrench,
)
from yellowbath.core.figures import Figure, Input, figure, typed
from yellowbath.core.geometry.packed import measured

Size = tuple[float, float, float]
Turn = tuple[Size, Size, Size]


@dataclass(frozen=True)
class Measure:
    """A shape in figures: symbols (name, title, value, quantity), area by a rule, volume, box."""

    symbols: Sequence[tuple[str, str, float, str]]
    rule: str
    area: float
    volume: float
    box: Size
    thinnest: float


def measure(shape: Shape) -> Measure:
    """Area [m2] with its rule, volume [m3], bounding box and thinnest section [m]."""
    match shape:
        case Plate():
            return _block(shape.length_m, shape.width_m, shape.thickness_m, "Thickness")
        case Box():
            return _block(shape.length_m, shape.width_m, shape.height_m, "Height")
        case Bar():
            return _bar(shape)
        case Tube():
            return _tube(shape)
        case Angle():
            return _angle(shape)
        case Ring():
            return _ring(shape)
        case Wheel():
            return _wheel(shape)
        case Wrench():
            return _wrench(shape)
        case Stepped():
            return _stepped(shape)
        case Pile():
            return _pile(shape)
        case Mesh():
            return _mesh(shape)
        case Shell():
            return _shell(shape)
        case Pan():
            return _pan(shape)
        case Lattice():
            return _lattice(shape)
        case Tines():
            return _tines(shape)
        case Anvil():
            return _anvil(shape)
        case Weighed():
            return _weighed(shape)


def _named(symbol: str, shape: Shaped, name: str) -> tuple[str, str, float, str]:
    """A size as its field is called."""
    return _len(symbol, shape.field_word(name), float(getattr(shape, name)))


def _block(l: float, w: float, h: float, third: str) -> Measure:  # noqa: E741
    return Measure(
        [_len("l", "Length", l), _len("w", "Width", w), _len("h", third, h)],
        "2*(l*w + l*h + w*h)", 2 * (l * w + l * h + w * h), l * w * h, (l, w, h), min(l, w, h),
    )  # fmt: skip


def _bar(shape: Bar) -> Measure:
    l, d = shape.length_m, shape.diameter_m  # noqa: E741
    return Measure(
        [_len("l", "Length", l), _len("d", "Diameter", d)], "pi*d*l + pi*d**2/2",
        math.pi * d * l + math.pi * d**2 / 2, math.pi / 4 * d**2 * l, (l, d, d), min(l, d),
    )  # fmt: skip


def _tube(shape: Tube) -> Measure:
    l, d, b = shape.length_m, shape.outer_diameter_m, shape.inner_diameter_m  # noqa: E741
    return Measure(
        [_len("l", "Length", l), _named("d", shape, "outer_diameter_m"),
         _named("b", shape, "inner_diameter_m")],
        "pi*((d + b)*l + (d**2 - b**2)/2)", math.pi * ((d + b) * l + (d**2 - b**2) / 2),
        math.pi / 4 * (d**2 - b**2) * l, (l, d, d), (d - b) / 2,
    )  # fmt: skip


def _angle(shape: Angle) -> Measure:
    a, b, w, t = shape.leg_m, shape.other_leg_m, shape.width_m, shape.thickness_m
    profile = t * (a + b - t)
    return Measure(
        [_len("a", "Longer leg", a), _len("b", "Other leg", b), _len("w", "Width", w),
         _len("t", "Thickness", t)],
        "2*t*(a + b - t) + 2*(a + b)*w", 2 * profile + 2 * (a + b) * w, profile * w, (a, b, w), t,
    )  # fmt: skip


def _ring(shape: Ring) -> Measure:
    d, b = shape.outer_diameter_m, shape.bar_diameter_m
    return Measure(
        [_named("d", shape, "outer_diameter_m"), _named("b", shape, "bar_diameter_m")],
        "pi**2*b*(d - b)",
        math.pi**2 * b * (d - b), math.pi**2 / 4 * b**2 * (d - b), (d, d, b), b,
    )  # fmt: skip


def _wheel(shape: Wheel) -> Measure:
    d, t, w = shape.diameter_m, shape.rim_thickness_m, shape.rim_width_m
    h, k, n, s = shape.hub_diameter_m, shape.hub_length_m, shape.spokes, shape.spoke_diameter_m
    i = d - 2 * t
    rim = math.pi * w * (d + i) + math.pi / 2 * (d**2 - i**2)
    hub = math.pi * h * k + math.pi / 2 * h**2
    spokes = n * (math.pi * s * (i - h) / 2 - math.pi / 2 * s**2)
    volume = math.pi / 4 * (w * (d**2 - i**2) + k * h**2 + n * s**2 * (i - h) / 2)
    return Measure(
        [_len("d", "Diameter", d), _len("i", "Diameter inside the rim", i),
         _named("w", shape, "rim_width_m"), _named("h", shape, "hub_diameter_m"),
         _named("k", shape, "hub_length_m"), ("n", "Spokes", float(n), "count"),
         _named("s", shape, "spoke_diameter_m")],
        "pi*w*(d + i) + pi/2*(d**2 - i**2) + pi*h*k + pi/2*h**2"
        " + n*(pi*s*(i - h)/2 - pi/2*s**2)",
        rim + hub + spokes, volume, (d, d, max(w, k)), min(t, w, s),
    )  # fmt: skip


def _wrench(shape: Wrench) -> Measure:
    l, w, t = shape.length_m, shape.width_m, shape.thickness_m  # noqa: E741
    h, e = shape.head_diameter_m, shape.eye_diameter_m
    angle = 2 * math.asin(min(w / h, 1.0))
    chord = math.sqrt(max(h**2 - w**2, 0.0))
    outline = math.pi / 2 * (h**2 - e**2) + w * (l - h - chord)
    outline -= h**2 / 4 * (angle - math.sin(angle))
    edge = 2 * math.pi * h - h * angle + 2 * (l - h - chord) + 2 * math.pi * e
    return Measure(
        [("F", "Flat face, two heads and the shank between", outline, "area"),
         _len("p", "Length of all its edges", edge), _len("t", "Thickness", t)],
        "2*F + p*t", 2 * outline + edge * t, outline * t, (l, h, t), min(t, (h - e) / 2),
    )  # fmt: skip


def _stepped(shape: Stepped) -> Measure:
    l, w, h = shape.length_m, shape.width_m, shape.height_m  # noqa: E741
    a, b, c = shape.top_length_m, shape.top_width_m, shape.top_height_m
    return Measure(
        [_len("l", "Length of the base", l), _len("w", "Width of the base", w),
         _len("h", "Height of the base", h), _len("a", "Length of the top", a),
         _len("b", "Width of the top", b), _len("c", "Height of the top", c)],
        "2*(l*w + l*h + w*h) + 2*c*(a + b)", 2 * (l * w + l * h + w * h) + 2 * c * (a + b),
        l * w * h + a * b * c, (max(l, a), max(w, b), h + c), min(l, w, h, a, b, c),
    )  # fmt: skip


def _pile(shape: Pile) -> Measure:
    n, l, d = shape.count, shape.item_length_m, shape.item_diameter_m  # noqa: E741
    return Measure(
        [("n", "Pieces", float(n), "count"), _named("l", shape, "item_length_m"),
         _named("d", shape, "item_diameter_m")],
        "n*(pi*d*l + pi*d**2/2)", n * (math.pi * d * l + math.pi * d**2 / 2),
        n * math.pi / 4 * d**2 * l, (shape.length_m, shape.width_m, shape.height_m), d,
    )  # fmt: skip


def _shell(shape: Shell) -> Measure:
    l, w, h, t = shape.length_m, shape.width_m, shape.height_m, shape.wall_m  # noqa: E741
    area = 2 * l * w + 2 * (l + w) * h + 2 * (l + w - 4 * t) * (h - t)
    return Measure(
        [_len("l", "Length", l), _len("w", "Width", w), _len("h", "Height", h),
         _named("t", shape, "wall_m")],
        "2*l*w + 2*(l + w)*h + 2*(l + w - 4*t)*(h - t)", area,
        l * w * h - (l - 2 * t) * (w - 2 * t) * (h - t), (l, w, h), t,
    )  # fmt: skip


def _pan(shape: Pan) -> Measure:
    d, h, t = shape.diameter_m, shape.height_m, shape.wall_m
    return Measure(
        [_len("d", "Diameter", d), _len("h", "Height", h), _named("t", shape, "wall_m")],
        "pi*(d**2/2 + d*h + (d - 2*t)*(h - t))",
        math.pi * (d**2 / 2 + d * h + (d - 2 * t) * (h - t)),
        math.pi / 4 * (d**2 * h - (d - 2 * t) ** 2 * (h - t)), (d, d, h), t,
    )  # fmt: skip


def _lattice(shape: Lattice) -> Measure:
    l, w, b, t = shape.length_m, shape.width_m, shape.bar_m, shape.thickness_m  # noqa: E741
    n = shape.between
    flat = l * w - (l - 2 * b) * (w - 2 * b) + n * b * (w - 2 * b)
    edge = 2 * (l + w) + 2 * (l - (2 + n) * b) + 2 * (n + 1) * (w - 2 * b)
    return Measure(
        [("F", "Flat face of frame and bars", flat, "area"),
         _len("p", "Length of all its edges", edge), _named("t", shape, "thickness_m")],
        "2*F + p*t", 2 * flat + edge * t, flat * t, (l, w, t), min(b, t),
    )  # fmt: skip


def _tines(shape: Tines) -> Measure:
    w, l, s = shape.width_m, shape.tine_length_m, shape.tine_diameter_m  # noqa: E741
    n, b = shape.count, shape.bar_m
    return Measure(
        [_named("w", shape, "width_m"), _named("b", shape, "bar_m"),
         ("n", shape.field_word("count"), float(n), "count"),
         _named("l", shape, "tine_length_m"), _named("s", shape, "tine_diameter_m")],
        "4*w*b + 2*b**2 + n*pi*s*l", 4 * w * b + 2 * b**2 + n * math.pi * s * l,
        w * b**2 + n * math.pi / 4 * s**2 * l, (max(w, b), l + b, max(b, s)), min(s, b),
    )  # fmt: skip


def _anvil(shape: Anvil) -> Measure:
    (fl, fw, fh), (wl, ww, wh), (bl, bw, bh) = shape.parts()
    k, r = shape.horn()[0], shape.horn()[1] / 2
    area = 2 * (fl * fw + bl * bw + (fl + fw) * fh + (wl + ww) * wh + (bl + bw) * bh)
    area += -2 * wl * ww - math.pi * r**2 + math.pi * r * math.hypot(r, k)
    blocks = [("Face", fl, fw, fh), ("Waist", wl, ww, wh), ("Foot", bl, bw, bh)]
    sides = sum(2 * (a + b) * c for _, a, b, c in blocks)
    return Measure(
        [("S", "Sides of face, waist and foot", sides, "area"),
         ("F", "Upper and lower side of the face's block", 2 * fl * fw, "area"),
         ("B", "Upper and lower side of the foot", 2 * bl * bw, "area"),
         ("W", "Where the waist meets both", 2 * wl * ww, "area"),
         _len("r", "Radius of the horn at its root", r), _len("k", "Length of the horn", k)],
        "S + F + B - W + pi*r*(sqrt(r**2 + k**2) - r)", area,
        sum(a * b * c for _, a, b, c in blocks) + math.pi / 3 * r**2 * k,
        (shape.length_m, max(fw, bw), shape.height_m), min(ww, r),
    )  # fmt: skip


def _weighed(shape: Weighed) -> Measure:
    box = (shape.length_m, shape.width_m, shape.height_m)
    a, b, c = box
    metal, outside = shape.mass_kg / param("steel_kg_m3").value, 2 * (a * b + a * c + b * c)
    if shape.section_m is not None:
        k = param("weighed_section_factor")
        area = k.value * metal / shape.section_m
        symbols = [("k", k.name, k.value, "number"), _named("t", shape, "section_m")]
        rule = "k*V/t"
    else:
        k, n = param("weighed_share"), param("weighed_power")
        area = k.value * outside * (metal / math.prod(box)) ** n.value
        symbols = [
            ("k", k.name, k.value, "number"), ("S", "Surface of a box of these sizes", outside,
             "area"), ("B", "Volume of that box", math.prod(box), "volume"),
            ("n", n.name, n.value, "number"),
        ]  # fmt: skip
        rule = "k*S*(V/B)**n"
    return Measure(
        [*symbols, ("V", "Metal by its weight", metal, "volume")], rule, area, metal, box,
        shape.section_m or 2 * metal / area,
    )  # fmt: skip


def area_sigma(piece: Piece) -> float:
    """How unsure its surface is, as a standard deviation of the log [-]: wide where it was only
    weighed."""
    if isinstance(piece.shape, Weighed):
        known = piece.shape.section_m is not None
        return param("weighed_section_sigma" if known else "weighed_sigma").value
    return param("area_sigma").value


def heap_inside(pieces: Sequence[Piece]) -> float:
    """Share of all surface that lies in a heap deeper than one of its things [-]."""
    whole = sum(measure(p.shape).area for p in pieces)
    inner = 0.0
    for p in pieces:
        if isinstance(p.shape, Pile):
            d = p.shape.item_diameter_m
            box = (p.shape.length_m, p.shape.width_m, p.shape.height_m)
            inner += measure(p.shape).area * math.prod(max(1 - 2 * d / x, 0.0) for x in box)
    return inner / whole


def _mesh(shape: Mesh) -> Measure:
    area, volume, box = measured(shape.vertices, shape.faces)
    k = shape.length_m / max(box)
    x, y, z = (k * s for s in box)
    return Measure(
        [("A", "Surface of the mesh as brought in", area, "area"),
         ("k", "Longest side as measured over the mesh's own", k, "ratio")],
        "k**2*A", k**2 * area, k**3 * volume, (x, y, z), 2 * k * volume / area,
    )  # fmt: skip


def _len(symbol: str, name: str, value: float) -> tuple[str, str, float, str]:
    return symbol, name, value, "length"


def area_figure(piece: Piece) -> Figure:
    """Total surface [m2] of a piece, with its formula."""
    m = measure(piece.shape)
    symbols: list[Input] = [typed(*s) for s in m.symbols]
    return figure("piece.area", "Surface of the piece", m.area, "area", m.rule, symbols, "geometry")


def volume(piece: Piece) -> float:
    """Metal volume [m3]: by its weight where that was typed, else by its sizes."""
    if piece.mass_kg is not None:
        return piece.mass_kg / param("steel_kg_m3").value
    return measure(piece.shape).volume


def sizes(piece: Piece) -> Size:
    """Bounding box [m], longest first."""
    a, b, c = sorted(measure(piece.shape).box, reverse=True)
    return a, b, c


def mass_of(piece: Piece) -> float:
    """Mass [kg]: as weighed, else as if solid iron of the sizes given."""
    return volume(piece) * param("steel_kg_m3").value


def largest(pieces: Sequence[Piece]) -> Piece:
    """The piece with most surface, whichever place it has in the list."""
    return max(pieces, key=lambda p: (measure(p.shape).area, sizes(p), p.name, p.id))


def thinnest(piece: Piece) -> float:
    """Thinnest section [m]."""
    return measure(piece.shape).thinnest


_HUNG: dict[str, Turn] = {
    "long_across": ((1, 0, 0), (0, 0, -1), (0, 1, 0)),
    "long_down": ((0, -1, 0), (0, 0, -1), (1, 0, 0)),
    "flat": ((1, 0, 0), (0, -1, 0), (0, 0, -1)),
}
"""Rows of the turn from a piece's own axes (longest, middle, thin) to the tank's x, y, z: its front
faces -y, or the floor where it lies flat."""


def turn_of(piece: Piece) -> Turn:
    """The turn (rows) from the piece's own axes to the tank's: as hung, put end for end where it is
    flipped, tilted, then turned."""
    return _turn(
        piece.hang, math.radians(piece.tilt_deg), math.radians(piece.turn_deg), piece.flipped
    )


@lru_cache(maxsize=256)
def _turn(hang: str, tilt: float, turn: float, flipped: bool = False) -> Turn:
    about_x = ((1, 0, 0), (0, math.cos(tilt), -math.sin(tilt)), (0, math.sin(tilt), math.cos(tilt)))
    about_z = ((math.cos(turn), -math.sin(turn), 0), (math.sin(turn), math.cos(turn), 0), (0, 0, 1))
    hung = _HUNG[hang]
    if flipped:  # half a turn about the way its front looks: what hung down stands up
        x, y, z = hung
        hung = ((-x[0], -x[1], -x[2]), y, (-z[0], -z[1], -z[2]))
    return _times(about_z, _times(about_x, hung))


def _times(a: Turn, b: Turn) -> Turn:
    x, y, z = (
        (_dot(r, b, 0), _dot(r, b, 1), _dot(r, b, 2)) for r in a
    )  # fmt: skip
    return x, y, z


def _dot(row: Size, b: Turn, k: int) -> float:
    return row[0] * b[0][k] + row[1] * b[1][k] + row[2] * b[2][k]


def posed(piece: Piece) -> Size:
    """Extent [m] along x, y and z as it hangs: of its bounding box, turned and tilted."""
    return _extent(sizes(piece), turn_of(piece))


@lru_cache(maxsize=256)
def _extent(size: Size, turn: Turn) -> Size:
    x, y, z = (sum(abs(c) * s for c, s in zip(row, size, strict=True)) for row in turn)
    return x, y, z


def footprint(piece: Piece) -> tuple[float, float, float]:
    """Its box from above: extents [m] along its own axes there, and how those are turned [rad]."""
    x, y, _ = _extent(sizes(piece), _turn(piece.hang, math.radians(piece.tilt_deg), 0.0))
    return x, y, math.radians(piece.turn_deg)
