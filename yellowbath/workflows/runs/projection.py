"""What a run's log comes to, kept so that the next entry extends it.

An entry that comes in order is put on the newest snapshot. A late one, one struck out, and a
reading beside a look without gas (which it may explain) are folded again from the snapshot before.
"""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Connection

from yellowbath.core.run.basis import Basis, Stretch
from yellowbath.core.run.charge import compact
from yellowbath.core.run.log import Entry, Look, Reading, Void
from yellowbath.core.run.run import NO_GAS, Run, extend, replay
from yellowbath.core.run.signs import amps_stand
from yellowbath.core.run.snapshot import kept, mark_of, opened
from yellowbath.store import runs as store
from yellowbath.store.runs import Snapshot

EVERY = 256  # entries between two snapshots that stay


def run_of(c: Connection, run_id: str, basis: Basis) -> Run:
    """A run as it stands; by its whole log where nothing of it is kept."""
    newest = store.newest_snapshot(c, run_id, mark_of(basis))
    return opened(newest.state, basis) if newest else replay(store.log_of(c, run_id), basis)


def is_kept(c: Connection, run_id: str, basis: Basis) -> bool:
    """Whether what a run came to is kept, and by this version."""
    return store.has_snapshot(c, run_id, mark_of(basis))


def keep(c: Connection, run_id: str, basis: Basis) -> None:
    """Keep what a whole log comes to, as once after an update."""
    _again(c, run_id, basis, None)


def project(c: Connection, run_id: str, basis: Basis, entry: Entry, number: int) -> Run:
    """The run with an entry that was just written; raises StepRefusedError where it, or a later one
    because of it, has no place."""
    mark = mark_of(basis)
    newest = store.newest_snapshot(c, run_id, mark)
    since = _from(c, run_id, entry)
    if newest is None:
        return _again(c, run_id, basis, None)
    run = opened(newest.state, basis)
    if isinstance(entry.detail, Void) or entry.at < newest.at or _explains(run, entry):
        return _again(c, run_id, basis, since)
    first = run.bank.count
    near: list[Entry] = []
    if isinstance(entry.detail, Look):
        near = [e for _, e in store.entries_from(c, run_id, entry.at - amps_stand())]
    extend(run, entry, basis, near)
    store.put_projection(c, run_id, run.state, run.since, run.stretches, first)
    stays = run.entries % EVERY == 1
    made = Snapshot(entry.at, number, mark, kept(run))
    store.put_snapshot(c, run_id, made, newest=True, keep=stays)
    return run


def _from(c: Connection, run_id: str, entry: Entry) -> datetime:
    """The time from which an entry may change what the log comes to."""
    detail = entry.detail
    if isinstance(detail, Void):
        return _from(c, run_id, store.entry_of(c, run_id, detail.target))
    return entry.at - amps_stand() if isinstance(detail, Reading) else entry.at


def _explains(run: Run, entry: Entry) -> bool:
    """Whether amps stand beside a look without gas that came before them."""
    seen = run.last_of.get(NO_GAS)
    read = isinstance(entry.detail, Reading) and entry.detail.current_a is not None
    return read and seen is not None and entry.at - seen <= amps_stand()


def _again(c: Connection, run_id: str, basis: Basis, since: datetime | None) -> Run:
    """Fold what happened from a time on once more, and keep it."""
    mark = mark_of(basis)
    base = store.snapshot_before(c, run_id, mark, since) if since else None
    store.drop_snapshots(c, run_id, since if base else None)
    run = opened(base.state, basis) if base else Run()
    numbered = store.entries_from(c, run_id, base.at - amps_stand() if base else None)
    log = [e for _, e in numbered]
    done = (base.at, base.entry_id) if base else None
    first, over = run.bank.count, list[Stretch]()
    last: Snapshot | None = None
    for number, entry in numbered:
        if done is not None and (entry.at, number) <= done:
            continue
        if last is not None and run.entries % EVERY == 0:
            whole = run.stretches
            run = compact(run)
            over += whole[: len(whole) - len(run.stretches)]
            made = Snapshot(last.at, last.entry_id, mark, kept(run))
            store.put_snapshot(c, run_id, made, newest=False, keep=True)
        extend(run, entry, basis, log)
        last = Snapshot(entry.at, number, mark, {})
    store.put_projection(c, run_id, run.state, run.since, [*over, *run.stretches], first)
    if last is not None:
        made = Snapshot(last.at, last.entry_id, mark, kept(run))
        store.put_snapshot(c, run_id, made, newest=True, keep=True)
    elif base is not None:
        store.put_snapshot(c, run_id, base, newest=True, keep=True)
    return run
