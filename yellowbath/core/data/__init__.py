"""Parameter tables: one TOML file a subject, each value with unit, range, source and honesty.

Honesty is one of ``published`` (compared with a print or a defining standard), ``computed``,
``memory`` (a published value recalled, not compared with the print), ``practice`` (common
practice, no source), ``judged`` (an estimate of ours, to be replaced by measurement).
"""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from yellowbath.core.errors import DataTableError

HONESTY = {
    "published": "published",
    "computed": "computed",
    "memory": "from memory of the named source",
    "practice": "common practice, no source",
    "judged": "judged by us",
}


@dataclass(frozen=True)
class Param:
    """One owned number [SI unit of ``quantity``] with its plausible range and provenance."""

    key: str
    name: str
    value: float
    quantity: str
    low: float
    high: float
    source: str
    honesty: str

    def cite(self) -> str:
        """Source and honesty as one line; the honesty alone where there is no source."""
        mark = HONESTY[self.honesty]
        return f"{self.source} ({mark})" if self.source not in ("-", "") else mark


@cache
def table(name: str) -> Mapping[str, Any]:
    """A parsed table, by file name without extension."""
    text = resources.files(__package__).joinpath(f"{name}.toml").read_text("utf-8")
    return tomllib.loads(text)


def require_provenance(where: str, row: Mapping[str, Any]) -> None:
    """Refuse a row without source or with an unknown honesty mark."""
    if not row.get("source") or row.get("honesty") not in HONESTY:
        raise DataTableError(
            f"{where} has no source or no honesty mark.",
            allowed=f"honesty is one of {', '.join(HONESTY)}.",
        )


@cache
def params() -> Mapping[str, Param]:
    """Every single-number parameter, by key."""
    out = {}
    for key, row in table("params").items():
        require_provenance(f"params.{key}", row)
        value = float(row["value"])
        out[key] = Param(
            key,
            row["name"],
            value,
            row.get("quantity", "ratio"),
            float(row.get("low", value)),
            float(row.get("high", value)),
            row["source"],
            row["honesty"],
        )
    return out


def param(key: str) -> Param:
    """One parameter by key; a KeyError is a programming mistake."""
    return params()[key]


def source_text(key: str) -> str:
    """The citation for a source key of ``sources.toml``, or a parameter's own."""
    rows = table("sources")
    if key in rows:
        row = rows[key]
        require_provenance(f"sources.{key}", row)
        mark = HONESTY[row["honesty"]]
        return f"{row['source']} ({mark})" if row["source"] != "-" else mark
    return param(key).cite()
