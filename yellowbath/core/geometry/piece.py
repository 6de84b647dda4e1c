"""Area, volume and size of a piece from what a tape can give.

Lengths [m], areas [m2], volumes [m3]. Exact for the bodies named; a real piece with fretwork or
rough scale has more surface, which the spread of the need covers.
"""

from __future__ import annotations

import math

from yellowbath.core.document import Bar, Box, Piece, Plate, Tube
from yellowbath.core.figures import Figure, Input, figure, typed


def area_figure(piece: Piece) -> Figure:
    """Total surface [m2] of a piece, with its formula."""
    shape = piece.shape
    symbols = _symbols(piece)
    s = {i.symbol: i.value for i in symbols}
    match shape:
        case Plate() | Box():
            value = 2 * (s["l"] * s["w"] + s["l"] * s["h"] + s["w"] * s["h"])
            rule = "2*(l*w + l*h + w*h)"
        case Bar():
            value = math.pi * s["d"] * s["l"] + math.pi * s["d"] ** 2 / 2
            rule = "pi*d*l + pi*d**2/2"
        case Tube():
            value = math.pi * ((s["d"] + s["b"]) * s["l"] + (s["d"] ** 2 - s["b"] ** 2) / 2)
            rule = "pi*((d + b)*l + (d**2 - b**2)/2)"
    return figure("piece.area", "Surface of the piece", value, "area", rule, symbols, "geometry")


def _symbols(piece: Piece) -> list[Input]:
    shape = piece.shape
    length = typed("l", "Length", shape.length_m, "length")
    match shape:
        case Plate():
            return [
                length,
                typed("w", "Width", shape.width_m, "length"),
                typed("h", "Thickness", shape.thickness_m, "length"),
            ]
        case Box():
            return [
                length,
                typed("w", "Width", shape.width_m, "length"),
                typed("h", "Height", shape.height_m, "length"),
            ]
        case Bar():
            return [length, typed("d", "Diameter", shape.diameter_m, "length")]
        case Tube():
            return [
                length,
                typed("d", "Outside diameter", shape.outer_diameter_m, "length"),
                typed("b", "Inside diameter", shape.inner_diameter_m, "length"),
            ]


def volume(piece: Piece) -> float:
    """Metal volume [m3]."""
    shape = piece.shape
    match shape:
        case Plate():
            return shape.length_m * shape.width_m * shape.thickness_m
        case Box():
            return shape.length_m * shape.width_m * shape.height_m
        case Bar():
            return math.pi / 4 * shape.diameter_m**2 * shape.length_m
        case Tube():
            ring = shape.outer_diameter_m**2 - shape.inner_diameter_m**2
            return math.pi / 4 * ring * shape.length_m


def sizes(piece: Piece) -> tuple[float, float, float]:
    """Bounding box [m], longest first."""
    shape = piece.shape
    match shape:
        case Plate():
            box = (shape.length_m, shape.width_m, shape.thickness_m)
        case Box():
            box = (shape.length_m, shape.width_m, shape.height_m)
        case Bar():
            box = (shape.length_m, shape.diameter_m, shape.diameter_m)
        case Tube():
            box = (shape.length_m, shape.outer_diameter_m, shape.outer_diameter_m)
    a, b, c = sorted(box, reverse=True)
    return a, b, c


def thinnest(piece: Piece) -> float:
    """Thinnest section [m]."""
    shape = piece.shape
    if isinstance(shape, Tube):
        return (shape.outer_diameter_m - shape.inner_diameter_m) / 2
    return sizes(piece)[2]


def posed(piece: Piece) -> tuple[float, float, float]:
    """Extent [m] along x, y and z as it hangs; its broad side faces along y."""
    a, b, c = sizes(piece)
    match piece.hang:
        case "long_across":
            return a, c, b
        case "long_down":
            return b, c, a
        case "flat":
            return a, b, c
