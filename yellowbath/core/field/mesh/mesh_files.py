"""Mesh files as bytes to corners and triangles, whoever wrote them.

STL, OBJ, PLY and GLB by the mesh library, told to load nothing beside the file; 3MF by its model
part alone, streamed, its unit taken. Everything that unpacks or counts has a limit.
"""

from __future__ import annotations

import io
import json
import struct
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import lxml.etree
import numpy as np
from numpy.typing import NDArray

from yellowbath.core.errors import CaseError

Array = NDArray[np.float64]
Indices = NDArray[np.int64]

KINDS = ("stl", "obj", "ply", "3mf", "glb")
MOST_BYTES = 30_000_000  # 600 000 faces of a binary STL, at 50 bytes
MOST_UNPACKED = 120_000_000  # bytes of a 3MF's model part
MOST_ENTRIES = 2_000  # files in its archive
MOST_PARTS = 500  # objects placed by it, by a GLB's scene, or groups of an OBJ
MOST_CORNERS = 700_000  # three and a little for each face that is taken
MOST_TRIANGLES = 220_000  # a little over what is taken, so that the count can be said
_DEEPEST = 8  # components within components


@dataclass(frozen=True)
class MeshRead:
    """Corners (n, 3) and triangles (m, 3) in the file's own unit, which is None where it is not
    said: mm, cm, m, in or ft."""

    vertices: Array
    faces: Indices
    unit: str | None = None


def read_bytes(name: str, data: bytes) -> MeshRead:
    """The mesh in a file's bytes; raises CaseError saying what is wrong with it."""
    kind = name.lower().rpartition(".")[2]
    if kind not in KINDS:
        raise CaseError(f"{name} is no mesh file.", allowed="STL, OBJ, PLY, 3MF and GLB.")
    if len(data) > MOST_BYTES:
        raise CaseError(
            f"{name} has {len(data) / 1e6:.0f} MB.",
            allowed=f"Up to {MOST_BYTES / 1e6:.0f} MB.",
            remedy="Simplify it before the export.",
        )
    try:
        if kind == "3mf":
            return _sound(name, _three_mf(data))
        if kind == "glb":
            _only_itself(data)
        elif kind == "obj":
            _counted(data)
        return _sound(name, _by_library(data, kind))
    except CaseError:
        raise
    except MemoryError:
        raise CaseError(
            f"{name} is too much for the memory that reading it may take.",
            remedy="Simplify it before the export.",
        ) from None
    except Exception as error:  # readers of broken files raise whatever they like
        said = str(error) or type(error).__name__
        raise CaseError(
            f"{name} cannot be read: {said[:200]}.", remedy="Export it again, as STL if in doubt."
        ) from None


def _sound(name: str, read: MeshRead) -> MeshRead:
    vertices, faces = read.vertices, read.faces
    if len(faces) == 0 or len(vertices) == 0:
        raise CaseError("The mesh has no triangles.", remedy="Export the body again.")
    if len(faces) > MOST_TRIANGLES or len(vertices) > MOST_CORNERS:
        raise CaseError(
            f"{name} has {len(faces):,} triangles.",
            allowed="Up to 200,000.",
            remedy="Simplify it before the export.",
        )
    if vertices.ndim != 2 or vertices.shape[1] != 3 or faces.ndim != 2 or faces.shape[1] != 3:
        raise CaseError(f"{name} holds no triangles in space.", remedy="Export it again.")
    return read


def _by_library(data: bytes, kind: str) -> MeshRead:
    import trimesh

    scene: Any = trimesh.load(
        io.BytesIO(data), file_type=kind, process=False, force="mesh", resolver=None,
        skip_materials=True,
    )  # fmt: skip
    vertices, faces = np.asarray(scene.vertices, dtype=float), np.asarray(scene.faces)
    if kind == "glb":  # y up and metres, by its definition
        return MeshRead(vertices[:, [0, 2, 1]] * [1, -1, 1], faces.astype(np.int64), "m")
    return MeshRead(vertices, faces.astype(np.int64))


