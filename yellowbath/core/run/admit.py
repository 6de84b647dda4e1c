"""Whether an entry has a place in a run's log, by what is known of the run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from yellowbath.core.causes.asks import CANNOT, asks
from yellowbath.core.causes.rows import causes
from yellowbath.core.checks.registry import stops
from yellowbath.core.ear import parse
from yellowbath.core.errors import (
    InputError,
    KnownKeyError,
    NotFoundError,
    OutOfRangeError,
    StepRefusedError,
    StopsInForceError,
)
from yellowbath.core.run.clocks import Clocks
from yellowbath.core.run.log import (
    Asked,
    Checklist,
    Close,
    Entry,
    FoundStopped,
    Mended,
    Reading,
    SwitchOff,
    SwitchOn,
    Void,
)
from yellowbath.core.run.moves import OVER, refused
from yellowbath.core.run.standing import Standing
from yellowbath.core.run.switch_on import in_bath_first, require_all, require_read
from yellowbath.core.units import System, show
from yellowbath.core.words import word


@dataclass(frozen=True)
class Written:
    """An entry that is in the log: when it was typed by its own clock, and whether it was struck
    out."""

    entry: Entry
    typed: datetime
    struck: bool


def admit(found: Standing, clock: Clocks, entry: Entry, target: Written | None) -> None:
    """Raises unless an entry, at its time by the shop's ``clock``, has its place; ``target``: what
    it strikes out, None where there is no such entry.

    StopsInForceError for switching on over a stop, StepRefusedError for a step that has no place
    where (and when) it is entered, OutOfRangeError for a time that is not the run's.
    """
    run, detail = found.run, entry.detail
    require_known(detail)
    clock.require_time(entry, found.since.created_at, found.since.planned_at)
    if isinstance(detail, Void):
        _strikes(target)
    if run.state in OVER and detail.kind != "remark":
        raise refused(run.state, detail.kind)
    last_on = run.last_of.get("switch_on")
    if isinstance(detail, SwitchOff | FoundStopped) and last_on and entry.at < last_on:
        raise StepRefusedError(
            f"It was switched on at {clock.told(last_on)}, after that.",
            allowed="A stop comes after the switching on that it ends.",
            remedy="Correct the time, or strike out the switching on first.",
        )
    if isinstance(detail, SwitchOn) and detail.already:
        _require_first(found)
        return
    if isinstance(detail, Checklist | SwitchOn):
        blocking = stops(found.known.findings)
        if blocking:
            raise StopsInForceError([(f.id, f.title) for f in blocking])
        if found.known.asked:
            raise in_bath_first(found.known.asked)
    if isinstance(detail, Checklist):
        require_all(found.points, [*detail.ticked, *run.ticked])
    if isinstance(detail, SwitchOn) and run.state == "planned":
        raise refused("planned", "switch_on")
    if isinstance(detail, SwitchOn) and entry.at >= (last_on or entry.at):
        require_read(found.points, run.ticked)


def require_same(kept: Written, entry: Entry, typed: datetime) -> None:
    """Raises KnownKeyError unless an entry is the one that is kept under its id, sent once more."""
    if kept.entry.detail != entry.detail or kept.typed != typed:
        raise KnownKeyError


def require_known(detail: object) -> None:
    """Raises InputError for an ask, an outcome or a cause that there is not."""
    if isinstance(detail, Asked):
        ask = asks().get(detail.ask)
        if ask is None:
            raise InputError(f"Nothing is asked under {detail.ask}.", allowed=", ".join(asks()))
        if detail.outcome not in (*ask.outcomes, CANNOT):
            raise InputError(
                f"{detail.outcome} is no answer to that.", allowed=", ".join(ask.outcomes)
            )
    if isinstance(detail, Mended) and detail.cause not in (*causes(), "unknown"):
        raise InputError(f"There is no cause {detail.cause}.", allowed=", ".join(causes()))


def _require_first(found: Standing) -> None:
    """A bath was found running once, before anything else; what bars switching on then is told as
    danger instead. Raises StepRefusedError."""
    if found.run.state not in ("planned", "ready"):
        raise StepRefusedError(
            word("already.refused"),
            allowed=word("already.allowed"),
            remedy=word("already.instead"),
        )


def _strikes(target: Written | None) -> None:
    """Whether there is something to strike out: an entry, once, that is no strike-out itself."""
    if target is None:
        raise NotFoundError("There is no such entry to strike out.")
    detail = target.entry.detail
    if isinstance(detail, Close):
        raise StepRefusedError(
            word("alone.in_book"), allowed=word("alone.booked"), remedy=word("alone.in_book_why")
        )
    itself = isinstance(detail, Void)
    if itself or target.struck:
        raise StepRefusedError(
            "That is a strike-out itself." if itself else "That is struck out already.",
            allowed="Entries of the log, each once.",
            remedy="To have it back, write it down once more with its time.",
        )


def with_bath_read(entry: Entry, system: System) -> Entry:
    """The bath's temperature as it was typed, a bare number in the shop's unit; what was typed is
    kept beside it. Raises NotUnderstoodError or OutOfRangeError."""
    detail = entry.detail
    if not isinstance(detail, Reading) or not detail.bath.strip():
        return entry
    value = parse(detail.bath, "temperature", system)
    if not _COLDEST <= value <= _HOTTEST:
        low, high = (show(t, "temperature", system) for t in (_COLDEST, _HOTTEST))
        shown = show(value, "temperature", system)
        raise OutOfRangeError(
            word("refused.high", value=shown)
            if value > _HOTTEST
            else f"{shown} is no temperature of a bath.",
            allowed=f"{low} to {high}.",
            remedy="Check the number and the unit.",
        )
    read = detail.model_copy(update={"bath_c": value})
    return entry.model_copy(update={"detail": read})


_COLDEST, _HOTTEST = -5.0, 100.0  # °C
