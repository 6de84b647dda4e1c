"""Surfaces for the field: elements of flat pieces for bodies and walls, and rods as lines.

Lengths [m] in tank coordinates: x along, y across, z up from the floor, origin at a floor corner of
the box that the tank stands in. Corners are ordered so that the normal points out of the metal
(pieces, plates) or out of the tank (walls).
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from yellowbath.core.field.mesh.elements import (
    Array,
    Elements,
    Indices,
    folded,
    gauss_points,
    moments,
    quarters,
    second_moments,
)


@dataclass(frozen=True)
class Surface:
    """Elements of constant current, each of one or more flat pieces, and their patches.

    ``corners`` (m, 4, 3) [m]: flat pieces, a triangle having its last corner twice. ``first``
    (n + 1): where each element's pieces start; None makes each piece an element. ``seats`` (n):
    the piece on which an element's equation stands, and ``points`` (n, 3) [m] where on it.
    ``wall`` (n) [m]: metal behind an element of a bore, zero elsewhere: see ``assemble``.
    ``model``: the surface that this one is a turned or shifted copy of, element by element.
    """

    corners: Array
    patch: tuple[str, ...]
    backing: float = 0.0
    first: Indices | None = None
    seats: Indices | None = None
    points: Array | None = None
    behind: Array | None = None
    is_wall: bool = False
    model: Surface | None = None

    def __len__(self) -> int:
        return len(self.patch)

    @cached_property
    def digest(self) -> bytes:
        """A name by content, for what is kept between solves."""
        held = hashlib.sha256(self.corners.tobytes())
        held.update(self.centres.tobytes())
        held.update(self.wall.tobytes())
        return held.digest()

    @cached_property
    def still(self) -> bytes:
        """A name by content that a shift leaves as it is."""
        return self.digest

    @cached_property
    def wall(self) -> Array:
        """Metal behind each element of a bore [m], zero elsewhere."""
        if self.behind is not None:
            return self.behind
        bore = np.array([p == "bore" for p in self.patch])
        return np.where(bore, self.backing, 0.0)

    @cached_property
    def _halves(self) -> tuple[Array, Array]:
        c = self.corners
        one = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]) / 2
        two = np.cross(c[:, 2] - c[:, 0], c[:, 3] - c[:, 0]) / 2
        return one, two

    @cached_property
    def flat_areas(self) -> Array:
        """Areas of the flat pieces (m) [m2]."""
        one, two = self._halves
        areas: Array = np.linalg.norm(one, axis=1) + np.linalg.norm(two, axis=1)
        return areas

    @cached_property
    def flat_centres(self) -> Array:
        """Centroids of the flat pieces (m, 3) [m]."""
        c = self.corners
        one, two = (np.linalg.norm(h, axis=1)[:, None] for h in self._halves)
        first, second = c[:, :3].mean(axis=1), c[:, [0, 2, 3]].mean(axis=1)
        centres: Array = (one * first + two * second) / np.maximum(one + two, 1e-300)
        return centres

    @cached_property
    def vectors(self) -> Array:
        """Vector areas of the flat pieces (m, 3) [m2]."""
        made: Array = self._halves[0] + self._halves[1]
        return made

    @cached_property
    def owners(self) -> Indices:
        """The element of each flat piece (m)."""
        if self.first is None:
            return np.arange(len(self))
        return np.repeat(np.arange(len(self)), np.diff(self.first))

    def summed(self, of_pieces: Array) -> Array:
        """What pieces have, added up by element."""
        if self.first is None:
            return of_pieces
        added: Array = np.add.reduceat(of_pieces, self.first[:-1], axis=0)
        return added

    @cached_property
    def areas(self) -> Array:
        """Areas (n) [m2]."""
        return self.summed(self.flat_areas)

    @cached_property
    def centres(self) -> Array:
        """Where each element's equation stands (n, 3) [m]."""
        return self.flat_centres if self.points is None else self.points

    @cached_property
    def normals(self) -> Array:
        """Unit normals (n, 3), at the seat."""
        vectors = self.vectors if self.seats is None else self.vectors[self.seats]
        normals: Array = vectors / np.linalg.norm(vectors, axis=1)[:, None]
        return normals

    @cached_property
    def elements(self) -> Elements:
        """The same as arrays for the kernels."""
        if "shifted_from" in self.__dict__:
            there, by = self.__dict__.pop("shifted_from")
            e = there.elements
            flat, whole = e.flat.copy(), e.whole.copy()
            for facts in (flat, whole):
                facts[:, :3] += by
            return Elements(self.corners, flat, e.first, whole)
        areas, centres, vectors = self.flat_areas, self.flat_centres, self.vectors
        spans, middle, owner = self._spans, self._middles, self.owners
        second = second_moments(self.corners - centres[:, None], self._halves)
        normals = vectors / areas[:, None]
        flat = np.concatenate(
            [centres, normals, areas[:, None], spans[:, None], folded(second)], axis=1
        )
        if self.first is None:
            first, reach = np.arange(len(areas) + 1), spans
        else:
            first = self.first
            off = ((centres - middle[owner]) ** 2).sum(axis=1) + spans / 4
            reach = 4 * np.maximum.reduceat(off, first[:-1])
        facts = [middle, self.summed(vectors), self.areas[:, None], reach[:, None]]
        whole = np.concatenate(
            [*facts, *moments(first, centres - middle[owner], vectors, areas, second)], axis=1
        )
        return Elements(self.corners, flat, first, whole)

    @cached_property
    def _spans(self) -> Array:
        """Largest squared width of each flat piece (m) [m2]."""
        c = self.corners
        sides = [((c[:, a] - c[:, b]) ** 2).sum(axis=1) for a, b in
                 ((0, 1), (1, 2), (2, 3), (0, 2), (1, 3))]  # fmt: skip
        widest: Array = np.max(sides, axis=0)
        return widest

    @cached_property
    def _middles(self) -> Array:
        """Centre of area of each element (n, 3) [m]."""
        if self.first is None:
            return self.flat_centres
        middle: Array = self.summed(self.flat_areas[:, None] * self.flat_centres)
        return middle / self.areas[:, None]

    @cached_property
    def leaves(self) -> Array:
        """Up to four parts of each element (n, 4, 7): point [m], area and vector area [m2]; those
        that are not used are zero."""
        areas, vectors = self.flat_areas, self.vectors
        if self.first is None:
            return gauss_points(self.corners, areas, vectors)
        return quarters(self.owners, self._middles, areas, self.flat_centres, vectors)


