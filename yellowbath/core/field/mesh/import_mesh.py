"""Pieces from triangle meshes: cleaned, or refused with the reason and the place.

A mesh is merged, freed of duplicate and degenerate faces, its small holes closed, turned right side
out by the sign of its volume, overlapping bodies joined, sealed hollows left out, and brought to a
bounded number of faces. What was done is said in notes; what cannot be mended is an error that says
where. Lengths [m] unless said.
"""

from __future__ import annotations

from collections.abc import Callable

import fast_simplification
import manifold3d
import numpy as np
import trimesh
from numpy.typing import NDArray

from yellowbath.core.errors import CaseError
from yellowbath.core.field.integrals.kernels import winding
from yellowbath.core.field.mesh.body import MeshBody
from yellowbath.core.units import QUANTITIES

Array = NDArray[np.float64]
Indices = NDArray[np.int64]
MOST = 200_000  # triangles taken
WORKING = 20_000  # triangles kept
MOST_BODIES = 60  # judged
UNITS = {u: QUANTITIES["length"].units[u] for u in ("mm", "cm", "m", "in", "ft")}
_LONGEST, _SHORTEST = 4.0, 0.005  # m; outside these the unit is likely wrong
_LEAST_THICKNESS = 2e-4  # mean thickness 2V/A under which it is a sheet without thickness [m]
_SMALL_HOLE = 0.1  # of the longest side: a wider hole is an opening and not a flaw; judged


def clean(
    vertices: Array,
    faces: Indices,
    unit: str = "m",
    working: int = WORKING,
    tell: Callable[[str], None] = lambda _: None,
) -> MeshBody:
    """A closed, outward body from corners in a unit and faces by corner, of at most so many.

    ``tell`` is told what is being done.

    Raises CaseError saying what is wrong, where, and how to mend it.
    """
    if len(faces) == 0 or len(vertices) == 0:
        raise CaseError("The mesh has no triangles.", remedy="Export the body again.")
    if len(faces) > MOST:
        raise CaseError(
            f"The mesh has {len(faces):,} triangles.",
            allowed=f"Up to {MOST:,}.",
            remedy="Simplify it before the export.",
        )
    if not np.isfinite(vertices).all() or faces.min() < 0 or faces.max() >= len(vertices):
        raise CaseError("The mesh has corners that are no points.", remedy="Export it again.")
    _right_size(vertices, unit)
    mesh = trimesh.Trimesh(vertices * UNITS[unit], faces, process=False)
    tell("Looking for flaws")
    notes = _tidy(mesh)
    _closed(mesh, notes)
    tell("Joining its bodies")
    mesh = _bodies(mesh, notes)
    if 2 * mesh.volume / mesh.area < _LEAST_THICKNESS:
        raise CaseError(
            "The body has next to no thickness: a sheet.",
            remedy="Give the sheet its thickness before the export.",
        )
    tell("Making it lighter")
    given = float(mesh.area)
    mesh = _lighter(mesh, notes, working)
    return MeshBody(
        np.array(mesh.vertices, dtype=float), np.array(mesh.faces, dtype=np.int64), tuple(notes),
        given, float(mesh.area), float(mesh.volume),
    )  # fmt: skip


def plausible(vertices: Array) -> list[tuple[str, float]]:
    """Units in which the mesh is of a size that goes into a bath, and its length then [m]."""
    longest = float(np.ptp(vertices, axis=0).max()) if len(vertices) else 0.0
    return [(u, longest * f) for u, f in UNITS.items() if _SHORTEST <= longest * f <= _LONGEST]


def _right_size(vertices: Array, unit: str) -> None:
    longest = float(np.ptp(vertices, axis=0).max())
    if _SHORTEST <= longest * UNITS[unit] <= _LONGEST:
        return
    likely = [u for u, _ in plausible(vertices)]
    raise CaseError(
        f"The mesh is {longest * UNITS[unit] * 1000:.4g} mm long in {unit}: its unit is likely "
        "wrong.",
        allowed=f"{_SHORTEST * 1000:.0f} mm to {_LONGEST:.0f} m.",
        remedy=f"Name the unit it was made in; {', '.join(likely)} would do."
        if likely
        else "Scale it before the export.",
    )


