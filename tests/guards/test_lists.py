"""A rule over a list judges every member: nothing reads a plan's list by number."""

import ast
import re
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[2]
LISTS = {"pieces", "anodes", "leads", "baths", "regions", "marks", "kit", "rods"}
OWN = {"core/document/plan.py"}  # the document's own accessors


def by_number(source: str) -> list[str]:
    """Places that take the first, or any one, of a plan's lists by its number."""
    found = []
    for node in ast.walk(ast.parse(source)):
        target = None
        if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Constant):
            target = node.value if type(node.slice.value) is int else None
        if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.UnaryOp):
            target = node.value
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
            inner = node.args[0] if node.args else None
            if node.func.id == "next" and isinstance(inner, ast.Call):
                iterated = isinstance(inner.func, ast.Name) and inner.func.id == "iter"
                target = inner.args[0] if iterated else None
        if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Tuple):
            starred = any(isinstance(e, ast.Starred) for e in node.targets[0].elts)
            target = node.value if starred else None
        if isinstance(target, ast.Attribute) and target.attr in LISTS:
            found.append(f"line {node.lineno}: {ast.unparse(node)}")
    return found


_PAGE = re.compile(
    r"""(?:pieces|anodes)\s*\??\.?\s*!?\s*(?:\[\s*0\s*\]|\.at\(0\))|["'`]/(?:pieces|anodes)/0"""
)


class Lists(unittest.TestCase):
    def test_nothing_reads_a_plans_list_by_number(self) -> None:
        for path in sorted((ROOT / "yellowbath").rglob("*.py")):
            name = str(path.relative_to(ROOT / "yellowbath"))
            if name not in OWN:
                self.assertEqual(by_number(path.read_text("utf-8")), [], name)

    def test_nor_does_the_page(self) -> None:
        for path in sorted((ROOT / "web" / "src").rglob("*.ts*")):
            if path.name != "schema.d.ts":
                found = _PAGE.findall(path.read_text("utf-8"))
                self.assertEqual(found, [], path.name)

    def test_no_script_of_a_test_takes_an_element_for_granted(self) -> None:
        """While it is worked out anew it may be gone: ``?.`` or a helper that waits."""
        bare = re.compile(r"""querySelector\((?:'[^']*'|"[^"]*")\)\.""")
        for path in sorted((ROOT / "tests" / "browser").glob("*.py")):
            text = path.read_text("utf-8").replace('\\"', "")
            self.assertEqual(bare.findall(text), [], path.name)
        self.assertTrue(bare.search("document.querySelector('[data-region=x]').dataset"))

    def test_a_place_that_did_would_be_seen(self) -> None:
        for line in (
            "x = plan.pieces[0]", "x = c.plan.anodes[-1].material", "x = next(iter(plan.anodes))",
            "first, *rest = plan.pieces", "for k in doc.anodes[0]: pass",
        ):  # fmt: skip
            self.assertTrue(by_number(line), line)
        for text in (
            "doc.pieces?.[0]?.name", "scene.pieces[0]", 'at="/anodes/0/kind"', "doc.anodes!.at(0)",
            "pieces[0]",
        ):  # fmt: skip
            self.assertTrue(_PAGE.search(text), text)
