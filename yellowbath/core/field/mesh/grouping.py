"""Any triangle mesh as elements of constant current: cut fine, then gathered into groups.

The equations stand on groups of flat pieces and not on triangles, so that slivers, needles and
uneven meshes do no harm: a sliver is only a strip of somebody's area. Groups are the cells of
well-spread seeds, moved to their middles (Lloyd, IEEE Trans. Inf. Theory 28 (1982), from memory),
in a metric that makes them narrow across a sharp edge, where the density rises. They do not cross
sharp edges. Lengths [m].
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from yellowbath.core.field.mesh.nearest import nearest_seed
from yellowbath.core.field.mesh.surfaces import Surface, clip_polygons, split_areas

Array = NDArray[np.float64]
Indices = NDArray[np.int64]

SHARP = 35.0  # degrees between two faces from which their edge is sharp; judged
_NARROW = 0.18  # width of a group at a sharp edge, in its length along it; judged
_THIN = 0.6  # and in the mean thickness of the body; judged
_WIDER = 0.45  # how fast it widens with the distance from the edge [-]; judged
_TURN = 0.8  # turn of the normal that counts as one group's width [rad]; judged
_FINE = 0.6  # longest side of a piece, in groups; judged
_PASSES = 5  # of moving the middles; judged
_SAMPLES = 4000  # points over a body that the middles are sought among; judged
MOST = 60_000  # pieces at which cutting stops


@dataclass(frozen=True)
class Fine:
    """A body cut finely into flat convex pieces (m).

    ``corners`` (m, 4, 3), outward, a triangle having its last corner twice; ``parent`` (m): the
    mesh face of each; ``part`` (m): the smooth part it is on; ``wide`` (m): distance [m] to the
    nearest sharp edge; ``along`` (m, 3): that edge's direction; ``thin``: the body's mean
    thickness 2V/A [m], which no group at an edge is much wider than.
    """

    corners: Array
    parent: Indices
    part: Indices
    wide: Array
    along: Array
    thin: float


class _Edges:
    """The sharp edges of a mesh, to ask how far the nearest is and which way it runs."""

    def __init__(self, vertices: Array, edges: Indices) -> None:
        self._tree: cKDTree | None = None
        if not len(edges):
            return
        a, b = vertices[edges[:, 0]], vertices[edges[:, 1]]
        length = np.linalg.norm(b - a, axis=1)
        step = max(float(length.sum()) / 6000, float(np.ptp(vertices, axis=0).max()) / 1000)
        count = np.maximum(np.ceil(length / step).astype(np.int64), 1)
        which = np.repeat(np.arange(len(edges)), count)
        place = np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)
        t = (place + 0.5) / count[which]
        self._tree = cKDTree(a[which] + t[:, None] * (b - a)[which])
        self._along = ((b - a) / np.maximum(length, 1e-300)[:, None])[which]

    def nearest(self, points: Array) -> tuple[Array, Array]:
        """Distance [m] to the nearest sharp edge, and its direction; far where there is none."""
        if self._tree is None:
            return np.full(len(points), 1e3), np.tile([1.0, 0.0, 0.0], (len(points), 1))
        _, index = self._tree.query(points)
        along = self._along[index]
        d = points - self._tree.data[index]
        off = d - (d * along).sum(axis=1)[:, None] * along
        return np.linalg.norm(off, axis=1), along


def cut(vertices: Array, faces: Indices, elements: int) -> Fine:
    """Cut a mesh, vertices (v, 3) [m], faces (f, 3), finely enough for so many groups."""
    sharp, part = _smooth_parts(vertices, faces)
    edges = _Edges(vertices, sharp)
    thin = _thickness(vertices[faces])
    size = _size_of(*_sampled(vertices[faces], edges), thin, elements)
    corners = _triangles_last(vertices[faces][:, [0, 1, 2, 2]])
    parent = np.arange(len(faces))
    done: list[tuple[Array, Indices]] = []
    while len(corners) and len(corners) + sum(len(d[0]) for d in done) < MOST:
        turn, long = _too_long(corners, edges, thin, size)
        done.append((corners[~long], parent[~long]))
        corners = _halved(corners[long], turn[long])
        parent = np.concatenate([parent[long]] * 2)
    corners = np.ascontiguousarray(np.concatenate([*(d[0] for d in done), corners]))
    parent = np.concatenate([*(d[1] for d in done), parent])
    wide, along = edges.nearest(corners.mean(axis=1))
    return Fine(corners, parent, part[parent], wide, along, thin)


def _halved(corners: Array, turn: NDArray[np.bool_]) -> Array:
    """Flat pieces halved across sides 0-1 and 2-3, or where ``turn`` across 1-2 and 3-0."""
    c = np.where(turn[:, None, None], np.roll(corners, -1, axis=1), corners)
    low, high = (c[:, 0] + c[:, 1]) / 2, (c[:, 2] + c[:, 3]) / 2
    one = np.stack([c[:, 0], low, high, c[:, 3]], axis=1)
    two = np.stack([low, c[:, 1], c[:, 2], high], axis=1)
    return _triangles_last(np.concatenate([one, two]))


def _triangles_last(corners: Array) -> Array:
    """Triangles turned so that their shortest side comes first and their last corner twice.

    Both long sides of a needle are then halved together.
    """
    same = (corners == np.roll(corners, -1, axis=1)).all(axis=2)
    triangle = same.any(axis=1)
    c = corners[triangle]
    order = (same[triangle].argmax(axis=1)[:, None] + np.arange(1, 5)) % 4
    c = np.take_along_axis(c, order[:, :, None], axis=1)[:, :3]
    shortest = ((np.roll(c, -1, axis=1) - c) ** 2).sum(axis=2).argmin(axis=1)
    order = (shortest[:, None] + np.array([0, 1, 2, 2])) % 3
    corners[triangle] = np.take_along_axis(c, order[:, :, None], axis=1)
    return corners


def _too_long(
    corners: Array, edges: _Edges, thin: float, size: float
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Whether each piece is to be halved, and whether across its sides 1-2 and 3-0."""
    d = np.roll(corners, -1, axis=1) - corners
    wide, along = edges.nearest(corners.mean(axis=1))
    length_along = (d * along[:, None]).sum(axis=2)
    perp = np.sqrt(np.maximum((d**2).sum(axis=2) - length_along**2, 0.0))
    # the end nearer to the edge counts
    width = _across(np.maximum(wide - perp.max(axis=1) / 2, 0.0), thin, size)
    measure = np.sqrt((length_along / size) ** 2 + (perp / width[:, None]) ** 2)
    pairs = np.maximum(measure[:, :2], measure[:, 2:])
    return pairs[:, 1] > pairs[:, 0], pairs.max(axis=1) > _FINE


