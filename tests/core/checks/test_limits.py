"""Every limit has a case just under and one just over it, and a test of that test."""

import ast
import unittest
from pathlib import Path

from tests.core.checks.limits import cases, moved, speaks
from yellowbath.core.checks.limits import limits

CORE = Path(__file__).parents[3] / "yellowbath" / "core"


class Limits(unittest.TestCase):
    def test_each_is_quiet_just_short_of_it_and_speaks_just_past_it(self) -> None:
        listed = {(c["check"], c["limit"]) for c in cases()}
        self.assertEqual(listed, {(check, name) for check, name, _ in limits()})
        for case in cases():
            with self.subTest(case["check"], limit=case["limit"]):
                self.assertFalse(speaks(case, float(case["quiet"])))
                self.assertTrue(speaks(case, float(case["fires"])))

    def test_the_cases_notice_each_limit_moved_by_a_tenth(self) -> None:
        """A test of the test above: moved either way, one of the two cases says otherwise."""
        for case in cases():
            for by in (0.1, -0.1):
                with (
                    self.subTest(case["check"], limit=case["limit"], by=by),
                    moved(case["check"], case["limit"], by),
                ):
                    quiet, fires = (speaks(case, float(case[k])) for k in ("quiet", "fires"))
                    self.assertTrue(quiet or not fires)

    def test_no_condition_has_a_number_of_its_own(self) -> None:
        """Nothing but nought and one is compared with in a check or an advice."""
        alone = ("run/signs", "tell/advice", "tell/limits", "run/samples", "run/interlocks")
        rooms = [CORE / "checks", *(CORE / f"{name}.py" for name in alone)]
        files = [f for r in rooms for f in (r.glob("*.py") if r.is_dir() else [r])]
        for path in files:
            if path.parent.name == "fixes":
                continue  # it tries candidates; what it offers is judged by the checks
            self.assertEqual(literals(path.read_text("utf-8")), [], path.name)

    def test_a_number_slipped_into_a_condition_is_seen(self) -> None:
        for line in ("x > 8", "a < 0.5 * b", "3 < y <= z", "x == 40", "-x > 2.5"):
            self.assertTrue(literals(f"def f(): return {line}"), line)


def literals(source: str) -> list[str]:
    """Numbers other than nought and one within comparisons."""
    out = []
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Compare):
            for part in ast.walk(node):
                number = isinstance(part, ast.Constant) and type(part.value) in (int, float)
                if number and part.value not in (0, 1):  # type: ignore[attr-defined]
                    out.append(f"line {node.lineno}: {ast.unparse(node)}")
    return out
