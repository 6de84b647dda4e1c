"""Bringing in a piece from a mesh file: its unit asked where it is open, what was mended told."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.data import param
from yellowbath.core.document import Mesh
from yellowbath.core.errors import CaseError
from yellowbath.core.geometry.packed import MOST_FACES, pack, unpack
from yellowbath.workflows.field import read_mesh

MOST_BYTES = 30_000_000
KEPT = 4000  # triangles aimed at; a document may carry some more
_YARDSTICKS = ((0.02, "thumb's width"), (0.2, "hand span"), (0.3, "school ruler"), (0.75, "arm"))


@dataclass(frozen=True)
class Unit:
    """A unit that the file may be in, the longest side [m] that it makes, and that in words."""

    unit: str
    length_m: float
    like: str


@dataclass(frozen=True)
class Brought:
    """A mesh file as read. ``shape`` is None while its unit is open; sizes [m], area [m2], volume
    [m3] and mass [kg] as if solid iron are nought then."""

    units: Sequence[Unit]
    shape: Mesh | None
    size_m: tuple[float, float, float]
    area_m2: float
    volume_m3: float
    mass_kg: float


def bring(name: str, data: bytes, unit: str = "") -> Brought:
    """Read, clean and lighten a mesh; without a unit it is asked for where several would do.

    Raises CaseError where the file is no mesh, too large, broken, or of no possible size.
    """
    from yellowbath.core.field.import_mesh import UNITS, clean, plausible

    if len(data) > MOST_BYTES:
        raise CaseError(
            f"{name} has {len(data) / 1e6:.0f} MB.",
            allowed=f"Up to {MOST_BYTES / 1e6:.0f} MB.",
            remedy="Simplify it before the export.",
        )
    if unit and unit not in UNITS:
        raise CaseError(f"{unit} is no unit of length here.", allowed=", ".join(UNITS) + ".")
    vertices, faces = read_mesh(name, io.BytesIO(data))
    units = [Unit(u, length, _like(length)) for u, length in plausible(vertices)]
    if not unit and len(units) > 1:
        return Brought(units, None, (0.0, 0.0, 0.0), 0.0, 0.0, 0.0)
    body = clean(vertices, faces, unit or (units[0].unit if units else "mm"), KEPT)
    return _brought(name, units, body)


def _brought(name: str, units: Sequence[Unit], body: Any) -> Brought:
    if len(body.faces) > MOST_FACES:
        raise CaseError(
            f"{name} cannot be brought to {MOST_FACES} triangles.",
            remedy="Simplify it before the export.",
        )
    packed = pack(body.vertices, body.faces)
    unpack(*packed)
    low, high = body.vertices.min(axis=0), body.vertices.max(axis=0)
    x, y, z = sorted((float(s) for s in high - low), reverse=True)
    shape = Mesh(
        file=name[-120:], length_m=x, vertices=packed[0], faces=packed[1], notes=list(body.notes)
    )
    mass = body.volume * param("steel_kg_m3").value
    return Brought(units, shape, (x, y, z), body.area, body.volume, mass)


def _like(length: float) -> str:
    """A length against something that everyone has about them."""
    known, name = min(_YARDSTICKS, key=lambda y: abs(1 - y[0] / length) + abs(1 - length / y[0]))
    times = length / known
    return f"{times:.1f} {name}s" if not 0.9 < times < 1.1 else f"about a {name}"
