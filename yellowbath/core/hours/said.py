"""The hours in words: one way for plan, run, card, search, advice and book. Times [s]."""

from __future__ import annotations

from yellowbath.core.field.sides import MAIN
from yellowbath.core.hours.outlook import Outlook, Side, Three
from yellowbath.core.units import System, show, window
from yellowbath.core.words import small, word


def from_to(three: Three | None, system: System, quantity: str = "time") -> str:
    """A window [SI] as a person reads it; empty where there is none.

    >>> from_to((7200.0, 14400.0, 36000.0), "metric")
    '2 to 10 h'
    """
    if three is None:
        return ""
    low, mid, high = three
    shown, first, last = window(mid, low, high, quantity, system)
    if first is None or last is None:
        return str(shown)
    return f"{first.text} to {last}" if first.text != last.text else str(last)


def left_said(left: Three | None, system: System) -> str:
    """What is still wanted [s] as every surface of a run says it; an early edge that is next to
    nothing is nought. Empty where there is none.

    >>> left_said((600.0, 14400.0, 36000.0), "metric")
    '0 to 10 h'
    """
    if left is None:
        return ""
    low, mid, high = left
    if nothing_left(left):
        return word("looks.done")
    if low <= _NEXT_TO_NOTHING * high:
        return f"0 to {show(high, 'time', system, 2)}"
    return from_to((low, mid, high), system)


def nothing_left(left: Three) -> bool:
    """Whether what is still wanted [s] is under a minute at its late edge (judged)."""
    return left[2] < 60.0


_NEXT_TO_NOTHING = 0.05  # of the late edge; judged


def seconds(hours: Three | None) -> Three | None:
    """Hours as seconds; None stays None."""
    return (hours[0] * 3600, hours[1] * 3600, hours[2] * 3600) if hours else None


def side_said(side: Side, system: System) -> str:
    """When a side is clean: its window, and the one with a turn; or that it is not in this bath,
    and what helps.

    >>> side_said(Side("away", 0.4, (9.0, 15.0, 25.0), (6.0, 9.0, 14.0)), "metric")
    '9 to 25 h, or 6 to 14 h if turned round half-way'
    >>> side_said(Side("bore", 0.2, None), "metric")
    'not in this bath: a rod through it, or by hand'
    """
    if side.hours is None:
        return word("side.never", remedy=word(f"side.remedy.{side.kind}"))
    said = from_to(seconds(side.hours), system)
    return said if side.turned is None else word(
        "side.turned", hours=said, turned=from_to(seconds(side.turned), system)
    )  # fmt: skip


def outlook_said(found: Outlook, system: System) -> tuple[tuple[str, str], ...]:
    """The hours of the main surface, then every slow place by name with its share of the area."""
    first = side_said(found.main, system)
    if len(found.sides) > 1:
        first = word("side.headline", hours=first, side=small(word(f"side.{MAIN}")))
    slow = tuple(
        (word(f"side.{s.kind}"),
         word("side.share", said=side_said(s, system), percent=round(100 * s.share)))
        for s in found.sides[1:]
    )  # fmt: skip
    return ((word("side.after"), first), *slow)


def compared(before: Outlook, after: Outlook, system: System) -> tuple[str, ...]:
    """What a change does to each side that is slow before or after it, the main surface first."""
    one, other = ({s.kind: s for s in o.sides} for o in (before, after))
    out = []
    for kind in dict.fromkeys([*one, *other]):
        texts = [
            from_to(seconds(s.hours), system) or word("side.not_here") if s is not None
            else word("side.as_soon")
            for s in (one.get(kind), other.get(kind))
        ]  # fmt: skip
        name = word("side.clean") if kind == MAIN else word(f"side.{kind}")
        if texts[0] != texts[1] or kind == MAIN:
            out.append(f"{name} {texts[0]} → {texts[1]}")
    return tuple(out)
