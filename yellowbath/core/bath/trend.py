"""What a bath's own readings say of it: its amps now and hours ahead, and whether they stepped.

The log of its conductance is a level about the plan's, a crust that grows, a warmth that comes, the
meter's own error, and a walk for all that no law of ours knows of: models may be wrong. Readings go
in one by one (a Kalman filter, 1960). From the states before each of the newest a step is told by
the likelihood of one (a generalised likelihood ratio: Willsky and Jones 1976, both from memory),
and a slow fall by what was foreseen an hour into the run. Figures are rows of causes.toml, judged
on baths whose laws are others: docs/models/trend.md. Times [h under power], amps [A], crust as the
charge over that after which scrap is scraped [-].
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.meters import Method, meter_error
from yellowbath.core.data import param, require_provenance, table

Array = NDArray[np.float64]
_OWN = 3  # of level, crust, warmth and the meter's own error, in this order
_NEWEST = 4  # readings, before each of which a step is looked for


@cache
def trend_law(key: str) -> float:
    """A row of what a bath's own readings are weighed by."""
    row = table("causes")["trend"][key]
    require_provenance(f"causes.trend.{key}", row)
    return float(row["value"])


@dataclass(frozen=True)
class AmpsRead:
    """One reading: hours under power, crust, the log of the conductance over the plan's [-], what
    it was read with, and the amps themselves."""

    hours: float
    crust: float
    log: float
    method: Method
    amps: float

    @property
    def each(self) -> float:
        """What it errs by itself, beside the meter's own error [-]."""
        return math.hypot(meter_error(self.method).each, trend_law("jitter"))


@dataclass(frozen=True)
class Foreseen:
    """What is believed after some readings: means (4), covariances (4, 4) as rows, when, and by
    which meter."""

    mean: tuple[float, ...]
    cov: tuple[tuple[float, ...], ...]
    hours: float
    method: Method

    @classmethod
    def of(cls, mean: Array, cov: Array, hours: float, method: Method) -> Foreseen:
        return cls(tuple(mean.tolist()), tuple(map(tuple, cov.tolist())), hours, method)

    def at(self, hours: float, method: Method | None = None) -> tuple[Array, Array]:
        """Means and covariances later, nothing read between; by another meter, if one is named,
        which errs in its own way."""
        mean, cov = np.array(self.mean), np.array(self.cov)
        cov[0, 0] += trend_law("walk") ** 2 * max(hours - self.hours, 0.0)
        if method is not None and method != self.method:
            mean[_OWN] = 0.0
            cov[_OWN, :] = cov[:, _OWN] = 0.0
            cov[_OWN, _OWN] = meter_error(method).own ** 2
        return mean, cov

    def loosened(self, hours: float, jumps: float) -> Foreseen:
        """After hands, which may have moved its level by so much of the log."""
        mean, cov = self.at(hours)
        cov[0, 0] += jumps**2
        return Foreseen.of(mean, cov, hours, self.method)

    def told(self, read: AmpsRead) -> Foreseen:
        """After a reading."""
        mean, cov = self.at(read.hours, read.method)
        h, spread, variance = _surprise(cov, read)
        gain = spread / variance
        off = read.log - float(h @ mean)
        cov = cov - np.outer(gain, spread)
        return Foreseen.of(mean + gain * off, cov, read.hours, read.method)

    def off(self, read: AmpsRead) -> tuple[float, float]:
        """How far a reading is off what was foreseen, and the deviation of that [-]."""
        mean, cov = self.at(read.hours, read.method)
        h, _, variance = _surprise(cov, read)
        return read.log - float(h @ mean), math.sqrt(variance)

    def ahead(self, hours: float, crust: float) -> tuple[float, float]:
        """Middle and deviation of the log of the true conductance over the plan's then [-]."""
        h = _row(hours, crust)
        h[_OWN] = 0.0
        mean, cov = self.at(hours)
        return float(h @ mean), math.sqrt(float(h @ cov @ h) + trend_law("jitter") ** 2)


def planned(sigma: float, method: Method) -> Foreseen:
    """Before anything is read; ``sigma``: log-spread of the plan's amps [-]."""
    own = meter_error(method).own
    deviations = (sigma, trend_law("crust_sigma"), trend_law("warmth_sigma"), own)
    mean = np.array([0.0, 1.0, trend_law("warmth"), 0.0])
    return Foreseen.of(mean, np.diag(deviations) ** 2, 0.0, method)


def _row(hours: float, crust: float) -> Array:
    """What level, crust, warmth and meter each add to the log of what is read."""
    warm = 1 - math.exp(-hours / trend_law("warmth_h"))
    return np.array([1.0, -math.log1p(param("cake_over").value * crust), warm, 1.0])


def _surprise(cov: Array, read: AmpsRead) -> tuple[Array, Array, float]:
    """A reading's row, its covariances with what is believed, and its own variance."""
    h = _row(read.hours, read.crust)
    spread = cov @ h
    return h, spread, float(h @ spread) + read.each**2


@dataclass(frozen=True)
class AmpsStep:
    """Amps that went from what they were before a reading to what they are now, by how much in the
    log, and the normal score of that. ``slow``: not at once, but away from what was foreseen."""

    after_h: float
    by_h: float
    from_a: float
    to_a: float
    log: float
    score: float
    slow: bool = False


