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
    delete,
    func,
    insert,
    literal,
    select,
    true,
    update,
)

from yellowbath.core.errors import NotFoundError
from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.log import Entry
from yellowbath.store.pages import earlier, folded
from yellowbath.store.tables import (
    OVER,
    kept_revisions,
    kit_log,
    plan_revisions,
    plans,
    run_log,
    run_snapshots,
    run_stretches,
    runs,
)
from yellowbath.store.written import newest_number


@dataclass(frozen=True)
class RunRow:
    """A run's own row; its log says the rest."""

    id: str
    plan_id: str
    revision: int
    created_at: datetime
    state: str
    field: dict[str, Any] | None
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


def has_run(c: Connection, run_id: str) -> bool:
    return c.scalar(select(runs.c.id).where(runs.c.id == run_id)) is not None


def open_run_rows(c: Connection, most: int) -> Sequence[RunRow]:
    """The newest so many runs that are not over, newest first; without their fields, which are
    long."""
    light = [literal(None) if col.name == "field" else col for col in _ROW]
    query = select(*light).where(runs.c.state.not_in(OVER))
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


def has_entry(c: Connection, run_id: str, client_id: str) -> bool:
    t = run_log
    found = select(t.c.id).where(t.c.run_id == run_id, t.c.client_id == client_id)
    return c.scalar(found) is not None


@dataclass(frozen=True)
class DeviceTime:
    """The time of an entry by the clock of where it was typed, and that clock when it was sent."""

    at: datetime
    now: datetime | None = None


def append_entry(
    c: Connection, run_id: str, entry: Entry, now: datetime, device: DeviceTime | None = None
) -> int:
    """Write an entry; its number in the log."""
    made = c.execute(
        insert(run_log).values(
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
    return int(made.inserted_primary_key[0]) if made.inserted_primary_key else 0


Numbered = tuple[int, Entry]
"""An entry and its number in the log, by which those of one time keep their order."""


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
    query = _standing(run_id).order_by(None).order_by(run_log.c.at.desc(), run_log.c.id.desc())
    if before is not None:
        at, number = entry_place(c, run_id, before)
        query = query.where(earlier(run_log.c.at, run_log.c.id, at, number))
    return [e for _, e in _numbered(c, query.limit(most))]


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


# --- What the log comes to ------------------------------------------------------------------------


@dataclass(frozen=True)
class Snapshot:
    """What the entries up to one came to: its time and number, and the state as it is kept."""

    at: datetime
    entry_id: int
    mark: str
    state: dict[str, Any]


def _snapshots(c: Connection, run_id: str, mark: str, at: datetime | None) -> Snapshot | None:
    t = run_snapshots
    query = select(t.c.at, t.c.entry_id, t.c.mark, t.c.state).where(
        t.c.run_id == run_id, t.c.mark == mark
    )
    query = query.where(t.c.newest) if at is None else query.where(t.c.at < at)
    row = c.execute(query.order_by(t.c.at.desc(), t.c.entry_id.desc()).limit(1)).one_or_none()
    return Snapshot(*row) if row else None


def newest_snapshot(c: Connection, run_id: str, mark: str) -> Snapshot | None:
    """Where all of the log stands; None where nothing fit is kept."""
    return _snapshots(c, run_id, mark, None)


def has_snapshot(c: Connection, run_id: str, mark: str) -> bool:
    """Whether a newest snapshot that fits is kept, without reading it."""
    t = run_snapshots
    query = select(t.c.entry_id).where(t.c.run_id == run_id, t.c.mark == mark, t.c.newest)
    return c.execute(query.limit(1)).first() is not None


def snapshot_before(c: Connection, run_id: str, mark: str, at: datetime) -> Snapshot | None:
    """The newest snapshot of entries that all happened before a time."""
    return _snapshots(c, run_id, mark, at)


def put_snapshot(c: Connection, run_id: str, made: Snapshot, newest: bool, keep: bool) -> None:
    """Keep a snapshot; the newest takes the place of the one before it, unless that is to stay."""
    t = run_snapshots
    if newest:
        old = (t.c.run_id == run_id) & t.c.newest
        c.execute(update(t).where(old).values(newest=False) if keep else delete(t).where(old))
    same = (t.c.run_id == run_id) & (t.c.at == made.at) & (t.c.entry_id == made.entry_id)
    c.execute(delete(t).where(same))
    c.execute(
        insert(t).values(
            run_id=run_id, at=made.at, entry_id=made.entry_id, mark=made.mark, state=made.state,
            newest=newest,
        )
    )  # fmt: skip


def drop_snapshots(c: Connection, run_id: str, since: datetime | None) -> None:
    """Forget the snapshots from a time on, or all; and the newest whenever it is."""
    t = run_snapshots
    gone = t.c.newest if since is None else t.c.newest | (t.c.at >= since)
    where = (t.c.run_id == run_id) & (gone if since is not None else true())
    c.execute(delete(t).where(where))


def put_projection(
    c: Connection, run_id: str, state: str, since: datetime | None, stretches: Sequence[Stretch],
    first: int = 0,
) -> None:  # fmt: skip
    """Write what the log adds up to: the state and since when, the stretches from a number on."""
    over_at = since if state in OVER else None
    c.execute(update(runs).where(runs.c.id == run_id).values(state=state, over_at=over_at))
    t = run_stretches
    c.execute(delete(t).where(t.c.run_id == run_id, t.c.seq >= first))
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
        for seq, s in enumerate(stretches, start=first)
    ]
    if rows:
        c.execute(insert(run_stretches), rows)
