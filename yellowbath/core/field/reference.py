"""One reference mesh a piece, in its own coordinates: what every pose and mesh reports on.

A bath is solved on whatever mesh suits its pose; the density is then carried to the reference
facets, part by part from the nearest part that looks the same way, and scaled so that the current
is the same. Dose, rust grade and paint live on the reference facets. Lengths [m].
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from yellowbath.core.document import Piece, Shape
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.grouping import cut, grouped
from yellowbath.core.field.result import Share
from yellowbath.core.field.sight import BORE, RECESS, openness
from yellowbath.core.field.solids import solid
from yellowbath.core.field.surfaces import Surface, clip_polygons, moved, split_areas

Array = NDArray[np.float64]

FACETS = 200
_NEAR = 8  # parts looked at for the nearest that looks the same way
_SAME = 0.5  # cosine between normals that counts as the same way


@dataclass(frozen=True)
class Reference:
    """Facets of a piece in its own axes, and their name, a hash of what they are made of."""

    name: str
    surface: Surface
    triangles: Array

    @cached_property
    def kinds(self) -> tuple[str, ...]:
        """Outer, recess or bore for each facet, by how much of its sky the piece leaves open."""
        found = openness(self.triangles, self.surface.centres, self.surface.normals)
        names = np.where(found < BORE, "bore", np.where(found < RECESS, "recess", "outer"))
        return tuple(str(n) for n in names)


@dataclass(frozen=True)
class Carried:
    """Density [A/m2] on the wet part of each reference facet, and how much of it is wet [-]."""

    density: Array
    wet: Array


def reference(piece: Piece) -> Reference:
    """The reference mesh of a piece; equal shapes share one."""
    return _reference(piece.shape.model_dump_json(), type(piece.shape))


@lru_cache(maxsize=48)
def _reference(text: str, kind: type[Shape]) -> Reference:
    body = solid(kind.model_validate_json(text))
    surface = grouped(cut(body.vertices, body.faces, FACETS), FACETS)[0]
    held = hashlib.sha256(np.round(surface.corners, 9).tobytes())
    held.update(np.diff(surface.first).tobytes() if surface.first is not None else b"")
    return Reference(held.hexdigest()[:16], surface, body.vertices[body.faces])


def carry(ref: Reference, turn: Array, shift: Array, depth: float, share: Share) -> Carried:
    """Density on the reference facets, the piece turned (3, 3) and shifted (3) in the liquid.

    The current is that of ``share`` to rounding. Raises NoAnswerError where no facet is wet.
    """
    surface = moved(ref.surface, turn, shift)
    wet = wetted_areas(surface, depth)
    if wet.sum() <= 0:
        raise NoAnswerError("Nothing of the piece is in the liquid.")
    points, normals, areas = _parts(surface)
    owner = np.repeat(np.arange(len(surface)), 4)
    under = (areas > 0) & (points[:, 2] < depth)
    found = np.zeros(len(points))
    found[under] = _nearest(points[under], normals[under], share)
    weight = np.where(under, areas, 0.0)
    total = np.bincount(owner, weight, len(surface))
    density = np.bincount(owner, weight * found, len(surface)) / np.maximum(total, 1e-30)
    current = float(density @ wet)
    # what differs is the cut of two meshes; a piece without current has nothing to scale
    scale = share.current / current if current != 0 else 0.0
    return Carried(density * scale, np.minimum(wet / surface.areas, 1.0))


def wetted_areas(surface: Surface, depth: float) -> Array:
    """Area of each facet under the surface [m2]."""
    if float(surface.corners[..., 2].max()) <= depth:
        return surface.areas
    first = np.arange(len(surface) + 1) if surface.first is None else surface.first
    owner = np.repeat(np.arange(len(surface)), np.diff(first))
    if float(surface.corners[..., 2].min()) >= depth:
        return np.zeros(len(surface))
    corners, index = clip_polygons(surface.corners, depth)
    made: Array = np.bincount(owner[index], split_areas(corners)[0], len(surface)).astype(float)
    return made


def _parts(surface: Surface) -> tuple[Array, Array, Array]:
    """Points, unit normals and areas of the parts of every element."""
    leaves = surface.elements.leaves.reshape(-1, 7)
    length = np.maximum(np.linalg.norm(leaves[:, 4:], axis=1), 1e-30)
    return leaves[:, :3], leaves[:, 4:] / length[:, None], leaves[:, 3]


def _nearest(points: Array, normals: Array, share: Share) -> Array:
    """Density of the nearest part that looks the same way, else of the nearest."""
    at, facing, areas = _parts(share.surface)
    some = areas > 0
    at, facing, density = at[some], facing[some], share.parts[0].ravel()[some]
    near = cKDTree(at).query(points, k=min(_NEAR, len(at)))[1].reshape(len(points), -1)
    same = (facing[near] * normals[:, None]).sum(axis=2) > _SAME
    chosen = np.where(same.any(axis=1), same.argmax(axis=1), 0)
    picked: Array = density[near[np.arange(len(near)), chosen]]
    return picked
