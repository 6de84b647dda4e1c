"""The hours as sentences: the main surface, the slow places, and what the window is made of."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import BaseModel

from yellowbath.core.hours.outlook import Outlook, Side, Three
from yellowbath.core.hours.said import from_to, left_said, seconds
from yellowbath.core.units import System, show
from yellowbath.core.words import word


class SurfaceHoursOut(BaseModel):
    """One side of the surface: its name, its share of the area [%], its hours as text; none where
    it does not come clean in this bath, and then what helps."""

    kind: str
    name: str
    percent: int
    hours: str | None
    turned: str | None
    remedy: str


class UnsureOut(BaseModel):
    """Something that makes the window wide, and its share of that [%]."""

    name: str
    percent: int


class BuysOut(BaseModel):
    """What one look or reading would make of the window: in words, and its hours."""

    what: str
    window: str
    low_h: float
    mid_h: float
    high_h: float


class OutlookOut(BaseModel):
    """The main surface first, then the slow places; what the window is made of, and what one look
    would leave of it; ``buys``: the window as it is, then as a reading and looks would make it."""

    sides: list[SurfaceHoursOut]
    unsure: list[UnsureOut]
    look: str
    buys: list[BuysOut]


def side_out(
    kind: str, share: float, clean: Three | None, turned: Three | None, system: System
) -> SurfaceHoursOut:
    """One side, its times in seconds."""
    return SurfaceHoursOut(
        kind=kind, name=word(f"side.{kind}"), percent=round(100 * share),
        hours=from_to(clean, system) or None, turned=from_to(turned, system) or None,
        remedy=word(f"side.remedy.{kind}"),
    )  # fmt: skip


def outlook_out(found: Outlook | None, system: System) -> OutlookOut | None:
    """What the plan's page says of its hours."""
    if found is None:
        return None
    sides = [_of(s, system) for s in found.sides]
    unsure = [
        UnsureOut(name=word(f"unsure.{name}"), percent=round(100 * part))
        for name, part in found.unsure if part >= 0.05
    ]  # fmt: skip
    after = show(found.look_h * 3600, "time", system, 1)
    look = word("unsure.look", after=str(after), window=from_to(seconds(found.looked), system))
    rows = [_buys("now", 0.0, found.main.hours, system)]
    rows += [_buys("look" if h else "reading", h, w, system) for h, w in found.buys]
    return OutlookOut(sides=sides, unsure=unsure, look=look, buys=[r for r in rows if r])


def _buys(what: str, after_h: float, window: Three | None, system: System) -> BuysOut | None:
    if window is None or not math.isfinite(window[2]):
        return None
    low, mid, high = window
    after = str(show(after_h * 3600, "time", system, 1))
    return BuysOut(
        what=word(f"buys.{what}", after=after), window=from_to(seconds(window), system),
        low_h=low, mid_h=mid, high_h=high,
    )  # fmt: skip


def _of(side: Side, system: System) -> SurfaceHoursOut:
    return side_out(side.kind, side.share, seconds(side.hours), seconds(side.turned), system)


def sides_left_out(
    sides: Sequence[tuple[str, float, Three | None]], system: System
) -> list[SurfaceHoursOut]:
    """The slow places of a run, and what each still wants."""
    told = [side_out(kind, share, None, None, system) for kind, share, _ in sides]
    return [
        t.model_copy(update={"hours": left_said(left, system) or None})
        for t, (_, _, left) in zip(told, sides, strict=True)
    ]
