"""Values from outside the project, each row with its source."""

from __future__ import annotations

import csv
from pathlib import Path


def rows(name: str) -> list[dict[str, str]]:
    """The rows of a table; refuses one without a source."""
    path = Path(__file__).with_name(f"{name}.csv")
    with path.open(newline="", encoding="utf-8") as file:
        found = list(csv.DictReader(file))
    for number, row in enumerate(found, start=2):
        assert row.get("source"), f"{path.name} line {number} has no source"
    return found