@dataclass(frozen=True)
class Rod:
    """A round rod: axis from ``start`` to ``end`` [m], radius [m]; which ends are wet discs.

    ``cuts``: into how many segments, where not as many as the bath's others.
    """

    name: str
    start: Array
    end: Array
    radius: float
    capped: tuple[bool, bool] = field(default=(True, False))
    cuts: int | None = None


def join(surfaces: Sequence[Surface]) -> Surface:
    """Several surfaces as one."""
    if len(surfaces) == 1:
        return surfaces[0]
    corners = np.concatenate([s.corners for s in surfaces])
    patch = tuple(p for s in surfaces for p in s.patch)
    backing = max(s.backing for s in surfaces)
    if all(s.first is None for s in surfaces):
        behind = None
        if any(s.behind is not None for s in surfaces):
            behind = np.concatenate([s.wall for s in surfaces])
        return Surface(corners, patch, backing, behind=behind)
    at = np.cumsum([0, *(len(s.corners) for s in surfaces)])
    first = [(np.arange(len(s)) if s.first is None else s.first[:-1]) + k
             for s, k in zip(surfaces, at, strict=False)]  # fmt: skip
    seats = [(np.arange(len(s)) if s.seats is None else s.seats) + k
             for s, k in zip(surfaces, at, strict=False)]  # fmt: skip
    return Surface(
        corners, patch, backing, np.concatenate([*first, at[-1:]]), np.concatenate(seats),
        np.concatenate([s.centres for s in surfaces]), np.concatenate([s.wall for s in surfaces]),
    )  # fmt: skip


