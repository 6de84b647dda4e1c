"""What of a surface the liquid does not reach: faces on a wall, the floor, the surface or a body.

A face that lies on an insulating plane would meet its own image and count twice; one that lies on
another body of the same polarity passes nothing. Both are taken off, those covered in part are
clipped. Lengths [m].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from manifold3d import CrossSection, FillRule, triangulate
from numpy.typing import NDArray

from yellowbath.core.field.mesh.grouping import seated
from yellowbath.core.field.mesh.surfaces import LEAST, Surface, split_areas
from yellowbath.core.geometry.fit import TOUCHING

Array = NDArray[np.float64]
Indices = NDArray[np.int64]
Wall = tuple[int, float]
"""An insulating plane: its axis (0, 1, 2) and where on it [m]."""

_FACING = -1 + 1e-6  # cosine of two faces that lie on one another
_LEFT = 1e-6  # of a flat piece's area: less than this left over is nothing
_SCALE = 1e3  # the clipper keeps eight decimals: in millimetres a hundredth of a nanometre


def bare(surface: Surface, walls: Sequence[Wall], others: Sequence[Surface] = ()) -> Surface | None:
    """What of a surface is bare to the liquid; itself where nothing is covered, None where all is.

    ``walls`` are planes that carry no current, ``others`` bodies of the same polarity.
    """
    corners, owner = bare_parts(surface, walls, others)
    if len(corners) == len(surface.corners):
        return surface
    used, owner = np.unique(owner, return_inverse=True)
    if not len(used):
        return None
    kept = replace(
        surface, corners=corners, patch=tuple(surface.patch[k] for k in used),
        behind=None if surface.behind is None else surface.behind[used],
        first=None, seats=None, points=None, model=None,
    )  # fmt: skip
    if surface.first is None and len(used) == len(owner):
        return kept
    return seated(kept, owner)


def bare_parts(
    surface: Surface, walls: Sequence[Wall], others: Sequence[Surface] = ()
) -> tuple[Array, Indices]:
    """The flat pieces (m, 4, 3) of a surface that are bare, in order, and the element of each."""
    owner = surface.owners
    covered = np.zeros(len(surface.corners), dtype=bool)
    for axis, at in walls:
        covered |= (np.abs(surface.corners[..., axis] - at) < TOUCHING).all(axis=1)
    near = [o for o in others if _meet(surface, o)]
    if not covered.any() and not near:
        return surface.corners, owner
    corners, owner = surface.corners[~covered], owner[~covered]
    for other in near:
        corners, owner = _without(corners, owner, other.corners)
    return corners, owner


def _meet(one: Surface, other: Surface) -> bool:
    (low, high), (lo, hi) = ((s.corners.min(axis=(0, 1)), s.corners.max(axis=(0, 1)))
                             for s in (one, other))  # fmt: skip
    return bool((low <= hi + TOUCHING).all() and (lo <= high + TOUCHING).all())


def _without(corners: Array, owner: Indices, cover: Array) -> tuple[Array, Indices]:
    """Flat pieces without what lies on a cover's."""
    mine = _in_box(corners, cover)
    theirs = _in_box(cover, corners)
    _, centre, normal = split_areas(corners[mine])
    _, at, facing = split_areas(cover[theirs])
    flat = normal @ facing.T < _FACING
    # the same from either side, to the last bit: what one drops the other must drop
    between = (centre[:, None] - at[None]) * (normal[:, None] - facing[None]) / 2
    level = np.abs(between.sum(axis=2)) < TOUCHING
    touching = flat & level
    whole: list[Array] = []
    kept = np.ones(len(corners), dtype=bool)
    made: list[int] = []
    for row in np.flatnonzero(touching.any(axis=1)):
        k = mine[row]
        left = _cut(corners[k], normal[row], cover[theirs[touching[row]]])
        if left is None:
            continue
        kept[k] = False
        whole += left
        made += [int(owner[k])] * len(left)
    if not made and kept.all():
        return corners, owner
    new = np.concatenate([corners[kept], *(w[None] for w in whole)])
    of = np.concatenate([owner[kept], np.array(made, dtype=np.int64)])
    solid = split_areas(new)[0] > LEAST
    new, of = new[solid], of[solid]
    order = np.argsort(of, kind="stable")
    return np.ascontiguousarray(new[order]), of[order]


def _in_box(corners: Array, other: Array) -> Indices:
    """Which flat pieces come within touch of the box about others."""
    low, high = other.min(axis=(0, 1)) - TOUCHING, other.max(axis=(0, 1)) + TOUCHING
    near = (corners.max(axis=1) >= low).all(axis=1) & (corners.min(axis=1) <= high).all(axis=1)
    return np.flatnonzero(near)


def _cut(piece: Array, normal: Array, cover: Array) -> list[Array] | None:
    """Triangles left of a flat piece under a cover of flat pieces; None where all of it is."""
    one = np.cross(normal, np.eye(3)[np.abs(normal).argmin()])
    one /= np.linalg.norm(one)
    axes = np.stack([one, np.cross(normal, one)])

    def flat(corners: Array) -> CrossSection:
        ring = _SCALE * (corners - piece[0]) @ axes.T
        same = (np.abs(ring - np.roll(ring, -1, axis=0)) < 1e-12).all(axis=1)
        return CrossSection([ring[~same]], FillRule.NonZero)

    mine = flat(piece)
    over = CrossSection()
    for c in cover:
        over = over + flat(c)
    left = mine - over
    if left.area() > (1 - _LEFT) * mine.area():
        return None
    if left.area() < _LEFT * mine.area():
        return []
    rings = left.to_polygons()
    points = np.concatenate(rings)
    space = piece[0] + points @ axes / _SCALE
    return [space[np.append(t, t[2])] for t in triangulate(rings)]
