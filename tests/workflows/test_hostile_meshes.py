"""Sixty mesh files that mean no good, or are merely broken, within a minute; and honest ones."""

import io
import json
import math
import struct
import unittest
import zipfile
from collections.abc import Callable
from typing import Any

import numpy as np
import trimesh

from tests.longer import of, some
from yellowbath.core.errors import CaseError
from yellowbath.workflows.mesh.mesh_upload import MeshFile
from yellowbath.workflows.mesh.mesh_worker import Doing, MeshWorker

Make = Callable[[], bytes]
_MODEL = (
    '<model unit="{unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">'
    "{x}</model>"
)
_CUBE = trimesh.creation.box((40, 30, 20))


def stl(mesh: trimesh.Trimesh = _CUBE) -> bytes:
    return bytes(mesh.export(file_type="stl"))


def zipped(files: dict[str, bytes], deflate: bool = True) -> bytes:
    out = io.BytesIO()
    kind = zipfile.ZIP_DEFLATED if deflate else zipfile.ZIP_STORED
    with zipfile.ZipFile(out, "w", kind) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def mesh_xml(mesh: trimesh.Trimesh = _CUBE) -> str:
    corners = "".join(f'<vertex x="{x}" y="{y}" z="{z}"/>' for x, y, z in mesh.vertices)
    faces = "".join(f'<triangle v1="{a}" v2="{b}" v3="{c}"/>' for a, b, c in mesh.faces)
    return f"<mesh><vertices>{corners}</vertices><triangles>{faces}</triangles></mesh>"


def three_mf(body: str, unit: str = "millimeter", head: str = "", **more: bytes) -> bytes:
    model = head + _MODEL.format(unit=unit, x=body)
    return zipped({"3D/3dmodel.model": model.encode(), **more})


def one_object(mesh: trimesh.Trimesh = _CUBE, unit: str = "millimeter", items: str = "") -> bytes:
    placed = items or '<item objectid="1"/>'
    return three_mf(
        f'<resources><object id="1">{mesh_xml(mesh)}</object></resources><build>{placed}</build>',
        unit,
    )


