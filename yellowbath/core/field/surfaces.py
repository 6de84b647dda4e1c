"""Surfaces for the field: graded meshes of flat facets for pieces and walls, and rods as lines.

Lengths [m] in tank coordinates: x along, y across, z up from the floor, origin at a floor corner of
the box that the tank stands in. Corners are ordered so that the normal points out of the metal
(pieces, plates) or out of the tank (walls).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Surface:
    """Flat facets (n, 4, 3) [m], a triangle having its last corner twice, and their patches."""

    corners: Array
    patch: tuple[str, ...]
    backing: float = 0.0

    @cached_property
    def wall(self) -> Array:
        """Metal behind each facet of a bore [m], zero elsewhere: see ``solve.assemble``."""
        bore = np.array([p == "bore" for p in self.patch])
        return np.where(bore, self.backing, 0.0)

    @cached_property
    def _halves(self) -> tuple[Array, Array]:
        c = self.corners
        one = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]) / 2
        two = np.cross(c[:, 2] - c[:, 0], c[:, 3] - c[:, 0]) / 2
        return one, two

    @cached_property
    def areas(self) -> Array:
        """Areas (n) [m2]."""
        one, two = self._halves
        areas: Array = np.linalg.norm(one, axis=1) + np.linalg.norm(two, axis=1)
        return areas

    @cached_property
    def centres(self) -> Array:
        """Centroids (n, 3) [m]."""
        c = self.corners
        one, two = (np.linalg.norm(h, axis=1)[:, None] for h in self._halves)
        first, second = c[:, :3].mean(axis=1), c[:, [0, 2, 3]].mean(axis=1)
        centres: Array = (one * first + two * second) / (one + two)
        return centres

    @cached_property
    def normals(self) -> Array:
        """Unit normals (n, 3)."""
        both = self._halves[0] + self._halves[1]
        normals: Array = both / np.linalg.norm(both, axis=1)[:, None]
        return normals


@dataclass(frozen=True)
class Rod:
    """A round rod: axis from ``start`` to ``end`` [m], radius [m]; which ends are wet discs."""

    name: str
    start: Array
    end: Array
    radius: float
    capped: tuple[bool, bool] = field(default=(True, False))


def join(surfaces: list[Surface]) -> Surface:
    """Several surfaces as one."""
    return Surface(
        np.concatenate([s.corners for s in surfaces]),
        tuple(p for s in surfaces for p in s.patch),
        max(s.backing for s in surfaces),
    )


def graded(length: float, cells: int, ratio: float = 0.12) -> Array:
    """Cell borders from 0 to ``length``, finer towards both ends.

    ``ratio`` is the first cell's share of an even one [-]; a sine blend keeps neighbours alike.
    """
    t = np.linspace(0.0, 1.0, cells + 1)
    sine = (1 - np.cos(math.pi * t)) / 2
    blended: Array = length * (ratio * t + (1 - ratio) * sine)
    return blended


def snapped(cuts: Array, parts: int) -> Array:
    """The same cuts with the nearest one moved onto each border of so many equal parts."""
    moved = cuts.copy()
    for k in range(1, parts):
        border = cuts[-1] * k / parts
        moved[int(np.argmin(np.abs(cuts - border)))] = border
    return moved


def quad_grid(origin: Array, along: Array, up: Array, u: Array, v: Array, patch: str) -> Surface:
    """A flat rectangle cut on the grid ``u`` x ``v`` [m]; its normal is along x up."""
    points = origin + u[:, None, None] * along + v[None, :, None] * up
    return _split(points, patch)


def _split(points: Array, patch: str) -> Surface:
    """The quadrilaterals of a point grid (a, b, 3) as facets."""
    quads = np.stack([points[:-1, :-1], points[1:, :-1], points[1:, 1:], points[:-1, 1:]], axis=2)
    corners = quads.reshape(-1, 4, 3)
    return Surface(corners, (patch,) * len(corners))


_AXES = np.eye(3)


def box_surface(low: Array, high: Array, size: float, open_top: bool = False) -> Surface:
    """A box from ``low`` to ``high`` [m] with cells of about ``size`` [m], finer at the edges.

    Patches are ``+x -x +y -y +z -z``; ``open_top`` leaves the +z face out (cut at the surface).
    """
    span = high - low
    cuts = [graded(s, max(2, min(40, round(s / size + 1.5)))) for s in span]
    faces = []
    for axis in range(3):
        one, two = (axis + 1) % 3, (axis + 2) % 3
        for sign in (1, -1):
            if open_top and axis == 2 and sign == 1:
                continue
            origin = low.copy()
            if sign == 1:
                origin[axis] = high[axis]
            name = ("+" if sign == 1 else "-") + "xyz"[axis]
            a, b = (one, two) if sign == 1 else (two, one)
            faces.append(quad_grid(origin, _AXES[a], _AXES[b], cuts[a], cuts[b], name))
    return join(faces)


def cylinder_side(
    axis: int, centre: tuple[float, float], radius: float, cuts: Array, sides: int, outward: bool
) -> Surface:
    """The side of a cylinder along ``axis``, its polygon given the true circumference.

    ``centre`` in the two other coordinates, in cyclic order of x, y, z starting after the axis.
    """
    true = radius * (math.pi / sides) / math.sin(math.pi / sides)
    angles = np.linspace(0, 2 * math.pi, sides + 1)
    one, two = (axis + 1) % 3, (axis + 2) % 3
    points = np.zeros((len(angles), len(cuts), 3))
    points[:, :, axis] = cuts[None, :]
    points[:, :, one] = (centre[0] + true * np.cos(angles))[:, None]
    points[:, :, two] = (centre[1] + true * np.sin(angles))[:, None]
    surface = _split(points, "side" if outward else "bore")
    return surface if outward else flipped(surface)


def ring_face(
    axis: int, at: float, centre: tuple[float, float], radii: Array, sides: int, sign: int
) -> Surface:
    """A flat ring (or a disc, where the first radius is near zero) across a cylinder's axis."""
    factor = (math.pi / sides) / math.sin(math.pi / sides)
    angles = np.linspace(0, 2 * math.pi, sides + 1)
    one, two = (axis + 1) % 3, (axis + 2) % 3
    points = np.zeros((len(radii), len(angles), 3))
    points[:, :, axis] = at
    points[:, :, one] = centre[0] + factor * radii[:, None] * np.cos(angles)[None, :]
    points[:, :, two] = centre[1] + factor * radii[:, None] * np.sin(angles)[None, :]
    surface = without_slivers(_split(points, "end"))
    return surface if sign > 0 else flipped(surface)


