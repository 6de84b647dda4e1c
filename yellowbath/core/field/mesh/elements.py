"""Elements as the kernels take them: their flat pieces, the moments of these, and points that stand
for them. Lengths [m]."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Indices = NDArray[np.int64]


@dataclass(frozen=True)
class Elements:
    """A surface as the kernels take it; see ``kernels.elements_at`` for the arrays."""

    corners: Array
    flat: Array
    first: Indices
    whole: Array

    def chosen(self, index: Indices) -> Elements:
        """Some of the elements, in the order given."""
        count = np.diff(self.first)[index]
        first = np.concatenate([[0], np.cumsum(count)])
        pieces = np.repeat(self.first[index] - first[:-1], count) + np.arange(first[-1])
        return Elements(
            np.ascontiguousarray(self.corners[pieces]), self.flat[pieces],
            first, self.whole[index],
        )  # fmt: skip


def second_moments(off: Array, halves: Sequence[Array]) -> Array:
    """Of area about the middle of each flat piece (m, 3, 3) [m4].

    ``off`` (m, 4, 3): its corners from there; ``halves``: vector areas (m, 3) of its two triangles.
    """
    total = np.zeros((len(off), 3, 3))
    for half, three in zip(halves, ((0, 1, 2), (0, 2, 3)), strict=True):
        d = off[:, three]
        d = np.concatenate([d, d.sum(axis=1, keepdims=True)], axis=1)
        area = np.linalg.norm(half, axis=1)[:, None, None]
        total += area / 12 * np.einsum("mka,mkb->mab", d, d)
    return total


def folded(form: Array) -> Array:
    """Forms (n, 3, 3) as what their values take (n, 6): of xx, yy, zz, xy, xz, yz."""
    made = (form + form.transpose(0, 2, 1))[:, (0, 1, 2, 0, 0, 1), (0, 1, 2, 1, 2, 2)]
    made[:, :3] /= 2
    return made


def moments(
    first: Indices, off: Array, vectors: Array, areas: Array, second: Array
) -> tuple[Array, ...]:
    """Of elements of many flat pieces about their middles: second of the area (n, 6) [m4]; of the
    normals first (n, 6) [m3] and second (n, 10) [m4], as what their forms' values take (of xxx,
    yyy, zzz, xxy, xxz, xyy, yyz, xzz, yzz, xyz), and the second's traces (n, 3), twice that with
    the normal and once that without.

    ``first`` (n + 1): where each element's pieces start; ``off`` (m, 3): the middle of each from
    its element's; ``vectors``, ``areas`` and ``second`` of pieces, as ``second_moments``.
    """

    def summed(parts: Array) -> Array:
        added: Array = np.add.reduceat(parts, first[:-1], axis=0) if len(parts) else parts
        return added

    normals = vectors / areas[:, None]
    spread = second + areas[:, None, None] * off[:, :, None] * off[:, None, :]
    once = summed(vectors[:, :, None] * off[:, None, :])
    twice = summed(normals[:, :, None, None] * spread[:, None])
    of_cubes = np.zeros((len(twice), 10))
    for place in np.ndindex(3, 3, 3):
        of_cubes[:, _CUBES.index("".join("xyz"[k] for k in sorted(place)))] += twice[(..., *place)]
    traces = 2 * np.einsum("naac->nc", twice) + np.einsum("ncaa->nc", twice)
    return folded(summed(spread)), folded(once), of_cubes, traces


_CUBES = ("xxx", "yyy", "zzz", "xxy", "xxz", "xyy", "yyz", "xzz", "yzz", "xyz")


def gauss_points(corners: Array, areas: Array, vectors: Array) -> Array:
    """Equal-weight points of flat pieces: four of a quadrilateral, three of a triangle."""
    leaves = np.zeros((len(corners), 4, 7))
    quad = ((corners[:, 2] - corners[:, 3]) ** 2).sum(axis=1) > 1e-18
    low = 0.5 - 0.5 / math.sqrt(3.0)
    for k, (u, v) in enumerate(((low, low), (low, 1 - low), (1 - low, low), (1 - low, 1 - low))):
        weights = np.array([(1 - u) * (1 - v), u * (1 - v), u * v, (1 - u) * v])
        leaves[:, k, :3] = np.einsum("c,mcx->mx", weights, corners)
        if k < 3:
            inner = (corners[:, k] + corners[:, :3].mean(axis=1)) / 2
            leaves[~quad, k, :3] = inner[~quad]
        count = np.where(quad, 4, 3)
        leaves[:, k, 3] = areas / count
        leaves[:, k, 4:] = vectors / count[:, None]
    leaves[~quad, 3] = 0.0
    return leaves


def quarters(owner: Indices, middle: Array, areas: Array, centres: Array, vectors: Array) -> Array:
    """Up to four parts of each element, split across its two longest directions."""
    n = len(middle)
    off = centres - middle[owner]
    squares = areas[:, None, None] * off[:, :, None] * off[:, None, :]
    spread = np.add.reduceat(squares, np.flatnonzero(np.diff(owner, prepend=-1)), axis=0)
    axes = np.linalg.eigh(spread)[1][owner]
    side = np.einsum("mx,mxa->ma", off, axes[:, :, 1:]) > 0
    part = owner * 4 + side[:, 0] * 2 + side[:, 1]
    rows = np.concatenate([areas[:, None] * centres, areas[:, None], vectors], axis=1)
    sums = np.stack([np.bincount(part, r, 4 * n) for r in rows.T], axis=1).astype(float)
    sums[:, :3] /= np.maximum(sums[:, 3:4], 1e-30)
    leaves: Array = sums.reshape(n, 4, 7)
    return leaves
