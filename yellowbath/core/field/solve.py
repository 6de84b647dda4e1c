"""Potential and current in a bath: surfaces, assembled, solved, as current on every facet.

Direct boundary elements with constant facets. The tank stands in an insulated box whose Green
function takes floor, surface and, for a box, the walls exactly; other walls are facets without
current. Rods are lines with current spread evenly round them. Green's identity at the centre of
facet i, with n out of the liquid and current i positive into an electrode:

  phi_i/2 + sum_j D_ij phi_j + (1/s) sum_j S_ij i_j - (1/s) sum_k H_ik q_k = c

with phi = V + r i + eta(i) on an electrode, i = 0 on a wall, and sum of current zero. eta is zero
in the linear model, and (b/ln 10) asinh(i/2 i0) in the kinetic one, solved by Newton. Units SI.
A facet of a bore is compared with a point inside its own wall, which hides what is outside from it.
Validity: one conductivity; see docs/models/field.md.
"""

from __future__ import annotations

import hashlib
import math
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve

from yellowbath.core.errors import NoAnswerError, NoConvergenceError
from yellowbath.core.field.green import BoxGreen
from yellowbath.core.field.kernels import elements_at, lines_at
from yellowbath.core.field.surfaces import Elements, Rod, Surface

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Body:
    """An electrode of facets: a piece or a plate. Volts [V] behind its film [ohm m2]."""

    name: str
    surface: Surface
    volts: float
    film: float


@dataclass(frozen=True)
class Kinetics:
    """Overpotentials of piece and scrap: Tafel slopes [V a decade], exchange densities [A/m2].

    eta = (b/ln 10) asinh(i / 2 i0): Tafel far from equilibrium, straight through zero, so that a
    bore with next to no current does no harm.
    """

    piece_slope: float
    piece_exchange: float
    scrap_slope: float
    scrap_exchange: float

    def eta(self, density: Array, scrap: NDArray[np.bool_]) -> tuple[Array, Array]:
        """Overpotential [V] and its derivative [ohm m2] at densities [A/m2], odd in them."""
        b = np.where(scrap, self.scrap_slope, self.piece_slope) / math.log(10)
        i0 = 2 * np.where(scrap, self.scrap_exchange, self.piece_exchange)
        return b * np.arcsinh(density / i0), b / np.hypot(density, i0)


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
    kinetics: Kinetics | None = None


@dataclass(frozen=True)
class Solved:
    """Current density into each facet of each body [A/m2], and out of each rod [A]."""

    density: dict[str, Array]
    rod_current: dict[str, float]
    rod_density: dict[str, Array]
    facets: int


def solve(bath: Bath, kept: Kept | None = None) -> Solved:
    """Current everywhere; ``kept`` lends and takes what only facets and tank decide.

    Raises NoAnswerError where there is no electrode in the liquid.
    """
    if not bath.bodies or not (bath.rods or len(bath.bodies) > 1):
        raise NoAnswerError(
            "No current can flow: the piece or the scrap stands out of the liquid.",
            remedy="Put in more water, hang the piece lower, or take a deeper tank.",
        )
    lines = _Lines.of(bath.rods, bath.segments)
    system = assemble(bath, lines, kept or Kept(0))
    unknown = lu_solve(lu_factor(system.matrix), system.right)
    if bath.kinetics is not None:
        unknown = _newton(bath, bath.kinetics, lines, system, unknown)
    return _read(bath, lines, unknown)


_TOLERANCE = 1e-9  # change of any current in a step, of the largest
_STEPS = 40


