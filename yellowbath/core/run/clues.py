"""What is known of a bath just now, as the diagnosis takes it: the newest of each kind, and what
was so before it came to be wrong.

Kept with the run, entry by entry. Whatever hands do makes older observations of what the bath does
worthless; what was looked at (a fuse, the leads) stands until that is touched.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from yellowbath.core.bath.draws import law
from yellowbath.core.bath.meters import meter_error
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import CANNOT, DOES, asks
from yellowbath.core.causes.judge import other_amps
from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.log import (
    Asked,
    BackIn,
    Change,
    Entry,
    FoundStopped,
    Lift,
    Look,
    Mended,
    Reading,
    SwitchOff,
)


@dataclass(frozen=True)
class Clue:
    """One thing known: an outcome of an ask, or a figure [A, V] with its error as a share; ``odd``:
    amps that are not, or may not be, as the bath's own and its plan have them."""

    ask: str
    at: datetime
    outcome: str = ""
    value: float | None = None
    error: float = 0.03
    odd: bool = False


@dataclass
class Clues:
    """``now``: the newest of each ask; ``before``: the newest that was as it should be; ``tried``:
    mended, and it was not that; ``change``: what was done last; ``bath_c``: its warmth as read;
    ``until``: amps before a mend that did not help, until they are read again; ``lacks``: asks that
    could not be told for want of a tool, by the tool. ``odd``: what was known when something was
    last not as it should be, until it is named; ``hands``: when something was done about it."""

    now: dict[str, Clue] = field(default_factory=dict)
    before: dict[str, Clue] = field(default_factory=dict)
    tried: list[str] = field(default_factory=list)
    change: str = ""
    bath_c: float | None = None
    until: Clue | None = None
    lacks: dict[str, Clue] = field(default_factory=dict)
    odd: tuple[Clue, ...] = ()
    hands: datetime | None = None

    @property
    def first(self) -> str:
        """What is asked before all but a danger: amps anew after a mend that did not help."""
        return "amps" if self.until is not None else ""

    @property
    def newest(self) -> datetime | None:
        return max((c.at for c in self.now.values()), default=None)


# What is looked at no longer holds once this was done.
_TOUCHED: Mapping[str, frozenset[str]] = {
    "turned": frozenset({"leads", "poles", "piece_under"}),
    "flipped": frozenset({"leads", "poles", "piece_under"}),
    "scraped": frozenset({"scrap", "crust"}),
    "swapped_anodes": frozenset(
        {"scrap", "crust", "joint_scrap", "shares", "leads", "poles", "level"}
    ),
    "added_anode": frozenset({"scrap", "joint_scrap", "shares", "leads", "poles", "level"}),
    "topped_up": frozenset({"level", "measured", "mark", "piece_under"}),
    "clip_moved": frozenset({"joint_piece", "leads", "poles", "hanger", "piece_under"}),
    "soda_added": frozenset({"box", "measured"}),
    "limit_changed": frozenset({"range"}),
    "other": frozenset(),
    "back_in": frozenset({"joint_piece", "leads", "poles", "hanger", "piece_under"}),
}


def take(clues: Clues, entry: Entry, basis: Basis, amps_odd: bool = False) -> None:
    """What an entry tells, put to what is known; ``clues`` is changed in place. ``amps_odd``: the
    amps it reads, if any, are not as they should be."""
    detail = entry.detail
    match detail:
        case Look():
            if detail.bubbles is not None:
                put(clues, Clue("gas", entry.at, detail.bubbles), basis)
            if "touch" in detail.signs:
                put(clues, Clue("leads", entry.at, "touching"), basis)
        case Reading():
            error = meter_error(detail.method).alone
            figures = {
                "amps": detail.current_a,
                "supply_v": detail.supply_v,
                "tank_v": detail.tank_v,
            }
            for ask, value in figures.items():
                if value is not None:
                    is_odd = amps_odd and ask == "amps"
                    put(clues, Clue(ask, entry.at, value=value, error=error, odd=is_odd), basis)
            clues.bath_c = detail.bath_c if detail.bath_c is not None else clues.bath_c
        case Asked():
            put(clues, Clue(detail.ask, entry.at, detail.outcome), basis)
        case Mended() if detail.helped:
            clues.now, clues.tried, clues.change, clues.until = {}, [], "", None
            clues.odd, clues.hands = (), None
        case Mended():
            clues.tried, clues.hands = [*clues.tried, detail.cause], entry.at
            clues.until = clues.now.pop("amps", clues.until)
        case Change():
            _done(clues, detail.what, entry.at)
            if detail.after_a is not None:
                error = meter_error(detail.method).alone
                after = Clue("amps", entry.at, value=detail.after_a, error=error, odd=amps_odd)
                put(clues, after, basis)
        case BackIn():
            _done(clues, "back_in", entry.at)
        case Lift() if detail.piece:  # other amps from now on, and hands were at the clips
            _done(clues, "back_in", entry.at)
        case SwitchOff():  # hands may have been at it, and said nothing
            clues.hands = entry.at if clues.odd else None
        case FoundStopped():  # it was off: what it did then tells nothing of the bath
            clues.now = {k: c for k, c in clues.now.items() if k not in DOES}


