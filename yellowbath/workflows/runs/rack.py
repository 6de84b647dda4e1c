"""The rack: what is next and when over all baths that are not over, without working each out anew
whenever somebody looks."""

from __future__ import annotations

import math
import time
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from pydantic import ValidationError

from yellowbath.core.errors import YellowBathError
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.store.pages import MOST
from yellowbath.store.runs import RunRow
from yellowbath.workflows.runs.runs import RunView, keep_what_was_folded, view_at
from yellowbath.workflows.shop.shop import Shop

# How old what is told may be while nothing was entered and nothing falls due. Judged: a bath of
# hours moves by a hundredth in that time.
_AGE = timedelta(minutes=2)
_PATIENCE_S = 0.15  # of a look at the rack for what was never told
_OLD_S = 0.04  # and for what is only old
_LONG = 2_000  # rows of a log that is folded beside the served page and not within a look


@dataclass(frozen=True)
class OnRack:
    """A bath on the rack; without a view while it is worked out, as after an update."""

    row: RunRow
    view: RunView | None


@dataclass(frozen=True)
class _Seen:
    """A run as it was told, None where it cannot be read; by what, and when."""

    stamp: tuple[object, ...]
    at: datetime
    view: RunView | None

    def holds(self, now: datetime) -> bool:
        """Whether nothing has fallen due since."""
        due = [a.at for a in self.view.actions if a.at] if self.view else []
        return self.at <= now and not any(self.at < at <= now for at in due)


def rack(shop: Shop, most: int = MOST, patience_s: float = _PATIENCE_S) -> Sequence[OnRack]:
    """Runs that are not over, those in danger, then those that want hands soonest, and at the end
    those that nobody has begun; the newest so many.

    What was entered or has fallen due is told as it is now; else it may be two minutes old, more
    where there are very many. A run whose plan cannot be read is left out; ``unread`` lists it.
    """
    now, began = shop.now(), time.monotonic()
    with reading(shop.engine) as c:
        rows = store.open_run_rows(c, most)
        stamps = store.stamps(c, [r.id for r in rows])
    stamps = {k: (*stamp, shop.shouts.of(k)) for k, stamp in stamps.items()}
    known = {r.id: shop.rack.peek(r.id) for r in rows}
    fresh = {
        r.id: seen for r in rows
        if (seen := known[r.id]) and seen.stamp == stamps[r.id] and seen.holds(now)
    }  # fmt: skip
    old = {r.id: fresh[r.id].at for r in rows if r.id in fresh}
    tried = False
    for row in sorted(rows, key=lambda r: (r.id in old, old.get(r.id, now))):
        seen = fresh.get(row.id)
        spent = time.monotonic() - began
        if seen is not None and (now - seen.at < _AGE or spent > min(_OLD_S, patience_s)):
            continue
        if seen is None and spent > patience_s and tried:
            continue
        tried = True  # one at least, so that every look gets on
        if (made := _seen(shop, row, stamps[row.id], now, patience_s)) is not None:
            fresh[row.id] = made
            shop.rack.put(row.id, made)
    told = [OnRack(r, fresh[r.id].view if r.id in fresh else None) for r in rows
            if r.id not in fresh or fresh[r.id].view is not None]  # fmt: skip

    def urgency(on: OnRack) -> tuple[bool, bool, datetime]:
        first = next(iter(on.view.actions), None) if on.view else None
        danger = first is not None and first.danger
        # what merely waits for its keeper does not drown what is due
        return (not danger, on.row.state == "planned", (first.at if first else None) or now)

    return sorted(told, key=urgency)


def _seen(
    shop: Shop, row: RunRow, stamp: tuple[object, ...], now: datetime, patience_s: float
) -> _Seen | None:
    """A run worked out now; None for one whose log takes longer than there is patience for."""
    with reading(shop.engine) as c:
        unfolded = not store.has_any_snapshot(c, row.id)
        if unfolded and math.isfinite(patience_s) and store.longer_than(c, row.id, _LONG):
            return None
    try:
        view = view_at(shop, row.id)
    except (YellowBathError, ValidationError):
        return _Seen(stamp, now, None)
    keep_what_was_folded(shop, [view])
    return _Seen(stamp, now, view)


def renew_rack(shop: Shop) -> None:
    """Work out every bath on the rack, as beside a page that is served for the first time."""
    rack(shop, patience_s=math.inf)
