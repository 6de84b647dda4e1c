"""Currents in a bath from its surfaces: the linear and the kinetic boundary model.

On an electrode phi = V + r i + eta(i), with V its own metal's potential behind its film r [ohm m2];
V is the terminal's less what its lead drops: V - R I = terminal, I positive into the electrode.
eta is zero in the linear model and (b/ln 10) asinh(i/2 i0) in the kinetic one, solved by Newton.
Currents into electrodes, the potential V of each and the liquid's level c are found together; the
sum of all current is zero. Units SI. Validity: one conductivity; docs/models/field.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve

from yellowbath.core.errors import NoAnswerError, NoConvergenceError
from yellowbath.core.field.assemble import Kept, Operator, operator
from yellowbath.core.field.displaced import displaced_loss
from yellowbath.core.field.green import Green
from yellowbath.core.field.lines import LineBlocks, Lines, line_blocks
from yellowbath.core.field.surfaces import Rod, Surface

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Body:
    """An electrode of elements: a piece or a plate.

    ``volts`` [V] of the terminal behind its lead [ohm]; film [ohm m2]; ``masked`` (n): painted or
    taped, so that no current passes.
    """

    name: str
    surface: Surface
    volts: float
    film: float
    lead: float = 0.0
    masked: NDArray[np.bool_] | None = None

    @property
    def films(self) -> Array:
        """Film of each element [ohm m2]."""
        films = np.full(len(self.surface), self.film)
        if self.masked is not None:
            films[self.masked] = _MASK
        return films


_MASK = 1e3  # ohm m2 of paint or tape: lets through a millionth


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
    """What is solved: bodies, rods at ``rod_volts`` [V], walls, conductivity [S/m].

    ``rod_leads`` [ohm], one a rod, or none; rods of one name hang on one lead.
    """

    green: Green
    bodies: Sequence[Body]
    rods: Sequence[Rod]
    rod_volts: float
    rod_film: float
    walls: Surface | None
    conductivity: float
    segments: int = 14
    kinetics: Kinetics | None = None
    rod_leads: Sequence[float] = ()

    @property
    def hung(self) -> NDArray[np.int64]:
        """Which lead each rod hangs on: rods of one name share theirs."""
        names = list(dict.fromkeys(r.name for r in self.rods))
        return np.array([names.index(r.name) for r in self.rods], dtype=np.int64)


@dataclass(frozen=True)
class Solved:
    """Current density into each element of each body [A/m2], and out of each rod [A].

    ``rod_loss``: what rods lose in a film of one ohm m2 [W]; ``displaced``: see ``solve``.
    """

    density: dict[str, Array]
    rod_current: dict[str, float]
    rod_density: dict[str, Array]
    rod_loss: float
    facets: int
    displaced: float


def solve(bath: Bath, kept: Kept | None = None, displaced: float | None = None) -> Solved:
    """Current everywhere; ``kept`` lends and takes what only shapes and tank decide.

    ``displaced`` is another mesh's answer to how much of the current the rods' place leaves [-].
    Raises NoAnswerError where there is no electrode in the liquid, NoConvergenceError where the
    overpotentials do not settle.
    """
    if not bath.bodies or not (bath.rods or len(bath.bodies) > 1):
        raise NoAnswerError(
            "No current can flow: the piece or the scrap stands out of the liquid.",
            remedy="Put in more water, hang the piece lower, or take a deeper tank.",
        )
    kept = kept or Kept(0)
    op = operator([b.surface for b in bath.bodies], bath.walls, bath.green, kept)
    lines = Lines.of(bath.rods, bath.segments)
    blocks = line_blocks(op, lines) if bath.rods else None
    system = System.of(bath, op, lines, blocks, kept)
    found = system.linear()
    if bath.kinetics is not None:
        key = (op.key, bath.conductivity, system.films.tobytes(), bath.kinetics, bath.rod_volts)
        found = _kinetic(bath.kinetics, system, found, kept, key)
    else:
        found = _one_way(system, found)
    if displaced is None:
        displaced = 1.0 if blocks is None else _displaced(bath, op, lines, blocks, system, found)
    facets = len(system.films) + (len(bath.walls) if bath.walls else 0)
    return _read(bath, lines, found * displaced, facets, displaced)


@dataclass(frozen=True)
class System:
    """A bath's equations with the elements' own block factorised.

    Unknowns after the element currents (n): line currents (m), electrode potentials (k), level c.
    ``right`` (n, rest) and ``below`` (rest, n + rest) couple them; ``wanted`` is the right side.
    """

    single: Array
    double: Array
    films: Array
    scrap: NDArray[np.bool_]
    factor: tuple[Array, Array]
    right: Array
    below: Array
    line_double: Array
    spread: Array
    wanted: Array

    @staticmethod
    def of(bath: Bath, op: Operator, lines: Lines, blocks: LineBlocks | None, kept: Kept) -> System:
        """Put volts, films, leads and conductivity to an operator and its rods."""
        s, m = bath.conductivity, len(lines.radius)
        films = np.concatenate([b.films for b in bath.bodies])
        hung = bath.hung
        n, bodies = len(films), len(bath.bodies)
        k = bodies + (int(hung.max()) + 1 if len(hung) else 0)
        owner = np.repeat(np.arange(bodies), [len(b.surface) for b in bath.bodies])
        single = op.single / s
        factor = kept.get(
            ("factor", op.key, s, films.tobytes()), lambda: lu_factor(op.double * films + single)
        )
        of_body = (owner[:, None] == np.arange(k)).astype(float)
        of_rod = (hung[lines.rod][:, None] + bodies == np.arange(k)).astype(float)
        spread = lines.lengths / lines.area if m else np.zeros(0)
        right = np.zeros((n, m + k + 1))
        below = np.zeros((m + k + 1, n + m + k + 1))
        right[:, m : m + k], right[:, -1] = op.double @ of_body, op.level
        line_double = np.zeros((m, n))
        if blocks is not None:
            right[:, :m] = -blocks.at_elements / s
            axes = blocks.axes
            line_double = axes.double
            below[:m, :n] = line_double * films + axes.single / s
            below[:m, n : n + m] = -axes.lines / s
            # current leaves a rod: its surface lies below its metal by the film
            below[np.arange(m), n + np.arange(m)] -= bath.rod_film * spread
            below[:m, n + m : n + m + k] = line_double @ of_body + of_rod
            below[:m, -1] = axes.level
        areas = np.concatenate([b.surface.areas for b in bath.bodies])
        leads = np.zeros(k)
        leads[:bodies] = [b.lead for b in bath.bodies]
        if bath.rod_leads:
            leads[bodies + hung] = bath.rod_leads
        potentials = slice(m, m + k)
        below[potentials, :n] = -leads[:, None] * (of_body * areas[:, None]).T
        below[potentials, n : n + m] = leads[:, None] * (of_rod * lines.lengths[:, None]).T
        below[potentials, n + m : n + m + k] = np.eye(k)
        below[-1, :n], below[-1, n : n + m] = areas, -lines.lengths
        wanted = np.zeros(n + m + k + 1)
        wanted[n + m : n + m + k] = [
            *(b.volts for b in bath.bodies),
            *[bath.rod_volts] * (k - bodies),
        ]
        scrap = np.repeat([b.volts > 0 for b in bath.bodies], [len(b.surface) for b in bath.bodies])
        return System(
            single, op.double, films, scrap, factor, right, below, line_double, spread, wanted
        )

    def linear(self) -> Array:
        """Solve by the factor of the elements' block and the small rest."""
        return _bordered(self.factor, self.right, self.below, self.wanted)


