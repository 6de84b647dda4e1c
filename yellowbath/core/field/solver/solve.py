"""Currents in a bath from its surfaces: surfaces -> assemble -> system -> solve -> result.

Currents into electrodes, the potential of each and the liquid's level are found together; the sum
of all current is zero. Units SI. Validity: one conductivity; docs/models/field.md.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.assembly.assemble import BlockCache, Operator, operator
from yellowbath.core.field.assembly.displaced import displaced_loss
from yellowbath.core.field.assembly.lines import LineBlocks, Lines, line_blocks
from yellowbath.core.field.solver.bath import FieldBath
from yellowbath.core.field.solver.newton import with_overpotentials
from yellowbath.core.field.solver.system import LinearSystem, bordered, factored

Array = NDArray[np.float64]


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


def solve(
    bath: FieldBath, kept: BlockCache | None = None, displaced: float | None = None
) -> Solved:
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
    kept = kept or BlockCache(0)
    op = operator([b.surface for b in bath.bodies], bath.walls, bath.green, kept)
    lines = Lines.of(bath.rods, bath.segments)
    blocks = line_blocks(op, lines, kept) if bath.rods else None
    system = LinearSystem.of(bath, op, lines, blocks, kept)
    found = system.linear()
    if bath.kinetics is not None:
        key = (op.key, bath.conductivity, system.films.tobytes(), bath.kinetics, bath.rod_volts)
        found = with_overpotentials(bath.kinetics, system, found, kept, key)
    else:
        found = _one_way(bath, system, found)
    if displaced is None:
        displaced = 1.0 if blocks is None else _displaced(bath, op, lines, blocks, system, found)
    facets = len(system.films) + (len(bath.walls) if bath.walls else 0)
    return _read(bath, lines, found * displaced, facets, displaced)


_BLOCKED = 1e3  # ohm m2 of an element that nothing flows through
_ROUNDS = 6  # of closing what would run backwards; it ends when nothing does
_NOISE = 2e-3  # of a body's current: less than this running backwards is the mesh's own; judged


def _one_way(bath: FieldBath, system: LinearSystem, found: Array) -> Array:
    """Close elements whose current would run backwards: below the threshold none flows at all.

    A piece on a bad clip would else send current on to its neighbour through its far side. What
    little runs backwards in a bore or a wedge too narrow for the mesh is left as it is: to close
    it there leaves the rest without hold.
    """
    n = len(system.films)
    sign = np.where(system.scrap, -1.0, 1.0)
    areas = np.concatenate([b.surface.areas for b in bath.bodies])
    starts = np.cumsum([0, *(len(b.surface) for b in bath.bodies)])[:-1]
    films = system.films
    for _ in range(_ROUNDS):
        flow = sign * found[:n] * areas
        back, forth = (np.add.reduceat(np.maximum(f, 0.0), starts) for f in (-flow, flow))
        much = np.repeat(back > _NOISE * forth, [len(b.surface) for b in bath.bodies])
        least = 1e-6 * float(np.abs(found[:n]).max())
        backwards = much & (sign * found[:n] < -least) & (films < _BLOCKED)
        if not backwards.any():
            break
        films = np.where(backwards, _BLOCKED, films)
        below = system.below.copy()
        below[: len(system.spread), :n] += system.line_double * (films - system.films)
        factor = factored(system.double * films + system.single)
        found = bordered(factor, system.right, below, system.wanted)
    return found


def _displaced(
    bath: FieldBath,
    op: Operator,
    lines: Lines,
    blocks: LineBlocks,
    system: LinearSystem,
    found: Array,
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


def _read(bath: FieldBath, lines: Lines, unknown: Array, facets: int, displaced: float) -> Solved:
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