def moved(surface: Surface, turn: Array, shift: Array) -> Surface:
    """The same surface turned (3, 3) about the origin and then shifted (3) [m]."""
    points = None if surface.points is None else surface.points @ turn.T + shift
    corners = (surface.corners.reshape(-1, 3) @ turn.T + shift).reshape(-1, 4, 3)
    return replace(surface, corners=corners, points=points, model=surface.model or surface)


def shifted(surface: Surface, by: Array) -> Surface:
    """The same surface shifted (3) [m], with what is known of it brought along: most of what a
    surface is asked for stays as it is."""
    points = None if surface.points is None else surface.points + by
    model = surface.model or surface
    made = replace(surface, corners=surface.corners + by, points=points, model=model)
    # its elements are made where they are asked for; a copy with other corners forgets all of it
    known = {
        "shifted_from": (surface, by), "_halves": surface._halves,
        "flat_areas": surface.flat_areas, "areas": surface.areas,
        "flat_centres": surface.flat_centres + by, "normals": surface.normals,
        "owners": surface.owners, "vectors": surface.vectors,
        "digest": hashlib.sha256(surface.digest + by.tobytes()).digest(), "still": surface.still,
    }  # fmt: skip
    made.__dict__.update(known)
    return made


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
    return split(points, patch)


def split(points: Array, patch: str) -> Surface:
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
    surface = split(points, "side" if outward else "bore")
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
    surface = without_slivers(split(points, "end"))
    return surface if sign > 0 else flipped(surface)


def flipped(surface: Surface) -> Surface:
    """The same triangles seen from the other side."""
    return replace(surface, corners=np.ascontiguousarray(surface.corners[:, ::-1]), model=None)


LEAST = 1e-13  # m2; smaller pieces are left out


def without_slivers(surface: Surface) -> Surface:
    """Without facets of (almost) no area [m2]."""
    keep = surface.areas > LEAST
    if keep.all():
        return surface
    names = tuple(p for p, k in zip(surface.patch, keep, strict=True) if k)
    return Surface(surface.corners[keep], names, surface.backing)


def split_areas(corners: Array) -> tuple[Array, Array, Array]:
    """Areas (m) [m2], centroids (m, 3) [m] and unit normals (m, 3) of flat pieces (m, 4, 3)."""
    flat = Surface(corners, ("",) * len(corners))
    length = np.maximum(np.linalg.norm(flat.vectors, axis=1), 1e-300)
    return flat.flat_areas, flat.flat_centres, flat.vectors / length[:, None]


def clipped(surface: Surface, level: float) -> Surface:
    """What lies under a level [m] of a surface of single pieces; the cut is not capped."""
    corners, index = clip_polygons(surface.corners, level)
    return Surface(corners, tuple(surface.patch[k] for k in index), surface.backing)


def clip_polygons(corners: Array, level: float) -> tuple[Array, Indices]:
    """Flat pieces (m, 4, 3) under a level [m], those through it cut, and where each came from."""
    z = corners[..., 2]
    whole = np.flatnonzero((z <= level).all(axis=1))
    cut = np.flatnonzero((z <= level).any(axis=1) & (z > level).any(axis=1))
    kept, index = [corners[whole]], list(whole)
    for k in cut:
        polygon = _below(corners[k], level)
        for c in range(1, len(polygon) - 1):
            kept.append(np.array([[polygon[0], polygon[c], polygon[c + 1], polygon[c + 1]]]))
            index.append(k)
    made = np.concatenate(kept)
    keep = split_areas(made)[0] > LEAST
    return np.ascontiguousarray(made[keep]), np.array(index, dtype=np.int64)[keep]


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
    return replace(split(points, patch), is_wall=True)
