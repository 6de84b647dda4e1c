"""Queries on runs, their logs and stretches, and on the book."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, delete, insert, select, update

from yellowbath.core.errors import NotFoundError
from yellowbath.core.process.basis import Stretch
from yellowbath.core.process.log import Entry
from yellowbath.store.tables import book_entries, run_log, run_stretches, runs


@dataclass(frozen=True)
class RunRow:
    """A run's own row; its log says the rest."""

    id: str
    plan_id: str
    revision: int
    created_at: datetime
    state: str
    field: dict[str, Any] | None


def add_run(
    c: Connection,
    run_id: str,
    plan_id: str,
    revision: int,
    now: datetime,
    field: dict[str, Any] | None = None,
) -> None:
    c.execute(
        insert(runs).values(
            id=run_id,
            plan_id=plan_id,
            revision=revision,
            created_at=now,
            state="planned",
            field=field,
        )
    )


def run_row(c: Connection, run_id: str) -> RunRow:
    row = c.execute(select(runs).where(runs.c.id == run_id)).one_or_none()
    if row is None:
        raise NotFoundError(f"There is no run {run_id}.", remedy="Open one from the rack.")
    return RunRow(*row)


def run_rows(c: Connection) -> Sequence[RunRow]:
    """All runs, oldest first."""
    return [RunRow(*row) for row in c.execute(select(runs).order_by(runs.c.created_at))]


def open_run_rows(c: Connection) -> Sequence[RunRow]:
    """Runs that are not over, oldest first."""
    return [row for row in run_rows(c) if row.state not in ("closed", "abandoned")]


def log_of(c: Connection, run_id: str) -> list[Entry]:
    """A run's log in the order of writing."""
    query = select(run_log).where(run_log.c.run_id == run_id).order_by(run_log.c.id)
    return [
        Entry(client_id=row.client_id, at=row.at, detail=row.detail) for row in c.execute(query)
    ]


def has_entry(c: Connection, run_id: str, client_id: str) -> bool:
    t = run_log
    found = select(t.c.id).where(t.c.run_id == run_id, t.c.client_id == client_id)
    return c.scalar(found) is not None


def append_entry(c: Connection, run_id: str, entry: Entry, now: datetime) -> None:
    c.execute(
        insert(run_log).values(
            run_id=run_id,
            client_id=entry.client_id,
            at=entry.at,
            recorded_at=now,
            kind=entry.detail.kind,
            detail=entry.detail.model_dump(mode="json"),
        )
    )


def put_projection(c: Connection, run_id: str, state: str, stretches: Sequence[Stretch]) -> None:
    """Write what the log adds up to: the state and the stretches."""
    c.execute(update(runs).where(runs.c.id == run_id).values(state=state))
    c.execute(delete(run_stretches).where(run_stretches.c.run_id == run_id))
    rows = [
        {
            "run_id": run_id,
            "seq": seq,
            "start_at": s.start,
            "end_at": s.end,
            "pose": s.pose,
            "level_m": s.basis.level_m,
            "anodes": s.basis.anodes,
            "mix": s.basis.mix,
            "supply": s.basis.supply,
            "current_a": s.current_a,
            "low_a": s.low_a,
            "high_a": s.high_a,
            "source": s.source,
            "plan_revision": s.basis.revision,
        }
        for seq, s in enumerate(stretches)
    ]
    if rows:
        c.execute(insert(run_stretches), rows)


def add_book_entry(c: Connection, run_id: str, entry: dict[str, Any], closed_at: datetime) -> None:
    c.execute(insert(book_entries).values(run_id=run_id, closed_at=closed_at, entry=entry))


def book(c: Connection) -> Sequence[tuple[str, datetime, dict[str, Any]]]:
    """All book entries, newest first."""
    query = select(book_entries).order_by(book_entries.c.closed_at.desc())
    return [(row.run_id, row.closed_at, row.entry) for row in c.execute(query)]


def book_entry(c: Connection, run_id: str) -> tuple[datetime, dict[str, Any]]:
    t = book_entries
    row = c.execute(select(t).where(t.c.run_id == run_id)).one_or_none()
    if row is None:
        raise NotFoundError("This run is not in the book yet.", remedy="Close it first.")
    return row.closed_at, row.entry
