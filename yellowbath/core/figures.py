"""A figure is a number that can be opened: value, spread, formula, inputs and source.

Values are SI (temperatures in degrees Celsius). ``expression`` is a formula over the symbols of
``inputs``; :func:`evaluate` works it out independently of the code that produced ``value``.
"""

from __future__ import annotations

import ast
import math
import operator
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import NormalDist

from yellowbath.core.data import Param, source_text


@dataclass(frozen=True)
class Input:
    """One symbol of a formula: what it is, its value [SI] and where it came from."""

    symbol: str
    name: str
    value: float
    quantity: str
    source: str = ""


@dataclass(frozen=True)
class Figure:
    """A traced number [SI unit of ``quantity``]; ``low``/``high`` bound it if uncertain."""

    key: str
    name: str
    value: float
    quantity: str
    expression: str
    inputs: tuple[Input, ...]
    source: str
    low: float | None = None
    high: float | None = None
    note: str = ""

    @property
    def span(self) -> tuple[float, float]:
        """Its bounds; the figure itself where it has none."""
        return (self.value if self.low is None else self.low,
                self.value if self.high is None else self.high)  # fmt: skip

    def with_window(self, low: float, high: float, note: str = "") -> Figure:
        """The same figure with a spread [same unit] and a reason for it."""
        return replace(self, low=min(low, high), high=max(low, high), note=note or self.note)


def figure(
    key: str,
    name: str,
    value: float,
    quantity: str,
    expression: str,
    inputs: Sequence[Input],
    source: str,
    note: str = "",
) -> Figure:
    """Make a figure; refuses a number that is not finite, since "could not" is an error."""
    if not math.isfinite(value):
        raise ArithmeticError(f"{key} is not a finite number")
    return Figure(
        key, name, value, quantity, expression, tuple(inputs), source_text(source), note=note
    )


def uses(symbol: str, item: Figure | Param, name: str = "") -> Input:
    """An input that is another figure or a parameter of a table."""
    if isinstance(item, Param):
        return Input(symbol, name or item.name, item.value, item.quantity, item.cite())
    return Input(symbol, name or item.name, item.value, item.quantity, item.source)


def typed(symbol: str, name: str, value: float, quantity: str) -> Input:
    """An input that the person entered or that the plan holds."""
    return Input(symbol, name, value, quantity, "this plan")


_OPERATORS: Mapping[type[ast.AST], Callable[..., float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
    ast.USub: operator.neg,
}
_FUNCTIONS: Mapping[str, Callable[..., float]] = {
    "sqrt": math.sqrt,
    "ln": math.log,
    "exp": math.exp,
    "sin": math.sin,
    "min": min,
    "max": max,
    "Phi": NormalDist().cdf,
}


def evaluate(expression: str, values: Mapping[str, float]) -> float:
    """Work out a formula over named values; knows + - * / **, sqrt ln exp sin min max Phi and pi.

    >>> evaluate("(E - V0)/(Rb + Rl)", {"E": 12, "V0": 2, "Rb": 3.5, "Rl": 0.5})
    2.5
    """
    return _walk(ast.parse(expression, mode="eval").body, {"pi": math.pi, **values})


def _walk(node: ast.AST, values: Mapping[str, float]) -> float:
    match node:
        case ast.Constant(value=int() | float() as number):
            return float(number)
        case ast.Name(id=name):
            return values[name]
        case ast.BinOp(left=left, op=op, right=right):
            return _OPERATORS[type(op)](_walk(left, values), _walk(right, values))
        case ast.UnaryOp(op=op, operand=operand):
            return _OPERATORS[type(op)](_walk(operand, values))
        case ast.Call(func=ast.Name(id=name), args=args):
            return _FUNCTIONS[name](*(_walk(arg, values) for arg in args))
    raise ValueError(f"not a formula: {ast.dump(node)}")