def below(fine: Fine, level: float) -> Fine:
    """What lies under a level [m]; pieces through it are cut, the cut is not capped."""
    if (fine.corners[..., 2] <= level).all():
        return fine
    corners, index = clip_polygons(fine.corners, level)
    return replace(
        fine, corners=corners, parent=fine.parent[index], part=fine.part[index],
        wide=fine.wide[index], along=fine.along[index],
    )  # fmt: skip


# --- Groups -----------------------------------------------------------------------------------


def grouped(fine: Fine, elements: int) -> tuple[Surface, Indices]:
    """About so many elements of a cut body, and the element of each of its pieces (m)."""
    areas, centres, normals = split_areas(fine.corners)
    size = _size_of(areas, fine.wide, fine.thin, elements)
    across = _across(fine.wide, fine.thin, size)
    weight = areas / (across * size)
    seeds = _seeds(centres, weight, elements, fine.part)
    place, look, part = centres[seeds], normals[seeds], fine.part[seeds]
    pieces = (centres, normals, fine.part, fine.along, across)
    for _ in range(_PASSES):
        owner = nearest_seed(pieces, size, _TURN, place, look, part)
        total = np.bincount(owner, areas, len(place)).astype(float)
        used = total > 0
        place, look = (_mean(owner, areas, x, total)[used] for x in (centres, normals))
        look /= np.maximum(np.linalg.norm(look, axis=1), 1e-12)[:, None]
        part = part[used]
    owner = nearest_seed(pieces, size, _TURN, place, look, part)
    return _surface(fine, owner, areas, centres)


