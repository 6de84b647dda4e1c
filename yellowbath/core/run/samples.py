"""Samples of a bath, one a second: which of them can be believed, and what is to be said of those
that cannot.

What cannot be is kept apart under a name and is never averaged into anything. A sudden change that
a bath can make, as a touch does, is no fault of the sample and is believed at once. Times in
milliseconds of the epoch, volts [V], amps [A], temperatures [C].
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.dangers import BEYOND
from yellowbath.core.units import MS
from yellowbath.core.words import word

COLDEST, HOTTEST = -5.0, 105.0  # °C that no bath leaves
Why = Literal["", "reversed", "impossible", "beyond", "leapt", "frozen", "early", "late"]
"""Why a sample stands apart; empty for one that is believed. ``early``: before it was switched on;
``late``: from a clock that runs ahead; ``beyond``: over the meter's range; ``leapt``: no water
warms so fast. Only means leave it out: whether it is a danger is judged all the same
(``interlocks``)."""


@dataclass(frozen=True)
class Sample:
    """One moment; None for what was not measured."""

    at_ms: int
    amps: float | None = None
    volts: float | None = None
    bath_c: float | None = None

    @property
    def values(self) -> tuple[float | None, ...]:
        return self.amps, self.volts, self.bath_c


@dataclass(frozen=True)
class Able:
    """What a bath's supply and its run allow: the most amps and volts that it can have, when it was
    first switched on and what time it is [ms]."""

    most_a: float = math.inf
    most_v: float = math.inf
    on_ms: int | None = None
    now_ms: int = 2**62


def able(basis: Basis, on_ms: int | None, now_ms: int) -> Able:
    """What a run's bath can have, by what it runs under."""
    return Able(
        limit("samples", "over_rating") * basis.rated_a,
        limit("samples", "over_volts") * basis.open_v,
        on_ms,
        now_ms,
    )


@dataclass
class Watch:
    """What is remembered of a row of samples to tell a link that lies: the values that came last,
    since when they have not changed, and the last warmth that was believed."""

    values: tuple[float | None, ...] = ()
    since_ms: int = 0
    warm: tuple[int, float] | None = field(default=None)

    def judge(self, s: Sample, able: Able) -> Why:
        """Why a sample is not to be believed; samples come in the order of their times."""
        self._remember(s)
        if s.at_ms > able.now_ms + MS * limit("samples", "ahead_s"):
            return "late"
        if able.on_ms is None or s.at_ms < able.on_ms:
            return "early"
        if any(v is not None and math.isnan(v) for v in s.values):
            return "impossible"
        if any(v is not None and abs(v) >= BEYOND for v in s.values):
            return "beyond"
        if s.amps is not None and s.amps < -limit("samples", "backward_a"):
            return "reversed"
        if _over(s.amps, able.most_a) or _over(s.volts, able.most_v) or _under_zero(s.volts):
            return "impossible"
        if s.bath_c is not None and not COLDEST <= s.bath_c <= HOTTEST:
            return "impossible"
        if s.bath_c is not None and self._leaps(s.at_ms, s.bath_c):
            return "leapt"
        return "frozen" if self._frozen(s) else ""

    def _remember(self, s: Sample) -> None:
        if s.values != self.values:
            self.values, self.since_ms = s.values, s.at_ms

    def _frozen(self, s: Sample) -> bool:
        """The same figures to the last digit for minutes: no meter on a bath that gives gas does
        that. One that shows few digits is given longer; nought stands still by itself."""
        amps = s.amps or 0.0
        if not amps or s.volts is None:
            return False
        fine = any(map(_fine, s.values))
        wait = limit("samples", "frozen_fine_s" if fine else "frozen_coarse_s")
        return s.at_ms - self.since_ms > MS * wait

    def _leaps(self, at_ms: int, warm: float) -> bool:
        """Litres of water do not warm or cool so fast: a probe out of the liquid, or a slip."""
        last = self.warm
        if last is not None:
            seconds = max((at_ms - last[0]) / MS, 1.0)
            room = limit("samples", "leap_k") + limit("samples", "leap_k_s") * seconds
            if abs(warm - last[1]) > room:
                return True
        self.warm = (at_ms, warm)
        return False


def _fine(value: float | None) -> bool:
    """Whether it is told to more than two decimals."""
    return value is not None and bool(round(value - round(value, 2), 6))


def _over(value: float | None, most: float) -> bool:
    return value is not None and value > most


def _under_zero(value: float | None) -> bool:
    return value is not None and value < -limit("samples", "backward_v")


def why_said(why: Why) -> tuple[str, str]:
    """A reason to stand apart in words: what it is, and what to do about it."""
    return word(f"sample.{why}"), word(f"sample_mend.{why}")


# --- Roll-ups --------------------------------------------------------------------------------

WIDTHS = (10, 60)
"""Seconds of the two roll-ups."""
CHANNELS = ("amps", "volts", "bath_c")


@dataclass
class Roll:
    """What a stretch of so many seconds came to: how many samples, how many stood apart, and by
    channel count, sum, least and most; also the sum of squares of the amps, for their scatter."""

    start_ms: int
    count: int = 0
    apart: int = 0
    of: dict[str, tuple[int, float, float, float]] = field(default_factory=dict)

    def add(self, s: Sample, why: Why) -> None:
        """One more sample; one that stands apart is counted and not averaged."""
        self.count += 1
        if why:
            self.apart += 1
            return
        for name in CHANNELS:
            value = getattr(s, name)
            if value is None:
                continue
            n, total, low, high = self.of.get(name, (0, 0.0, math.inf, -math.inf))
            self.of[name] = (n + 1, total + value, min(low, value), max(high, value))

    def mean(self, name: str) -> float | None:
        """Mean of what was believed; None for none."""
        n, total, _, _ = self.of.get(name, (0, 0.0, 0.0, 0.0))
        return total / n if n else None


def rolled(judged: Iterable[tuple[Sample, Why]], width_s: int) -> Mapping[int, Roll]:
    """Samples gathered into stretches of so many seconds, by their beginnings [ms]."""
    made: dict[int, Roll] = {}
    step = width_s * MS
    for s, why in judged:
        start = s.at_ms // step * step
        made.setdefault(start, Roll(start)).add(s, why)
    return made
