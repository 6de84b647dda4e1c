"""How far a run has come: dose so far, what is believed of the need, the window that is left."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core import dose
from yellowbath.core.field.model import REACH, SLICES
from yellowbath.core.process.basis import Stretch
from yellowbath.core.process.log import Inspection
from yellowbath.core.process.run import Run


@dataclass(frozen=True)
class Progress:
    """Doses [Ah/m2], charge [Ah], times [s] of power still wanted; None where it cannot end.

    ``charge_edges_ah``: were none or all of the unsure time to count. ``here_s``: of a piece that
    is dipped by halves, what the half under now still wants; None for one that is all under.
    """

    powered_s: float
    charge_ah: float
    charge_edges_ah: tuple[float, float]
    raw_ah_m2: float
    effective_ah_m2: float
    parts_ah_m2: tuple[float, ...]
    weights: tuple[float, ...]
    need_ah_m2: tuple[float, float, float]
    share_done: float
    share_clean: float
    left_s: tuple[float, float, float] | None
    here_s: tuple[float, float, float] | None
    seen: bool


def doses_at(stretches: Sequence[Stretch], now: datetime) -> list[float]:
    """Effective dose on each part of the surface [Ah/m2] up to ``now``, in the pose of each."""
    doses = [0.0] * (len(stretches[0].basis.coverage.weights) if stretches else SLICES)
    for s in stretches:
        hours = s.counted * s.hours(now)
        rates = rates_of(s)
        doses = [d + r * hours for d, r in zip(doses, rates, strict=True)]
    return doses


def rates_of(s: Stretch) -> list[float]:
    """Effective dose per hour on each part [Ah/m2/h] during a stretch, as the piece's own grade
    counts it: a part that wants half as much gets twice as far."""
    mean = s.current_a / s.basis.wetted_area_m2
    ratios = s.basis.coverage.in_pose(s.pose, s.flips)
    rates = [dose.effective_rate(j) for j in dose.slice_densities(mean, ratios)]
    return s.basis.coverage.served(rates)


def areas_of(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts that the doses stand on."""
    return run.stretches[0].basis.coverage.weights if run.stretches else (1 / SLICES,) * SLICES


def charge_ah(stretches: Sequence[Stretch], now: datetime) -> float:
    """Raw charge [Ah]; of what is unsure, half."""
    return sum(s.current_a * s.counted * s.hours(now) for s in stretches)


def charge_edges(stretches: Sequence[Stretch], now: datetime) -> tuple[float, float]:
    """Charge [Ah] were none of the unsure time under current, and were all of it."""
    unsure = [s for s in stretches if s.source == "unsure"]
    middle = charge_ah(stretches, now)
    return (
        middle - charge_ah(unsure, now),
        middle + sum((1 - s.counted) * s.current_a * s.hours(now) for s in unsure),
    )


def believe(run: Run, need: dose.Need) -> dose.Belief:
    """The prior after all inspections so far."""
    belief = dose.prior_belief(need)
    before: list[float] | None = None
    areas = areas_of(run)
    for at, look in run.inspections:
        now = doses_at(run.stretches, at)
        belief = _update(belief, look, now, before, areas)
        before = now
    return belief


def _update(
    belief: dose.Belief,
    look: Inspection,
    now: Sequence[float],
    before: Sequence[float] | None,
    areas: Sequence[float],
) -> dose.Belief:
    if look.verdict == "equal":
        return belief if before is None else dose.seen_equal(belief, before, now, areas)
    if look.shares:
        return dose.seen_share(belief, now, sum(look.shares.values()) / len(look.shares), areas)
    return dose.seen_not_yet(belief, now, areas)


