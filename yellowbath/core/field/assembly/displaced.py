"""What it costs that rods take the place of liquid.

A line of current lets the field of everything else through; a rod behind its film bends it aside.
By first-order perturbation that takes 2 pi a2 s E2 (w - 1)/(w + 1) watts a metre: a the radius, s
the conductivity, w = film x s / a, E the field of all others across the rod (a cylinder in a
uniform field, elementary theory). It is a third of a percent for a thick rod near a wall. Units SI.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.assembly.assemble import Operator
from yellowbath.core.field.assembly.lines import Lines, rows_at
from yellowbath.core.field.mesh.surfaces import Rod

Array = NDArray[np.float64]
_PLACES = (0.25, 0.75)  # along a rod where the field about it is taken


def displaced_loss(
    op: Operator,
    rods: Sequence[Rod],
    lines: Lines,
    at_walls: Array | None,
    film: float,
    conductivity: float,
    solved: tuple[Array, Array, Array, float],
) -> float:
    """Watts that the rods' place costs, from a solution without it.

    ``solved``: potential [V] and density [A/m2] of the electrodes, line currents [A/m], level [V];
    ``film`` of the rods [ohm m2].
    """
    points, of_rod = _around(rods)
    rows = rows_at(op, points, lines, at_walls)
    phi, density, currents, level = solved
    at = -(
        rows.double @ phi
        + (rows.single @ density - rows.lines @ currents) / conductivity
        + rows.level * level
    )
    # opposite sides: a rod's own field is the same on both and falls out
    across = (at[::2] - at[1::2]) / (2 * np.array([rods[k].radius for k in of_rod]))
    lost = 0.0
    for k, rod in enumerate(rods):
        wagner = film * conductivity / rod.radius
        squared = 2 * float((across[of_rod == k] ** 2).mean())  # two ways across
        length = float(np.linalg.norm(rod.end - rod.start))
        bent = (wagner - 1) / (wagner + 1)
        lost += 2 * math.pi * rod.radius**2 * conductivity * squared * length * bent
    return lost


def _around(rods: Sequence[Rod]) -> tuple[Array, NDArray[np.int64]]:
    """Pairs of opposite points on rods, and the rod of each pair."""
    points, of_rod = [], []
    for k, rod in enumerate(rods):
        span = rod.end - rod.start
        for place in _PLACES if rod.cuts is None else (0.5,):
            for way in _two_across(span):
                middle = rod.start + place * span
                points += [middle + rod.radius * way, middle - rod.radius * way]
                of_rod.append(k)
    return np.array(points), np.array(of_rod, dtype=np.int64)


def _two_across(axis: Array) -> tuple[Array, Array]:
    """Two unit vectors across an axis and each other."""
    other = np.zeros(3)
    other[int(np.argmin(np.abs(axis)))] = 1.0
    one = _cross(axis, other)
    one /= math.sqrt(float(one @ one))
    two = _cross(axis, one)
    return one, two / math.sqrt(float(two @ two))


def _cross(a: Array, b: Array) -> Array:
    """The cross product of two vectors, a tenth of what the library's takes for any shape."""
    return np.array(
        [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
    )