def _counted(data: bytes) -> None:
    """An OBJ of many groups costs the library more than linearly."""
    groups = sum(data.count(b"\n" + key) for key in (b"g ", b"o ", b"usemtl "))
    if groups > MOST_PARTS:
        raise _too_many(groups)


def _too_many(parts: int) -> CaseError:
    return CaseError(
        f"It holds {parts:,} parts.",
        allowed=f"Up to {MOST_PARTS}.",
        remedy="Export the one piece alone, joined to one body.",
    )


# --- GLB ----------------------------------------------------------------------------------------


def _only_itself(data: bytes) -> None:
    """A GLB whose every buffer is in it and whose parts can be counted; raises CaseError."""
    if len(data) < 20:
        raise CaseError("The file is cut short.", remedy="Export it again.")
    magic, _, total = struct.unpack("<4sII", data[:12])
    length, name = struct.unpack("<I4s", data[12:20])
    if magic != b"glTF" or name != b"JSON" or total > len(data) or length > len(data) - 20:
        raise CaseError("It is no GLB file, or is cut short.", remedy="Export it again.")
    tree = json.loads(data[20 : 20 + length])
    if not isinstance(tree, dict):
        raise CaseError("It is no GLB file.", remedy="Export it again.")
    outside = [b for key in ("buffers", "images") for b in _rows(tree, key) if "uri" in b]
    if outside:
        raise CaseError(
            "It leans on another file.", remedy="Export it as one GLB with everything in it."
        )
    drawn = sum(len(_rows(m, "primitives")) for m in _rows(tree, "meshes"))
    parts = max(len(_rows(tree, "nodes")), drawn)
    if parts > MOST_PARTS:
        raise _too_many(parts)
    corners = sum(
        int(a.get("count", 0)) for a in _rows(tree, "accessors") if a.get("type") == "VEC3"
    )
    if corners > 4 * MOST_CORNERS:
        raise CaseError(f"It holds {corners:,} corners.", remedy="Simplify it before the export.")


def _rows(tree: dict[str, Any], key: str) -> list[dict[str, Any]]:
    found = tree.get(key, [])
    return [r for r in found if isinstance(r, dict)] if isinstance(found, list) else []


# --- 3MF ----------------------------------------------------------------------------------------

_UNITS = {
    "micron": None, "millimeter": "mm", "centimeter": "cm", "meter": "m", "inch": "in",
    "foot": "ft",
}  # fmt: skip
Turn = NDArray[np.float64]


@dataclass
class _Object:
    vertices: list[tuple[float, float, float]]
    faces: list[tuple[int, int, int]]
    parts: list[tuple[str, Turn]]


def _three_mf(data: bytes) -> MeshRead:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile:
        raise CaseError("It is no 3MF file.", remedy="Export it again.") from None
    entries = archive.infolist()
    if len(entries) > MOST_ENTRIES:
        raise CaseError(f"Its archive holds {len(entries):,} files.", remedy="Export it again.")
    objects: dict[str, _Object] = {}
    placed: list[tuple[str, Turn]] = []
    unit = _stream(_Capped(archive.open(_model_part(archive))), objects, placed)
    if not placed:
        placed = [(key, np.eye(4)) for key, o in objects.items() if o.faces]
    vertices: list[Array] = []
    faces: list[Indices] = []
    corners = count = 0
    for o, turn in _laid_out(objects, placed):
        points = np.asarray(o.vertices, dtype=float)
        if not o.faces or not len(points):
            continue
        vertices.append(points @ turn[:3, :3] + turn[3, :3])
        faces.append(np.asarray(o.faces, dtype=np.int64) + corners)
        corners, count = corners + len(points), count + len(o.faces)
        if corners > MOST_CORNERS or count > MOST_TRIANGLES:
            raise CaseError(f"It holds {count:,} triangles.", allowed="Up to 200,000.",
                            remedy="Simplify it before the export.")  # fmt: skip
    if not faces:
        return MeshRead(np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64), unit)
    return MeshRead(np.concatenate(vertices), np.concatenate(faces), unit)