def _tidy(mesh: trimesh.Trimesh) -> list[str]:
    before = len(mesh.faces)
    mesh.merge_vertices(digits_vertex=7)
    mesh.update_faces(mesh.nondegenerate_faces(height=1e-9))
    some = len(mesh.faces) > 0
    walls = _walls(mesh)
    mesh.update_faces(~walls)
    inner = int(walls.sum()) // 2
    if some and not len(mesh.faces):
        raise CaseError(
            "The body has next to no thickness: a sheet.",
            remedy="Give the sheet its thickness before the export.",
        )
    mesh.update_faces(mesh.unique_faces())
    mesh.remove_unreferenced_vertices()
    if not len(mesh.faces):
        raise CaseError("The mesh has no area.", remedy="Export the body again.")
    lost = before - len(mesh.faces) - 2 * inner
    notes = [f"{lost} duplicate or degenerate triangles were left out."] if lost else []
    return notes + (["A wall between bodies that touch was left out."] if inner else [])


def _walls(mesh: trimesh.Trimesh) -> NDArray[np.bool_]:
    """Triangles that stand back to back on the same corners: the wall where two bodies touch."""
    found = np.zeros(len(mesh.faces), dtype=bool)
    for group in trimesh.grouping.group_rows(np.sort(mesh.faces, axis=1), require_count=None):
        if len(group) == 1:
            continue
        faces = mesh.faces[group]
        lowest = faces.argmin(axis=1)
        turned = np.stack([np.roll(f, -k) for f, k in zip(faces, lowest, strict=True)])
        one_way = int((turned[:, 1] == turned[0, 1]).sum())
        found[group] = 2 * one_way == len(group)
    return found


def _closed(mesh: trimesh.Trimesh, notes: list[str]) -> None:
    crowded = trimesh.grouping.group_rows(mesh.edges_sorted, require_count=None)
    many = [g for g in crowded if len(g) > 2]
    if not mesh.is_winding_consistent and not many:
        trimesh.repair.fix_winding(mesh)
        notes.append("Triangles that looked the other way were turned.")
    lone = mesh.edges[trimesh.grouping.group_rows(mesh.edges_sorted, require_count=1)]
    if len(lone):
        _fill(mesh, lone, notes)


def _fill(mesh: trimesh.Trimesh, lone: Indices, notes: list[str]) -> None:
    """Close small holes by a fan about their middle; raises CaseError at a wide one."""
    following = {int(b): int(a) for a, b in lone}  # a hole runs against its faces
    longest = float(mesh.extents.max())
    vertices, faces, filled = [np.asarray(mesh.vertices)], [np.asarray(mesh.faces)], 0
    while following:
        start, loop = next(iter(following)), []
        at = start
        while at in following:
            loop.append(at)
            at = following.pop(at)
        corners = mesh.vertices[loop]
        if at != start or len(loop) < 3 or np.ptp(corners, axis=0).max() > _SMALL_HOLE * longest:
            raise _open(corners, len(lone))
        middle = len(mesh.vertices) + filled
        vertices.append(corners.mean(axis=0)[None])
        faces.append(np.array([[a, b, middle] for a, b in
                               zip(loop, [*loop[1:], loop[0]], strict=True)]))  # fmt: skip
        filled += 1
    mesh.vertices, mesh.faces = np.concatenate(vertices), np.concatenate(faces)
    notes.append(f"{filled} small hole{'s were' if filled > 1 else ' was'} closed.")


def _open(corners: Array, edges: int) -> CaseError:
    at, span = corners.mean(axis=0) * 1000, np.ptp(corners, axis=0).max() * 1000
    return CaseError(
        f"The mesh is open: a hole {span:.0f} mm wide about x {at[0]:.0f}, y {at[1]:.0f}, "
        f"z {at[2]:.0f} mm, {edges} free edges in all.",
        remedy="Close it, or give a sheet its thickness, before the export.",
    )


def _bodies(mesh: trimesh.Trimesh, notes: list[str]) -> trimesh.Trimesh:
    """Each body right side out, hollows inside others left out, overlapping ones joined."""
    faces = _solids(mesh)
    count = len(faces)
    if count > MOST_BODIES:
        raise CaseError(
            f"The mesh has {count:,} bodies.",
            allowed=f"Up to {MOST_BODIES}.",
            remedy="Export the one piece alone, joined to one body; a heap is a pile in a basket.",
        )
    found = [_part(mesh, f) for f in faces] if count > 1 else [mesh]
    order = sorted(found, key=lambda b: -abs(float(b.volume)))
    kept: list[trimesh.Trimesh] = []
    for body in order:
        if any(_within(body, other) for other in kept):
            notes.append(
                f"A closed hollow of {abs(body.volume) * 1e6:.0f} mL inside was left out: it is "
                "not in the liquid. Vent a sealed hollow before it is dried by heat."
            )
            continue
        if body.volume < 0:
            body.invert()
            notes.append("It was inside out and was turned.")
        kept.append(body)
    if len(kept) == 1:
        return kept[0]
    joined = _union(kept)
    if joined is None:
        raise CaseError(
            f"Its {len(kept)} bodies cannot be joined into one.",
            remedy="Join them before the export.",
        )
    left = int(joined.body_count)
    if left > 1:
        raise CaseError(
            f"It is {left} bodies that do not touch.",
            allowed="One body: current reaches it by one contact.",
            remedy="Bring each in as a piece of its own, or join them before the export.",
        )
    notes.append(f"{len(kept)} bodies were joined into one.")
    return joined


