"""A danger that a line or a file showed, into the run's log: once, for as long as it stands."""

from __future__ import annotations

import contextlib
from datetime import datetime
from uuid import uuid4

from yellowbath.core.errors import OutOfRangeError, StepRefusedError
from yellowbath.core.run.interlocks import Trip
from yellowbath.core.run.log import Alarm, Entry
from yellowbath.store.engine import reading
from yellowbath.workflows.runs.runs import enter
from yellowbath.workflows.runs.standing import basis_at
from yellowbath.workflows.shop.shop import Shop


def tell(shop: Shop, run_id: str, trip: Trip, at: datetime, acts: bool) -> None:
    """Write what was found, unless it stands in the log already; a run that is over takes none.
    ``acts``: the supply is being told to switch off."""
    danger = trip.danger
    if danger is None:
        return
    with reading(shop.engine) as c:
        _, run = basis_at(shop, c, run_id)
    if any((s.by, s.title) == (danger.by, danger.title) for s in run.signs) and not acts:
        return
    detail = Alarm(which=danger.key, by=danger.by, reason=danger.why[:1000], acts=acts)
    with contextlib.suppress(StepRefusedError, OutOfRangeError):
        enter(shop, run_id, Entry(client_id=f"alarm{uuid4().hex}", at=at, detail=detail))
