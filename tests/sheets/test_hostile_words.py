"""Whatever is written into a plan, a sheet shows it and does nothing with it."""

import http.server
import io
import json
import struct
import threading
import unittest
from collections.abc import Iterator
from typing import Any, get_args
from unittest import mock

import lxml.etree
from pydantic import BaseModel
from pydantic.fields import FieldInfo
from pypdf import PdfReader
from pypdf.generic import ArrayObject, DictionaryObject, IndirectObject

from tests.longer import of, some
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.api.deps import attached
from yellowbath.core.document import Plan
from yellowbath.core.errors import InvalidDocumentError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.workflows.plans.sheets import KINDS, SheetAsked, make

# what a PDF, a drawing or a mesh must not carry
_PDF = {
    "/EmbeddedFiles", "/EmbeddedFile", "/AF", "/JavaScript", "/JS", "/OpenAction", "/AA", "/Launch",
    "/URI", "/GoToR", "/SubmitForm", "/RichMedia", "/Filespec",
}  # fmt: skip
_TAGS = {"script", "image", "a", "foreignObject", "use", "iframe", "style", "animate", "set"}


class Listener(http.server.BaseHTTPRequestHandler):
    asked: list[str]

    def do_GET(self) -> None:
        self.asked.append(self.path)
        self.send_error(404)

    def log_message(self, *_: Any) -> None:
        pass


def evil(port: int) -> str:
    """Words that try to get out of a sheet, each in its own way."""
    here = f"http://127.0.0.1:{port}"
    return (
        f"</b></text></style><link rel=attachment href='file:///etc/hostname'><img src='{here}/i'>"
        f"<script>1</script><a href='{here}/a'>x</a>"
    )


def free_texts(model: type[BaseModel], at: str = "") -> Iterator[str]:
    """Pointers of every field of a model that takes any words, walked from its schema."""
    for name, info in model.model_fields.items():
        for kind, pointer in _kinds(info, f"{at}/{name}"):
            if kind is str:
                yield pointer
            elif isinstance(kind, type) and issubclass(kind, BaseModel):
                yield from free_texts(kind, pointer)


def _kinds(info: FieldInfo, pointer: str) -> Iterator[tuple[Any, str]]:
    stack = [(info.annotation, pointer)]
    while stack:
        kind, at = stack.pop()
        origin = getattr(kind, "__origin__", None)
        if origin is list:
            stack.append((get_args(kind)[0], f"{at}/0"))
        elif origin is dict:
            yield str, f"{at}/words"
        elif isinstance(kind, type):
            yield kind, at
        else:
            stack += [(k, at) for k in get_args(kind) if not isinstance(k, str)]


def put(document: dict[str, Any], pointer: str, value: str) -> dict[str, Any]:
    holder: Any = document
    *path, last = pointer.strip("/").split("/")
    for part in path:
        holder = holder[int(part)] if isinstance(holder, list) else holder.setdefault(part, {})
    if isinstance(holder, list):
        holder[int(last) :] = [value]
    else:
        holder[last] = value
    return document


def whole() -> dict[str, Any]:
    plan = read_plan(QUIET).plan
    document = plan.model_dump(mode="json")
    document["kit"] = [{"role": "tank", "ref": "t"}]
    document["said"] = ["/mix"]
    return document


class Words(unittest.TestCase):
    def setUp(self) -> None:
        Listener.asked = []
        self.server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Listener)
        thread = threading.Thread(target=self.server.serve_forever)
        thread.start()
        self.addCleanup(thread.join)
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)

    def test_no_sheet_does_what_the_words_in_any_field_say(self) -> None:
        words = evil(self.server.server_port)
        pointers = sorted(set(free_texts(Plan)))
        self.assertIn("/pieces/0/name", pointers)
        self.assertGreater(len(pointers), 12)
        taken = 0
        for pointer in some(pointers, 6):
            document = put(whole(), pointer, words)
            try:
                read_plan(document)
            except InvalidDocumentError:
                document = put(whole(), pointer, words[:40])
                try:
                    read_plan(document)
                except InvalidDocumentError:
                    continue  # takes no such words at all
            taken += 1
            quick = [k for k in KINDS if not k.startswith("map")]
            for kind in KINDS if pointer == "/pieces/0/name" else quick:
                with self.subTest(pointer, kind=kind):
                    asked = SheetAsked(turns=((words[:100], 60.0),))
                    judge(self, kind, make(SOLVER, kind, document, asked).data)
        self.assertGreaterEqual(taken, of(8, 2))
        self.assertEqual(Listener.asked, [], "nothing was fetched")

    def test_even_a_sheet_that_asks_is_given_nothing(self) -> None:
        """A test of the fetcher itself: HTML that got through unescaped would still get nothing."""
        from yellowbath.sheets.pdf import pdf
        from yellowbath.workflows.plans.sheets import FONTS

        port = self.server.server_port
        data = pdf(
            f"<link rel=attachment href='file:///etc/hostname'><img src='http://127.0.0.1:{port}/'>"
            f"<link rel=stylesheet href='http://127.0.0.1:{port}/s'><p>x",
            FONTS,
        )
        self.assertEqual(Listener.asked, [])
        names = set(keys(PdfReader(io.BytesIO(data)).trailer))
        self.assertFalse(names & {"/EmbeddedFiles", "/EmbeddedFile", "/Filespec"}, names & _PDF)

    def test_the_judge_of_this_test_sees_an_attachment(self) -> None:
        import weasyprint

        html = "<link rel=attachment href='data:text/plain,x'><a href='http://127.0.0.1/'>x</a>"
        with self.assertRaises(AssertionError):
            judge(self, "card.pdf", weasyprint.HTML(string=html).write_pdf())


