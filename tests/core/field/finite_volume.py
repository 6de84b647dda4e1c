"""A finite-volume check of the field that shares no code with the solver.

Cells of one size; boxes only, on cell borders. Lengths [m].
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.linalg import cg

Box = tuple[Sequence[float], Sequence[float]]


def solve(
    size: Sequence[float],
    part: Box,
    anodes: Sequence[Box],
    volts: float,
    films: tuple[float, float],
    sigma: float,
    h: float,
) -> dict[str, float]:
    """Current into each face of the part [A], by outward normal; films (anode, part) [ohm m2]."""
    shape = tuple(round(s / h) for s in size)
    kind = np.zeros(shape, dtype=int)
    kind[cells(part, h)] = 1
    for box in anodes:
        kind[cells(box, h)] = 2
    number = np.full(shape, -1)
    wet = kind == 0
    number[wet] = np.arange(wet.sum())
    rows, columns, values = [], [], []
    diagonal = np.zeros(int(wet.sum()))
    right = np.zeros(int(wet.sum()))
    faces: list[tuple[str, NDArray[np.int64], float]] = []
    inner = sigma * h
    for axis in range(3):
        for step in (1, -1):
            there = np.roll(kind, -step, axis)
            index = np.roll(number, -step, axis)
            border = [slice(None)] * 3
            border[axis] = slice(-1, None) if step == 1 else slice(0, 1)
            there[tuple(border)] = -1
            both = wet & (there == 0)
            rows.append(number[both])
            columns.append(index[both])
            values.append(np.full(int(both.sum()), -inner))
            diagonal[number[both]] += inner
            for metal, film, level in ((1, films[1], 0.0), (2, films[0], volts)):
                touching = number[wet & (there == metal)]
                g = h * h / (h / (2 * sigma) + film)
                np.add.at(diagonal, touching, g)
                np.add.at(right, touching, g * level)
                if metal == 1:
                    faces.append((f"{'-' if step == 1 else '+'}{'xyz'[axis]}", touching, g))
    n = len(diagonal)
    matrix = csr_matrix(
        (np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), (n, n)
    ) + csr_matrix((diagonal, (np.arange(n), np.arange(n))), (n, n))
    scale = csr_matrix((1 / diagonal, (np.arange(n), np.arange(n))), (n, n))
    phi, info = cg(matrix, right, rtol=1e-9, M=scale, maxiter=5000)
    assert info == 0
    return {name: float(g * phi[touching].sum()) for name, touching, g in faces}


def cells(box: Box, h: float) -> tuple[slice, ...]:
    return tuple(slice(round(a / h), round(b / h)) for a, b in zip(*box, strict=True))
