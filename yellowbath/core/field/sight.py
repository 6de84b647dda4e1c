"""Line of sight: what each facet sees of the scrap, and how open it lies. Geometry only.

It does not foretell the current: a blind face may still get half of the mean. Rays by Embree in
single precision, begun a little off the surface. Lengths [m].
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh
from numpy.typing import NDArray

from yellowbath.core.field.mesh.surfaces import Rod, Surface
from yellowbath.core.field.sides import GRAZING

Array = NDArray[np.float64]
_OFF = 1e-5  # from a surface to where its rays begin [m]
_ALONG = 8  # points looked for along a rod
_DIRECTIONS = 64  # a share is seen in 64ths
RECESS = 0.75  # facets with less of their sky open lie in a recess; judged
BORE = 0.25  # and with less than this in a bore; judged


class Blockers:
    """Triangles (n, 3, 3) [m] that end a line of sight."""

    def __init__(self, triangles: Array) -> None:
        self._scene: Any = rtcore_scene.EmbreeScene()
        TriangleMesh(self._scene, np.ascontiguousarray(triangles, dtype=np.float32))

    def free(self, starts: Array, ends: Array) -> NDArray[np.bool_]:
        """Which of the straight lines (m, 3) to (m, 3) meet nothing on their way."""
        way = ends - starts
        length = np.linalg.norm(way, axis=1)
        hit = self._scene.run(
            starts.astype(np.float32),
            (way / length[:, None]).astype(np.float32),
            query="DISTANCE",
        )
        clear: NDArray[np.bool_] = hit > length - _OFF
        return clear


def openness(triangles: Array, points: Array, normals: Array) -> Array:
    """Share of the sky over each point (n) that the body itself leaves open, by cosine [-]."""
    directions = _sky(normals)
    n, m = directions.shape[:2]
    starts = np.repeat(points + _OFF * normals, m, axis=0)
    far = float(np.ptp(triangles, axis=(0, 1)).max()) * 4
    ends = starts + far * directions.reshape(-1, 3)
    clear: Array = Blockers(triangles).free(starts, ends).reshape(n, m).mean(axis=1)
    return clear


def _sky(normals: Array) -> Array:
    """Directions (n, m, 3) over each normal, denser about it by the cosine (a sunflower's)."""
    k = np.arange(_DIRECTIONS) + 0.5
    radius, turn = np.sqrt(k / _DIRECTIONS), k * np.pi * (3 - np.sqrt(5))
    flat = np.stack([radius * np.cos(turn), radius * np.sin(turn), np.sqrt(1 - radius**2)], axis=1)
    other = np.where(np.abs(normals[:, :1]) < 0.7, [[1.0, 0.0, 0.0]], [[0.0, 1.0, 0.0]])
    one = np.cross(normals, other)
    one /= np.linalg.norm(one, axis=1)[:, None]
    axes = np.stack([one, np.cross(normals, one), normals], axis=1)
    made: Array = np.einsum("mk,nkx->nmx", flat, axes)
    return made


@dataclass(frozen=True)
class Sight:
    """Share of the wet surface that sees no scrap, and that sees some of each anode [-].

    ``share``: of the anodes, for each of the ``facets`` looked from [-]; ``facing``: of the best
    seen anode, what grazes counted less and what is near more.
    """

    blind: float
    seen: Mapping[str, float]
    facets: Surface
    share: Array
    facing: Array


def sight(
    facets: Surface,
    weights: Array,
    blockers: Array,
    rods: Sequence[Rod],
    plates: Mapping[str, Surface],
) -> Sight:
    """What facets see, counted by their ``weights`` (wet areas [m2]).

    ``blockers`` (n, 3, 3): pieces and plates as triangles; a rod ends the ray that looks for it and
    hides nothing.
    """
    scene = Blockers(blockers)
    starts = facets.centres + _OFF * facets.normals
    some: dict[str, NDArray[np.bool_]] = {}
    faced: dict[str, Array] = {}
    looked: dict[str, Array] = {}
    for name, ends, facing in _targets(rods, plates):
        some.setdefault(name, np.zeros(len(facets), dtype=bool))
        faced.setdefault(name, np.zeros(len(facets)))
        looked.setdefault(name, np.zeros(len(facets)))
        for end, normal in zip(ends, facing, strict=True):
            slant, near = grazing(starts, facets.normals, end), nearness(starts, end)
            looked[name] += near
            if normal is not None:
                slant = np.where((end - starts) @ normal < 0, slant, 0.0)
            look = np.flatnonzero(slant > 0)
            if len(look):
                free = scene.free(starts[look], np.broadcast_to(end, (len(look), 3)))
                some[name][look] |= free
                faced[name][look] += slant[look] * free * near[look]
    total = float(weights.sum())
    any_seen = np.any(list(some.values()), axis=0) if some else np.zeros(len(facets), dtype=bool)
    return Sight(
        float(weights[~any_seen].sum()) / total,
        {name: float(weights[s].sum()) / total for name, s in some.items()},
        facets,
        np.mean(list(some.values()), axis=0) if some else np.zeros(len(facets)),
        np.max([f / looked[n] for n, f in faced.items()], axis=0)
        if faced
        else np.zeros(len(facets)),
    )


def grazing(starts: Array, normals: Array, end: Array) -> Array:
    """How much of a look at a point each place has (n): less the more it grazes [-]."""
    way = end - starts
    cosine = (way * normals).sum(axis=1) / np.maximum(np.linalg.norm(way, axis=1), 1e-12)
    made: Array = np.clip(cosine / GRAZING, 0.0, 1.0)
    return made


def nearness(starts: Array, end: Array) -> Array:
    """How much a point counts for each place (n) by its distance [1/m4]: before a sheet nearly all
    of it grazes, and what is near reaches the place all the same."""
    made: Array = 1 / np.maximum(((end - starts) ** 2).sum(axis=1), 1e-8) ** 2
    return made


def _targets(
    rods: Sequence[Rod], plates: Mapping[str, Surface]
) -> Sequence[tuple[str, Array, Sequence[Array | None]]]:
    """Points to look for on each anode, with the way each looks where it is on a flat one."""
    out: list[tuple[str, Array, Sequence[Array | None]]] = []
    for rod in rods:
        shares = (np.arange(_ALONG) + 0.5) / _ALONG if rod.cuts is None else np.array([0.5])
        ends = rod.start + shares[:, None] * (rod.end - rod.start)
        out.append((rod.name, ends, [None] * len(ends)))
    for name, surface in plates.items():
        ends = surface.centres + 2 * _OFF * surface.normals
        out.append((name, ends, list(surface.normals)))
    return out


def triangles_of(surface: Surface) -> Array:
    """A surface's flat pieces as triangles (n, 3, 3)."""
    c = surface.corners
    made: Array = np.concatenate([c[:, [0, 1, 2]], c[:, [0, 2, 3]]])
    return made