def _newton(bath: Bath, kinetics: Kinetics, lines: _Lines, system: System, start: Array) -> Array:
    """Add the overpotentials to a linear solution; raises NoConvergenceError after 40 steps."""
    n, m = system.layer.shape[1], len(lines.radius)
    f = len(system.right) - m - 1
    scrap = np.concatenate([np.full(len(b.surface), b.volts > 0) for b in bath.bodies])
    ends = np.arange(f, f + m)
    spread = lines.lengths / lines.area
    is_rod = np.ones(m, dtype=bool)
    at, rods_at = start[:n], start[f:-1] * spread
    change = math.inf
    for _ in range(_STEPS):
        eta, slope = kinetics.eta(at, scrap)
        rod_eta, rod_slope = kinetics.eta(rods_at, is_rod)
        matrix = system.matrix.copy()
        matrix[:-1, :n] += system.layer * slope
        matrix[ends, ends] -= rod_slope * spread
        left = system.right.copy()
        left[:-1] -= system.layer @ (eta - slope * at)
        left[ends] += rod_eta - rod_slope * rods_at
        unknown: Array = lu_solve(lu_factor(matrix, overwrite_a=True), left)
        density = unknown[f:-1] * spread
        change = np.abs(unknown[:n] - at).max() / np.abs(unknown[:n]).max()
        if change < _TOLERANCE:
            return unknown
        at, rods_at = _toward(at, unknown[:n]), _toward(rods_at, density)
    raise NoConvergenceError(
        f"The overpotentials did not settle in {_STEPS} steps; the last changed {change:.1e}.",
        remedy="Use more volts, or the linear model.",
    )


def _toward(old: Array, new: Array) -> Array:
    """The next point to linearise at: a current that would change sign shrinks tenfold instead."""
    return np.where(old * new > 0, new, 0.1 * old)


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
class Facets:
    """What facets do to one another in a tank: layers S [m] and D [-], (n, n); bores told apart.

    ``points`` (n, 3) are where each row looks from; a bore row also looks from inside its wall.
    """

    single: Array
    double: Array
    points: Array
    deep: NDArray[np.int64]
    inside: Array
    elements: Elements


class Kept:
    """A bounded store of :class:`Facets` by content: a moved rod does not assemble the piece."""

    def __init__(self, room: int = 12) -> None:
        self._room = room
        self._held: OrderedDict[bytes, Facets] = OrderedDict()

    def facets(
        self, electrodes: Sequence[Surface], walls: Surface | None, green: BoxGreen
    ) -> Facets:
        """The blocks for these surfaces, made where they are not held."""
        surfaces = [*electrodes, *([] if walls is None else [walls])]
        digest = hashlib.sha256(green.size.tobytes())
        for surface in surfaces:
            digest.update(surface.corners.tobytes())
            digest.update(surface.centres.tobytes())
            digest.update(surface.wall.tobytes())
        key = digest.digest()
        if key not in self._held:
            self._held[key] = _facets(surfaces, len(electrodes), green)
            while len(self._held) > max(self._room, 1):
                self._held.popitem(last=False)
        self._held.move_to_end(key)
        return self._held[key]


def layers_of(points: Array, own: Array, e: Elements, green: BoxGreen) -> tuple[Array, Array]:
    """Single and double layer of elements at points: see ``kernels.elements_at``."""
    single, double = elements_at(
        points, own, (e.corners, e.flat), e.leaves, (e.first, e.whole), green.size, green.table
    )
    return single, double


def _facets(surfaces: Sequence[Surface], electrodes: int, green: BoxGreen) -> Facets:
    n = sum(len(s) for s in surfaces[:electrodes])
    elements = Elements.joined([s.elements for s in surfaces])
    points = np.ascontiguousarray(np.concatenate([s.centres for s in surfaces]))
    at = np.cumsum([0, *(len(s.corners) for s in surfaces)])
    seats = [
        (np.arange(len(s)) if s.seats is None else s.seats) + k
        for s, k in zip(surfaces, at, strict=False)
    ]
    single, double = layers_of(points, np.concatenate(seats), elements, green)
    deep = np.flatnonzero(np.concatenate([s.wall > 0 for s in surfaces[:electrodes]]))
    inside = np.ascontiguousarray(_inside_metal(surfaces[:electrodes])[deep])
    if len(deep):
        s_in, d_in = layers_of(inside, np.full(len(deep), -1), elements, green)
        single[deep] -= s_in
        double[deep] -= d_in
    double[:, :n] *= -1  # a body's own normal points into the liquid
    double[np.arange(len(points)), np.arange(len(points))] += 0.5
    return Facets(single, double, points, deep, inside, elements)


