"""The overpotentials of the kinetic model, added to a linear solution by Newton's method."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.errors import NoConvergenceError
from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.solver.bath import Kinetics
from yellowbath.core.field.solver.system import LinearSystem, bordered, factored, solved_by

Array = NDArray[np.float64]

_TOLERANCE = 1e-9  # change of any current in a step, of the largest
_STEPS = 40  # a bound; it ends when it has settled


@dataclass(frozen=True)
class _Tangent:
    """Slope of the overpotential on each element [ohm m2], and the elements' block with it."""

    at: Array
    slope: Array
    factor: tuple[Array, Array]


def with_overpotentials(
    kinetics: Kinetics,
    system: LinearSystem,
    start: Array,
    kept: BlockCache,
    key: tuple[object, ...],
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


def _factor(system: LinearSystem, slope: Array) -> tuple[Array, Array]:
    return factored(system.double * (system.films + slope) + system.single)


def _newton(
    kinetics: Kinetics, system: LinearSystem, start: Array, tangent: _Tangent | None = None
) -> Array:
    """Newton's method, by the elements' own tangent at each step or by one that is given."""
    n, m = len(system.films), len(system.spread)
    ends, is_rod = np.arange(m), np.ones(m, dtype=bool)
    at, rods_at = start[:n] if tangent is None else tangent.at, start[n : n + m] * system.spread
    right = None if tangent is None else solved_by(tangent.factor, system.right)
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
        unknown = bordered(factor, system.right, below, wanted, right)
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
