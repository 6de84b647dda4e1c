"""Bodies of the field from sizes: boxes, cylinders, tubes and tank walls, meshed to a facet size.

Lengths [m], tank coordinates as in ``surfaces``. ``depth`` is the liquid's; what is above it is dry
and left out, and a face on the floor or at the surface is no face.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.integrals.kernels import winding
from yellowbath.core.field.mesh.body import MeshBody
from yellowbath.core.field.mesh.grouping import Fine, below, cut, grouped
from yellowbath.core.field.mesh.surfaces import (
    Rod,
    Surface,
    box_surface,
    clipped,
    cylinder_side,
    flipped,
    graded,
    join,
    ring_face,
    snapped,
    split,
    split_areas,
    wall_surface,
)
from yellowbath.core.geometry.fit import TOUCHING

Array = NDArray[np.float64]
_ON = TOUCHING  # as near as this to floor or surface is on it [m]
_SLENDER = 8.0  # length over radius from which a rod is a line
_WALL = (
    1.4  # facets of a tube are no wider than so many wall thicknesses: one side shields the other
)
_MESH_ELEMENTS = 800  # that a mesh is cut finely enough for
WALL_SIDES = 64  # of a bucket
_CROWDED = 0.30  # radius over distance up to which its current is even all round


@dataclass(frozen=True)
class BoxBody:
    """A box from ``low`` to ``high`` [m]."""

    low: Array
    high: Array


@dataclass(frozen=True)
class CylinderBody:
    """A cylinder, or with ``bore`` > 0 a tube open at both ends. Radii [m].

    ``centre`` in the two other coordinates in cyclic order after the axis.
    """

    axis: int
    centre: tuple[float, float]
    radius: float
    start: float
    end: float
    bore: float = 0.0


@dataclass(frozen=True)
class MeshPart:
    """A body from a mesh, where it hangs: vertices in tank coordinates [m]."""

    body: MeshBody

    @cached_property
    def fine(self) -> Fine:
        """Cut once, finely enough for the fine number of elements."""
        return cut(self.body.vertices, self.body.faces, _MESH_ELEMENTS)


BodyShape = BoxBody | CylinderBody | MeshPart


def wetted(shape: BodyShape, depth: float) -> BodyShape | None:
    """The part of a standing or box-shaped body that is in the liquid; None where it is all dry."""
    if isinstance(shape, MeshPart):
        return shape if shape.body.vertices[:, 2].min() < depth - _ON else None
    if isinstance(shape, BoxBody):
        high = np.array([shape.high[0], shape.high[1], min(shape.high[2], depth)])
        return BoxBody(shape.low, high) if high[2] > shape.low[2] + _ON else None
    if shape.axis != 2:
        z = shape.centre[1] if shape.axis == 0 else shape.centre[0]
        return shape if z - shape.radius < depth - _ON else None
    end = min(shape.end, depth)
    if end <= shape.start + _ON:
        return None
    return CylinderBody(2, shape.centre, shape.radius, shape.start, end, shape.bore)


def area_of(shape: BodyShape, depth: float) -> float:
    """Surface in the liquid [m2] of what :func:`wetted` gave; a lying one counts as all in."""
    if isinstance(shape, MeshPart):
        return float(split_areas(below(shape.fine, depth).corners)[0].sum())
    if isinstance(shape, BoxBody):
        a, b, c = shape.high - shape.low
        caps = _open(shape.low[2], depth) + _open(shape.high[2], depth)
        return float(2 * (a * c + b * c) + (2 - caps) * a * b)
    length = shape.end - shape.start
    caps = 0
    if shape.axis == 2:
        caps = _open(shape.start, depth) + _open(shape.end, depth)
    disc = math.pi * (shape.radius**2 - shape.bore**2)
    return 2 * math.pi * (shape.radius + shape.bore) * length + (2 - caps) * disc


def _open(z: float, depth: float) -> int:
    return int(z < _ON or z > depth - _ON)


def mesh(shape: BodyShape, depth: float, size: float) -> Surface:
    """A shape's wetted surface in facets of about ``size`` [m], patches named by direction."""
    if isinstance(shape, MeshPart):
        wet = below(shape.fine, depth)
        return grouped(wet, round(float(split_areas(wet.corners)[0].sum()) / size**2))[0]
    if isinstance(shape, BoxBody):
        made = box_surface(shape.low, shape.high, size)
        z = made.corners[..., 2]
        flat = (z < _ON).all(axis=1) | (z > depth - _ON).all(axis=1)
        return _chosen(made, np.asarray(~flat))
    return _cylinder(shape, depth, size)