def bomb() -> bytes:
    """A model part that unpacks to a thousand times its size."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive,
        archive.open("3D/3dmodel.model", "w") as part,
    ):
        part.write(b'<model unit="millimeter"><resources><object id="1"><mesh><vertices>')
        for _ in range(300):
            part.write(b'<vertex x="0" y="0" z="0"/>' * 40_000)
    return out.getvalue()


def blank_bomb() -> bytes:
    out = io.BytesIO()
    with (
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive,
        archive.open("3D/3dmodel.model", "w") as part,
    ):
        part.write(b"<model>")
        for _ in range(250):
            part.write(b" " * 1_000_000)
    return out.getvalue()


def ring_of_parts() -> bytes:
    body = (
        '<resources><object id="1"><components><component objectid="2"/></components></object>'
        '<object id="2"><components><component objectid="1"/></components></object></resources>'
        '<build><item objectid="1"/></build>'
    )
    return three_mf(body)


def doubling() -> bytes:
    """Each part holds two of the one before: a billion of them in thirty lines."""
    objects = [f'<object id="0">{mesh_xml()}</object>']
    objects += [
        f'<object id="{k}"><components><component objectid="{k - 1}"/>'
        f'<component objectid="{k - 1}"/></components></object>' for k in range(1, 31)
    ]  # fmt: skip
    return three_mf(
        f'<resources>{"".join(objects)}</resources><build><item objectid="30"/></build>'
    )


def laughs(entity: str) -> bytes:
    return three_mf("&e;", head=f"<!DOCTYPE model [{entity}]>")


def glb(tree: Any, blob: bytes = b"", magic: bytes = b"glTF", total: int | None = None) -> bytes:
    text = json.dumps(tree).encode() if not isinstance(tree, bytes) else tree
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if blob:
        chunks += struct.pack("<I4s", len(blob), b"BIN\x00") + blob
    size = 12 + len(chunks) if total is None else total
    return struct.pack("<4sII", magic, 2, size) + chunks


def bodies(count: int, apart: float = 3.0) -> trimesh.Trimesh:
    side = math.ceil(count ** (1 / 3))
    small = trimesh.creation.box((1, 1, 1))
    made = []
    for k in range(count):
        one = small.copy()
        one.apply_translation([apart * (k % side), apart * (k // side % side),
                               apart * (k // side**2)])  # fmt: skip
        made.append(one)
    return trimesh.util.concatenate(made)


def cone(triangles: int) -> trimesh.Trimesh:
    """One corner that every triangle shares."""
    n = triangles // 2
    angles = np.linspace(0, 2 * math.pi, n, endpoint=False)
    rim = np.stack([50 * np.cos(angles), 50 * np.sin(angles), np.zeros(n)], axis=1)
    k = np.arange(n)
    after = (k + 1) % n
    top, foot = np.full(n, n), np.full(n, n + 1)
    faces = np.concatenate([np.stack([k, after, top], 1), np.stack([after, k, foot], 1)])
    return trimesh.Trimesh([*rim, [0, 0, 100], [0, 0, -1]], faces, process=False)


def binary_stl(count: int, body: bytes) -> bytes:
    return b"\x00" * 80 + struct.pack("<I", count) + body


def obj(lines: str) -> bytes:
    return lines.encode()


def ply(head: str, body: bytes = b"") -> bytes:
    return f"ply\n{head}end_header\n".encode() + body


_BIG = (
    "format binary_little_endian 1.0\nelement vertex {n}\nproperty float x\nproperty float y\n"
    "property float z\nelement face {m}\nproperty list uchar int vertex_indices\n"
)


def _all(value: float) -> bytes:
    return struct.pack("<12fH", *([value] * 12), 0) * 4


_TRI = struct.pack("<12fH", *([0.0] * 12), 0)

REFUSED: dict[str, tuple[str, Make]] = {
    "a bomb of corners": ("3mf", bomb),
    "a bomb of blanks": ("3mf", blank_bomb),
    "parts within one another": ("3mf", ring_of_parts),
    "a billion parts": ("3mf", doubling),
    "a million laughs": ("3mf", lambda: laughs(
        "".join(f'<!ENTITY l{k} "{f"&l{k - 1};" * 10 if k else "ha" * 10}">' for k in range(9))
        + '<!ENTITY e "&l8;">')),
    "a file of the machine": ("3mf", lambda: laughs('<!ENTITY e SYSTEM "file:///etc/passwd">')),
    "an address": ("3mf", lambda: laughs('<!ENTITY e SYSTEM "http://127.0.0.1:9/x">')),
    "no model": ("3mf", lambda: zipped({"readme.txt": b"x"})),
    "a model elsewhere": ("3mf", lambda: zipped({"_rels/.rels": b'<R><Relationship '
        b'Type="http://x/3dmodel" Target="../../etc/passwd"/></R>'})),
    "no archive": ("3mf", lambda: b"PK\x03\x04 nothing"),
    "an archive cut short": ("3mf", lambda: one_object()[:-60]),
    "ten thousand files": ("3mf", lambda: zipped({f"f{k}": b"" for k in range(10_000)}, False)),
    "a part that is not there": ("3mf", lambda: one_object(items='<item objectid="7"/>')),
    "a crooked transform": ("3mf", lambda: one_object(
        items='<item objectid="1" transform="1 0 0"/>')),
    "a transform of NaN": ("3mf", lambda: one_object(
        items=f'<item objectid="1" transform="{"nan " * 12}"/>')),
    "corners that are words": ("3mf", lambda: three_mf(
        '<resources><object id="1"><mesh><vertices><vertex x="a" y="0" z="0"/></vertices>'
        "</mesh></object></resources>")),
    "corners past the last": ("3mf", lambda: three_mf(
        f'<resources><object id="1">{mesh_xml().replace("v1=", "v9=").replace("v9=", "v1=9", 1)}'
        "</object></resources>")),
    "tags without end": ("3mf", lambda: three_mf("<a>" * 100_000)),
    "an unfinished model": ("3mf", lambda: zipped({"3D/3dmodel.model": b"<model><resources>"})),
    "a thousand objects": ("3mf", lambda: three_mf("<resources>" + "".join(
        f'<object id="{k}">{mesh_xml()}</object>' for k in range(1000)) + "</resources>")),
    "placed a thousand times": ("3mf", lambda: one_object(items='<item objectid="1"/>' * 1000)),
    "a unit nobody has": ("3mf", lambda: one_object(trimesh.creation.box((1e9, 1, 1)), "parsec")),
    "three thousand bodies": ("stl", lambda: stl(bodies(3000))),
    "five hundred bodies that touch": ("stl", lambda: stl(bodies(500, 1.0))),
    "two bodies apart": ("stl", lambda: stl(bodies(2, 30.0))),
    "more triangles than are taken": ("stl", lambda: stl(cone(260_000))),
    "it says a billion triangles": ("stl", lambda: binary_stl(1_000_000_000, _TRI)),
    "it says none": ("stl", lambda: binary_stl(0, b"")),
    "nothing but nought": ("stl", lambda: binary_stl(4, _TRI * 4)),
    "an STL of NaN": ("stl", lambda: binary_stl(4, _all(math.nan))),
    "an STL without end": ("stl", lambda: binary_stl(4, _all(math.inf))),
    "an empty file": ("stl", lambda: b""),
    "one byte": ("stl", lambda: b"s"),
    "an ASCII STL of words": ("stl", lambda: b"solid x\n" + b"facet normal a b c\n" * 50_000),
    "an ASCII STL without end": ("stl", lambda: b"solid " + b"x" * 5_000_000),
    "a zip called STL": ("stl", lambda: one_object()),
    "noise": ("stl", lambda: np.random.default_rng(1).bytes(3_000_000)),
    "a sheet": ("stl", lambda: stl(trimesh.Trimesh(
        [[0, 0, 0], [90, 0, 0], [90, 60, 0], [0, 60, 0]], [[0, 1, 2], [0, 2, 3]]))),
    "another file's material": ("obj", lambda: obj(
        "mtllib /etc/passwd\nmtllib ../../secret.mtl\nv 0 0 0\nf 1 1 1\n")),
    "groups without number": ("obj", lambda: obj("v 0 0 0\n" + "g a\nf 1 1 1\n" * 20_000)),
    "corners that are not there": ("obj", lambda: obj("v 0 0 0\nf 1 2 3\n")),
    "corners before the first": ("obj", lambda: obj("v 0 0 0\nv 1 0 0\nv 0 1 0\nf -9 -8 -7\n")),
    "a corner of a million numbers": ("obj", lambda: obj("v " + "1 " * 1_000_000 + "\nf 1 1 1\n")),
    "a face of a million corners": ("obj", lambda: obj("v 0 0 0\nf " + "1 " * 1_000_000 + "\n")),
    "numbers past all bounds": ("obj", lambda: obj(
        "v 1e400 0 0\nv 0 1e400 0\nv 0 0 1e400\nf 1 2 3\n")),
    "nothing but comments": ("obj", lambda: obj("# x\n" * 500_000)),
    "a PLY of a billion corners": ("ply", lambda: ply(_BIG.format(n=10**9, m=10**9))),
    "a PLY of fewer than none": ("ply", lambda: ply(_BIG.format(n=-5, m=-5))),
    "a PLY whose lists have no end": ("ply", lambda: ply(
        _BIG.format(n=3, m=1000), b"\x00" * 36 + b"\xff" * 5000)),
    "a PLY of unknown kinds": ("ply", lambda: ply(
        "format binary_little_endian 1.0\nelement vertex 3\nproperty __x__ x\n", b"\x00" * 99)),
    "a PLY with ten thousand properties": ("ply", lambda: ply(
        "format ascii 1.0\nelement vertex 1\n" + "property float x\n" * 10_000, b"0\n")),
    "a PLY head without end": ("ply", lambda: b"ply\n" + b"comment x\n" * 400_000),
    "a GLB that leans on a file": ("glb", lambda: glb(
        {"asset": {}, "buffers": [{"uri": "file:///etc/passwd", "byteLength": 9}]})),
    "a GLB that leans on an address": ("glb", lambda: glb(
        {"asset": {"version": "2.0"}, "images": [{"uri": "http://127.0.0.1:9/x.png"}]})),
    "a GLB of ten thousand nodes": ("glb", lambda: glb(
        {"asset": {"version": "2.0"}, "nodes": [{"children": [k + 1]} for k in range(10_000)]})),
    "a GLB whose nodes hold themselves": ("glb", lambda: glb(
        {"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}],
         "nodes": [{"children": [0], "mesh": 0}], "meshes": [{"primitives": []}]})),
    "a GLB of a billion corners": ("glb", lambda: glb(
        {"asset": {"version": "2.0"}, "accessors": [
            {"type": "VEC3", "count": 10**12, "componentType": 5126}]}, b"\x00" * 16)),
    "a GLB longer than it is": ("glb", lambda: glb({}, total=10**9)),
    "a GLB of no JSON": ("glb", lambda: glb(b"{" * 4000)),
    "a GLB of lists": ("glb", lambda: glb([[[]]] * 100)),
    "a GLB called so": ("glb", lambda: stl()),
    "a kind that is none": ("step", lambda: b"ISO-10303-21;"),
    "no kind at all": ("", lambda: stl()),
}  # fmt: skip


class Hostile(unittest.TestCase):
    worker: MeshWorker

    @classmethod
    def setUpClass(cls) -> None:
        cls.worker = MeshWorker()
        cls.worker.ready()
        cls.addClassCleanup(cls.worker.close)

    def read(self, name: str, data: bytes, unit: str = "mm") -> tuple[list[str], MeshFile]:
        told, found = [], None
        for item in self.worker.read(name, data, unit):
            if isinstance(item, Doing):
                told.append(item.words)
            else:
                found = item
        assert found is not None
        return told, found

    def test_sixty_hostile_files_are_refused_in_words(self) -> None:
        self.assertGreaterEqual(len(REFUSED), 60)
        files = {name: (REFUSED[name][0], REFUSED[name][1]()) for name in some(list(REFUSED), 4)}
        for name, (kind, data) in files.items():
            with self.subTest(name):
                with self.assertRaises(CaseError) as caught:
                    self.read(f"piece.{kind}" if kind else "piece", data)
                words = str(caught.exception)
                self.assertTrue(caught.exception.problem and words.endswith("."), words)
                self.assertNotIn("Traceback", words)

    def test_the_next_file_is_read_as_if_nothing_had_been(self) -> None:
        for _ in range(of(2, 1)):
            told, found = self.read("block.stl", stl())
            self.assertIn("Reading the file", told)
            self.assertAlmostEqual(found.area_m2 * 1e6, float(_CUBE.area), places=3)
            with self.assertRaises(CaseError):
                self.read("x.3mf", bomb())

    def test_honest_files_that_used_to_break(self) -> None:
        touching = trimesh.util.concatenate([_CUBE, _CUBE.copy().apply_translation([40, 0, 0])])
        small = trimesh.creation.box((20, 20, 10)).apply_translation([3, 2, 15])
        stacked = trimesh.util.concatenate([_CUBE, small])
        umlaut = b"# Gepr\xfcft von J\xfcrgen\n" + trimesh.exchange.obj.export_obj(_CUBE).encode()
        ascii_stl = trimesh.exchange.stl.export_stl_ascii(_CUBE).replace("solid", "solid Stück", 1)
        moved = one_object(items='<item objectid="1" transform="1 0 0 0 1 0 0 0 1 5 6 7"/>')
        for name, data, unit, area in (
            ("two that touch.stl", stl(touching), "mm", 2 * (80 * 30 + 80 * 20 + 30 * 20)),
            ("a block on a block.stl", stl(stacked), "mm", float(_CUBE.area) + 4 * 20 * 10),
            ("umlaut.obj", umlaut, "mm", float(_CUBE.area)),
            ("stück.stl", ascii_stl.encode("latin-1"), "mm", float(_CUBE.area)),
            ("moved.3mf", moved, "", float(_CUBE.area)),
            (
                "inches.3mf",
                one_object(trimesh.creation.box((4, 3, 2)), "inch"),
                "",
                2 * 26 * 25.4**2,
            ),
            (
                "scene.glb",
                trimesh.creation.box((0.04, 0.03, 0.02)).export(file_type="glb"),
                "",
                float(_CUBE.area),
            ),
        ):
            with self.subTest(name):
                _, found = self.read(name, data, unit)
                self.assertIsNotNone(found.shape, "its unit was taken from the file")
                self.assertAlmostEqual(found.area_m2 * 1e6 / area, 1.0, places=4)

    def test_what_takes_too_long_is_ended_and_what_is_hung_up_on_too(self) -> None:
        quick = MeshWorker(most_s=0.01)
        self.addCleanup(quick.close)
        with self.assertRaisesRegex(CaseError, "takes longer"):
            list(quick.read("cone.stl", stl(cone(190_000)), "mm"))
        going = self.worker.read("cone.stl", stl(cone(190_000)), "mm")
        self.assertIsInstance(next(going), Doing)
        going.close()
        _, found = self.read("block.stl", stl())
        self.assertIsNotNone(found.shape)
