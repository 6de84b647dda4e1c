"""The hours as sentences: the main surface, the slow places, and what the window is made of."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from yellowbath.core.hours.outlook import Outlook, Side, Three
from yellowbath.core.units import Shown, System, show, window
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


class OutlookOut(BaseModel):
    """The main surface first, then the slow places; what the window is made of, and what one look
    would leave of it."""

    sides: list[SurfaceHoursOut]
    unsure: list[UnsureOut]
    look: str


def from_to(three: Three | None, system: System, quantity: str = "time") -> str:
    """A window [SI] as a person reads it; empty where there is none.

    >>> from_to((7200.0, 14400.0, 36000.0), "metric")
    '2 to 10 h'
    """
    if three is None:
        return ""
    low, mid, high = three
    return _text(window(mid, low, high, quantity, system))


def _text(three: tuple[Shown, Shown | None, Shown | None]) -> str:
    _, low, high = three
    if low is None or high is None:
        return str(three[0])
    return f"{low.text} to {high}" if low.text != high.text else str(high)


def side_out(
    kind: str, share: float, seconds: Three | None, turned: Three | None, system: System
) -> SurfaceHoursOut:
    """One side, its times in seconds."""
    return SurfaceHoursOut(
        kind=kind, name=word(f"side.{kind}"), percent=round(100 * share),
        hours=from_to(seconds, system) or None, turned=from_to(turned, system) or None,
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
    look = word("unsure.look", after=str(after), window=from_to(_seconds(found.looked), system))
    return OutlookOut(sides=sides, unsure=unsure, look=look)


def _of(side: Side, system: System) -> SurfaceHoursOut:
    turned = _seconds(side.turned) if side.turned else None
    hours = _seconds(side.hours) if side.hours else None
    return side_out(side.kind, side.share, hours, turned, system)


def _seconds(hours: Three) -> Three:
    low, mid, high = hours
    return low * 3600, mid * 3600, high * 3600


def sides_left_out(
    sides: Sequence[tuple[str, float, Three | None]], system: System
) -> list[SurfaceHoursOut]:
    """The slow places of a run, and what each still wants."""
    return [side_out(kind, share, left, None, system) for kind, share, left in sides]
