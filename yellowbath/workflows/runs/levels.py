"""A bath asked at two levels of its supply, by hand or by a step of its line."""

from __future__ import annotations

from uuid import uuid4

from yellowbath.core.bath.levels import AtLevel, Levels, levels
from yellowbath.core.run.log import Asked, Entry
from yellowbath.workflows.runs.runs import RunView, enter
from yellowbath.workflows.runs.standing import loop_of
from yellowbath.workflows.shop.shop import Shop


def levels_of(shop: Shop, run_id: str, high: AtLevel, low: AtLevel) -> Levels:
    """What two levels come to on a run's bath; nothing is kept. Raises InputError."""
    return levels(high, low, loop_of(shop, run_id))


def write_levels(shop: Shop, run_id: str, high: AtLevel, low: AtLevel) -> RunView:
    """The same as an answer in the run's log. Raises InputError, StepRefusedError."""
    made = levels_of(shop, run_id, high, low)
    detail = Asked(ask="two_levels", outcome=made.outcome)
    entry = Entry(client_id=f"levels{uuid4().hex}", at=shop.now(), detail=detail)
    return enter(shop, run_id, entry)
