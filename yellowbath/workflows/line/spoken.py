"""What a line measured, written into its run's log as readings: by the roll-ups of ten seconds."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from yellowbath.core.errors import KnownKeyError, StepRefusedError
from yellowbath.core.run.log import Entry
from yellowbath.core.run.spoken import COVERS_S, LineHeard, to_say
from yellowbath.core.units import MS
from yellowbath.store import runs as run_store
from yellowbath.store import samples as store
from yellowbath.store.engine import reading
from yellowbath.workflows.line.samples import at_of, ms_of
from yellowbath.workflows.runs.runs import enter
from yellowbath.workflows.shop.shop import Shop

_BACK_MS = 14 * 86_400 * MS  # further back nothing is said any more
_BEFORE_MS = 60 * MS  # what stood before the entry that was said last
MOST = 400  # entries at once: what is more is said the next time


def speak(shop: Shop, run_id: str) -> int:
    """Write what was measured and not said yet into the log, where it says something new; how many
    entries it made. Said again it makes none."""
    now_ms = ms_of(shop.now())
    with reading(shop.engine) as c:
        state = run_store.run_row(c, run_id).state
        if state not in ("running", "paused"):
            return 0
        last = run_store.newest_reading(c, run_id, "line")
        switched = run_store.newest_of(c, run_id, "switch_on")
        said = _said(last)
        since = said.start_ms if said else now_ms - _BACK_MS
        if switched is not None:
            # what came before this switching on is of another stretch of power
            since = max(since, ms_of(switched.at)) if said is None else since
        rows = store.rolls(c, run_id, COVERS_S, since - (_BEFORE_MS if said else 0), now_ms)
    heard = [_heard(r) for r in rows if r[0] + MS * COVERS_S <= now_ms]
    made = 0
    for h in to_say(heard, said)[:MOST]:
        entry = Entry(
            client_id=f"line-{h.start_ms}", at=at_of(h.end_ms), detail=h.reading()
        )  # fmt: skip
        try:
            enter(shop, run_id, entry)
        except (KnownKeyError, StepRefusedError):
            continue  # said before in other words, or lifted meanwhile
        made += 1
    return made


def _said(entry: Entry | None) -> LineHeard | None:
    """What an entry of the line stood for."""
    if entry is None:
        return None
    detail: Any = entry.detail
    return LineHeard(
        ms_of(entry.at) - MS * COVERS_S, detail.current_a, detail.supply_v, detail.bath_c
    )


def _heard(row: Sequence[Any]) -> LineHeard:
    """A row of the roll-up: start, then mean, least and most by channel."""
    swing = 0.0 if row[1] is None else row[3] - row[2]
    return LineHeard(int(row[0]), row[1], row[4], row[7], swing)
