"""What logs come to, as it is kept: snapshots, the state of a run's row, and its stretches."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import Connection, delete, insert, select, true, update

from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.fold import Folded, Past, changes_from, explained
from yellowbath.core.run.log import Entry, Look, Reading, Void
from yellowbath.core.run.moves import OVER
from yellowbath.core.run.signs import amps_stand
from yellowbath.core.run.snapshot import Snapshot
from yellowbath.store.runs import entries_from
from yellowbath.store.tables import run_snapshots, run_stretches, runs


def past_of(c: Connection, run_id: str, mark: str) -> Past:
    """Where all of a log stands; from its beginning where nothing fit is kept."""
    newest = newest_snapshot(c, run_id, mark)
    return Past(newest, []) if newest else Past(None, entries_from(c, run_id, None), True)


def past_for(
    c: Connection, run_id: str, stands: Past, mark: str, entry: Entry, target: Entry | None
) -> Past:
    """What of a log that stands so an entry that comes now is folded with; ``target``: what it
    strikes out."""
    newest = stands.base
    if newest is None:
        return stands
    near = []
    if isinstance(entry.detail, Look | Reading):
        near = entries_from(c, run_id, entry.at - amps_stand())
    void = isinstance(entry.detail, Void)
    if not void and entry.at >= newest.at and not explained(entry, near):
        return Past(newest, near)
    since = changes_from(entry, target)
    base = snapshot_before(c, run_id, mark, since)
    log = entries_from(c, run_id, base.at - amps_stand() if base else None)
    return Past(base, log, True, since if base else None)


def put_folded(c: Connection, run_id: str, made: Folded) -> None:
    """Keep what a log comes to."""
    if made.past.anew:
        drop_snapshots(c, run_id, made.past.since)
    put_projection(c, run_id, made.run.state, made.run.since, made.stretches, made.first)
    for k, snapshot in enumerate(made.snapshots, start=1):
        newest = k == len(made.snapshots)
        put_snapshot(c, run_id, snapshot, newest, made.stays or not newest)


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
    first: int,
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
