"""What is looked up rather than planned: tables, converters, the list of checks."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.checks.limits import check_rows
from yellowbath.core.checks.registry import cited, differ_by_check, registered
from yellowbath.core.tables import convert, sheets

__all__ = ["CheckRow", "checks", "convert", "sheets"]


@dataclass(frozen=True)
class CheckRow:
    """A check as a page lists it; ``differ`` says what people differ about there."""

    id: str
    severity: str
    mark: str
    title: str
    when: str
    reason: str
    source: str
    differ: str


_ORDER = {"stop": 0, "caution": 1, "note": 2}
_HOLE = re.compile(r"\s*\{\w+\}")


def checks() -> Sequence[CheckRow]:
    """Every check, stops first; what its evidence would fill in is left out."""
    rows = []
    for key in registered():
        row = check_rows()[key]
        reason = row.get("about") or _HOLE.sub("", row["reason"]).strip()
        rows.append(
            CheckRow(
                key, row["severity"], row["mark"], _HOLE.sub(" …", row["title"]), row["when"],
                reason, cited(row), _differ(key),
            )
        )  # fmt: skip
    return sorted(rows, key=lambda r: _ORDER[r.severity])


def _differ(check_id: str) -> str:
    """What people differ about in any case of a check."""
    lines = differ_by_check()
    found = [v for k, v in lines.items() if k.partition(":")[0] == check_id]
    return " ".join(dict.fromkeys(found))
