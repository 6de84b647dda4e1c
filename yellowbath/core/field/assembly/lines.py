"""Rods as lines of current: what they do to electrodes, walls and one another, and the other way.

A segment's potential at an element and the element's at the segment are the same integral of G over
both, so that one is taken for the other where the two are well apart; near by each is integrated by
itself. Lengths [m].
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.assembly.assemble import BlockCache, Operator, layers_of
from yellowbath.core.field.integrals.green import Green
from yellowbath.core.field.integrals.line_kernels import lines_at
from yellowbath.core.field.mesh.surfaces import Rod, Surface

Array = NDArray[np.float64]
_APART = 4.0  # element sizes from which a segment and an element are well apart


@dataclass(frozen=True)
class Lines:
    """All rods cut into segments: ends (m, 3), radius, wet area [m2] and rod of each.

    A wet end is a segment of its own, ``cap``: a disc, as a line too short to matter.
    """

    starts: Array
    ends: Array
    radius: Array
    area: Array
    rod: NDArray[np.int64]
    cap: NDArray[np.bool_]

    @property
    def own(self) -> NDArray[np.int64]:
        """How each segment sees each other one: see ``kernels.lines_at``."""
        same = self.rod[:, None] == self.rod[None, :]
        caps = self.cap[:, None].astype(np.int64) + self.cap[None, :].astype(np.int64)
        return np.where(same, 1 + caps, 0)

    def chosen(self, which: NDArray[np.bool_]) -> Lines:
        """Some of the segments."""
        return Lines(
            self.starts[which], self.ends[which], self.radius[which], self.area[which],
            self.rod[which], self.cap[which],
        )  # fmt: skip

    def of_rod(self, rod: int) -> tuple[bytes, ...]:
        """By what a rod's segments are told from those of one that stands elsewhere."""
        own = self.rod == rod
        return self.starts[own].tobytes(), self.ends[own].tobytes(), self.radius[own].tobytes()

    @property
    def lengths(self) -> Array:
        lengths: Array = np.linalg.norm(self.ends - self.starts, axis=1)
        return lengths

    @staticmethod
    def of(rods: Sequence[Rod], segments: int) -> Lines:
        """Cut rods into so many segments each."""
        starts, ends, radius, area, owner, cap = [], [], [], [], [], []
        for k, rod in enumerate(rods):
            cuts = _cuts(rod, rod.cuts or segments)
            span = rod.end - rod.start
            length = float(np.linalg.norm(span))
            for a, b in pairwise(cuts):
                starts.append(rod.start + a * span)
                ends.append(rod.start + b * span)
                radius.append(rod.radius)
                area.append(2 * math.pi * rod.radius * (b - a) * length)
                owner.append(k)
                cap.append(False)
            for at, toward, wet in zip((rod.start, rod.end), (1, -1), rod.capped, strict=True):
                if wet:
                    starts.append(at)
                    ends.append(at + toward * _THIN * rod.radius / length * span)
                    radius.append(rod.radius)
                    area.append(math.pi * rod.radius**2)
                    owner.append(k)
                    cap.append(True)
        return Lines(
            np.array(starts).reshape(-1, 3),
            np.array(ends).reshape(-1, 3),
            np.array(radius),
            np.array(area),
            np.array(owner, dtype=np.int64),
            np.array(cap, dtype=bool),
        )


_THIN = 0.02  # length of the line that stands for an end's disc, in radii


def segments_for(facets: int) -> int:
    """How many segments of a rod go with so many facets: its error falls with their square."""
    return max(6, round(math.sqrt(facets) / 2.8))


def _cuts(rod: Rod, segments: int) -> Array:
    """Shares of a rod's length, finer towards its free ends."""
    t = np.linspace(0, 1, segments + 1)
    if rod.capped == (True, True):
        cuts: Array = (1 - np.cos(math.pi * t)) / 2
        return 0.15 * t + 0.85 * cuts
    fine = 1 - np.cos(math.pi / 2 * t)
    blended: Array = 0.15 * t + 0.85 * fine
    return blended if rod.capped[0] else np.ascontiguousarray(1 - blended[::-1])


@dataclass(frozen=True)
class LinesSeen:
    """Unit line currents at a surface's elements: potential (n, m) [-] and its slope [1/m] along
    the element's normal, walls not eliminated."""

    potential: Array
    slope: Array


@dataclass(frozen=True)
class Rows:
    """What makes the potential on segments, walls eliminated.

    ``single`` (p, n) [m] and ``double`` (p, n) [-] of the electrodes, ``lines`` (p, m) of unit line
    currents [-], ``level`` (p) [-].
    """

    single: Array
    double: Array
    lines: Array
    level: Array


@dataclass(frozen=True)
class LineBlocks:
    """Rods in a tank with electrodes: potential of unit line currents [-] at elements (n, m) and at
    walls, and the rows of the rods' own axes."""

    at_elements: Array
    at_walls: Array | None
    axes: Rows