def progress(run: Run, need: dose.Need, now: datetime) -> Progress:
    """Everything the run screen says about how far it is."""
    doses = doses_at(run.stretches, now)
    belief = believe(run, need)
    needs = belief.quantile(0.1), belief.quantile(0.5), belief.quantile(0.9)
    charge = charge_ah(run.stretches, now)
    area = run.stretches[-1].basis.wetted_area_m2 if run.stretches else math.inf
    weights = areas_of(run)
    effective = dose.mean_of(doses, weights)
    share = dose.share_clean(doses, needs[1], weights)
    return Progress(
        powered_s=run.powered_s(now),
        charge_ah=charge,
        charge_edges_ah=charge_edges(run.stretches, now),
        raw_ah_m2=charge / area,
        effective_ah_m2=effective,
        parts_ah_m2=tuple(doses),
        weights=weights,
        need_ah_m2=needs,
        share_done=_share_done(doses, needs[1], weights),
        share_clean=share,
        left_s=_left(run, doses, needs),
        here_s=_left_here(run, doses, needs),
        seen=bool(run.inspections),
    )


def _share_done(doses: Sequence[float], need: float, weights: Sequence[float]) -> float:
    """Mean share of the need that each part has had, none counted over full [-]."""
    return min(dose.mean_of([min(d / need, 1.0) for d in doses], weights), 1.0)


Three = tuple[float, float, float]


def _left(run: Run, doses: Sequence[float], needs: Three) -> Three | None:
    """Powered seconds left: 10, 50, 90 % of the belief, widened by how well the amps are known.

    By halves: what the half under now still wants, and then the other.
    """
    if not run.stretches or run.silent:
        return None
    last = run.stretches[-1]
    if not last.basis.coverage.dipped:
        return _until(last, doses, needs, last.flips, range(len(doses)))
    here, there = _halves(last)
    one = _until(last, doses, needs, last.flips, here)
    other = _until(last, doses, needs, last.flips + 1, there)
    if one is None or other is None:
        return None
    return one[0] + other[0], one[1] + other[1], one[2] + other[2]


def _left_here(run: Run, doses: Sequence[float], needs: Three) -> Three | None:
    if not run.stretches or run.silent or not run.stretches[-1].basis.coverage.dipped:
        return None
    last = run.stretches[-1]
    return _until(last, doses, needs, last.flips, _halves(last)[0])


def _halves(s: Stretch) -> tuple[Sequence[int], Sequence[int]]:
    """Parts that the present dip serves, and the others."""
    ratios = s.basis.coverage.in_pose(s.pose, s.flips)
    here = [k for k, r in enumerate(ratios) if r >= REACH]
    return here, [k for k in range(len(ratios)) if k not in set(here)]


def _until(
    last: Stretch, doses: Sequence[float], needs: Three, flips: int, parts: Sequence[int]
) -> Three | None:
    """Powered seconds until some parts are clean, put end for end so many times."""
    rates = rates_of(replace(last, flips=flips))
    if not parts or max(rates[k] for k in parts) <= 0:
        return None if parts else (0.0, 0.0, 0.0)
    weights = last.basis.coverage.weights
    total = sum(weights[k] for k in parts)
    mine = [weights[k] / total for k in parts]
    had, gets = [doses[k] for k in parts], [rates[k] for k in parts]
    z = dose.NORMAL.inv_cdf(0.9)
    least = last.high_a if last.source == "unsure" else last.low_a
    amps_sigma = math.log(max(last.high_a / max(least, 1e-9), 1.0)) / (
        2 * dose.NORMAL.inv_cdf(0.95)
    )
    low, mid, high = needs
    left = []
    for edge, sign in ((low, -1), (mid, 0), (high, 1)):
        wide = math.hypot(math.log(edge / mid), z * amps_sigma)
        left.append(dose.dose_to_clean(had, gets, mid * math.exp(sign * wide), mine) * 3600)
    return left[0], left[1], left[2]


def nothing_gained(run: Run) -> bool:
    """The stop rule: the newest look was equal to the one before it."""
    return bool(run.inspections) and run.inspections[-1][1].verdict == "equal"