def _mean(owner: Indices, areas: Array, values: Array, total: Array) -> Array:
    sums = [np.bincount(owner, areas * values[:, k], len(total)) for k in range(3)]
    mean: Array = np.stack(sums, axis=1) / np.maximum(total, 1e-300)[:, None]
    return mean


def _surface(fine: Fine, owner: Indices, areas: Array, centres: Array) -> tuple[Surface, Indices]:
    """Elements from owners, their equations standing near the middle of each."""
    used, owner = np.unique(owner, return_inverse=True)
    made = Surface(fine.corners, ("",) * len(used))
    return seated(made, owner, areas, centres), owner


def seated(
    surface: Surface, owner: Indices, areas: Array | None = None, centres: Array | None = None
) -> Surface:
    """A surface whose flat pieces (m) make up the elements ``owner`` (m), each with its seat.

    Every element has a piece at least; ``areas`` and ``centres`` are the pieces', where known.
    """
    if areas is None or centres is None:
        areas, centres, _ = split_areas(surface.corners)
    order = np.argsort(owner, kind="stable")
    first = np.searchsorted(owner[order], np.arange(len(surface) + 1))
    middle = _mean(owner, areas, centres, np.bincount(owner, areas).astype(float))
    corners = np.ascontiguousarray(surface.corners[order])
    seats, points = _seats(corners, areas[order], first, middle)
    return replace(surface, corners=corners, first=first, seats=seats, points=points, model=None)


def _seats(corners: Array, areas: Array, first: Indices, middle: Array) -> tuple[Indices, Array]:
    """The piece of each element nearest to its middle, slivers passed over, and a point on it."""
    owner = np.repeat(np.arange(len(middle)), np.diff(first))
    target = middle[owner]
    near = closest(corners[:, :3], target)
    other = closest(corners[:, [0, 2, 3]], target)
    off, off2 = (np.linalg.norm(x - target, axis=1) for x in (near, other))
    near = np.where((off2 < off)[:, None], other, near)
    off = np.minimum(off, off2)
    mean = (np.bincount(owner, areas) / np.diff(first))[owner]
    off = np.where(areas < 0.2 * mean, off + 1e3, off)
    seats = np.lexsort((off, owner))[first[:-1]]
    # a little towards the piece's own middle: its border is where the solid angle jumps
    points = 0.85 * near[seats] + 0.15 * split_areas(corners[seats])[1]
    return seats, np.ascontiguousarray(points)


def closest(triangles: Array, points: Array) -> Array:
    """Closest point of each triangle (m, 3, 3) to each point (m, 3)."""
    a, b, c = triangles[:, 0], triangles[:, 1], triangles[:, 2]
    best = _on_segment(a, b, points)
    for p, q in ((b, c), (c, a)):
        other = _on_segment(p, q, points)
        nearer = ((other - points) ** 2).sum(1) < ((best - points) ** 2).sum(1)
        best = np.where(nearer[:, None], other, best)
    n = np.cross(b - a, c - a)
    flat = points - (((points - a) * n).sum(1) / np.maximum((n * n).sum(1), 1e-300))[:, None] * n
    inside = (n * n).sum(1) > 0
    for p, q in ((a, b), (b, c), (c, a)):
        inside &= (np.cross(q - p, flat - p) * n).sum(1) >= 0
    found: Array = np.where(inside[:, None], flat, best)
    return found


def _on_segment(a: Array, b: Array, points: Array) -> Array:
    d = b - a
    t = ((points - a) * d).sum(1) / np.maximum((d * d).sum(1), 1e-300)
    on: Array = a + np.clip(t, 0, 1)[:, None] * d
    return on


def _thickness(triangles: Array) -> float:
    """Mean thickness 2V/A of a closed body [m]."""
    volume = np.einsum("ij,ij->i", triangles[:, 0], np.cross(triangles[:, 1], triangles[:, 2]))
    area = split_areas(triangles[:, [0, 1, 2, 2]])[0].sum()
    return float(abs(volume.sum()) / 3 / area)