def _part(mesh: trimesh.Trimesh, faces: NDArray[np.intp]) -> trimesh.Trimesh:
    """Some of a mesh's faces, with corners of their own."""
    made = trimesh.Trimesh(mesh.vertices, mesh.faces[faces], process=False)
    made.remove_unreferenced_vertices()
    return made


def _solids(mesh: trimesh.Trimesh) -> list[NDArray[np.intp]]:
    """Faces of each body: joined across their edges, and where more than two meet at one, each with
    the one that closes the same inside."""
    groups = trimesh.grouping.group_rows(mesh.edges_sorted, require_count=None)
    crowded = [g for g in groups if len(g) > 2]
    links = [mesh.face_adjacency, *(pairs for g in crowded if len(pairs := _closing(mesh, g)))]
    joined = trimesh.graph.connected_components(
        np.concatenate(links), nodes=np.arange(len(mesh.faces)), min_len=1
    )
    return [np.asarray(c) for c in joined]


def _closing(mesh: trimesh.Trimesh, edge: NDArray[np.intp]) -> NDArray[np.intp]:
    """Pairs of faces about an edge that more than two share, each about one inside.

    Round the edge, a body lies from a face that runs against it up to the next that runs along it.
    """
    faces = mesh.edges_face[edge]
    low, high = mesh.edges_sorted[edge[0]]
    along = mesh.vertices[high] - mesh.vertices[low]
    along = along / np.linalg.norm(along)
    side = np.cross(along, np.eye(3)[np.abs(along).argmin()])
    side, other = side / np.linalg.norm(side), np.cross(along, side / np.linalg.norm(side))
    corners = mesh.faces[faces].sum(axis=1) - low - high
    out = mesh.vertices[corners] - mesh.vertices[low]
    angle = np.arctan2(out @ other, out @ side)
    forward = mesh.edges[edge][:, 0] == low
    if forward.sum() * 2 != len(faces):
        return np.zeros((0, 2), dtype=np.intp)
    pairs = []
    for k in np.flatnonzero(forward):
        turn = (angle[k] - angle[~forward] - _FLAT) % (2 * np.pi)
        pairs.append((faces[k], faces[~forward][turn.argmin()]))
    return np.array(pairs, dtype=np.intp)


_FLAT = 1e-6  # rad within which two faces about an edge count as one on the other


def _within(body: trimesh.Trimesh, other: trimesh.Trimesh) -> bool:
    low, high = body.bounds
    around = other.bounds
    if (low < around[0]).any() or (high > around[1]).any():
        return False
    some = body.vertices[:: max(1, len(body.vertices) // 8)]
    return bool((winding(np.ascontiguousarray(some), np.asarray(other.triangles)) > 0.5).all())


def _union(bodies: list[trimesh.Trimesh]) -> trimesh.Trimesh | None:
    """Overlapping bodies as one; None where the library will not have them."""
    solids = []
    for body in bodies:
        solid = manifold3d.Manifold(
            manifold3d.Mesh(
                np.asarray(body.vertices, dtype=np.float32), np.asarray(body.faces, dtype=np.uint32)
            )
        )
        if solid.status() != manifold3d.Error.NoError:
            return None
        solids.append(solid)
    made = manifold3d.Manifold.batch_boolean(solids, manifold3d.OpType.Add).to_mesh()
    if not len(made.tri_verts):
        return None
    return trimesh.Trimesh(made.vert_properties[:, :3].astype(float), made.tri_verts)


def _lighter(mesh: trimesh.Trimesh, notes: list[str], working: int) -> trimesh.Trimesh:
    if len(mesh.faces) <= working:
        return mesh
    # whole millimetres keep single precision well inside the tolerances of the library
    light, few = fast_simplification.simplify(
        np.asarray(mesh.vertices * 1000, dtype=np.float32),
        np.asarray(mesh.faces, dtype=np.int32),
        target_count=working,
    )
    made = trimesh.Trimesh(light.astype(float) / 1000, few, process=False)
    notes.append(
        f"{len(mesh.faces):,} triangles were brought to {len(made.faces):,}; area "
        f"{(made.area / mesh.area - 1) * 100:+.1f} %."
    )
    return made
