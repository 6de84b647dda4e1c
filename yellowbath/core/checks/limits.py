"""The limits of the checks and of the advice at the bath: owned by their rows in data/checks.toml.

A limit has a value, a unit and an honesty mark there, or names the parameter of ``params.toml``
that it shares with the computation.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from typing import Any

from yellowbath.core.data import HONESTY, param, table
from yellowbath.core.errors import DataTableError

ADVICE = "advice"
LISTENING = ("samples", "interlocks")
"""Rows of limits that are no check: the advice on readings and looks, what an instrument sends."""


@cache
def check_rows() -> Mapping[str, Any]:
    """The rows of the checks by id."""
    return {key: row for key, row in table("checks").items() if key not in (ADVICE, *LISTENING)}


def limit(check_id: str, name: str) -> float:
    """A limit by its check and name, in the unit of its row; KeyError is a programming mistake."""
    row = table("checks")[check_id]["limits"][name]
    return param(row["param"]).value if "param" in row else float(row["value"])


def limits() -> Iterator[tuple[str, str, Mapping[str, Any]]]:
    """Every limit as (check, name, row). Raises DataTableError for one without unit or honesty."""
    for check_id, row in table("checks").items():
        for name, owned in row.get("limits", {}).items():
            sound = "unit" in owned and owned.get("honesty") in HONESTY
            if "param" not in owned and not sound:
                raise DataTableError(f"checks.{check_id}.limits.{name} has no unit or no honesty.")
            yield check_id, name, owned