def _bordered(
    factor: tuple[Array, Array],
    right: Array,
    below: Array,
    wanted: Array,
    through: Array | None = None,
) -> Array:
    """Solve [[A, B], [C, D]] x = w with A factorised; ``through`` is A^-1 B where it is known."""
    n = right.shape[0]
    if through is None:
        solved = lu_solve(factor, np.column_stack([right, wanted[:n]]))
    else:
        solved = np.column_stack([through, lu_solve(factor, wanted[:n])])
    rest = np.linalg.solve(
        below[:, n:] - below[:, :n] @ solved[:, :-1], wanted[n:] - below[:, :n] @ solved[:, -1]
    )
    return np.concatenate([solved[:, -1] - solved[:, :-1] @ rest, rest])


_BLOCKED = 1e3  # ohm m2 of an element that nothing flows through
_ROUNDS = 6


def _one_way(system: System, found: Array) -> Array:
    """Close elements whose current would run backwards: below the threshold none flows at all.

    A piece on a bad clip would else send current on to its neighbour through its far side.
    """
    n = len(system.films)
    sign = np.where(system.scrap, -1.0, 1.0)
    films, least = system.films, 1e-6 * float(np.abs(found[:n]).max())
    for _ in range(_ROUNDS):
        backwards = (sign * found[:n] < -least) & (films < _BLOCKED)
        if not backwards.any():
            break
        films = np.where(backwards, _BLOCKED, films)
        below = system.below.copy()
        below[: len(system.spread), :n] += system.line_double * (films - system.films)
        factor = lu_factor(system.double * films + system.single, overwrite_a=True)
        found = _bordered(factor, system.right, below, system.wanted)
    return found


