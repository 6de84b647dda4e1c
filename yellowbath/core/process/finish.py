"""The steps after the bath that this piece needs, in order, with timers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yellowbath.core.data import HONESTY, require_provenance, table
from yellowbath.core.document import Piece
from yellowbath.core.process.run import Run


@dataclass(frozen=True)
class Protection:
    """One way to protect the piece."""

    id: str
    label: str


@dataclass(frozen=True)
class Step:
    """One finishing step. Times [s]; ``duration_s`` zero means it has no timer."""

    id: str
    title: str
    how: str
    why: str
    duration_s: float
    within_s: float
    source: str
    choices: tuple[Protection, ...] = ()


def finish_steps(piece: Piece) -> list[Step]:
    """The steps for a piece: relics soak, porous iron is heated, hard steel is baked."""
    facts: Mapping[str, object] = {
        "fragility": piece.fragility,
        "metal": piece.metal,
        "porous": piece.metal == "cast" or piece.fragility == "relic",
    }
    rows = table("finish")["steps"]
    return [
        _step(row, piece)
        for row in rows
        if all(facts[key] in wanted for key, wanted in row["when"].items())
    ]


def _step(row: Mapping[str, object], piece: Piece) -> Step:
    require_provenance(f"finish.{row['id']}", row)
    honesty = HONESTY[str(row["honesty"])]
    choices: tuple[Protection, ...] = ()
    if row["id"] == "protect":
        choices = tuple(
            Protection(p["id"], p["label"])
            for p in table("finish")["protections"]
            if piece.aim in p["aims"]
        )
    return Step(
        id=str(row["id"]),
        title=str(row["title"]),
        how=str(row["how"]),
        why=str(row["why"]),
        duration_s=float(str(row["duration_s"])),
        within_s=float(str(row["within_s"])),
        source=honesty if row["source"] == "-" else f"{row['source']} ({honesty})",
        choices=choices,
    )


def next_step(steps: Sequence[Step], run: Run) -> Step | None:
    """The first step that is neither done nor left out."""
    settled = {key.rsplit(".", 1)[0] for key in run.finish if not key.endswith(".begun")}
    return next((s for s in steps if s.id not in settled), None)
