"""A finite-volume check of the field that shares no code with the solver.

Cells of one size; boxes only, on cell borders. Lengths [m]. Linear films, or with overpotentials
b/ln(10) asinh(i/2 i0) met by repeated linearisation.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.linalg import cg

Box = tuple[Sequence[float], Sequence[float]]
Array = NDArray[np.float64]


@dataclass
class Face:
    """Cell faces of one electrode looking one way; ``density`` into the metal is renewed [A/m2]."""

    name: str
    metal: int
    cells: NDArray[np.int64]
    density: Array


def solve(
    size: Sequence[float],
    part: Box,
    anodes: Sequence[Box],
    volts: float,
    films: tuple[float, float],
    sigma: float,
    h: float,
    tafel: tuple[tuple[float, float], tuple[float, float]] | None = None,
) -> dict[str, float]:
    """Current into each face of the part [A], by outward normal.

    films: (anode, part) [ohm m2]; tafel: (slope [V], exchange [A/m2]) of (anode, part).
    """
    kind = np.zeros(tuple(round(s / h) for s in size), dtype=int)
    kind[cells(part, h)] = 1
    for box in anodes:
        kind[cells(box, h)] = 2
    liquid, faces = neighbours(kind, sigma * h)
    levels = {1: 0.0, 2: volts}
    film = {1: films[1], 2: films[0]}
    phi = np.zeros(liquid.shape[0])
    for _ in range(1 if tafel is None else 9):
        diagonal = np.zeros(liquid.shape[0])
        right = np.zeros(liquid.shape[0])
        parts = []
        for face in faces:
            eta, slope = overpotential(face, tafel)
            ohms = h / (2 * sigma) + film[face.metal] + slope
            level = levels[face.metal] + eta - slope * face.density
            np.add.at(diagonal, face.cells, h * h / ohms)
            np.add.at(right, face.cells, h * h / ohms * level)
            parts.append((face, ohms, level))
        n = np.arange(len(diagonal))
        matrix = liquid + csr_matrix((diagonal, (n, n)))
        scale = csr_matrix((1 / matrix.diagonal(), (n, n)))
        phi, info = cg(matrix, right, x0=phi, rtol=1e-9, M=scale, maxiter=5000)
        assert info == 0
        for face, ohms, level in parts:
            face.density = (phi[face.cells] - level) / ohms
    return {f.name: float(f.density.sum() * h * h) for f in faces if f.metal == 1}


def overpotential(
    face: Face, tafel: tuple[tuple[float, float], tuple[float, float]] | None
) -> tuple[Array, Array]:
    if tafel is None:
        none = np.zeros(len(face.cells))
        return none, none
    slope, exchange = tafel[0] if face.metal == 2 else tafel[1]
    b = slope / math.log(10)
    return b * np.arcsinh(face.density / (2 * exchange)), b / np.hypot(face.density, 2 * exchange)


def neighbours(kind: NDArray[np.int64], inner: float) -> tuple[csr_matrix, list[Face]]:
    """Conductances between liquid cells, and the faces of the metals."""
    wet = kind == 0
    number = np.full(kind.shape, -1)
    number[wet] = np.arange(wet.sum())
    n = int(wet.sum())
    rows, columns, values, faces = [], [], [], []
    diagonal = np.zeros(n)
    for axis in range(3):
        for step in (1, -1):
            there = np.roll(kind, -step, axis)
            border = [slice(None)] * 3
            border[axis] = slice(-1, None) if step == 1 else slice(0, 1)
            there[tuple(border)] = -1
            both = wet & (there == 0)
            rows.append(number[both])
            columns.append(np.roll(number, -step, axis)[both])
            values.append(np.full(int(both.sum()), -inner))
            diagonal[number[both]] += inner
            for metal in (1, 2):
                touching = number[wet & (there == metal)]
                name = f"{'-' if step == 1 else '+'}{'xyz'[axis]}"
                faces.append(Face(name, metal, touching, np.full(len(touching), 50.0)))
    for face in faces:
        face.density *= 1.0 if face.metal == 1 else -1.0
    at = (np.concatenate(rows), np.concatenate(columns))
    all_cells = np.arange(n)
    liquid = csr_matrix((np.concatenate(values), at), (n, n)) + csr_matrix(
        (diagonal, (all_cells, all_cells))
    )
    return liquid, faces


def cells(box: Box, h: float) -> tuple[slice, ...]:
    return tuple(slice(round(a / h), round(b / h)) for a, b in zip(*box, strict=True))
