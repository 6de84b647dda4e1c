"""All that is kept of a run, and of what bears on it, at one moment."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection

from yellowbath.core.errors import NotFoundError
from yellowbath.core.run.admit import Written
from yellowbath.core.run.clocks import STEPS, Clocks
from yellowbath.core.run.fold import Numbered, Past
from yellowbath.core.run.log import Close, Entry, Void
from yellowbath.core.run.snapshot import mark_of
from yellowbath.core.run.standing import Own, Since
from yellowbath.core.tell.entering import Incoming
from yellowbath.store import kit as kit_store
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.runs import DeviceTime, RunRow
from yellowbath.store.shop import shop_settings
from yellowbath.store.snapshots import past_for, past_of

LINES = 50  # of the log, told at once


@dataclass(frozen=True)
class Facts:
    """Of one run: its row, where its log stands and the newest lines of that, newest first; what is
    known beside it, and the time at the shop."""

    row: RunRow
    past: Past
    lines: Sequence[Numbered]
    since: Since
    clock: Clocks


def facts_of(
    c: Connection, own: Own, version: str, now: datetime, device_now: datetime | None = None
) -> Facts:
    """What is kept of a run, by the shop's clock and a device's; ``version``: the mark of the
    tables that the kit is folded with."""
    row = store.run_row(c, own.run_id)
    head = plan_store.revision(c, row.plan_id)
    refs = {*(r.ref for r in own.plan.kit), *kit_store.refs_of(head.document)}
    things = kit_store.held(c, refs, row.created_at, version) if refs else {}
    since = Since(
        head.number, head.document, things, row.created_at,
        plan_store.made_at(c, row.plan_id), shop_settings(c).get("system", "metric"),
    )  # fmt: skip
    return Facts(
        row,
        past_of(c, own.run_id, mark_of(own.basis)),
        store.newest_lines(c, own.run_id, LINES + 2),  # one may be struck out, one more says so
        since,
        Clocks.of(now, *store.newest_times(c, own.run_id), device_now),
    )


def entry_facts(
    c: Connection, own: Own, version: str, typed: Entry, now: datetime, device: DeviceTime
) -> tuple[Facts, Incoming, Entry]:
    """The same for an entry that comes in, and the entry at its time by the shop's clock.

    To be read while nobody else may write.
    """
    facts = facts_of(c, own, version, now, device.now)
    clock = facts.clock
    entry = typed.model_copy(update={"at": store.as_kept(clock.ours(typed.at))})
    run_id, detail = own.run_id, entry.detail
    target = written(c, run_id, detail.target) if isinstance(detail, Void) else None
    struck = target.entry if target else None
    known = Incoming(
        own=own,
        since=facts.since,
        clock=clock,
        typed=device.at,
        now=facts.past,
        past=past_for(c, run_id, facts.past, mark_of(own.basis), entry, struck),
        number=store.next_number(c),
        kept=written(c, run_id, entry.client_id),
        target=target,
        log=store.log_of(c, run_id) if isinstance(detail, Close) else (),
    )
    return facts, known, entry


def written(c: Connection, run_id: str, client_id: str) -> Written | None:
    """An entry of a run's log; None where there is none."""
    try:
        entry = store.entry_of(c, run_id, client_id)
    except NotFoundError:
        return None
    typed = store.device_of(c, run_id, client_id).at
    return Written(entry, typed, store.is_struck(c, run_id, client_id))


def in_the_way(
    c: Connection, run_id: str, entry: Entry, refused: str
) -> tuple[Entry | None, Entry | None]:
    """What is really in the way of an entry that was refused: the entry that was, where that is
    another, and the last step before."""
    other = store.entry_of(c, run_id, refused) if refused not in ("", entry.client_id) else None
    return other, store.step_before(c, run_id, entry.at, STEPS)
