"""Bringing in a piece from a mesh file: its unit asked where it is open, what was mended told."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from yellowbath.core.data import param
from yellowbath.core.document import Mesh
from yellowbath.core.errors import CaseError
from yellowbath.core.geometry.packed import MOST_FACES, pack, unpack

KEPT = 4000  # triangles aimed at; a document may carry some more
_YARDSTICKS = ((0.02, "thumb's width"), (0.2, "hand span"), (0.3, "school ruler"), (0.75, "arm"))


@dataclass(frozen=True)
class Unit:
    """A unit that the file may be in, the longest side [m] that it makes, and that in words."""

    unit: str
    length_m: float
    like: str


@dataclass(frozen=True)
class MeshFile:
    """A mesh file as read. ``shape`` is None while its unit is open; sizes [m], area [m2], volume
    [m3] and mass [kg] as if solid iron are nought then."""

    units: Sequence[Unit]
    shape: Mesh | None
    size_m: tuple[float, float, float]
    area_m2: float
    volume_m3: float
    mass_kg: float

    def as_json(self) -> dict[str, Any]:
        """As it is handed from one process to another."""
        shape = self.shape.model_dump() if self.shape else None
        return {**asdict(self), "shape": shape}

    @staticmethod
    def from_json(made: dict[str, Any]) -> MeshFile:
        """The same again."""
        shape = Mesh.model_validate(made["shape"]) if made["shape"] else None
        x, y, z = made["size_m"]
        units = [Unit(**u) for u in made["units"]]
        return MeshFile(
            units, shape, (x, y, z), made["area_m2"], made["volume_m3"], made["mass_kg"]
        )


def read_mesh_file(
    name: str, data: bytes, unit: str = "", tell: Callable[[str], None] = lambda _: None
) -> MeshFile:
    """Read, clean and lighten a mesh; without a unit it is asked for where several would do and the
    file does not say. ``tell`` is told what is being done.

    Raises CaseError where the file is no mesh, too large, broken, or of no possible size.
    """
    from yellowbath.core.field.mesh.import_mesh import UNITS, clean, plausible
    from yellowbath.core.field.mesh.mesh_files import read_bytes

    if unit and unit not in UNITS:
        raise CaseError(f"{unit} is no unit of length here.", allowed=", ".join(UNITS) + ".")
    tell("Reading the file")
    read = read_bytes(name, data)
    likely = plausible(read.vertices)
    units = [Unit(u, length, _like(length)) for u, length in likely]
    said = read.unit if read.unit in {u for u, _ in likely} else None
    unit = unit or said or (units[0].unit if len(units) == 1 else "")
    if not unit and units:
        return MeshFile(units, None, (0.0, 0.0, 0.0), 0.0, 0.0, 0.0)
    body = clean(read.vertices, read.faces, unit or "mm", KEPT, tell)
    return _mesh_file(name, units, body)


def _mesh_file(name: str, units: Sequence[Unit], body: Any) -> MeshFile:
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
    return MeshFile(units, shape, (x, y, z), body.area, body.volume, mass)


def _like(length: float) -> str:
    """A length against something that everyone has about them."""
    known, name = min(_YARDSTICKS, key=lambda y: abs(1 - y[0] / length) + abs(1 - length / y[0]))
    times = length / known
    return f"{times:.1f} {name}s" if not 0.9 < times < 1.1 else f"about a {name}"
