"""Potential and current in a bath: surfaces, assembled, solved, as current on every facet.

Direct boundary elements with constant facets. The tank stands in an insulated box whose Green
function takes floor, surface and, for a box, the walls exactly; other walls are facets without
current. Rods are lines with current spread evenly round them. Green's identity at the centre of facet i, with n out
of the liquid and current i positive into an electrode:

  phi_i/2 + sum_j D_ij phi_j + (1/s) sum_j S_ij i_j - (1/s) sum_k H_ik q_k = c

with phi = V + r i on an electrode, i = 0 on a wall, and sum of current zero. Units SI.
A facet of a bore is compared with a point inside its own wall, which hides what is outside from it.
Validity: one conductivity, linear films; see docs/models/field.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve

from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.green import BoxGreen
from yellowbath.core.field.kernels import facets_at, lines_at
from yellowbath.core.field.surfaces import Rod, Surface

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Body:
    """An electrode of facets: a piece or a plate. Volts [V] behind its film [ohm m2]."""

    name: str
    surface: Surface
    volts: float
    film: float


@dataclass(frozen=True)
class Bath:
    """What is solved: bodies, rods at ``rod_volts`` [V], walls, conductivity [S/m]."""

    green: BoxGreen
    bodies: Sequence[Body]
    rods: Sequence[Rod]
    rod_volts: float
    rod_film: float
    walls: Surface | None
    conductivity: float
    segments: int = 14


@dataclass(frozen=True)
class Solved:
    """Current density into each facet of each body [A/m2], and out of each rod [A].

    ``imbalance`` is the current lost between electrodes before it is spread, relative [-].
    """

    density: dict[str, Array]
    rod_current: dict[str, float]
    rod_density: dict[str, Array]
    facets: int


def solve(bath: Bath) -> Solved:
    """Current everywhere. Raises NoAnswerError where there is no electrode in the liquid."""
    if not bath.bodies or not (bath.rods or len(bath.bodies) > 1):
        raise NoAnswerError(
            "No current can flow: the piece or the scrap stands out of the liquid.",
            remedy="Put in more water, hang the piece lower, or take a deeper tank.",
        )
    lines = _Lines.of(bath.rods, bath.segments)
    system = assemble(bath, lines)
    unknown = lu_solve(lu_factor(system.matrix, overwrite_a=True), system.right)
    return _read(bath, lines, system, unknown)


@dataclass(frozen=True)
class _Lines:
    """All rods cut into segments: ends (m, 3), radius, wet area [m2] and rod of each."""

    starts: Array
    ends: Array
    radius: Array
    area: Array
    rod: NDArray[np.int64]

    @property
    def lengths(self) -> Array:
        lengths: Array = np.linalg.norm(self.ends - self.starts, axis=1)
        return lengths

    @staticmethod
    def of(rods: Sequence[Rod], segments: int) -> _Lines:
        starts, ends, radius, area, owner = [], [], [], [], []
        for k, rod in enumerate(rods):
            cuts = _cuts(rod, segments)
            span = rod.end - rod.start
            length = float(np.linalg.norm(span))
            for a, b in pairwise(cuts):
                starts.append(rod.start + a * span)
                ends.append(rod.start + b * span)
                radius.append(rod.radius)
                area.append(2 * math.pi * rod.radius * (b - a) * length)
                owner.append(k)
            disc = math.pi * rod.radius**2
            if rod.capped[0]:
                area[-len(cuts) + 1] += disc
            if rod.capped[1]:
                area[-1] += disc
        return _Lines(
            np.array(starts).reshape(-1, 3),
            np.array(ends).reshape(-1, 3),
            np.array(radius),
            np.array(area),
            np.array(owner, dtype=np.int64),
        )


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
class System:
    """The dense system and where its parts stand."""

    matrix: Array
    right: Array
    electrode_areas: Array


def assemble(bath: Bath, lines: _Lines) -> System:
    """The system for facet currents (bodies), facet potentials (walls), line currents and c."""
    surfaces = [b.surface for b in bath.bodies]
    electrode = np.concatenate([s.corners for s in surfaces])
    film = np.concatenate([np.full(len(b.surface.corners), b.film) for b in bath.bodies])
    volts = np.concatenate([np.full(len(b.surface.corners), b.volts) for b in bath.bodies])
    areas = np.concatenate([s.areas for s in surfaces])
    walls = bath.walls.corners if bath.walls is not None else np.zeros((0, 4, 3))
    corners = np.ascontiguousarray(np.concatenate([electrode, walls]))
    centres = np.concatenate([s.centres for s in surfaces])
    if bath.walls is not None:
        centres = np.concatenate([centres, bath.walls.centres])
    n, w, m = len(electrode), len(walls), len(lines.radius)
    axis = np.ascontiguousarray((lines.starts + lines.ends) / 2)
    points = np.ascontiguousarray(np.concatenate([centres, axis]))
    own = np.concatenate([np.arange(n + w), np.full(m, -1)])
    g = bath.green
    single, double = facets_at(points, own, corners, g.size, g.table)
    double[:, :n] *= -1  # a body's own normal points into the liquid
    same = np.zeros((n + w + m, m), dtype=np.int64)
    same[n + w :] = lines.rod[:, None] == lines.rod[None, :]
    line = lines_at(points, same, lines.starts, lines.ends, lines.radius, g.size, g.table)

    deep = np.flatnonzero(np.concatenate([s.wall > 0 for s in surfaces]))
    if len(deep):
        inside = _inside_metal(surfaces)[deep]
        none = np.full(len(deep), -1)
        s_in, d_in = facets_at(inside, none, corners, g.size, g.table)
        d_in[:, :n] *= -1
        other = np.zeros((len(deep), m), dtype=np.int64)
        single[deep] -= s_in
        double[deep] -= d_in
        line[deep] -= lines_at(
            inside, other, lines.starts, lines.ends, lines.radius, g.size, g.table
        )
    constant = np.ones(n + w + m)
    constant[deep] = 0.0
    half = np.zeros((n + w + m, n + w))
    half[np.arange(n + w), np.arange(n + w)] = 0.5
    layer = double + half
    matrix = np.zeros((n + w + m + 1, n + w + m + 1))
    s = bath.conductivity
    matrix[:-1, :n] = layer[:, :n] * film + single[:, :n] / s
    matrix[:-1, n : n + w] = layer[:, n:]
    matrix[:-1, n + w : -1] = -line / s
    matrix[:-1, -1] = -constant
    right = np.zeros(n + w + m + 1)
    right[:-1] = -layer[:, :n] @ volts
    rows = np.arange(n + w, n + w + m)
    matrix[rows, rows] -= bath.rod_film * lines.lengths / lines.area
    right[rows] -= bath.rod_volts
    matrix[-1, :n] = areas
    matrix[-1, n + w : -1] = -lines.lengths
    return System(matrix, right, areas)


def _inside_metal(surfaces: Sequence[Surface]) -> Array:
    """Points half a wall behind each facet (n, 3) [m]."""
    points: Array = np.concatenate(
        [s.centres - s.normals * (s.wall / 2)[:, None] for s in surfaces]
    )
    return points


def _read(bath: Bath, lines: _Lines, system: System, unknown: Array) -> Solved:
    density, at = {}, 0
    for body in bath.bodies:
        count = len(body.surface.corners)
        density[body.name] = unknown[at : at + count]
        at += count
    walls = 0 if bath.walls is None else len(bath.walls.corners)
    q = unknown[at + walls : -1]
    current = q * lines.lengths
    names = [r.name for r in bath.rods]
    return Solved(
        density=density,
        rod_current={n: float(current[lines.rod == k].sum()) for k, n in enumerate(names)},
        rod_density={n: (current / lines.area)[lines.rod == k] for k, n in enumerate(names)},
        facets=at + walls,
    )