def _chosen(surface: Surface, keep: NDArray[np.bool_]) -> Surface:
    if keep.all():
        return surface
    names = tuple(p for p, k in zip(surface.patch, keep, strict=True) if k)
    return Surface(surface.corners[keep], names)


def _cylinder(shape: CylinderBody, depth: float, size: float) -> Surface:
    length = shape.end - shape.start
    around = size
    if shape.bore > 0:
        around = min(size, _WALL * (shape.radius - shape.bore))
    cells = max(6, min(60, round(length / size + 1.5)))
    cuts = shape.start + snapped(graded(length, cells), 4 if shape.bore > 0 else 5)
    sides = max(16, min(72, 4 * round(2 * math.pi * shape.radius / around / 4)))
    parts = [cylinder_side(shape.axis, shape.centre, shape.radius, cuts, sides, True)]
    if shape.bore > 0:
        parts.append(cylinder_side(shape.axis, shape.centre, shape.bore, cuts, sides, False))
    inner = max(shape.bore, shape.radius * 1e-4)
    rings = inner + graded(shape.radius - inner, max(2, round((shape.radius - inner) / size + 1)))
    for at, sign in ((shape.start, -1), (shape.end, 1)):
        if shape.axis != 2 or not _open(at, depth):
            parts.append(ring_face(shape.axis, at, shape.centre, rings, sides, sign))
    made = replace(join(parts), backing=shape.radius - shape.bore if shape.bore > 0 else 0.0)
    z_axis = {0: 1, 1: 0}.get(shape.axis)
    if z_axis is not None and shape.centre[z_axis] + shape.radius > depth:
        made = clipped(made, depth)
    return made


def bounds(shape: BodyShape) -> tuple[Array, Array]:
    """Lowest and highest corner [m]."""
    if isinstance(shape, BoxBody):
        return shape.low, shape.high
    if isinstance(shape, MeshPart):
        return shape.body.vertices.min(axis=0), shape.body.vertices.max(axis=0)
    low, high = np.zeros(3), np.zeros(3)
    low[shape.axis], high[shape.axis] = shape.start, shape.end
    for k, c in zip(((shape.axis + 1) % 3, (shape.axis + 2) % 3), shape.centre, strict=True):
        low[k], high[k] = c - shape.radius, c + shape.radius
    return low, high


def inside(shape: BodyShape, points: Array) -> NDArray[np.bool_]:
    """Which of the points (n, 3) [m] are in the metal."""
    if isinstance(shape, MeshPart):
        triangles = shape.body.vertices[shape.body.faces]
        found: NDArray[np.bool_] = winding(np.ascontiguousarray(points), triangles) > 0.5
        return found
    if isinstance(shape, BoxBody):
        return np.asarray(((points > shape.low) & (points < shape.high)).all(axis=1))
    off = [points[:, (shape.axis + k) % 3] - shape.centre[k - 1] for k in (1, 2)]
    r = np.hypot(*off)
    along = points[:, shape.axis]
    return np.asarray((r < shape.radius) & (r > shape.bore) & (along > shape.start)
                      & (along < shape.end))  # fmt: skip


def overlap(one: BodyShape, other: BodyShape, depth: float) -> bool:
    """Whether two bodies share metal, by points on the surface of each (some 400)."""
    (low, high), (lo, hi) = bounds(one), bounds(other)
    if (low >= hi).any() or (lo >= high).any():
        return False
    for a, b in ((one, other), (other, one)):
        points = mesh(a, depth, math.sqrt(area_of(a, depth) / 400)).centres
        middle = (bounds(a)[0] + bounds(a)[1])[None] / 2
        if not isinstance(a, BoxBody) and not inside(a, middle)[0]:
            middle = points[:1]
        if inside(b, np.concatenate([points, middle])).any():
            return True
    return False


