"""Queries on runs, their logs and stretches, and on the book."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, fields
from datetime import datetime
from typing import Any

from sqlalchemy import (
    Connection,
    Select,
    func,
    insert,
    select,
    update,
)

from yellowbath.core.errors import NotFoundError
from yellowbath.core.run.fold import Numbered
from yellowbath.core.run.log import Entry
from yellowbath.core.run.moves import OVER
from yellowbath.store.pages import earlier, folded
from yellowbath.store.tables import (
    kept_revisions,
    kit_log,
    plan_revisions,
    plans,
    run_log,
    run_snapshots,
    runs,
)
from yellowbath.store.written import newest_number


@dataclass(frozen=True)
class RunRow:
    """A run's own row, but for its field; its log says the rest."""

    id: str
    plan_id: str
    revision: int
    created_at: datetime
    state: str
    title: str
    archived: bool
    over_at: datetime | None


def add_run(
    c: Connection,
    run_id: str,
    plan_id: str,
    revision: int,
    now: datetime,
    title: str,
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
            title=title[:200],
            sought=folded(title),
        )
    )


_ROW = [runs.c[f.name] for f in fields(RunRow)]


def run_row(c: Connection, run_id: str) -> RunRow:
    row = c.execute(select(*_ROW).where(runs.c.id == run_id)).one_or_none()
    if row is None:
        raise NotFoundError(f"There is no run {run_id}.", remedy="Open one from the rack.")
    return RunRow(*row)


def field_of(c: Connection, run_id: str) -> dict[str, Any] | None:
    """The summary of the solved field that is kept with a run; long."""
    found: dict[str, Any] | None = c.scalar(select(runs.c.field).where(runs.c.id == run_id))
    return found


def has_run(c: Connection, run_id: str) -> bool:
    return c.scalar(select(runs.c.id).where(runs.c.id == run_id)) is not None


def open_run_rows(c: Connection, most: int) -> Sequence[RunRow]:
    """The newest so many runs that are not over, newest first."""
    query = select(*_ROW).where(runs.c.state.not_in(OVER))
    return [RunRow(*row) for row in c.execute(query.order_by(runs.c.created_at.desc()).limit(most))]


def archive_run(c: Connection, run_id: str, away: bool) -> None:
    run_row(c, run_id)
    c.execute(update(runs).where(runs.c.id == run_id).values(archived=away))


def stamps(c: Connection, run_ids: Sequence[str]) -> dict[str, tuple[object, ...]]:
    """By each run what changes whenever anything that it is told by does: its newest entry, its
    plan's newest revision, what was written to the kit or typed anew of it, the shop's settings."""
    newest = select(func.max(run_log.c.id)).where(run_log.c.run_id == runs.c.id).scalar_subquery()
    typed = c.scalar(select(func.count()).select_from(kept_revisions))
    shop = (c.scalar(select(func.max(kit_log.c.id))), newest_number(c, "shop"), typed)
    query = select(runs.c.id, newest, plans.c.head).join(plans, plans.c.id == runs.c.plan_id)
    found = c.execute(query.where(runs.c.id.in_(run_ids)))
    return {run_id: (entry, head, *shop) for run_id, entry, head in found}


def has_any_snapshot(c: Connection, run_id: str) -> bool:
    """Whether anything of a run's log was folded and kept, by whatever version."""
    query = select(run_snapshots.c.run_id).where(run_snapshots.c.run_id == run_id).limit(1)
    return c.scalar(query) is not None


def longer_than(c: Connection, run_id: str, rows: int) -> bool:
    """Whether a run's log has more than so many rows."""
    query = select(run_log.c.id).where(run_log.c.run_id == run_id).offset(rows).limit(1)
    return c.scalar(query) is not None


def in_use(c: Connection) -> Sequence[tuple[str, dict[str, Any]]]:
    """What is not over, by its title, and the document that it runs on."""
    t = plan_revisions
    query = select(runs.c.title, t.c.document).join(
        t, (t.c.plan_id == runs.c.plan_id) & (t.c.number == runs.c.revision)
    )
    query = query.where(runs.c.state.not_in(OVER)).order_by(runs.c.created_at)
    return [(row.title, row.document) for row in c.execute(query)]


