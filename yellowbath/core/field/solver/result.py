"""What a solved bath says of one piece: currents, percentiles, patches, worst face; and how wrong.

Two meshes are solved, one half again as fine as the other. Their difference, taken with a cautious
order of convergence, is the error reported; a floor stands for what both meshes share (rods as
lines, polygons for circles).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from yellowbath.core.field.mesh.surfaces import Surface, join
from yellowbath.core.field.solver.bath import Body

Array = NDArray[np.float64]


@dataclass(frozen=True)
class PieceCurrent:
    """One mesh's figures for a piece: density [A/m2] over facets with areas [m2].

    ``covered`` (n): what is taped over, which is in no mean, percentile or patch.
    """

    surface: Surface
    density: Array
    covered: NDArray[np.bool_] | None = None

    @staticmethod
    def of(bodies: Sequence[Body], density: Mapping[str, Array]) -> PieceCurrent:
        """What flows into bodies, all in one."""
        surface = join([b.surface for b in bodies])
        return PieceCurrent(
            surface, np.concatenate([density[b.name] for b in bodies]), covered_of(bodies)
        )

    @property
    def current(self) -> float:
        """Current into the piece [A]."""
        return float(self.density @ self.surface.areas)

    @property
    def mean(self) -> float:
        """Area-weighted mean density [A/m2]."""
        return self.current / float(self.bare.sum())

    @cached_property
    def bare(self) -> Array:
        """Area of each facet that the liquid touches [m2]."""
        areas = self.surface.areas
        return areas if self.covered is None else np.where(self.covered, 0.0, areas)

    @property
    def ratio(self) -> Array:
        """Density over its mean [-]."""
        return self.density / self.mean

    @cached_property
    def parts(self) -> tuple[Array, Array]:
        """Density [A/m2] and area [m2] of up to four parts of every element (n, 4).

        Within an element the density is taken as linear, its slope from the neighbours on the same
        smooth face: towards an edge it rises within the element, which its mean does not show.
        """
        leaves = self.surface.leaves
        areas = leaves[..., 3]
        middle = (areas[..., None] * leaves[..., :3]).sum(axis=1) / areas.sum(axis=1)[:, None]
        slope = _slopes(middle, self.surface.normals, self.density)
        rise = np.einsum("nkx,nx->nk", leaves[..., :3] - middle[:, None], slope)
        # a trickle in a bore stays one: no part falls under half of its element's mean
        falls = np.max(-rise / np.maximum(np.abs(self.density), 1e-30)[:, None], axis=1)
        rise *= np.minimum(1.0, 0.5 / np.maximum(falls, 1e-9))[:, None]
        return self.density[:, None] + rise, areas

    @cached_property
    def sampled(self) -> tuple[Array, Array]:
        """Density [A/m2] and area [m2] of all parts, lowest density first."""
        density, areas = self.parts
        if self.covered is not None:
            areas = np.where(self.covered[:, None], 0.0, areas)
        density, areas = density.ravel(), areas.ravel()
        order = np.argsort(density)
        order = order[areas[order] > 0]
        return density[order], areas[order]

    def percentile(self, share: float) -> float:
        """Density [A/m2] under which this share of the area lies."""
        density, areas = self.sampled
        ranks = (np.cumsum(areas) - areas / 2) / areas.sum()
        return float(np.interp(share, ranks, density))

    def worst_patch(self, least: float = 0.02) -> float:
        """Lowest mean density [A/m2] over a connected patch of at least this share of the area.

        Patches are grown from each of the poorest facets by taking the poorest neighbour first,
        which finds the lowest one for a smooth density.
        """
        order = np.argsort(self.density)
        areas = self.bare
        order = order[areas[order] > 0]
        wanted = least * float(areas.sum())
        centres = self.surface.centres
        lowest = np.inf
        for seed in order[: max(1, len(order) // 40)]:
            reach = np.linalg.norm(centres - centres[seed], axis=1)
            same = self.surface.normals @ self.surface.normals[seed] > 0.5
            near = np.argsort(np.where(same, reach, np.inf))
            grown = np.cumsum(areas[near])
            count = int(np.searchsorted(grown, wanted)) + 1
            chosen = near[:count]
            lowest = min(lowest, float(self.density[chosen] @ areas[chosen] / areas[chosen].sum()))
        return lowest


_NEIGHBOURS = 8  # that a slope is laid through; judged
_SAME = 0.85  # cosine between normals of one smooth face


def _slopes(points: Array, normals: Array, density: Array) -> Array:
    """Slope of the density along the surface (n, 3) [A/m3], by least squares over neighbours."""
    count = min(_NEIGHBOURS + 1, len(points))
    distance, near = cKDTree(points).query(points, k=count)
    d = points[near] - points[:, None]
    along = d - (d * normals[:, None]).sum(axis=2)[..., None] * normals[:, None]
    same = (normals[near] * normals[:, None]).sum(axis=2) > _SAME
    weight = np.where(same & (distance > 0), 1 / np.maximum(distance, 1e-12) ** 2, 0.0)
    square = np.einsum("nk,nkx,nky->nxy", weight, along, along)
    right = np.einsum("nk,nkx,nk->nx", weight, along, density[near] - density[:, None])
    # a little of the size keeps the normal's direction, and lone elements, out of it
    size = np.maximum(np.trace(square, axis1=1, axis2=2), 1e-30)
    square += (0.02 * size)[:, None, None] * np.eye(3)
    slope: Array = np.linalg.solve(square, right[..., None])[..., 0]
    return slope


def covered_of(bodies: Sequence[Body]) -> NDArray[np.bool_] | None:
    """Which facets of bodies, one after the other, are taped over; None where none is."""
    if all(b.masked is None for b in bodies):
        return None
    none = [np.zeros(len(b.surface), dtype=bool) if b.masked is None else b.masked for b in bodies]
    return np.concatenate(none)


def patches(
    share: PieceCurrent, name_of: Callable[[Surface], list[str]]
) -> Mapping[str, tuple[float, float]]:
    """Area [m2] and current [A] by named patch."""
    names = np.array(name_of(share.surface))
    out = {}
    for name in dict.fromkeys(names.tolist()):
        chosen = names == name
        areas = share.surface.areas[chosen]
        out[name] = (float(areas.sum()), float(share.density[chosen] @ areas))
    return out
