"""One reference mesh a piece, in its own coordinates: what every pose and mesh reports on.

A bath is solved on whatever mesh suits its pose; the density is then carried to the reference
facets, part by part from the nearest part that looks the same way, and scaled so that the current
is the same. Dose, rust grade and paint live on the reference facets. Lengths [m].
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from yellowbath.core.document import Piece, Shape
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.kept import kept
from yellowbath.core.field.mesh.flush import Wall, bare_parts
from yellowbath.core.field.mesh.grouping import cut, grouped
from yellowbath.core.field.mesh.solids import solid
from yellowbath.core.field.mesh.surfaces import Surface, clip_polygons, moved, split_areas
from yellowbath.core.field.sight import BORE, RECESS, openness
from yellowbath.core.field.solver.result import PieceCurrent

Array = NDArray[np.float64]

FACETS = 200  # of a kept piece
_NEAR = 8  # parts looked at for the nearest that looks the same way
_SAME = 0.5  # cosine between normals that counts as the same way


@dataclass(frozen=True)
class Reference:
    """Facets of a piece in its own axes, and their name, a hash of what they are made of."""

    name: str
    surface: Surface
    triangles: Array

    @cached_property
    def open_sky(self) -> Array:
        """Share of its sky that the piece itself leaves open, by facet [-]."""
        return openness(self.triangles, self.surface.centres, self.surface.normals)

    @cached_property
    def kinds(self) -> tuple[str, ...]:
        """Outer, recess or bore for each facet, by how much of its sky the piece leaves open."""
        found = self.open_sky
        names = np.where(found < BORE, "bore", np.where(found < RECESS, "recess", "outer"))
        return tuple(str(n) for n in names)


@dataclass(frozen=True)
class Carrier:
    """The way from one working mesh to the reference facets.

    ``source`` (p): the working mesh's part that each wet reference part takes its density from,
    ``facet`` (p) and ``area`` (p) [m2] of those; ``wet`` (n) area of each facet [m2].
    """

    source: NDArray[np.int64]
    facet: NDArray[np.int64]
    area: Array
    wet: Array

    def carry(self, share: PieceCurrent) -> Array:
        """Density [A/m2] on the wet part of each facet; the current is the mesh's, to rounding."""
        taken = self.area * share.parts[0].ravel()[self.source]
        total = np.bincount(self.facet, self.area, len(self.wet))
        density = np.bincount(self.facet, taken, len(self.wet)) / np.maximum(total, 1e-30)
        current = float(density @ self.wet)
        # what differs is the cut of two meshes; a piece without current has nothing to scale
        scaled: Array = density * (share.current / current if current != 0 else 0.0)
        return scaled


def reference(piece: Piece) -> Reference:
    """The reference mesh of a piece; equal shapes share one."""
    return _reference(piece.shape.model_dump_json(), type(piece.shape))


@kept(12_000_000)
def _reference(text: str, kind: type[Shape]) -> Reference:
    body = solid(kind.model_validate_json(text))
    surface = grouped(cut(body.vertices, body.faces, FACETS), FACETS)[0]
    held = hashlib.sha256(np.round(surface.corners, 9).tobytes())
    held.update(np.diff(surface.first).tobytes() if surface.first is not None else b"")
    return Reference(held.hexdigest()[:16], surface, body.vertices[body.faces])


@dataclass(frozen=True)
class Hung:
    """A piece's reference facets where it hangs, and the area of each that is bare to liquid."""

    ref: Reference
    surface: Surface
    wet: Array


def hung(
    refs: Sequence[Reference], poses: Sequence[tuple[Array, Array]], depth: float,
    walls: Sequence[Wall],
) -> list[Hung]:  # fmt: skip
    """Reference facets of all pieces, each turned (3, 3) and shifted (3) [m].

    What is above the liquid, on an insulating plane or on another piece is not bare.
    """
    surfaces = [moved(r.surface, *p) for r, p in zip(refs, poses, strict=True)]
    return [
        Hung(r, s, _wetted(s, depth, walls, [o for o in surfaces if o is not s]))
        for r, s in zip(refs, surfaces, strict=True)
    ]


def carrier(piece: Hung, depth: float, working: Surface, kept: BlockCache) -> Carrier:
    """The way to a piece's reference facets where it hangs.

    Raises NoAnswerError where no facet is wet.
    """
    place = (piece.surface.centres[0].tobytes(), piece.surface.centres[-1].tobytes(), depth)
    key = ("carrier", piece.ref.name, *place, piece.wet.tobytes(), working.corners.tobytes())
    return kept.get(key, lambda: _carrier(piece, depth, working))


def _carrier(piece: Hung, depth: float, working: Surface) -> Carrier:
    if piece.wet.sum() <= 0:
        raise NoAnswerError("Nothing of the piece is in the liquid.")
    points, normals, areas = _parts(piece.surface)
    bare = piece.wet[np.arange(len(areas)) // 4] > 0
    some = (areas > 0) & bare
    deep = some & (points[:, 2] < depth)
    under = np.flatnonzero(deep if deep.any() else some)  # a sliver may have its middle above
    source = _nearest(points[under], normals[under], working)
    return Carrier(source, under // 4, areas[under], piece.wet)


def _wetted(
    surface: Surface, depth: float, walls: Sequence[Wall], others: Sequence[Surface]
) -> Array:
    """Area of each facet that is under the surface and bare [m2]."""
    if float(surface.corners[..., 2].min()) >= depth:
        return np.zeros(len(surface))
    corners, index = bare_parts(surface, walls, others)
    if len(corners) == len(surface.corners) and float(corners[..., 2].max()) <= depth:
        return surface.areas
    corners, kept = clip_polygons(corners, depth)
    made: Array = np.bincount(index[kept], split_areas(corners)[0], len(surface)).astype(float)
    return made


def _parts(surface: Surface) -> tuple[Array, Array, Array]:
    """Points, unit normals and areas of the parts of every element."""
    leaves = surface.leaves.reshape(-1, 7)
    length = np.maximum(np.linalg.norm(leaves[:, 4:], axis=1), 1e-30)
    return leaves[:, :3], leaves[:, 4:] / length[:, None], leaves[:, 3]


def _nearest(points: Array, normals: Array, working: Surface) -> NDArray[np.int64]:
    """The working mesh's nearest part that looks the same way, else the nearest."""
    at, facing, areas = _parts(working)
    some = np.flatnonzero(areas > 0)
    near = cKDTree(at[some]).query(points, k=min(_NEAR, len(some)))[1].reshape(len(points), -1)
    same = (facing[some][near] * normals[:, None]).sum(axis=2) > _SAME
    chosen = np.where(same.any(axis=1), same.argmax(axis=1), 0)
    picked: NDArray[np.int64] = some[near[np.arange(len(near)), chosen]]
    return picked
