"""A bath with more rods than will hang in it: any choice of them solved from one factorisation.

What is factored is the pieces, bodies and walls; a choice then costs a small system of its own.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.field.assembly.assemble import BlockCache, operator
from yellowbath.core.field.assembly.lines import Lines, line_blocks
from yellowbath.core.field.mesh.surfaces import join
from yellowbath.core.field.solver.bath import FieldBath
from yellowbath.core.field.solver.result import PieceCurrent, covered_of
from yellowbath.core.field.solver.system import LinearSystem

Array = NDArray[np.float64]


class RodChoices:
    """Every choice of a bath's rods; its first ``pieces`` bodies are the pieces."""

    def __init__(self, bath: FieldBath, pieces: int, segments: int, kept: BlockCache) -> None:
        op = operator([b.surface for b in bath.bodies], bath.walls, bath.green, kept)
        lines = Lines.of(list(bath.rods), segments)
        system = LinearSystem.of(bath, op, lines, line_blocks(op, lines, kept), kept)
        n = len(system.films)
        self._through = system.through
        self._small = system.below[:, n:] - system.below[:, :n] @ self._through
        self._wanted = system.wanted[n:]
        self._lines, self._bodies, self._hung = lines, len(bath.bodies), bath.hung
        self._surface = join([b.surface for b in bath.bodies[:pieces]])
        self._covered = covered_of(bath.bodies[:pieces])
        self.areas: Array = self._surface.areas

    @cached_property
    def _rows(self) -> list[NDArray[np.intp]]:
        return [np.flatnonzero(self._lines.rod == k) for k in range(int(self._lines.rod.max()) + 1)]

    def density(self, rods: Sequence[int]) -> Array:
        """Density into each element of the pieces [A/m2] at one volt, with these rods alone."""
        m = len(self._lines.radius)
        chosen = np.concatenate(
            [*(self._rows[r] for r in rods), m + np.arange(self._bodies),
             m + self._bodies + np.unique(self._hung[list(rods)]), [len(self._wanted) - 1]]
        ).astype(np.int64)  # fmt: skip
        rest = np.linalg.solve(self._small[np.ix_(chosen, chosen)], self._wanted[chosen])
        found: Array = -(self._through[:, chosen] @ rest)[: len(self.areas)]
        kept: Array = np.maximum(found, 0.0)
        return kept

    def spread(self, density: Array) -> tuple[Array, Array]:
        """Density over its mean, lowest first, and the share of the area below each [-]."""
        share = PieceCurrent(self._surface, density, self._covered)
        total, wet = float(density @ self.areas), float(share.bare.sum())
        sampled, areas = share.sampled
        return sampled * wet / total, (np.cumsum(areas) - areas / 2) / wet
