"""The equations of a bath: element currents, line currents, potentials and the liquid's level.

The elements' own block is factorised and kept; rods, leads and level border it. Units SI.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve

from yellowbath.core.field.assembly.assemble import BlockCache, Operator
from yellowbath.core.field.assembly.lines import LineBlocks, Lines
from yellowbath.core.field.solver.bath import FieldBath

Array = NDArray[np.float64]


def factored(matrix: Array) -> tuple[Array, Array]:
    """Its factors, the matrix's own room taken for them; nothing looks for what is not finite."""
    # of the transpose, since the routine works on columns and would copy rows
    made: tuple[Array, Array] = lu_factor(matrix.T, overwrite_a=True, check_finite=False)
    return made


def solved_by(factor: tuple[Array, Array], right: Array) -> Array:
    """What a ``factored`` matrix takes to a right side."""
    made: Array = lu_solve(factor, right, trans=1, check_finite=False)
    return made


@dataclass(frozen=True)
class LinearSystem:
    """A bath's equations with the elements' own block factorised.

    Unknowns after the element currents (n): line currents (m), electrode potentials (k), level c.
    ``right`` (n, rest) and ``below`` (rest, n + rest) couple them; ``wanted`` is the right side;
    ``through`` is the factor's answer to ``right``, kept by rod.
    """

    single: Array
    double: Array
    films: Array
    scrap: NDArray[np.bool_]
    factor: tuple[Array, Array]
    right: Array
    through: Array
    below: Array
    line_double: Array
    spread: Array
    wanted: Array

    @staticmethod
    def of(
        bath: FieldBath, op: Operator, lines: Lines, blocks: LineBlocks | None, kept: BlockCache
    ) -> LinearSystem:
        """Put volts, films, leads and conductivity to an operator and its rods."""
        s, m = bath.conductivity, len(lines.radius)
        films = np.concatenate([b.films for b in bath.bodies])
        hung = bath.hung
        n, bodies = len(films), len(bath.bodies)
        k = bodies + (int(hung.max()) + 1 if len(hung) else 0)
        owner = np.repeat(np.arange(bodies), [len(b.surface) for b in bath.bodies])
        single = kept.get(("single", op.key, s), lambda: op.single / s)
        factor = kept.get(
            ("factor", op.key, s, films.tobytes()), lambda: factored(op.double * films + single)
        )
        of_body = (owner[:, None] == np.arange(k)).astype(float)
        of_rod = (hung[lines.rod][:, None] + bodies == np.arange(k)).astype(float)
        spread = lines.lengths / lines.area if m else np.zeros(0)
        right = np.zeros((n, m + k + 1))
        below = np.zeros((m + k + 1, n + m + k + 1))
        right[:, m : m + k], right[:, -1] = op.double @ of_body, op.level
        line_double = np.zeros((m, n))
        if blocks is not None:
            right[:, :m] = -blocks.at_elements / s
            axes = blocks.axes
            line_double = axes.double
            below[:m, :n] = line_double * films + axes.single / s
            below[:m, n : n + m] = -axes.lines / s
            # current leaves a rod: its surface lies below its metal by the film
            below[np.arange(m), n + np.arange(m)] -= bath.rod_film * spread
            below[:m, n + m : n + m + k] = line_double @ of_body + of_rod
            below[:m, -1] = axes.level
        areas = np.concatenate([b.surface.areas for b in bath.bodies])
        leads = np.zeros(k)
        leads[:bodies] = [b.lead for b in bath.bodies]
        if bath.rod_leads:
            leads[bodies + hung] = bath.rod_leads
        potentials = slice(m, m + k)
        below[potentials, :n] = -leads[:, None] * (of_body * areas[:, None]).T
        below[potentials, n : n + m] = leads[:, None] * (of_rod * lines.lengths[:, None]).T
        below[potentials, n + m : n + m + k] = np.eye(k)
        below[-1, :n], below[-1, n : n + m] = areas, -lines.lengths
        wanted = np.zeros(n + m + k + 1)
        wanted[n + m : n + m + k] = [
            *(b.volts for b in bath.bodies),
            *[bath.rod_volts] * (k - bodies),
        ]
        through = [
            kept.get(
                ("through", op.key, s, films.tobytes(), lines.of_rod(k)),
                partial(solved_by, factor, right[:, :m][:, lines.rod == k]),
            )
            for k in range(int(lines.rod[-1]) + 1 if m else 0)
        ]
        through.append(solved_by(factor, right[:, m:]))
        scrap = np.repeat([b.volts > 0 for b in bath.bodies], [len(b.surface) for b in bath.bodies])
        return LinearSystem(
            single,
            op.double,
            films,
            scrap,
            factor,
            right,
            np.concatenate(through, axis=1),
            below,
            line_double,
            spread,
            wanted,
        )

    def linear(self) -> Array:
        """Solve by the factor of the elements' block and the small rest."""
        return bordered(self.factor, self.right, self.below, self.wanted, self.through)


def bordered(
    factor: tuple[Array, Array],
    right: Array,
    below: Array,
    wanted: Array,
    through: Array | None = None,
) -> Array:
    """Solve [[A, B], [C, D]] x = w with A factorised; ``through`` is A^-1 B where it is known."""
    n = right.shape[0]
    if through is None:
        solved = solved_by(factor, np.column_stack([right, wanted[:n]]))
    else:
        of_wanted = solved_by(factor, wanted[:n]) if wanted[:n].any() else np.zeros(n)
        solved = np.column_stack([through, of_wanted])
    rest = np.linalg.solve(
        below[:, n:] - below[:, :n] @ solved[:, :-1], wanted[n:] - below[:, :n] @ solved[:, -1]
    )
    return np.concatenate([solved[:, -1] - solved[:, :-1] @ rest, rest])