def as_kept(at: datetime) -> datetime:
    """A time as finely as it is stored."""
    return at.replace(microsecond=at.microsecond // 1000 * 1000)


def log_of(c: Connection, run_id: str) -> list[Entry]:
    """A run's log in the order of writing."""
    query = select(run_log).where(run_log.c.run_id == run_id).order_by(run_log.c.id)
    return [
        Entry(client_id=row.client_id, at=row.at, detail=row.detail) for row in c.execute(query)
    ]


@dataclass(frozen=True)
class DeviceTime:
    """The time of an entry by the clock of where it was typed, and that clock when it was sent."""

    at: datetime
    now: datetime | None = None


def append_entry(
    c: Connection, run_id: str, number: int, entry: Entry, now: datetime,
    device: DeviceTime | None = None,
) -> None:  # fmt: skip
    """Write an entry under the :func:`next_number` of the log."""
    c.execute(
        insert(run_log).values(
            id=number,
            run_id=run_id,
            client_id=entry.client_id,
            at=entry.at,
            recorded_at=now,
            device_at=device and device.at,
            device_now=device and device.now,
            kind=entry.detail.kind,
            detail=entry.detail.model_dump(mode="json"),
        )
    )


def next_number(c: Connection) -> int:
    """The number that the next entry of any log gets; to be asked while nobody else may write."""
    return (c.scalar(select(func.max(run_log.c.id))) or 0) + 1


def _standing(run_id: str) -> Select[Any]:
    """Entries that were not struck out, as they happened; what strikes out is none of them."""
    struck = select(run_log.c.detail["target"].as_string()).where(
        run_log.c.run_id == run_id, run_log.c.kind == "void"
    )
    return (
        select(run_log)
        .where(
            run_log.c.run_id == run_id, run_log.c.kind != "void", run_log.c.client_id.not_in(struck)
        )
        .order_by(run_log.c.at, run_log.c.id)
    )  # fmt: skip


def is_struck(c: Connection, run_id: str, client_id: str) -> bool:
    """Whether an entry was struck out."""
    target = run_log.c.detail["target"].as_string()
    query = select(run_log.c.id).where(
        run_log.c.run_id == run_id, run_log.c.kind == "void", target == client_id
    )
    return c.execute(query.limit(1)).first() is not None


def step_before(c: Connection, run_id: str, at: datetime, kinds: Sequence[str]) -> Entry | None:
    """The last entry of these kinds that happened by a time, and was not struck out."""
    query = _standing(run_id).where(run_log.c.at <= at, run_log.c.kind.in_(kinds)).order_by(None)
    found = _numbered(c, query.order_by(run_log.c.at.desc(), run_log.c.id.desc()).limit(1))
    return found[0][1] if found else None


def _numbered(c: Connection, query: Select[Any]) -> list[Numbered]:
    return [
        (row.id, Entry(client_id=row.client_id, at=row.at, detail=row.detail))
        for row in c.execute(query)
    ]


def entries_from(c: Connection, run_id: str, at: datetime | None) -> list[Numbered]:
    """Entries from a time on, or all."""
    query = _standing(run_id)
    return _numbered(c, query if at is None else query.where(run_log.c.at >= at))


def newest_entries(c: Connection, run_id: str, most: int, before: str | None = None) -> list[Entry]:
    """The newest entries, newest first; those before one by its client id."""
    return [e for _, e in newest_lines(c, run_id, most, before)]


def newest_lines(
    c: Connection, run_id: str, most: int, before: str | None = None
) -> list[Numbered]:
    """The same with their numbers in the log."""
    query = _standing(run_id).order_by(None).order_by(run_log.c.at.desc(), run_log.c.id.desc())
    if before is not None:
        at, number = entry_place(c, run_id, before)
        query = query.where(earlier(run_log.c.at, run_log.c.id, at, number))
    return _numbered(c, query.limit(most))


def entry_of(c: Connection, run_id: str, client_id: str) -> Entry:
    """One entry; NotFoundError where there is none."""
    query = select(run_log).where(run_log.c.run_id == run_id, run_log.c.client_id == client_id)
    row = c.execute(query).one_or_none()
    if row is None:
        raise NotFoundError("There is no such entry.")
    return Entry(client_id=row.client_id, at=row.at, detail=row.detail)


def device_of(c: Connection, run_id: str, client_id: str) -> DeviceTime:
    """The clock that an entry was typed by; its own time where none was sent."""
    query = select(run_log.c.at, run_log.c.device_at, run_log.c.device_now)
    where = (run_log.c.run_id == run_id) & (run_log.c.client_id == client_id)
    row = c.execute(query.where(where)).one()
    return DeviceTime(row.device_at or row.at, row.device_now)


def newest_of(c: Connection, run_id: str, kind: str) -> Entry | None:
    """The last entry of a kind that was not struck out."""
    query = _standing(run_id).where(run_log.c.kind == kind).order_by(None)
    found = _numbered(c, query.order_by(run_log.c.at.desc(), run_log.c.id.desc()).limit(1))
    return found[0][1] if found else None


def newest_reading(c: Connection, run_id: str, method: str) -> Entry | None:
    """The last reading by a method that was not struck out."""
    by = run_log.c.detail["method"].as_string()
    query = _standing(run_id).where(run_log.c.kind == "reading", by == method).order_by(None)
    found = _numbered(c, query.order_by(run_log.c.at.desc(), run_log.c.id.desc()).limit(1))
    return found[0][1] if found else None


def mended(c: Connection) -> dict[str, int]:
    """How often each cause was it, by what was newly entered as mended in the shop."""
    row = run_log.c
    newest = select(row.run_id, row.client_id, row.detail).where(row.kind == "mended")
    rows = c.execute(newest.order_by(row.id.desc()).limit(_MENDED)).all()
    voids = select(row.run_id, row.detail["target"].as_string()).where(
        row.kind == "void", row.run_id.in_({r.run_id for r in rows})
    )
    struck = {tuple(v) for v in c.execute(voids)} if rows else set()
    standing = [r.detail for r in rows if (r.run_id, r.client_id) not in struck]
    return dict(Counter(d["cause"] for d in standing if d.get("helped", True)))


_MENDED = 400  # a shop's newest tell how it is now


def newest_times(c: Connection, run_id: str) -> tuple[datetime | None, datetime | None]:
    """When the newest entry was written, and when the last thing happened."""
    t = run_log
    written = c.scalar(
        select(t.c.recorded_at).where(t.c.run_id == run_id).order_by(t.c.id.desc()).limit(1)
    )
    happened = c.scalar(select(t.c.at).where(t.c.run_id == run_id).order_by(t.c.at.desc()).limit(1))
    return written, happened


def entry_place(c: Connection, run_id: str, client_id: str) -> tuple[datetime, int]:
    """When an entry happened, and its number; NotFoundError where there is none."""
    query = select(run_log.c.at, run_log.c.id).where(
        run_log.c.run_id == run_id, run_log.c.client_id == client_id
    )
    row = c.execute(query).one_or_none()
    if row is None:
        raise NotFoundError("There is no such entry.")
    return row.at, row.id
