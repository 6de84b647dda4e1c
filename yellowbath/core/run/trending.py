"""What a run's entries tell of the trend of its amps: readings, and hands that move them.

One owner of whether the amps are as they should be: first by what the bath itself did before, then
by its plan. Amps [A], volts [V], times [h under power].
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core.bath.estimate import Three
from yellowbath.core.bath.trend import AmpsRead, AmpsStep, Trend, planned, trend_law
from yellowbath.core.dose import NORMAL
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.log import (
    BackIn,
    Change,
    Entry,
    Lift,
    Mended,
    Reading,
    SwitchOn,
)
from yellowbath.core.run.touch import floor_v

# How far hands may move the log of a bath's conductance; judged.
_JUMPS: Mapping[str, float] = {
    "topped_up": 0.1, "turned": 0.2, "flipped": 0.2, "back_in": 0.2, "other": 0.2, "scraped": 0.3,
    "clip_moved": 0.4, "mended": 0.6, "soda_added": 0.4, "limit_changed": 0.6, "added_anode": 0.5,
    "swapped_anodes": 0.5,
}  # fmt: skip
_SWITCHED_ON = 0.05  # cold again, and gas gone; judged


@dataclass(frozen=True)
class AmpsHeard:
    """The trend of a run's amps, and what goes with it: the charge since all scrap was bare [Ah],
    when it was read and the amps then; volts at which it was read first, by where, and what the
    newest leave over the cell's own, over the same then; between which times it stepped, and
    whether the plan alone speaks against the amps."""

    trend: Trend
    crust_ah: float = 0.0
    hours: float = 0.0
    amps: float | None = None
    volts: Mapping[str, float] | None = None
    volts_over: float = 1.0
    read_at: datetime | None = None
    stepped: tuple[datetime, datetime] | None = None
    off_plan: bool = False

    @property
    def step(self) -> AmpsStep | None:
        """What the amps did that no sound bath does, or may have: told by one reading only."""
        return self.trend.step or self.trend.asked

    @property
    def surprising(self) -> bool:
        """Whether the newest are not what a sound bath gives, or may not be."""
        return self.odd or self.trend.asked is not None

    @property
    def odd(self) -> bool:
        """Whether somebody should ask why: they have stepped, or are far from the plan."""
        return self.trend.step is not None or self.off_plan


def hear(
    heard: AmpsHeard | None, entry: Entry, basis: Basis, powered_h: float, runs: bool
) -> AmpsHeard | None:
    """What is known after an entry, of a bath that ``runs`` or not, so long under power."""
    detail = entry.detail
    jumps = _jumps(detail)
    if heard is not None and jumps:
        heard = _touched(heard, powered_h, jumps, detail)
    if isinstance(detail, Change):
        read = Reading(current_a=detail.after_a, method=detail.method)
    elif isinstance(detail, Reading):
        read = detail
    else:
        return heard
    amps = read.current_a
    if not runs or not amps or amps <= 0:
        return heard
    known = {"supply": read.supply_v, "tank": read.tank_v}
    volts = {where: v for where, v in known.items() if v is not None}
    if basis.holds(amps) and not volts:
        return heard  # what a supply holds tells nothing of the bath
    return _read(heard, amps, volts, read, entry.at, basis, powered_h)


def _jumps(detail: object) -> float:
    if isinstance(detail, Change):
        return _JUMPS[detail.what]
    if isinstance(detail, Mended):
        return _JUMPS["mended"] if detail.helped else 0.0
    if isinstance(detail, BackIn | Lift):
        return _JUMPS["back_in"]
    return _SWITCHED_ON if isinstance(detail, SwitchOn) else 0.0


def _touched(heard: AmpsHeard, powered_h: float, jumps: float, detail: object) -> AmpsHeard:
    bare = isinstance(detail, Change) and detail.what in ("scraped", "swapped_anodes")
    return replace(
        heard,
        trend=heard.trend.touched(powered_h, jumps),
        crust_ah=0.0 if bare else heard.crust_ah,
        stepped=None,
    )


def _read(
    heard: AmpsHeard | None, amps: float, volts: Mapping[str, float], read: Reading, at: datetime,
    basis: Basis, powered_h: float,
) -> AmpsHeard:  # fmt: skip
    if heard is None:
        heard = AmpsHeard(Trend(planned(spread_of(basis), read.method), powered_h))
    hours = max(powered_h - heard.hours, 0.0)
    crust_ah = heard.crust_ah + hours * (amps + (heard.amps or amps)) / 2
    kept, over = _volts(volts, heard, basis)
    log = math.log(amps / max(basis.expected_a, _TINY_A) / over)
    it = AmpsRead(powered_h, _crust(crust_ah, basis), log, read.method, amps)
    by_plan = False
    if heard.off_plan or not heard.trend.newest:  # of one that is new, or was touched
        off, wide = planned(spread_of(basis), read.method).off(it)
        by_plan = abs(off) > trend_law("by_plan") * wide
    trend = heard.trend.told(it)
    step = trend.step or trend.asked
    stepped = heard.stepped
    if step is not None and (heard.step is None or not heard.step.log * step.log > 0):
        stepped = (heard.read_at or at, at)
    return AmpsHeard(trend, crust_ah, powered_h, amps, kept, over, at,
                     stepped if step else None, by_plan)  # fmt: skip


def _volts(
    volts: Mapping[str, float], heard: AmpsHeard, basis: Basis
) -> tuple[Mapping[str, float], float]:
    """The volts that were read first, by where; and what is left of the newest over what the cell
    takes, over the same then [-]. Where none are read they are taken for what they were."""
    kept = {**volts, **(heard.volts or {})}
    for where in ("tank", "supply"):
        if where in volts:
            least = floor_v(basis)
            now, then = (max(v[where] - least, _LEAST_V) for v in (volts, kept))
            return kept, now / then
    return kept, heard.volts_over


_LEAST_V, _TINY_A = 0.3, 1e-6  # so that a ratio, and a logarithm, is told; judged


def foreseen(heard: AmpsHeard, basis: Basis, powered_h: float, ahead_h: float) -> Three:
    """Amps to expect so long from now if nothing is touched, 10, 50 and 90 % [A], by what the bath
    itself did; no more than its supply gives."""
    amps = heard.amps or basis.expected_a
    crust_ah = heard.crust_ah + amps * max(powered_h - heard.hours + ahead_h, 0.0)
    middle, sigma = heard.trend.state.ahead(powered_h + ahead_h, _crust(crust_ah, basis))
    by = basis.expected_a * heard.volts_over
    low, mid, high = (
        min(by * math.exp(middle + NORMAL.inv_cdf(p) * sigma), basis.limit_a)
        for p in (0.1, 0.5, 0.9)
    )
    return low, mid, high


def _crust(crust_ah: float, basis: Basis) -> float:
    return crust_ah / basis.crust_ah if math.isfinite(basis.crust_ah) else 0.0


def spread_of(basis: Basis) -> float:
    """Log-spread of the plan's amps [-], their edges read as 5 and 95 %."""
    low, high = basis.expected_low_a, basis.expected_high_a
    if low <= 0 or high <= low:
        return 0.3
    return math.log(high / low) / (2 * NORMAL.inv_cdf(0.95))