def line_blocks(op: Operator, lines: Lines, kept: BlockCache) -> LineBlocks:
    """Rods against the electrodes and walls of an operator; a rod that stays is kept."""
    seen = [_seen_kept(s, lines, op.green, kept) for s in op.surfaces]
    walls = None if op.walls is None else _seen_kept(op.walls, lines, op.green, kept)
    at_elements = np.concatenate(
        [_through_bores(s, x.potential, lines, op.green)
         for s, x in zip(op.surfaces, seen, strict=True)]
    )  # fmt: skip
    at_walls = None if walls is None else walls.potential
    if at_walls is not None:
        at_elements -= op.through @ at_walls
    return LineBlocks(at_elements, at_walls, _rows(op, lines, lines, lines.own, (seen, walls)))


def rows_at(op: Operator, points: Array, lines: Lines, at_walls: Array | None) -> Rows:
    """Rows of points (p, 3) [m] in the liquid, taken as segments of no length to speak of."""
    count = len(points)
    half = np.array([0.0, 0.0, 1e-5])
    probes = Lines(
        points - half, points + half, np.zeros(count), np.zeros(count),
        np.arange(count), np.zeros(count, dtype=bool),
    )  # fmt: skip
    seen = [_seen(s, probes, op.green) for s in op.surfaces]
    walls = None if op.walls is None else _seen(op.walls, probes, op.green)
    own = np.zeros((count, len(lines.radius)), dtype=np.int64)
    return _rows(op, probes, lines, own, (seen, walls), at_walls)


def _rows(
    op: Operator,
    targets: Lines,
    lines: Lines,
    own: NDArray[np.int64],
    seen: tuple[Sequence[LinesSeen], LinesSeen | None],
    at_walls: Array | None = None,
) -> Rows:
    """Rows of segments from what they do to the elements themselves."""
    layers = [_back(s, x, targets, op.green) for s, x in zip(op.surfaces, seen[0], strict=True)]
    single = np.concatenate([x[0] for x in layers], axis=1)
    double = -np.concatenate([x[1] for x in layers], axis=1)
    middles = np.ascontiguousarray((targets.starts + targets.ends) / 2)
    of_lines = _lines(middles, np.zeros_like(middles), own, lines, op.green)[0]
    level = np.full(len(middles), -1.0)
    walls = seen[1]
    if op.walls is None or op.wall_inverse is None or walls is None:
        return Rows(single, double, of_lines, level)
    at = _back(op.walls, walls, targets, op.green)[1]
    through = at @ op.wall_inverse
    return Rows(
        single - through @ op.wall_single,
        double - through @ op.wall_double,
        of_lines - through @ (walls.potential if at_walls is None else at_walls),
        level + through.sum(axis=1),
    )


def _lines(
    points: Array, normals: Array, own: NDArray[np.int64], lines: Lines, g: Green
) -> tuple[Array, Array]:
    potential, slope = lines_at(
        points, normals, own, (lines.starts, lines.ends), lines.radius, g.size, g.table
    )
    return potential, slope


def _seen(surface: Surface, lines: Lines, g: Green) -> LinesSeen:
    own = np.zeros((len(surface), len(lines.radius)), dtype=np.int64)
    points = np.ascontiguousarray(surface.centres)
    normals = surface.elements.whole[:, 3:6] / surface.areas[:, None]
    return LinesSeen(*_lines(points, np.ascontiguousarray(normals), own, lines, g))


def _seen_kept(surface: Surface, lines: Lines, g: Green, kept: BlockCache) -> LinesSeen:
    """The same rod by rod, those kept that neither moved nor meet another surface."""
    parts = []
    for k in range(int(lines.rod[-1]) + 1):
        one = lines.chosen(lines.rod == k)
        key = ("seen", g.size.tobytes(), surface.digest, *lines.of_rod(k))
        parts.append(kept.get(key, partial(_seen, surface, one, g)))
    return LinesSeen(
        np.concatenate([p.potential for p in parts], axis=1),
        np.concatenate([p.slope for p in parts], axis=1),
    )


def _back(surface: Surface, seen: LinesSeen, targets: Lines, g: Green) -> tuple[Array, Array]:
    """S (p, n) [m] and D (p, n) [-] of a surface at segments, from the segments at the surface."""
    weight = surface.areas[:, None] / targets.lengths[None, :]
    single, double = (seen.potential * weight).T, (seen.slope * weight).T
    middles = np.ascontiguousarray((targets.starts + targets.ends) / 2)
    off = surface.centres[:, None] - middles[None]
    near = (off**2).sum(axis=2).min(axis=1) < _APART**2 * surface.elements.whole[:, 7]
    chosen = np.flatnonzero(near)
    if len(chosen):
        nowhere = np.full(len(middles), -1)
        elements = surface.elements.chosen(chosen)
        single[:, chosen], double[:, chosen] = layers_of(middles, nowhere, elements, g)
    return single, double


def _through_bores(surface: Surface, potential: Array, lines: Lines, g: Green) -> Array:
    """The potential less that inside the wall behind each element of a bore; see ``assemble``."""
    deep = np.flatnonzero(surface.wall > 0)
    if not len(deep):
        return potential
    inside = surface.centres[deep] - surface.normals[deep] * (surface.wall[deep] / 2)[:, None]
    own = np.zeros((len(deep), len(lines.radius)), dtype=np.int64)
    made = potential.copy()
    made[deep] -= _lines(np.ascontiguousarray(inside), np.zeros_like(inside), own, lines, g)[0]
    return made
