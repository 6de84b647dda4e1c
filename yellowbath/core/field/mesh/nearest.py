"""The inner loop of gathering flat pieces into groups. Lengths [m]."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.integrals.kernels import compiled

Array = NDArray[np.float64]
Indices = NDArray[np.int64]


@compiled
def nearest_seed(
    pieces: tuple[Array, Array, Indices, Array, Array], size: float, turn_scale: float,
    place: Array, look: Array, seed_part: Indices,
) -> Indices:  # fmt: skip
    """The nearest seed of its smooth part for each piece (m), by the piece's own metric.

    ``pieces``: centres (m, 3), normals (m, 3), part (m), the nearest sharp edge's direction (m, 3),
    width across it (m); ``size`` is the length along it [m], ``turn_scale`` [rad] a turn's worth.
    """
    centres, normals, part, along, across = pieces
    owner = np.zeros(centres.shape[0], dtype=np.int64)
    for i in range(centres.shape[0]):
        best = 1e300
        tx, ty, tz = along[i, 0], along[i, 1], along[i, 2]
        wide, long = 1 / across[i] ** 2, 1 / size**2
        for k in range(place.shape[0]):
            if seed_part[k] != part[i]:
                continue
            dx = centres[i, 0] - place[k, 0]
            dy = centres[i, 1] - place[k, 1]
            dz = centres[i, 2] - place[k, 2]
            t = dx * tx + dy * ty + dz * tz
            d = (dx * dx + dy * dy + dz * dz - t * t) * wide + t * t * long
            if d < best:
                turn = 2.0 - 2.0 * (
                    normals[i, 0] * look[k, 0]
                    + normals[i, 1] * look[k, 1]
                    + normals[i, 2] * look[k, 2]
                )
                d += turn / turn_scale**2
                if d < best:
                    best = d
                    owner[i] = k
    return owner
