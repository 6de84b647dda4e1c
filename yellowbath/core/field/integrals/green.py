"""Green functions of an insulated box, and of the space between insulated floor and surface.

G(x, y) is the sum over the eight sign patterns s of P(s x - y), where P is the zero-mean periodic
Green function of a cell twice the box. P is split into its nearest source 1/(4 pi r), integrated
exactly by the kernels, and a smooth rest, tabulated here with its gradient by Ewald summation.
Lengths [m]; P in [1/m]. Source: P. P. Ewald, Ann. Phys. 369 (1921) (from memory).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import erf

from yellowbath.core.field.integrals.kernels import NEAR

Array = NDArray[np.float64]
GRID = 33  # points an axis, from 0 to the box's own length
_CUT = 4.2  # exp(-cut^2) is what both sums leave out


@dataclass(frozen=True)
class Green:
    """Tables of the smooth rest on (0..L) in each axis: value [1/m], gradient [1/m2] and the second
    derivatives [1/m3].

    In a box ``table`` has shape (GRID, GRID, GRID, 10), the last six xx, yy, zz, xy, xz, yz; P is
    even in each axis. Between floor and surface ``size`` is (reach, -1, depth), ``table``
    (across, 1, up, 10) by distance and height, what is of y all zero.
    ``near``: within how many element sizes integrals are exact.
    """

    size: Array
    table: Array
    near: float = NEAR

    @property
    def name(self) -> tuple[bytes, float]:
        """By which what is worked out with it is kept."""
        return self.size.tobytes(), self.near


def box_green(size: tuple[float, float, float]) -> Green:
    """Tabulate the rest for a box of inside length, width and depth [m]; about 10 ms."""
    lengths = np.array(size)
    cell = 2 * lengths
    # then no source but the nearest one counts in the box itself
    alpha = 2 * _CUT / float(cell.min())
    axes = [np.linspace(0.0, length, GRID) for length in lengths]
    table = _reciprocal(axes, cell, alpha)
    table += _nearest(np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1), alpha)
    table[..., 0] -= 1 / (4 * alpha**2 * float(np.prod(cell)))
    return Green(lengths, _with_second(table, lengths))


def _with_second(table: Array, lengths: Array) -> Array:
    """A table with its second derivatives, by differences of the gradient: those of the rest are
    small, and what they are off by is of a higher order than what is left out after them."""
    steps = lengths / np.maximum(np.array(table.shape[:-1]) - 1, 1)

    def slope(of: int, along: int) -> Array:
        """How one part of the gradient rises along an axis; the rest is even about nought."""
        part = table[..., 1 + of]
        if part.shape[along] == 1:
            return np.zeros(part.shape)
        mirrored = part.take([1], axis=along) * (-1 if of == along else 1)
        both = np.concatenate([mirrored, part], axis=along)
        made: Array = np.gradient(both, steps[along], axis=along, edge_order=2)
        return made.take(range(1, both.shape[along]), axis=along)

    pairs = ((0, 0), (1, 1), (2, 2), (0, 1), (0, 2), (1, 2))
    second = [(slope(a, b) + slope(b, a)) / 2 for a, b in pairs]
    return np.ascontiguousarray(np.concatenate([table, np.stack(second, axis=-1)], axis=-1))


def _nearest(d: Array, alpha: float) -> Array:
    """The screened nearest source less itself: -erf(alpha r)/(4 pi r)."""
    r = np.maximum(np.sqrt((d**2).sum(axis=-1)), 1e-9)
    gauss = 2 * alpha / math.sqrt(math.pi) * np.exp(-((alpha * r) ** 2))
    value = -erf(alpha * r) / r
    slope = np.where(r < 1e-6, 0.0, -(value + gauss) / r)
    value = np.where(r < 1e-6, -2 * alpha / math.sqrt(math.pi), value)
    gradient = (slope / r)[..., None] * d
    return np.concatenate([value[..., None], gradient], axis=-1) / (4 * math.pi)


def _reciprocal(axes: list[Array], cell: Array, alpha: float) -> Array:
    """Sum over wave vectors, as three contractions of cosines and sines."""
    waves = [
        2 * math.pi / c * np.arange(0, math.ceil(_CUT * alpha * c / math.pi) + 1) for c in cell
    ]
    kx, ky, kz = np.meshgrid(*waves, indexing="ij")
    k2 = kx**2 + ky**2 + kz**2
    k2[0, 0, 0] = 1.0
    weight = np.exp(-k2 / (4 * alpha**2)) / k2 / float(np.prod(cell))
    weight[0, 0, 0] = 0.0
    for axis in range(3):
        doubled = [slice(None)] * 3
        doubled[axis] = slice(1, None)
        weight[tuple(doubled)] *= 2
    cos = [np.cos(np.outer(a, w)) for a, w in zip(axes, waves, strict=True)]
    sin = [-np.sin(np.outer(a, w)) * w for a, w in zip(axes, waves, strict=True)]
    parts = [cos, [sin[0], cos[1], cos[2]], [cos[0], sin[1], cos[2]], [cos[0], cos[1], sin[2]]]
    return np.stack(
        [np.einsum("abc,xa,yb,zc->xyz", weight, *p, optimize=True) for p in parts], axis=-1
    )


_IMAGES = 200  # a side, then the tail by its integral


def slab_green(reach: float, depth: float) -> Green:
    """Tabulate the rest between floor and surface, for points up to ``reach`` [m] apart.

    The images stand over one another every two depths; each pair is taken less 1/(their distance)
    so that the sum converges, and its tail past 200 by its leading term. The constant this leaves
    out does not matter: currents sum to zero.
    """
    count = 4 * (GRID - 1)
    across = np.linspace(0.0, reach, min(max(count, math.ceil(reach / depth * 32)), 400) + 1)
    up = np.linspace(0.0, depth, GRID)
    rho, z = np.meshgrid(across, up, indexing="ij")
    table = np.zeros((*rho.shape, 4))
    for n in [*range(1, _IMAGES + 1), *range(-_IMAGES, 0)]:
        d = z - 2 * n * depth
        r = np.sqrt(rho**2 + d**2)
        table[..., 0] += 1 / r - 1 / (2 * abs(n) * depth)
        table[..., 1] -= rho / r**3
        table[..., 3] -= d / r**3
    tail = 1 / (8 * depth**3 * _IMAGES**2)  # 2 sum of 1/(2 n depth)^3 / 2, by its integral
    table[..., 0] += (2 * z**2 - rho**2) / 2 * tail
    table[..., 1] -= rho * tail
    table[..., 3] += 2 * z * tail
    table /= 4 * math.pi
    size = np.array([reach, -1.0, depth])
    return Green(size, _with_second(table[:, None], size))
