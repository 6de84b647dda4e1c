"""What a solved bath says of one piece: currents, percentiles, patches, worst face; and how wrong.

Two meshes are solved, one half again as fine as the other. Their difference, taken with a cautious
order of convergence, is the error reported; a floor stands for what both meshes share (rods as
lines, polygons for circles).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.surfaces import Surface

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Share:
    """One mesh's figures for a piece: density [A/m2] over facets with areas [m2]."""

    surface: Surface
    density: Array

    @property
    def current(self) -> float:
        """Current into the piece [A]."""
        return float(self.density @ self.surface.areas)

    @property
    def mean(self) -> float:
        """Area-weighted mean density [A/m2]."""
        return self.current / float(self.surface.areas.sum())

    def percentile(self, share: float) -> float:
        """Density [A/m2] under which this share of the area lies."""
        order = np.argsort(self.density)
        areas = self.surface.areas[order]
        ranks = (np.cumsum(areas) - areas / 2) / areas.sum()
        return float(np.interp(share, ranks, self.density[order]))

    def worst_patch(self, least: float = 0.02) -> float:
        """Lowest mean density [A/m2] over a connected patch of at least this share of the area.

        Patches are grown from each of the poorest facets by taking the poorest neighbour first,
        which finds the lowest one for a smooth density.
        """
        order = np.argsort(self.density)
        areas = self.surface.areas
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


def patches(
    share: Share, name_of: Callable[[Surface], list[str]]
) -> Mapping[str, tuple[float, float]]:
    """Area [m2] and current [A] by named patch."""
    names = np.array(name_of(share.surface))
    out = {}
    for name in dict.fromkeys(names.tolist()):
        chosen = names == name
        areas = share.surface.areas[chosen]
        out[name] = (float(areas.sum()), float(share.density[chosen] @ areas))
    return out