@dataclass(frozen=True)
class Trend:
    """All that was read of a bath's amps since hands were last at it.

    ``newest``: readings, each with what was believed before it, the last amps before them in
    ``base_a``; ``frozen``: what was foreseen an hour after ``begun_h``, and the amps; ``off``:
    how many readings running were off that, below nought for too few. ``asked``: the newest is
    surprising, and nobody has read again; ``step``: it is so; ``before``: what was believed before
    that.
    """

    state: Foreseen
    begun_h: float
    newest: tuple[tuple[Foreseen, AmpsRead], ...] = ()
    base_a: float = 0.0
    frozen: tuple[Foreseen, float, float] | None = None
    off: int = 0
    asked: AmpsStep | None = None
    before: Foreseen | None = None
    step: AmpsStep | None = None

    def told(self, read: AmpsRead) -> Trend:
        """After one more reading; after a surprising one it says whether that was so or a slip,
        which then counts for nothing."""
        if self.before is None:
            return self._taken(read)
        log, wide = self.before.off(read)
        if self.asked is None:  # it has stepped: is it back where it was?
            back = abs(log) < _least(read)
            made = replace(self._taken(read), asked=None)
            if back:
                return replace(made, step=None, before=None)
            return replace(made, before=self.before)
        if log * self.asked.log > 0 and abs(log) >= _least(read):
            if abs(log) > trend_law("doubt") * wide:
                if self._first_slipped(read):
                    return (
                        Trend(self.newest[0][0], self.begun_h)._taken(self.newest[1][1]).told(read)
                    )
                made = self._taken(read)
                step = replace(self.asked, to_a=read.amps, log=log, score=log / wide)
                return replace(made, asked=None, before=self.before, step=step)
        elif len(self.newest) > 1 and self.newest[-1][0] == self.before:
            slip = self.newest[-1]
            return replace(self, state=slip[0], newest=self.newest[:-1], asked=None,
                           before=None)._taken(read)  # fmt: skip
        return self._taken(read)

    def _first_slipped(self, read: AmpsRead) -> bool:
        """Of three readings the first stands alone, and the plan is nearer to the other two."""
        only_one = len(self.newest) == 2 and not self.base_a
        return only_one and abs(read.log) < abs(self.newest[0][1].log)

    def _taken(self, read: AmpsRead) -> Trend:
        kept = (*self.newest, (self.state, read))
        newest = kept[-_NEWEST:]
        base_a = self.base_a if len(kept) <= _NEWEST else kept[0][1].amps
        made = replace(self, state=self.state.told(read), newest=newest, base_a=base_a, asked=None,
                       before=None)._foreseen(read)  # fmt: skip
        found = step_in(newest, base_a)
        if found is None or abs(found[0].score) <= trend_law("ask"):
            return made
        return replace(made, asked=found[0], before=found[1])

    def _foreseen(self, read: AmpsRead) -> Trend:
        """Held against what was foreseen an hour into it: two readings running tell a slow fall."""
        if self.frozen is None:
            if read.hours - self.begun_h < trend_law("frozen_h"):
                return self
            return replace(self, frozen=(self.state, read.hours, read.amps))
        foreseen, at_h, from_a = self.frozen
        log, wide = foreseen.off(read)
        score = log / wide
        if abs(score) <= trend_law("doubt"):
            slow = self.step is not None and self.step.slow
            return replace(self, off=0, step=None if slow else self.step)
        off = self.off + 1 if score > 0 else self.off - 1
        off = off if off * score > 0 else int(math.copysign(1, score))
        if abs(off) < 2 or self.step is not None:
            return replace(self, off=off)
        gone = AmpsStep(at_h, read.hours, from_a, read.amps, log, score, True)
        return replace(self, off=off, step=gone)

    def touched(self, hours: float, jumps: float) -> Trend:
        """After hands were at the bath: its level may have gone ``jumps`` of the log; the next
        reading is held against that, and what was before says no more of a step."""
        last = self.newest[-1][1].amps if self.newest else self.base_a
        return Trend(self.state.loosened(hours, jumps), hours, base_a=last)


def step_in(
    newest: Sequence[tuple[Foreseen, AmpsRead]], base_a: float
) -> tuple[AmpsStep, Foreseen] | None:
    """The likeliest step before one of the newest readings, each with what was believed before it,
    and that of its own; ``base_a``: amps read before them, nought for none. None where none is
    worth a word."""
    best: tuple[AmpsStep, Foreseen] | None = None
    for k, (before, read) in enumerate(newest):
        from_a = newest[k - 1][1].amps if k else base_a
        if not from_a:
            continue  # the first of all: only the plan speaks of it
        log, score = _stepped(before, [r for _, r in newest[k:]])
        if abs(log) >= _least(read) and (best is None or abs(score) > abs(best[0].score)):
            to_a = newest[-1][1].amps
            best = AmpsStep(before.hours, read.hours, from_a, to_a, log, score), before
    return best


def _least(read: AmpsRead) -> float:
    """A step of less of the log is not worth a word."""
    return trend_law("least_line" if read.method == "line" else "least")


def _stepped(before: Foreseen, reads: Sequence[AmpsRead]) -> tuple[float, float]:
    """The likeliest size of a step just after a belief, by the readings since, and its normal
    score: the root of twice the log of how much likelier it makes them."""
    # surprises are linear in the step: what of it the means have taken up is carried along
    state, carried = before, np.zeros(len(before.mean))
    top = bottom = 0.0
    for read in reads:
        mean, cov = state.at(read.hours, read.method)
        h, spread, variance = _surprise(cov, read)
        off, shows = read.log - float(h @ mean), 1.0 - float(h @ carried)
        top += shows * off / variance
        bottom += shows * shows / variance
        gain = spread / variance
        cov = cov - np.outer(gain, spread)
        state = Foreseen.of(mean + gain * off, cov, read.hours, read.method)
        carried = carried + gain * shows
    return top / bottom, top / math.sqrt(bottom)
