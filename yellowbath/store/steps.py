"""An entry that was taken, with all that it makes, written at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from sqlalchemy import Connection

from yellowbath.core.run.fold import Numbered
from yellowbath.core.run.kit import after_uses
from yellowbath.core.run.log import Entry, Void
from yellowbath.core.run.moves import OVER
from yellowbath.core.tell.entering import Entered, Incoming
from yellowbath.store import kit as kit_store
from yellowbath.store.book import add_book_entry
from yellowbath.store.facts import Facts
from yellowbath.store.runs import DeviceTime, append_entry
from yellowbath.store.snapshots import put_folded


def put_step(
    c: Connection, facts: Facts, known: Incoming, made: Entered, device: DeviceTime
) -> Facts:
    """Write a step that was made by facts; the facts as they are with it."""
    run_id, entry, run = facts.row.id, made.entry, made.folded.run
    now, uses = known.clock.now, list(made.uses)
    append_entry(c, run_id, known.number, entry, now, device)
    put_folded(c, run_id, made.folded)
    if made.thing is not None:
        thing, use = made.thing
        kit_store.add_thing(c, run_id, thing.model_dump(mode="json"), entry.at)
        uses.append(use)
    new = [
        u for u in uses
        if kit_store.append_event(c, u.thing_id, u.key, u.event.model_dump(mode="json"))
    ]  # fmt: skip
    if made.page is not None:
        alone, page = made.page
        add_book_entry(c, run_id, alone, page.model_dump(mode="json"), entry.at)
    over_at = run.since if run.state in OVER else None
    return replace(
        facts,
        row=replace(facts.row, state=run.state, over_at=over_at),
        lines=_with(facts.lines, known.number, entry),
        since=replace(facts.since, things=after_uses(facts.since.things, new)),
    )


def _with(lines: Sequence[Numbered], number: int, entry: Entry) -> Sequence[Numbered]:
    """The newest lines with an entry more, or without the one that it strikes out."""
    if isinstance(entry.detail, Void):
        return [(n, e) for n, e in lines if e.client_id != entry.detail.target]
    return sorted([*lines, (number, entry)], key=lambda line: (line[1].at, line[0]), reverse=True)