def as_rod(shape: BodyShape, name: str, depth: float, room: float) -> Rod | None:
    """A slender cylinder with ``room`` [m] from its axis to anything else, as a line; else None."""
    if not isinstance(shape, CylinderBody) or shape.bore > 0:
        return None
    length = shape.end - shape.start
    if length < _SLENDER * shape.radius or shape.radius > _CROWDED * room:
        return None
    start, end = (np.zeros(3) for _ in range(2))
    for point, along in ((start, shape.start), (end, shape.end)):
        point[shape.axis] = along
        point[(shape.axis + 1) % 3] = shape.centre[0]
        point[(shape.axis + 2) % 3] = shape.centre[1]
    capped = (True, True)
    if shape.axis == 2:
        capped = (not _open(shape.start, depth), not _open(shape.end, depth))
    return Rod(name, start, end, shape.radius, capped)


def lying_drum(
    length: float, diameter: float, centre: tuple[float, float], low: float, depth: float
) -> Surface:
    """The wall of a drum on its side along x, its lowest line at ``low`` [m], up to the surface.

    The polygon has the circle's area; the ends are flat.
    """
    radius = diameter / 2
    reach = math.acos(1 - min((depth - low) / radius, 2.0))
    around, along = 2 * max(7, round(reach / (math.pi / 32))), max(8, round(length / diameter * 16))
    angles = np.linspace(-1, 1, around + 1) * reach
    step = 2 * reach / around
    wide = radius * math.sqrt(step / math.sin(step))
    y, z = centre[1] + wide * np.sin(angles), low + radius - wide * np.cos(angles)
    z[[0, -1]] = depth
    x = centre[0] - length / 2 + graded(length, along, 0.4)
    grid = np.zeros((len(x), len(y), 3))
    grid[..., 0], grid[..., 1], grid[..., 2] = x[:, None], y[None, :], z[None, :]
    parts = [_outward(split(grid, "wall"), centre[1], low + radius)]
    half = around // 2
    shares = np.linspace(-1, 1, 11)
    disc = np.zeros((half + 1, len(shares), 3))
    disc[..., 1] = centre[1] + (y[half:] - centre[1])[:, None] * shares[None, :]
    disc[..., 2] = z[half:][:, None]
    for at in (x[0], x[-1]):
        end = disc.copy()
        end[..., 0] = at
        made = split(end, "wall")
        if made.normals[-1, 0] * (at - centre[0]) < 0:
            made = flipped(made)
        corners = made.corners.copy()
        low_row = (corners[:, 0] == corners[:, 3]).all(axis=1)
        corners[low_row] = np.roll(corners[low_row], -1, axis=1)  # triangles, last corner twice
        parts.append(Surface(corners, made.patch))
    return replace(join(parts), is_wall=True)


def _outward(surface: Surface, y: float, z: float) -> Surface:
    """Turned so that its first normal points away from an axis at y, z."""
    off = surface.centres[0] - np.array([surface.centres[0, 0], y, z])
    return surface if float(off @ surface.normals[0]) > 0 else flipped(surface)


def round_wall(
    floor_radius: float,
    level_radius: float,
    centre: tuple[float, float],
    depth: float,
    sides: int = WALL_SIDES,
) -> Surface:
    """The wall of a bucket, a polygon of so many sides with the area of the circle.

    It is cut evenly and does not know of rods, so that one tank has one wall.
    """
    angles = np.linspace(0, 2 * math.pi, sides, endpoint=False)
    factor = math.sqrt(2 * math.pi / (sides * math.sin(2 * math.pi / sides)))
    circle = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    rings = [np.array(centre) + factor * r * circle for r in (floor_radius, level_radius)]
    rows = max(6, min(14, round(depth / (floor_radius * 0.22 * WALL_SIDES / sides))))
    return wall_surface(rings[0], rings[1], depth, rows)