_TOLERANCE = 1e-9  # change of any current in a step, of the largest
_STEPS = 40


@dataclass(frozen=True)
class _Tangent:
    """Slope of the overpotential on each element [ohm m2], and the elements' block with it."""

    at: Array
    slope: Array
    factor: tuple[Array, Array]


def _kinetic(
    kinetics: Kinetics, system: System, start: Array, kept: Kept, key: tuple[object, ...]
) -> Array:
    """Add the overpotentials to a linear solution.

    A bath whose rods moved a little begins at the tangent that was kept; where that does not
    settle, each step takes its own. Raises NoConvergenceError after 40 of those.
    """

    def first() -> _Tangent:
        at = _newton(kinetics, system, start)[: len(system.films)]
        slope = kinetics.eta(at, system.scrap)[1]
        return _Tangent(at, slope, _factor(system, slope))

    tangent = kept.get(("tangent", *key), first)
    try:
        return _newton(kinetics, system, start, tangent)
    except NoConvergenceError:
        return _newton(kinetics, system, start)


def _factor(system: System, slope: Array) -> tuple[Array, Array]:
    made: tuple[Array, Array] = lu_factor(
        system.double * (system.films + slope) + system.single, overwrite_a=True
    )
    return made


def _newton(
    kinetics: Kinetics, system: System, start: Array, tangent: _Tangent | None = None
) -> Array:
    """Newton's method, by the elements' own tangent at each step or by one that is given."""
    n, m = len(system.films), len(system.spread)
    ends, is_rod = np.arange(m), np.ones(m, dtype=bool)
    at, rods_at = start[:n] if tangent is None else tangent.at, start[n : n + m] * system.spread
    right = None if tangent is None else lu_solve(tangent.factor, system.right)
    change = math.inf
    for _ in range(_STEPS):
        eta, slope = kinetics.eta(at, system.scrap)
        slope = slope if tangent is None else tangent.slope
        rod_eta, rod_slope = kinetics.eta(rods_at, is_rod)
        below, wanted = system.below.copy(), system.wanted.copy()
        below[:m, :n] += system.line_double * slope
        below[ends, n + ends] -= rod_slope * system.spread
        wanted[:n] -= system.double @ (eta - slope * at)
        wanted[n : n + m] -= system.line_double @ (eta - slope * at)
        wanted[n + ends] += rod_eta - rod_slope * rods_at
        factor = _factor(system, slope) if tangent is None else tangent.factor
        unknown = _bordered(factor, system.right, below, wanted, right)
        density = unknown[n : n + m] * system.spread
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


def _displaced(
    bath: Bath, op: Operator, lines: Lines, blocks: LineBlocks, system: System, found: Array
) -> float:
    """What is left of all currents [-], since rods take the place of liquid."""
    n, m = len(system.films), len(lines.radius)
    bodies = np.repeat(np.arange(len(bath.bodies)), [len(b.surface) for b in bath.bodies])
    phi = found[n + m : n + m + len(bath.bodies)][bodies] + system.films * found[:n]
    if bath.kinetics is not None:
        phi = phi + bath.kinetics.eta(found[:n], system.scrap)[0]
    solved = (phi, found[:n], found[n : n + m], float(found[-1]))
    lost = displaced_loss(
        op, bath.rods, lines, blocks.at_walls, bath.rod_film, bath.conductivity, solved
    )
    areas = np.concatenate([b.surface.areas for b in bath.bodies])
    power = float(found[:n][~system.scrap] @ areas[~system.scrap]) * abs(bath.rod_volts)
    return 1 / (1 + lost / power) if power > 0 else 1.0


def _read(bath: Bath, lines: Lines, unknown: Array, facets: int, displaced: float) -> Solved:
    density, at = {}, 0
    for body in bath.bodies:
        density[body.name] = unknown[at : at + len(body.surface)]
        at += len(body.surface)
    current = unknown[at : at + len(lines.radius)] * lines.lengths
    rods: dict[str, float] = {}
    rod_density: dict[str, list[Array]] = {}
    for k, rod in enumerate(bath.rods):  # a ring is several rods of one name
        own = lines.rod == k
        rods[rod.name] = rods.get(rod.name, 0.0) + float(current[own].sum())
        rod_density.setdefault(rod.name, []).append((current / lines.area)[own])
    loss = float((current**2 / lines.area).sum())
    by_rod = {n: np.concatenate(d) for n, d in rod_density.items()}
    return Solved(density, rods, by_rod, loss, facets, displaced)