def _done(clues: Clues, what: str, at: datetime) -> None:
    gone = DOES | _TOUCHED[what]
    clues.hands = at if clues.odd else None
    clues.now = {k: c for k, c in clues.now.items() if k not in gone}
    clues.change = what


def _again(clues: Clues, clue: Clue) -> None:
    """Amps after a mend that did not help: where they are others, it did mend something, and what
    the bath did before is no longer what it does."""
    was, clues.until = clues.until, None
    if was is None or was.value is None or clue.value is None:
        return
    before = Observation("amps", value=was.value, error=was.error)
    if other_amps(before, Observation("amps", value=clue.value, error=clue.error)):
        clues.now = {k: c for k, c in clues.now.items() if k not in DOES}


def put(clues: Clues, clue: Clue, basis: Basis) -> None:
    if clue.ask == "amps":
        _again(clues, clue)
    by = asks()[clue.ask].by if clue.ask in asks() else ""
    if clue.outcome == CANNOT and by:
        clues.lacks[by] = clue
        return
    clues.lacks.pop(by, None)
    stale = clue.at - timedelta(minutes=law("stale_min"))
    for was in list(clues.now.values()):
        if was.ask == clue.ask or (was.ask in DOES and was.at < stale):
            del clues.now[was.ask]
            if not odd(was, basis):
                clues.before[was.ask] = was
    clues.now[clue.ask] = clue
    if odd(clue, basis):
        clues.odd, clues.hands = tuple(clues.now.values()), None
    elif clues.hands is None and _well(clues, basis):  # it came back by itself: a slip
        clues.odd = ()


def unnamed(clues: Clues, basis: Basis) -> bool:
    """Whether the bath does as it should again since hands did something, and nobody has said what
    it was."""
    done = clues.hands
    return bool(clues.odd) and done is not None and _well(clues, basis, done)


def _well(clues: Clues, basis: Basis, since: datetime | None = None) -> bool:
    """Whether nothing is odd, and amps or gas (read since then, if named) are as they should be."""
    every = clues.now.values()
    seen = any(c.ask in _WELL and (since is None or c.at >= since) for c in every)
    return seen and not any(odd(c, basis) for c in every)


def odd(clue: Clue, basis: Basis) -> bool:
    """Whether it is not as it should be, so that somebody asks why."""
    if clue.outcome == CANNOT:
        return False
    if clue.ask == "gas":
        return clue.outcome != "whole"
    if clue.ask == "amps":
        if clue.value is None:
            return clue.outcome != "right"
        return clue.odd
    if clue.ask in ("tank_v", "supply_v"):
        if clue.value is None:
            return clue.outcome != "right"
        return math.isfinite(basis.open_v) and clue.value < 0.5 * _volts_meant(basis)
    return (clue.ask, clue.outcome) in _ODD


def _volts_meant(basis: Basis) -> float:
    """Volts that the bath should have [V]: those of the supply, or what a current that it holds
    takes through the cell and the liquid."""
    if basis.expected_a * limit("advice", "over_limit") < basis.limit_a:
        return basis.open_v
    cell = limit("interlocks", "touch_eaten_v" if basis.dissolves else "touch_v")
    return min(basis.open_v, cell + basis.limit_a * basis.bath_ohm)


_WELL = frozenset({"amps", "gas"})  # by which it is seen that a bath does as it should
_ODD = frozenset({
    ("shares", "one_idle"), ("shares", "one_takes"),
    ("leads", "touching"), ("leads", "swapped"), ("poles", "swapped"), ("crust", "piece"),
    ("fuse", "blown"), ("equal", "equal"), ("hanger", "coated"), ("battery", "flat"),
    ("level", "no"), ("each_piece", "near_only"), ("each_piece", "far_only"),
    ("piece_under", "no"), ("mark", "under"), ("fan", "weak"), ("sound", "ticking"),
})  # fmt: skip