def flipped(surface: Surface) -> Surface:
    """The same triangles seen from the other side."""
    return replace(surface, corners=np.ascontiguousarray(surface.corners[:, ::-1]))


def without_slivers(surface: Surface, least: float = 1e-12) -> Surface:
    """Without facets of (almost) no area [m2]."""
    keep = surface.areas > least
    if keep.all():
        return surface
    names = tuple(p for p, k in zip(surface.patch, keep, strict=True) if k)
    return Surface(surface.corners[keep], names, surface.backing)


def clipped(surface: Surface, level: float) -> Surface:
    """What lies under a level [m]; facets through it are cut, the cut is not capped."""
    z = surface.corners[..., 2]
    whole = np.flatnonzero((z <= level).all(axis=1))
    cut = np.flatnonzero((z <= level).any(axis=1) & (z > level).any(axis=1))
    kept = [surface.corners[whole]]
    names = [surface.patch[k] for k in whole]
    for k in cut:
        polygon = _below(surface.corners[k], level)
        for c in range(1, len(polygon) - 1):
            kept.append(np.array([[polygon[0], polygon[c], polygon[c + 1], polygon[c + 1]]]))
            names.append(surface.patch[k])
    made = Surface(np.concatenate(kept), tuple(names), surface.backing)
    return without_slivers(made) if len(names) else made


def _below(corners: Array, level: float) -> list[Array]:
    """Sutherland-Hodgman against one plane."""
    out = []
    for k in range(4):
        a, b = corners[k], corners[(k + 1) % 4]
        if a[2] <= level:
            out.append(a)
        if (a[2] <= level) != (b[2] <= level):
            t = (level - a[2]) / (b[2] - a[2])
            out.append(a + t * (b - a))
    return out


def wall_surface(floor: Array, top: Array, depth: float, rows: int, patch: str = "wall") -> Surface:
    """A closed wall between a floor polygon and one at the surface, (n, 2) [m].

    Both polygons run counter-clockwise; the normal points out of the tank.
    """
    share = np.linspace(0, 1, rows + 1)
    ring0, ring1 = (np.vstack([p, p[:1]]) for p in (floor, top))
    points = np.zeros((len(ring0), rows + 1, 3))
    flat = ring0[:, None, :] + (ring1 - ring0)[:, None, :] * share[None, :, None]
    points[:, :, :2] = flat
    points[:, :, 2] = depth * share[None, :]
    return _split(points, patch)
