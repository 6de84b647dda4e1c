"""Pieces from triangle meshes: cleaned, or refused with the reason and the place.

A mesh is merged, freed of duplicate and degenerate faces, closed where small holes allow it, turned
right side out by the sign of its volume, and brought to a working number of facets. What was done
is said in notes; what cannot be mended is an error. Lengths [m] unless said.
"""

from __future__ import annotations

from dataclasses import dataclass

import fast_simplification
import numpy as np
import trimesh
from numpy.typing import NDArray

from yellowbath.core.errors import CaseError
from yellowbath.core.field.surfaces import Surface, clipped, without_slivers

Array = NDArray[np.float64]
MOST = 200_000  # triangles taken
_LONGEST, _SHORTEST = 4.0, 0.005  # m; outside these the unit is likely wrong
_LEAST_THICKNESS = 2e-4  # mean thickness 2V/A under which it is a sheet without thickness [m]


@dataclass(frozen=True)
class MeshBody:
    """A closed body from a mesh: vertices (n, 3) [m], faces (m, 3) outward, what was mended."""

    vertices: Array
    faces: NDArray[np.int64]
    notes: tuple[str, ...]

    def surface(self) -> Surface:
        """Every triangle as a facet."""
        corners = self.vertices[self.faces][:, [0, 1, 2, 2]]
        return Surface(np.ascontiguousarray(corners), ("",) * len(corners))


def clean(vertices: Array, faces: NDArray[np.int64]) -> MeshBody:
    """A closed, outward body; raises CaseError saying what is wrong, where, and how to mend it."""
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
    mesh = trimesh.Trimesh(vertices, faces, process=False)
    notes = _tidy(mesh)
    _size(mesh)
    _closed(mesh, notes)
    if mesh.volume < 0:
        mesh.invert()
        notes.append("It was inside out and was turned.")
    if 2 * mesh.volume / mesh.area < _LEAST_THICKNESS:
        raise CaseError(
            "The body has next to no thickness: a sheet.",
            remedy="Give the sheet its thickness before the export.",
        )
    return MeshBody(
        np.array(mesh.vertices, dtype=float), np.array(mesh.faces, dtype=np.int64), tuple(notes)
    )


def _tidy(mesh: trimesh.Trimesh) -> list[str]:
    notes = []
    before = len(mesh.faces)
    mesh.merge_vertices()
    mesh.update_faces(mesh.nondegenerate_faces(height=1e-9))
    mesh.update_faces(mesh.unique_faces())
    mesh.remove_unreferenced_vertices()
    if not len(mesh.faces):
        raise CaseError("The mesh has no area.", remedy="Export the body again.")
    if len(mesh.faces) < before:
        notes.append(f"{before - len(mesh.faces)} duplicate or degenerate triangles were left out.")
    return notes


def _size(mesh: trimesh.Trimesh) -> None:
    longest = float(mesh.extents.max())
    if not _SHORTEST <= longest <= _LONGEST:
        raise CaseError(
            f"The mesh is {longest * 1000:.4g} mm long: its unit is likely wrong.",
            allowed=f"{_SHORTEST * 1000:.0f} mm to {_LONGEST:.0f} m.",
            remedy="Name the unit it was made in.",
        )


def _closed(mesh: trimesh.Trimesh, notes: list[str]) -> None:
    if not mesh.is_winding_consistent:
        trimesh.repair.fix_normals(mesh, multibody=True)
        notes.append("Triangles that looked inwards were turned.")
    if mesh.is_watertight:
        return
    trimesh.repair.fill_holes(mesh)
    if mesh.is_watertight:
        trimesh.repair.fix_normals(mesh, multibody=True)
        notes.append("Small holes were closed.")
        return
    edges = mesh.edges[trimesh.grouping.group_rows(mesh.edges_sorted, require_count=1)]
    at = mesh.vertices[edges.ravel()].mean(axis=0) * 1000 if len(edges) else mesh.centroid * 1000
    raise CaseError(
        f"The mesh is open, with {len(edges)} free edges about "
        f"x {at[0]:.0f}, y {at[1]:.0f}, z {at[2]:.0f} mm.",
        remedy="Close it, or give a sheet its thickness, before the export.",
    )


def working(body: MeshBody, facets: int, depth: float) -> Surface:
    """About so many facets of the body under the surface of the liquid."""
    vertices, faces = body.vertices, body.faces
    if len(faces) < facets:
        edge = 1.6 * (2 * float(body.surface().areas.sum()) / facets) ** 0.5
        vertices, faces = trimesh.remesh.subdivide_to_size(vertices, faces, edge, max_iter=12)
        merged = trimesh.Trimesh(vertices, faces)
        vertices, faces = merged.vertices, merged.faces
    if len(faces) > 1.5 * facets:
        light, few = fast_simplification.simplify(
            np.asarray(vertices, dtype=np.float32),
            np.asarray(faces, dtype=np.int32),
            target_count=facets,
        )
        vertices, faces = light.astype(float), few.astype(np.int64)
    made = MeshBody(np.asarray(vertices), np.asarray(faces), ()).surface()
    return clipped(without_slivers(made, 1e-10), depth)


def wet_area(body: MeshBody, depth: float) -> float:
    """True surface in the liquid [m2]."""
    return float(clipped(body.surface(), depth).areas.sum())
