"""Each word for a thing that has a name stands once: in data/words.toml, and nowhere else."""

import ast
import re
import unittest
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

from yellowbath.core import document, kit
from yellowbath.core.data import table
from yellowbath.core.document.base import Doc
from yellowbath.core.words import _flat, of_field, word, words

ROOT = Path(__file__).parents[2]
PAGE = ROOT / "web" / "src"
# answers and units that mean the same wherever they stand, and so are no names
PLAIN = {"None", "No", "Not sure", "as the plan says", "weigh it", "same", ""}
# what the page asks of one screen; the word is also a name elsewhere
_TEXT = re.compile(r'"((?:[^"\\\n]|\\.)*)"|>\s*([^<>{}\n]+?)\s*<')
_ASKED = re.compile(r'\b(?:word|counted|options|said|under)\(\s*[`"]([\w.]+(?:\$\{[^}]+\})?)')


def page() -> Iterator[tuple[Path, str]]:
    for path in sorted(PAGE.rglob("*.ts*")):
        if path.name != "schema.d.ts":
            yield path, path.read_text("utf-8")


def code() -> Iterator[tuple[Path, str]]:
    """Every literal of the core, the views and the sheets that is no docstring."""
    for path in sorted((ROOT / "yellowbath").rglob("*.py")):
        if "migrations" in path.parts or path.name == "demo.py":
            continue
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                yield path, node.value


class Once(unittest.TestCase):
    def test_no_word_stands_twice_in_the_table(self) -> None:
        """One leaf with one text is one thing; what a part of it inherits is not written again."""
        where = defaultdict(list)
        for key, text in _flat("", table("words")):
            if text not in PLAIN and not key.startswith("choice."):
                where[key.rpartition(".")[2], text.lower()].append(key)
        self.assertEqual([k for k in where.values() if len(k) > 1], [])

    def test_no_word_of_the_table_is_written_into_the_page(self) -> None:
        """A name of two words or more; one word alone may be a heading of its own."""
        names = {t for k, t in words().items() if " " in t and t not in PLAIN}
        found = [
            f"{path.relative_to(PAGE)}: {text}"
            for path, source in page()
            for match in _TEXT.finditer(source)
            if (text := (match[1] or match[2] or "").strip()) in names
        ]
        self.assertEqual(found, [])

    def test_no_word_of_the_table_is_written_into_the_code(self) -> None:
        names = {t for t in words().values() if " " in t and t not in PLAIN}
        found = [f"{path.name}: {text}" for path, text in code() if text in names]
        self.assertEqual(found, [])


class Known(unittest.TestCase):
    def test_every_word_that_the_page_asks_for_is_there(self) -> None:
        keys, starts = set(words()), {k.rpartition(".")[0] for k in words()}
        for path, source in page():
            for match in _ASKED.finditer(source):
                asked = match[1]
                call = source[match.start() : match.start() + 8]
                if "${" in asked:
                    ok = any(k.startswith(asked.partition("${")[0]) for k in keys)
                elif call.startswith(("options", "said")):
                    ok = f"choice.{asked}" in starts
                else:
                    ok = asked in keys or asked in starts
                self.assertTrue(ok, f"{path.name}: {asked}")

    def test_every_choice_of_a_document_has_its_words_and_no_other(self) -> None:
        """A Literal of the document and its buttons are the same values."""
        seen = 0
        for model in [*vars(document).values(), *vars(kit).values()]:
            if not (isinstance(model, type) and issubclass(model, Doc)):
                continue
            for name, info in model.model_fields.items():
                values = {v for v in getattr(info.annotation, "__args__", ()) if isinstance(v, str)}
                start = f"choice.{model.part}.{name}."
                told = {k.removeprefix(start) for k in words() if k.startswith(start)}
                if len(values) > 1 and told:
                    self.assertEqual(values, told, start)
                    seen += 1
        self.assertGreater(seen, 15)

    def test_every_field_that_a_person_fills_in_has_a_word(self) -> None:
        inner = {"kind", "id", "schema_version", "typed", "regions", "masked", "batch_id", "shape",
                 "marks", "file", "vertices", "faces", "notes"}  # fmt: skip
        for model in vars(document).values():
            if (
                isinstance(model, type)
                and issubclass(model, Doc)
                and model.part not in ("", "plan")
            ):
                kind = str(getattr(model.model_fields.get("kind"), "default", "") or "")
                for name in set(model.model_fields) - inner - {"marks", "file", "vertices", "faces",
                                                               "notes"}:  # fmt: skip
                    known = of_field("field", model.part, name, kind)
                    self.assertIsNotNone(known, f"{model.part}.{kind}.{name}")

    def test_slots_are_filled(self) -> None:
        said = word("kit.log.bath", charge="3 Ah", time="2 h")
        self.assertEqual(said, "A bath: 3 Ah, 2 h")
