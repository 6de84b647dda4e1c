"""Whose clock is right: an entry's time by the shop's clock, whatever the phone's says.

A phone that runs fast or slow says with each entry what it takes the time to be; the difference is
taken off. The shop's own clock may be slow too, as that of a small computer after a power cut: it
never goes back behind what it wrote itself.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from yellowbath.core.errors import OutOfRangeError, StepRefusedError
from yellowbath.core.run.log import Entry, SwitchOn
from yellowbath.core.run.moves import MOVES, State
from yellowbath.core.words import small, word

# Clocks that differ by less are taken as alike: a request takes as long. Judged.
_ALIKE = timedelta(seconds=2)
# What was typed within this before it was sent was typed "now". Judged.
_NOW = timedelta(seconds=10)
# Further ahead than this is no clock but a mistake.
_AHEAD = timedelta(minutes=5)


@dataclass(frozen=True)
class Clocks:
    """The time at a shop as an entry comes in; ``ahead``: by how much its device's clock runs ahead
    of that, ``device_now``: what that clock said; ``happened``: when the newest entry was."""

    now: datetime
    device_now: datetime | None
    happened: datetime | None

    @classmethod
    def of(
        cls, now: datetime, written: datetime | None, happened: datetime | None,
        device_now: datetime | None = None,
    ) -> Clocks:  # fmt: skip
        """By what the shop's clock says and when its log was last ``written``."""
        if written is not None and now < written:  # the shop's clock went back
            now = max(device_now or written, written)
        return cls(now, device_now, happened)

    @property
    def ahead(self) -> timedelta:
        """How much the device's clock runs ahead; nought where it is not told, or alike."""
        differs = self.device_now - self.now if self.device_now else timedelta()
        return differs if abs(differs) > _ALIKE else timedelta()

    def ours(self, typed: datetime) -> datetime:
        """A time by the device's clock, by the shop's: never later than it is now, unless it is no
        slip of a clock; what was typed just now never before what happened just now."""
        at = typed - self.ahead
        if self.now < at <= self.now + _AHEAD:
            at = self.now
        just_now = (self.device_now or self.now) - typed <= _NOW
        if just_now and self.happened and at < self.happened <= min(at + _NOW, self.now):
            at = self.happened
        return at

    def require_time(self, entry: Entry, begun: datetime, planned: datetime) -> None:
        """Raises OutOfRangeError for a time that cannot be this run's."""
        if entry.at > self.now:
            raise OutOfRangeError(
                f"{self.told(entry.at)} has not come yet: it is {self.told(self.now)} at the shop.",
                allowed="Up to now.",
                remedy="Check the clock time.",
            )
        if entry.at < begun - timedelta(days=366):
            raise OutOfRangeError(
                "That time is more than a year before the run was planned.",
                remedy="Check the date.",
            )
        on = entry.detail if isinstance(entry.detail, SwitchOn) else None
        if on and not on.already and entry.at < planned - _AHEAD:
            raise OutOfRangeError(
                f"This bath was not planned yet at {self.told(entry.at)}: its plan is of "
                f"{self.told(planned)}.",
                allowed="A bath is switched on by a plan that was judged before.",
                remedy=word("already.remedy"),
            )

    def in_the_way(
        self, entry: Entry, error: StepRefusedError, other: Entry | None, before: Entry | None
    ) -> StepRefusedError:
        """The refusal of an entry, naming the step of the log that is really in the way: ``other``,
        the one that was refused because of it, or the last step ``before`` it."""
        if other is not None:
            return StepRefusedError(
                f"You cannot {_move(entry)} at {self.told(entry.at)}: after it, the entry "
                f"“{word(f'run.move.{other.detail.kind}')}” of {self.told(other.at)} "
                "would have no place.",
                allowed="An entry that fits between those before and after it.",
                remedy="Correct the time of this one, or strike that one out first.",
            )
        if self.happened is None or entry.at >= self.happened or before is None:
            return error
        return StepRefusedError(
            f"You cannot {_move(entry)} at {self.told(entry.at)}: what came before it is "
            f"“{_move(before)}” at {self.told(before.at)}.",
            allowed=error.allowed.replace("From here", "From there"),
            remedy=word("run.wrong_time"),
        )

    def told(self, at: datetime) -> str:
        """A time as the shop's clock shows it; with its day where that is not today."""
        here, now = at.astimezone(), self.now.astimezone()
        return f"{here:%H:%M}" if here.date() == now.date() else f"{here.day} {here:%b %H:%M}"


def _move(entry: Entry) -> str:
    return small(word(f"run.move.{entry.detail.kind}"))


def _moving() -> list[str]:
    """Kinds of entry that bring a run from one state to another."""
    states: dict[State, dict[str, State]] = {s: dict(m) for s, m in MOVES.items()}
    return sorted({k for s, moves in states.items() for k, to in moves.items() if to != s})


STEPS = _moving()
