"""Plans as a list tells of them."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from yellowbath.core.hours.said import from_to
from yellowbath.workflows.plans.plans import Summed
from yellowbath.workflows.shop.shop import Page


class ListedOut(BaseModel):
    """A plan in a list: what it is called, its first stop and how many, amps and time in words;
    ``checking``: these are worked out anew just now; ``quick``: its field is not solved yet, and
    they are a first estimate."""

    id: str
    revision: int
    created_at: datetime
    title: str
    stop: str
    stops: int
    cautions: int
    gives: str
    clean: str
    checking: bool = False
    quick: bool = False


class PlansOut(BaseModel):
    """A page of plans; ``count``: how many there are in all, ``after``: where the next page begins,
    empty after the last."""

    items: list[ListedOut]
    count: int
    after: str


def plans_out(page: Page[Summed]) -> PlansOut:
    return PlansOut(items=[listed_out(p) for p in page.rows], count=page.count, after=page.after)


def listed_out(listed: Summed) -> ListedOut:
    """What a list tells of a plan, in its own units."""
    s = listed.summary
    if s is None:
        return ListedOut(
            id=listed.plan_id, revision=listed.number, created_at=listed.created_at,
            title=listed.title, stop="", stops=0, cautions=0, gives="", clean="", checking=True,
        )  # fmt: skip
    return ListedOut(
        id=listed.plan_id, revision=listed.number, created_at=listed.created_at, title=s.title,
        stop=s.stop or s.trouble, stops=s.stops, cautions=s.cautions,
        gives=from_to(_rising(s.gives_a), s.system, "current"),
        clean=from_to(_rising(s.clean_s), s.system), quick=s.quick and bool(s.gives_a),
    )  # fmt: skip


def _rising(kept: tuple[float, float, float] | None) -> tuple[float, float, float] | None:
    """A summary keeps value, low, high; a window is read from its low end up."""
    return kept and (kept[1], kept[0], kept[2])
