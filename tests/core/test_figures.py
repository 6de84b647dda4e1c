"""Figures, their formulas and the tables' honesty."""

import math
import unittest

from yellowbath.core.checks.limits import ADVICE, LISTENING, limits
from yellowbath.core.data import HONESTY, param, params, require_provenance, source_text, table
from yellowbath.core.errors import DataTableError
from yellowbath.core.figures import evaluate, figure, typed, uses


class Formulas(unittest.TestCase):
    def test_what_the_evaluator_knows(self) -> None:
        for expression, value in (
            ("2*(l*w + l*t + w*t)", 22.0),
            ("pi*l**2/4", math.pi / 4),
            ("max(l - 5, 0) + min(w, t)", 2.0),
            ("-ln(exp(l)) + sqrt(4)", 1.0),
            ("Phi(0) + sin(0)", 0.5),
        ):
            with self.subTest(expression):
                got = evaluate(expression, {"l": 1.0, "w": 2.0, "t": 3.0})
                self.assertAlmostEqual(got, value)

    def test_nothing_but_formulas_is_evaluated(self) -> None:
        for expression in ("__import__('os')", "l.real", "[1]", "l if 1 else 2", "'a'"):
            with self.subTest(expression), self.assertRaises((ValueError, KeyError)):
                evaluate(expression, {"l": 1.0})

    def test_a_figure_is_a_finite_number(self) -> None:
        for value in (math.nan, math.inf):
            with self.assertRaises(ArithmeticError):
                figure("x", "X", value, "number", "x", [typed("x", "x", 1, "number")], "ohm")

    def test_a_window_is_put_in_order(self) -> None:
        made = figure("x", "X", 1.0, "number", "x", [typed("x", "x", 1, "number")], "ohm")
        self.assertEqual((made.with_window(3, 2).low, made.with_window(3, 2).high), (2, 3))

    def test_a_parameter_brings_its_source_along(self) -> None:
        self.assertIn("judged", uses("j", param("js_a_m2")).source)
        self.assertEqual(uses("f", param("freeboard_m")).source, "common practice, no source")


class Tables(unittest.TestCase):
    def test_every_limit_of_a_check_has_unit_and_honesty(self) -> None:
        self.assertGreater(len(list(limits())), 35)

    def test_every_parameter_is_owned_and_inside_its_range(self) -> None:
        for key, p in params().items():
            with self.subTest(key):
                self.assertLessEqual(p.low, p.value)
                self.assertLessEqual(p.value, p.high)
                self.assertIn(p.honesty, HONESTY)
                self.assertTrue(p.cite())

    def test_every_row_of_every_table_has_a_source(self) -> None:
        for name in ("salts", "products", "bands", "sources", "checks"):
            for key, row in table(name).items():
                if name == "checks" and key in (ADVICE, *LISTENING):
                    continue  # limits only; each is judged by limits()
                with self.subTest(f"{name}.{key}"):
                    require_provenance(f"{name}.{key}", row)

    def test_a_row_without_source_or_honesty_is_refused(self) -> None:
        for row in ({}, {"source": "x"}, {"source": "x", "honesty": "sure"}, {"honesty": "judged"}):
            with self.subTest(row=row), self.assertRaises(DataTableError):
                require_provenance("here", row)

    def test_a_judged_number_says_so_wherever_it_is_cited(self) -> None:
        self.assertIn("judged by us", source_text("dose"))
