"""Narrow gaps: elements made finer across whatever stands near them.

Where two conductors are nearer to one another than an element is wide, the density over that
element is far from even. Elements are halved in the direction in which the gap changes until they
are no wider than 0.7 of it (floor 0.7 mm); along a rod, and between faces that run alike, they stay
as long as they were. Lengths [m].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from yellowbath.core.field.mesh.grouping import closest, seated
from yellowbath.core.field.mesh.surfaces import LEAST, Rod, Surface, clip_polygons, split_areas

Array = NDArray[np.float64]
Indices = NDArray[np.int64]

_WIDE = 0.7  # of the gap that an element may be wide; judged, docs/models/field.md
_FLOOR = 0.0007  # m; no finer than this; judged
_VARIES = 0.12  # of the gap that it may change across an element; judged
_ROUNDS = 7  # each halves what is too wide; judged
_NEAR = 6  # flat pieces of another body looked at for the nearest


@dataclass(frozen=True)
class Neighbours:
    """What else conducts near a surface: rods as lines, other bodies by their flat pieces."""

    rods: Sequence[Rod]
    bodies: Sequence[Surface]

    def gap(self, points: Array, within: float = np.inf) -> Array:
        """Distance [m] of points (n, 3) to the nearest of them; large where there is none, and
        where a body is farther than ``within``."""
        best = np.full(len(points), 1e3)
        for rod in self.rods:
            way = rod.end - rod.start
            t = np.clip((points - rod.start) @ way / float(way @ way), 0.0, 1.0)
            off = np.linalg.norm(points - rod.start - t[:, None] * way, axis=1)
            best = np.minimum(best, np.maximum(off - rod.radius, 1e-5))
        for body in self.bodies:
            low, high = body.corners.min(axis=(0, 1)), body.corners.max(axis=(0, 1))
            outside = np.maximum(np.maximum(low - points, points - high), 0.0)
            near = np.flatnonzero((outside**2).sum(axis=1) < within**2)
            if len(near):
                best[near] = np.minimum(best[near], _to_surface(points[near], body))
        return best


def _to_surface(points: Array, body: Surface) -> Array:
    c = body.corners
    near = (
        cKDTree(body.flat_centres).query(points, k=min(_NEAR, len(c)))[1].reshape(len(points), -1)
    )
    best = np.full(len(points), 1e3)
    for k in range(near.shape[1]):
        for corners in (c[near[:, k], :3], c[near[:, k]][:, [0, 2, 3]]):
            off = np.linalg.norm(closest(corners, points) - points, axis=1)
            best = np.minimum(best, off)
    held: Array = np.maximum(best, 1e-5)
    return held


def refined(surface: Surface, near: Neighbours, most: int) -> Surface:
    """A surface with its elements halved where a gap is narrow, up to about so many elements."""
    if not (near.rods or near.bodies) or not _close(surface, near):
        return surface
    return _plain(surface, near, most) if surface.first is None else _groups(surface, near, most)


def _close(surface: Surface, near: Neighbours) -> bool:
    """Whether anything stands as near as an element is wide."""
    reach = float(np.sqrt(surface.areas.max())) * 2
    low, high = surface.corners.min(axis=(0, 1)) - reach, surface.corners.max(axis=(0, 1)) + reach
    ends = [(np.minimum(r.start, r.end) - r.radius, np.maximum(r.start, r.end) + r.radius)
            for r in near.rods]  # fmt: skip
    ends += [(b.corners.min(axis=(0, 1)), b.corners.max(axis=(0, 1))) for b in near.bodies]
    return any((a <= high).all() and (b >= low).all() for a, b in ends)


def _too_wide(middle: Array, ends: Array, width: Array, near: Neighbours) -> Array:
    """By how much an element is too wide in each of some directions; under one is not.

    ``middle`` (n, 3), ``ends`` (n, k, 2, 3): where it ends each way, ``width`` (n, k) [m].
    """
    n, k = width.shape
    within = 2 * float(width.max()) / _WIDE  # what is farther makes nothing too wide
    at = near.gap(middle, within)
    sides = near.gap(ends.reshape(-1, 3), within).reshape(n, k, 2)
    least = np.minimum(at[:, None], sides.min(axis=2))
    change = np.maximum(at[:, None], sides.max(axis=2)) - least
    allowed = np.maximum(_WIDE * least, _FLOOR)
    much: Array = np.where(change > _VARIES * least, width / allowed, 0.0)
    return much


def _plain(surface: Surface, near: Neighbours, most: int) -> Surface:
    """Quadrilaterals halved across their sides; triangles across the side opposite their point."""
    corners, owner = surface.corners, np.arange(len(surface))
    for _ in range(_ROUNDS):
        c = corners
        u = np.stack([(c[:, 0] + c[:, 3]) / 2, (c[:, 1] + c[:, 2]) / 2], axis=1)
        v = np.stack([(c[:, 0] + c[:, 1]) / 2, (c[:, 2] + c[:, 3]) / 2], axis=1)
        ends = np.stack([u, v], axis=1)
        width = np.linalg.norm(ends[:, :, 1] - ends[:, :, 0], axis=2)
        much = _too_wide(c.mean(axis=1), ends, width, near)
        worst = _affordable(much.max(axis=1), len(corners), most)
        if not worst.any():
            break
        across = much[worst].argmax(axis=1) == 1
        parts = _halves(c[worst], across)
        corners = np.concatenate([c[~worst], parts])
        owner = np.concatenate([owner[~worst], owner[worst], owner[worst]])
    order = np.argsort(owner, kind="stable")
    patch = tuple(surface.patch[k] for k in owner[order])
    behind = None if surface.behind is None else surface.behind[owner[order]]
    return replace(
        surface, corners=np.ascontiguousarray(corners[order]), patch=patch, behind=behind,
        model=None,
    )  # fmt: skip


def _affordable(much: Array, count: int, most: int) -> NDArray[np.bool_]:
    """Which are too wide, the worst of them first where there is no room for all."""
    wanted: NDArray[np.bool_] = much > 1.0
    room = max(most - count, 0)
    if wanted.sum() > room:
        keep = np.argsort(-much)[:room]
        wanted = np.zeros(len(much), dtype=bool)
        wanted[keep] = much[keep] > 1.0
    return wanted


def _halves(c: Array, across: NDArray[np.bool_]) -> Array:
    """Flat pieces halved along their first side, or where ``across`` along their second."""
    c = np.where(across[:, None, None], np.roll(c, -1, axis=1), c)
    low, high = (c[:, 0] + c[:, 1]) / 2, (c[:, 2] + c[:, 3]) / 2
    one = np.stack([c[:, 0], low, high, c[:, 3]], axis=1)
    two = np.stack([low, c[:, 1], c[:, 2], high], axis=1)
    made: Array = np.concatenate([one, two])
    return made


def _groups(surface: Surface, near: Neighbours, most: int) -> Surface:
    """Elements of many flat pieces, cut in two by a plane across the direction of the change."""
    corners = surface.corners
    owner = surface.owners
    origin = np.arange(len(surface))
    for _ in range(_ROUNDS):
        middle, axes, half = _spans(corners, owner, len(origin))
        ends = np.stack([middle[:, None] - axes * half[:, :, None],
                         middle[:, None] + axes * half[:, :, None]], axis=2)  # fmt: skip
        much = _too_wide(middle, ends, 2 * half, near)
        worst = _affordable(much.max(axis=1), len(origin), most)
        if not worst.any():
            break
        way = axes[np.arange(len(axes)), much.argmax(axis=1)]
        pieces, of = [corners[~worst[owner]]], [owner[~worst[owner]]]
        fresh: list[int] = []
        for k in np.flatnonzero(worst):
            mine = corners[owner == k]
            for sign, name in ((1.0, k), (-1.0, len(origin) + len(fresh))):
                part = _half_of(mine, middle[k], sign * way[k])
                pieces.append(part)
                of.append(np.full(len(part), name, dtype=np.int64))
            fresh.append(int(origin[k]))
        corners, owner = np.concatenate(pieces), np.concatenate(of)
        origin = np.concatenate([origin, np.array(fresh, dtype=np.int64)])
        used, owner = np.unique(owner, return_inverse=True)
        origin = origin[used]
    if len(origin) == len(surface):
        return surface
    behind = None if surface.behind is None else surface.behind[origin]
    patch = tuple(surface.patch[k] for k in origin)
    made = replace(surface, corners=corners, patch=patch, behind=behind, first=None, seats=None,
                   points=None, model=None)  # fmt: skip
    return seated(made, owner)


def _spans(corners: Array, owner: Indices, count: int) -> tuple[Array, Array, Array]:
    """Middle (n, 3) of each element, its two longer axes (n, 2, 3) and half its size along them."""
    areas, centres, _ = split_areas(corners)
    total = np.bincount(owner, areas, count)
    sums = [np.bincount(owner, areas * centres[:, k], count) for k in range(3)]
    middle: Array = np.stack(sums, axis=1) / total[:, None]
    off = centres - middle[owner]
    # a flat piece's own spread counts too: an element may be of one
    own = corners - centres[:, None]
    spread = np.zeros((count, 3, 3))
    np.add.at(spread, owner, areas[:, None, None] * off[:, :, None] * off[:, None, :])
    np.add.at(spread, owner, areas[:, None, None] * np.einsum("mci,mcj->mij", own, own) / 6)
    axes = np.linalg.eigh(spread)[1].transpose(0, 2, 1)[:, 1:]
    along = np.einsum("mcx,max->mca", corners - middle[owner][:, None], axes[owner])
    half = np.zeros((count, 2))
    np.maximum.at(half, owner, np.abs(along).max(axis=1))
    return middle, axes, half


def _half_of(corners: Array, middle: Array, way: Array) -> Array:
    """What of flat pieces lies behind the plane across a way through a point."""
    one = np.cross(way, np.eye(3)[np.abs(way).argmin()])
    one /= np.linalg.norm(one)
    turn = np.stack([one, np.cross(way, one), way])
    kept, _ = clip_polygons((corners - middle) @ turn.T, 0.0)
    made: Array = kept @ turn + middle
    return made[split_areas(made)[0] > LEAST] if len(made) else made.reshape(0, 4, 3)