class Scripts(unittest.TestCase):
    NAMES = (
        "Zażółć gęślą jaźń", "Příliš žluťoučký kůň", "Ржавый якорь", "生锈的铁锚", "מעוגן",
        "x" * 200, "𝔘 nicode ☃ & <b>", "../../etc/passwd",
        "bell \x07 and nought \x00", 'a"b\r\nX-Evil: 1',
    )  # fmt: skip

    def test_names_in_any_script_give_every_sheet_and_a_file_name(self) -> None:
        for name in some(self.NAMES, 3):
            for kind in [k for k in KINDS if not k.startswith("map")]:
                with self.subTest(name[:20], kind=kind):
                    made = make(SOLVER, kind, {**QUIET, "pieces": [{"name": name}]}, SheetAsked())
                    judge(self, kind, made.data)
                    header = attached(made.name)["Content-Disposition"]
                    header.encode("latin-1")
                    self.assertNotIn("\n", header)
                    self.assertNotIn("/", header.replace("filename*=UTF-8''", ""))

    def test_a_mapped_piece_of_any_name_too(self) -> None:
        with mock.patch("yellowbath.workflows.plans.sheets.field_of", side_effect=_solved):
            for kind in ("map.glb", "map.ply"):
                made = make(SOLVER, kind, {**QUIET, "pieces": [{"name": "Ржавый"}]}, SheetAsked())
                judge(self, kind, made.data)
                attached(made.name)["Content-Disposition"].encode("latin-1")


def _solved(_: Any, document: dict[str, Any], quality: str) -> Any:
    from yellowbath.workflows.plans.field import field_of

    return field_of(SOLVER, {**QUIET}, quality)


def judge(case: unittest.TestCase, kind: str, data: bytes) -> None:
    """Read a sheet by a reader that did not write it, and look for what acts."""
    if kind.endswith(".pdf"):
        found = set(keys(PdfReader(io.BytesIO(data)).trailer)) & _PDF
        case.assertEqual(found, set())
    elif kind.endswith(".svg"):
        root = lxml.etree.fromstring(data, lxml.etree.XMLParser(resolve_entities=False))
        tags = {lxml.etree.QName(e).localname for e in root.iter() if isinstance(e.tag, str)}
        case.assertFalse(tags & _TAGS)
        for element in root.iter():
            for key, value in element.attrib.items():
                case.assertFalse(str(key).lower().startswith("on"), key)
                case.assertNotIn("href", str(key))
                case.assertFalse("url(" in str(value) and "url(#rust)" not in str(value))
    elif kind.endswith(".dxf"):
        lines = data.decode("utf-8").splitlines()
        case.assertEqual(len(lines) % 2, 0, "a group code before each value")
        entities = [
            v.strip() for c, v in zip(lines[::2], lines[1::2], strict=True) if c.strip() == "0"
        ]
        case.assertFalse({"IMAGE", "OLE2FRAME", "PDFUNDERLAY", "DGNUNDERLAY", "WIPEOUT", "BODY"}
                         & set(entities))  # fmt: skip
    elif kind.endswith(".glb"):
        magic, _, total = struct.unpack("<4sII", data[:12])
        length, name = struct.unpack("<I4s", data[12:20])
        case.assertEqual((magic, name, total), (b"glTF", b"JSON", len(data)))
        text = data[20 : 20 + length].decode()
        json.loads(text)
        case.assertNotIn('"uri"', text)
    elif kind.endswith(".ply"):
        case.assertEqual(data[:3], b"ply")
    else:
        json.loads(data)


def keys(node: Any, seen: set[int] | None = None) -> Iterator[str]:
    """Every dictionary key of a PDF, and every name that a dictionary is typed by."""
    seen = set() if seen is None else seen
    if isinstance(node, IndirectObject):
        if node.idnum in seen:
            return
        seen.add(node.idnum)
        node = node.get_object()
    if isinstance(node, DictionaryObject):
        for key, value in node.items():
            yield str(key)
            if str(key) in ("/S", "/Type", "/Subtype"):
                yield str(value)
            yield from keys(value if not hasattr(value, "idnum") else node.raw_get(key), seen)
    elif isinstance(node, ArrayObject):
        for value in node:
            yield from keys(value, seen)
