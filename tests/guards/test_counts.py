"""Counts that may only fall: numbers without an owner, conversions, sentences in the code."""

import ast
import unittest
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2] / "yellowbath"
NUMBERS = 33  # named numbers of the core that no comment says the why or the whence of
SENTENCES = 434  # whole ones in code, outside the words files
# inch, foot, pound, gallons, day: defined once
CONVERSIONS = {0.0254, 0.3048, 0.45359237, 3.785411784e-3, 4.54609e-3, 86400}


def unowned(source: str) -> Iterator[int]:
    """Lines of module constants with a number in them and no comment on, above or below them."""
    lines = source.split("\n")
    for node in ast.parse(source).body:
        if not isinstance(node, ast.Assign | ast.AnnAssign) or not any(numbers(node)):
            continue
        own = [s for s in lines[node.lineno - 1 : node.end_lineno] if "fmt: skip" not in s]
        below = lines[node.end_lineno] if node.end_lineno < len(lines) else ""  # type: ignore
        above = lines[node.lineno - 2].lstrip().startswith("#")
        if not (above or below.startswith('"""') or any("#" in s for s in own)):
            yield node.lineno


def numbers(tree: ast.AST) -> Iterator[float]:
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and type(node.value) in (int, float):
            yield node.value


def sentences(tree: ast.AST) -> Iterator[str]:
    """Strings of four words or more that end as sentences do, but for docstrings."""
    for node in ast.walk(tree):
        for child in ast.iter_child_nodes(node):
            said = isinstance(child, ast.Constant) and isinstance(child.value, str)
            if not said or isinstance(node, ast.Expr):
                continue
            text = child.value.strip()  # type: ignore[attr-defined]
            if len(text.split()) > 3 and text.endswith((".", "!", "?")):
                yield text


class Counts(unittest.TestCase):
    def test_named_numbers_of_the_core_have_an_owner(self) -> None:
        found = [
            f"{path.relative_to(ROOT)}:{line}"
            for path in sorted((ROOT / "core").rglob("*.py"))
            for line in unowned(path.read_text("utf-8"))
        ]
        self.assertLessEqual(len(found), NUMBERS, found)
        self.assertEqual(list(unowned("A = 0.3\nB = 0.4  # judged\n")), [1])

    def test_units_are_converted_by_their_own_file(self) -> None:
        for path in sorted((ROOT / "core").rglob("*.py")):
            if path.name != "units.py":
                with self.subTest(path.name):
                    found = set(numbers(ast.parse(path.read_text("utf-8"))))
                    self.assertEqual(found & CONVERSIONS, set())

    def test_sentences_go_into_the_words_files(self) -> None:
        found = [
            text for path in sorted(ROOT.rglob("*.py")) if "web_dist" not in path.parts
            for text in sentences(ast.parse(path.read_text("utf-8")))
        ]  # fmt: skip
        self.assertLessEqual(len(found), SENTENCES)
        one = "Not a word of this."
        self.assertEqual(list(sentences(ast.parse(f"f({one!r})"))), [one])