@dataclass(frozen=True)
class System:
    """The dense system: facet currents (bodies), facet potentials (walls), line currents and c."""

    matrix: Array
    right: Array
    layer: Array


def assemble(bath: Bath, lines: _Lines, kept: Kept) -> System:
    """Put facets and lines together into one system."""
    surfaces = [b.surface for b in bath.bodies]
    film = np.concatenate([np.full(len(b.surface), b.film) for b in bath.bodies])
    volts = np.concatenate([np.full(len(b.surface), b.volts) for b in bath.bodies])
    g, s = bath.green, bath.conductivity
    facets = kept.facets(surfaces, bath.walls, g)
    n, f, m = len(film), len(facets.points), len(lines.radius)
    axis = np.ascontiguousarray((lines.starts + lines.ends) / 2)
    s_axis, d_axis = layers_of(axis, np.full(m, -1), facets.elements, g)
    d_axis[:, :n] *= -1

    matrix = np.zeros((f + m + 1, f + m + 1))
    for rows, single, layer in (
        (slice(0, f), facets.single, facets.double),
        (slice(f, f + m), s_axis, d_axis),
    ):
        matrix[rows, :n] = layer[:, :n] * film + single[:, :n] / s
        matrix[rows, n:f] = layer[:, n:]
    matrix[:-1, f:-1] = -_line_block(facets, axis, lines, g) / s
    matrix[:-1, -1] = -1.0
    matrix[facets.deep, -1] = 0.0
    right = np.zeros(f + m + 1)
    right[:f] = -facets.double[:, :n] @ volts
    right[f:-1] = -d_axis[:, :n] @ volts - bath.rod_volts
    ends = np.arange(f, f + m)
    matrix[ends, ends] -= bath.rod_film * lines.lengths / lines.area
    matrix[-1, :n] = np.concatenate([s.areas for s in surfaces])
    matrix[-1, f:-1] = -lines.lengths
    layers = np.concatenate([facets.double[:, :n], d_axis[:, :n]])
    return System(matrix, right, layers)


def _line_block(facets: Facets, axis: Array, lines: _Lines, g: BoxGreen) -> Array:
    """Potential of unit line currents at facets and on the rods' own surfaces (f + m, m) [-]."""
    f, m = len(facets.points), len(lines.radius)
    points = np.ascontiguousarray(np.concatenate([facets.points, axis]))
    same = np.zeros((f + m, m), dtype=np.int64)
    same[f:] = lines.rod[:, None] == lines.rod[None, :]
    made: Array = lines_at(points, same, lines.starts, lines.ends, lines.radius, g.size, g.table)
    if len(facets.deep):
        other = np.zeros((len(facets.deep), m), dtype=np.int64)
        made[facets.deep] -= lines_at(
            facets.inside, other, lines.starts, lines.ends, lines.radius, g.size, g.table
        )
    return made


def _inside_metal(surfaces: Sequence[Surface]) -> Array:
    """Points half a wall behind each facet (n, 3) [m]."""
    points: Array = np.concatenate(
        [s.centres - s.normals * (s.wall / 2)[:, None] for s in surfaces]
    )
    return points


def _read(bath: Bath, lines: _Lines, unknown: Array) -> Solved:
    density, at = {}, 0
    for body in bath.bodies:
        count = len(body.surface)
        density[body.name] = unknown[at : at + count]
        at += count
    walls = 0 if bath.walls is None else len(bath.walls)
    q = unknown[at + walls : -1]
    current = q * lines.lengths
    names = [r.name for r in bath.rods]
    return Solved(
        density=density,
        rod_current={n: float(current[lines.rod == k].sum()) for k, n in enumerate(names)},
        rod_density={n: (current / lines.area)[lines.rod == k] for k, n in enumerate(names)},
        facets=at + walls,
    )