def _across(wide: Array, thin: float, size: float) -> Array:
    """Width [m] of a group at a distance [m] from a sharp edge."""
    narrow = min(_NARROW * size, _THIN * thin)
    width: Array = np.clip(narrow + _WIDER * wide, None, size)
    return width


def _size_of(areas: Array, wide: Array, thin: float, elements: int) -> float:
    """Length [m] of a group far from edges that makes so many of them."""
    low, high = 1e-6, float(np.sqrt(areas.sum())) * 2
    for _ in range(40):
        size = (low * high) ** 0.5
        count = float((areas / (_across(wide, thin, size) * size)).sum())
        low, high = (size, high) if count > elements else (low, size)
    return float((low * high) ** 0.5)


def _sampled(triangles: Array, edges: _Edges) -> tuple[Array, Array]:
    """Shares of the area [m2] and their distance from sharp edges [m], at some 4000 places."""
    areas = split_areas(triangles[:, [0, 1, 2, 2]])[0]
    count = np.maximum(np.round(_SAMPLES * areas / areas.sum()), 1).astype(np.int64)
    which = np.repeat(np.arange(len(areas)), count)
    k = np.arange(len(which))
    # the plastic number spreads points evenly (Roberts's sequence, from memory)
    u, v = (k * 0.7548776662466927) % 1, (k * 0.5698402909980532) % 1
    u, v = np.where(u + v > 1, 1 - u, u), np.where(u + v > 1, 1 - v, v)
    a, b, c = (triangles[which, j] for j in range(3))
    wide, _ = edges.nearest(a + u[:, None] * (b - a) + v[:, None] * (c - a))
    return areas[which] / count[which], wide


def _seeds(centres: Array, weight: Array, count: int, part: Indices) -> Indices:
    """Pieces spread by weight along a space-filling order, one at least in each smooth part."""
    low, span = centres.min(axis=0), float(np.ptp(centres, axis=0).max()) or 1.0
    order = np.lexsort((_morton((centres - low) / span), part))
    total = np.cumsum(weight[order])
    wanted = (np.arange(count) + 0.5) / count * total[-1]
    seeds = order[np.searchsorted(total, wanted).clip(0, len(order) - 1)]
    missing = np.setdiff1d(np.unique(part), part[seeds])
    extra = [int(np.where(part == p, weight, -1.0).argmax()) for p in missing]
    return np.unique(np.concatenate([seeds, np.array(extra, dtype=np.int64)]))


def _morton(unit: Array) -> Indices:
    """Z-order of points in the unit cube, ten bits an axis."""
    cells = np.clip((unit * 1023).astype(np.int64), 0, 1023)
    key = np.zeros(len(cells), dtype=np.int64)
    for bit in range(10):
        for axis in range(3):
            key |= ((cells[:, axis] >> bit) & 1) << (3 * bit + axis)
    return key


def _smooth_parts(vertices: Array, faces: Indices) -> tuple[Indices, Indices]:
    """Corners of each sharp edge (k, 2), and the smooth part of each face, sharp edges cutting."""
    sides = np.sort(np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    key = sides[:, 0] * (len(vertices) + 1) + sides[:, 1]
    order = np.argsort(key, kind="stable")
    start = np.flatnonzero(np.diff(key[order], prepend=-1))
    count = np.diff(np.append(start, len(key)))
    two = start[count == 2]
    one, other = order[two], order[two + 1]
    _, _, normals = split_areas(vertices[faces][:, [0, 1, 2, 2]])
    bend = (normals[one // 3] * normals[other // 3]).sum(axis=1)
    smooth = bend > np.cos(np.radians(SHARP))
    links = coo_matrix(
        (np.ones(int(smooth.sum())), (one[smooth] // 3, other[smooth] // 3)), (len(faces),) * 2
    )
    return sides[one[~smooth]], connected_components(links, directed=False)[1].astype(np.int64)
