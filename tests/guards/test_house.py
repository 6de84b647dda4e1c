"""Docs and generated files keep up; the front end's features keep apart."""

import ast
import contextlib
import io
import re
import unittest
from pathlib import Path

from tests import share
from tests.server import described

ROOT = Path(__file__).parents[2]
WEB = ROOT / "web" / "src"


class FrontEnd(unittest.TestCase):
    def test_features_never_import_one_another_and_shared_imports_no_feature(self) -> None:
        for path in WEB.rglob("*.ts*"):
            parts = path.relative_to(WEB).parts
            for target in re.findall(r'from "@/features/(\w+)', path.read_text("utf-8")):
                with self.subTest(path.name):
                    self.assertNotEqual(parts[0], "shared")
                    if parts[0] == "features":
                        self.assertEqual(parts[1], target)

    def test_the_page_asks_nobody_else(self) -> None:
        """No script, style or font from outside at run time."""
        for path in [*WEB.rglob("*.ts*"), *WEB.rglob("*.css"), ROOT / "web" / "index.html"]:
            text = path.read_text("utf-8")
            outside = [u for u in re.findall(r"https?://[^\s\"')]+", text) if "w3.org" not in u]
            self.assertEqual(outside, [], path.name)

    def test_the_client_is_generated_from_this_api(self) -> None:
        """Every path and operation of the API stands in the generated types."""
        api = described()
        types = (WEB / "shared" / "api" / "schema.d.ts").read_text("utf-8")
        for path, methods in api["paths"].items():
            self.assertIn(f'"{path}"', types)
            for method in methods.values():
                self.assertIn(f'operations["{method["operationId"]}"]', types)
        for name, schema in api["components"]["schemas"].items():
            self.assertTrue(re.search(rf"\b{re.escape(name)}\b", types), name)
            for prop in schema.get("properties", {}):
                self.assertRegex(types, rf"\b{re.escape(prop)}\b")


class BrowserTests(unittest.TestCase):
    def test_what_a_page_shows_is_waited_for(self) -> None:
        """A look at once is a race with the page's next drawing: ``expect`` waits."""
        at_once = re.compile(r"assert\w+\([^\n]*\.(is_\w+|count|input_value)\(\)")
        for path in (ROOT / "tests" / "browser").glob("*.py"):
            with self.subTest(path.name):
                self.assertEqual(at_once.findall(path.read_text("utf-8")), [])


class Docs(unittest.TestCase):
    def test_settings_are_documented(self) -> None:
        text = (ROOT / "docs" / "settings.md").read_text("utf-8")
        for name in re.findall(
            r"YELLOWBATH_\w+", (ROOT / "yellowbath" / "settings.py").read_text()
        ):
            self.assertIn(name, text)

    def test_the_readme_has_the_two_commands_and_links_every_picture(self) -> None:
        text = (ROOT / "README.md").read_text("utf-8")
        first = "\n".join(text.splitlines()[:30])
        for command in ("make demo", "make test"):
            self.assertIn(command, first)
        for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
            self.assertIn(picture.name, text)

    def test_links_between_pages_hold(self) -> None:
        for page in [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *ROOT.glob("docs/**/*.md")]:
            for link in re.findall(r"\]\(([^)#]+)", page.read_text("utf-8")):
                if "://" not in link:
                    self.assertTrue((page.parent / link).exists(), f"{page.name}: {link}")

    def test_docs_named_in_the_core_exist(self) -> None:
        for path in (ROOT / "yellowbath").rglob("*.*"):
            if path.suffix in (".py", ".toml"):
                for doc in re.findall(r"docs/[\w/]+\.md", path.read_text("utf-8")):
                    self.assertTrue((ROOT / doc).exists(), f"{path.name}: {doc}")

    def test_every_route_is_documented(self) -> None:
        text = (ROOT / "docs" / "api.md").read_text("utf-8")
        for path in (ROOT / "yellowbath" / "api" / "routes").glob("*.py"):
            for operation in re.findall(r'operation_id="(\w+)"', path.read_text("utf-8")):
                self.assertIn(operation, text)


class Examples(unittest.TestCase):
    def test_the_readmes_example_says_what_it_says(self) -> None:
        text = (ROOT / "README.md").read_text("utf-8")
        code, said = text.split("```python\n", 1)[1].split("```\n\n```\n", 1)
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            exec(compile(code, "README.md", "exec"), {})
        self.assertEqual(out.getvalue(), said.split("```", 1)[0])

    def test_docstring_examples_run(self) -> None:
        import doctest
        import importlib

        ran = 0
        for path in (ROOT / "yellowbath" / "core").rglob("*.py"):
            name = ".".join(path.relative_to(ROOT).with_suffix("").parts)
            result = doctest.testmod(importlib.import_module(name.removesuffix(".__init__")))
            self.assertEqual(result.failed, 0, name)
            ran += result.attempted
        self.assertGreaterEqual(ran, 7)


class Names(unittest.TestCase):
    def test_no_two_classes_have_one_name(self) -> None:
        """Who reads of a thing knows which one it is."""
        seen: dict[str, list[str]] = {}
        for path in sorted((ROOT / "yellowbath").rglob("*.py")):
            for node in ast.walk(ast.parse(path.read_text("utf-8"))):
                if isinstance(node, ast.ClassDef):
                    seen.setdefault(node.name, []).append(path.name)
        self.assertEqual({k: v for k, v in seen.items() if len(v) > 1}, {})


class Measure(unittest.TestCase):
    def test_a_quarter_to_a_third_of_the_code_is_tests(self) -> None:
        tests, total = share.counted()
        self.assertTrue(share.LEAST <= tests / total <= share.MOST, f"{tests} of {total}")