class _Capped(io.RawIOBase):
    """A stream that says so where it unpacks to more than is taken."""

    def __init__(self, stream: Any) -> None:
        self._stream, self._seen = stream, 0

    def read(self, size: int = -1) -> bytes:
        some: bytes = self._stream.read(65536 if size is None or size < 0 else size)
        self._seen += len(some)
        if self._seen > MOST_UNPACKED:
            raise CaseError(
                f"It unpacks to more than {MOST_UNPACKED / 1e6:.0f} MB.",
                remedy="Simplify it before the export.",
            )
        return some


def _model_part(archive: zipfile.ZipFile) -> str:
    names = set(archive.namelist())
    if "_rels/.rels" in names:
        relations = _Capped(archive.open("_rels/.rels")).read(1_000_000)
        for element in lxml.etree.fromstring(relations, _parser()).iter("{*}Relationship"):
            if element.get("Type", "").endswith("/3dmodel"):
                target = element.get("Target", "").lstrip("/")
                if target in names:
                    return str(target)
    if "3D/3dmodel.model" in names:
        return "3D/3dmodel.model"
    raise CaseError("It holds no model.", remedy="Export it again.")


def _parser() -> lxml.etree.XMLParser:
    return lxml.etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False
    )


def _stream(part: Any, objects: dict[str, _Object], placed: list[tuple[str, Turn]]) -> str | None:
    """Read a model part as it unpacks, keeping nothing but numbers; returns its unit."""
    unit: str | None = "mm"
    mine = _Object([], [], [])
    events = lxml.etree.iterparse(
        part, events=("start", "end"), resolve_entities=False, no_network=True, load_dtd=False,
        huge_tree=False, remove_comments=True, remove_pis=True,
    )  # fmt: skip
    total = 0
    for event, element in events:
        tag = lxml.etree.QName(element).localname
        if event == "start":
            if tag == "model":
                unit = _UNITS.get(element.get("unit", "millimeter"))
            elif tag == "object":
                mine = objects[element.get("id", "")] = _Object([], [], [])
                if len(objects) > MOST_PARTS:
                    raise _too_many(len(objects))
            continue
        if tag == "vertex":
            x, y, z = (float(element.get(k)) for k in ("x", "y", "z"))
            mine.vertices.append((x, y, z))
        elif tag == "triangle":
            a, b, c = (int(element.get(k)) for k in ("v1", "v2", "v3"))
            mine.faces.append((a, b, c))
        elif tag in ("component", "item"):
            one = (element.get("objectid", ""), _transform(element.get("transform")))
            (placed if tag == "item" else mine.parts).append(one)
        total += tag in ("vertex", "triangle")
        if total > MOST_CORNERS + MOST_TRIANGLES:
            raise CaseError("It holds far more than 200,000 triangles.",
                            remedy="Simplify it before the export.")  # fmt: skip
        element.clear()
        while element.getprevious() is not None:
            del element.getparent()[0]
    return unit


def _transform(text: str | None) -> Turn:
    """The format's twelve numbers as rows by which points, as rows, are turned and shifted."""
    made = np.eye(4)
    if text:
        made[:, :3] = np.array([float(x) for x in text.split()]).reshape(4, 3)
    return made


def _laid_out(
    objects: dict[str, _Object], placed: list[tuple[str, Turn]]
) -> Iterator[tuple[_Object, Turn]]:
    """Every object as often as it is placed, by itself or within another."""
    stack = [(key, turn, 0) for key, turn in placed]
    seen = 0
    while stack:
        key, turn, depth = stack.pop()
        seen += 1
        if seen > MOST_PARTS:
            raise _too_many(seen)
        if depth > _DEEPEST:
            raise CaseError("Its parts hold one another without end.", remedy="Export it again.")
        if key not in objects:
            raise CaseError(f"It places a part {key[:40]} that it does not hold.",
                            remedy="Export it again.")  # fmt: skip
        yield objects[key], turn
        stack += [(other, of @ turn, depth + 1) for other, of in objects[key].parts]
