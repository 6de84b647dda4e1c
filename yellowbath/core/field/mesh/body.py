"""A closed body of triangles, apart from what mends meshes: that takes half a second to import."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Indices = NDArray[np.int64]


@dataclass(frozen=True)
class MeshBody:
    """A closed body: vertices (n, 3) [m], faces (m, 3) outward, what was mended, areas [m2].

    ``area_given`` is what the file has after cleaning, ``area`` what the working mesh has.
    """

    vertices: Array
    faces: Indices
    notes: tuple[str, ...]
    area_given: float
    area: float
    volume: float

    def moved(self, turn: Array, shift: Array) -> MeshBody:
        """The same body turned (3, 3) and then shifted (3) [m]."""
        return MeshBody(
            self.vertices @ turn.T + shift, self.faces, self.notes, self.area_given, self.area,
            self.volume,
        )  # fmt: skip
