"""How far a run has come: dose so far, what is believed of the need, the window that is left."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from yellowbath.core import dose
from yellowbath.core.field.model import SLICES
from yellowbath.core.process.log import Inspection
from yellowbath.core.process.run import Run, Stretch


@dataclass(frozen=True)
class Progress:
    """Doses [Ah/m2], charge [Ah], times [s] of power still wanted; None where it cannot end."""

    powered_s: float
    charge_ah: float
    raw_ah_m2: float
    effective_ah_m2: float
    parts_ah_m2: tuple[float, ...]
    weights: tuple[float, ...]
    need_ah_m2: tuple[float, float, float]
    share_done: float
    share_clean: float
    left_s: tuple[float, float, float] | None
    seen: bool


def doses_at(stretches: Sequence[Stretch], now: datetime) -> list[float]:
    """Effective dose on each part of the surface [Ah/m2] up to ``now``, in the pose of each."""
    doses = [0.0] * (len(stretches[0].basis.coverage.weights) if stretches else SLICES)
    for s in stretches:
        hours = max((min(s.end or now, now) - s.start).total_seconds(), 0.0) / 3600
        rates = rates_of(s)
        doses = [d + r * hours for d, r in zip(doses, rates, strict=True)]
    return doses


def rates_of(s: Stretch) -> list[float]:
    """Effective dose per hour on each part [Ah/m2/h] during a stretch, as the piece's own grade
    counts it: a part that wants half as much gets twice as far."""
    mean = s.current_a / s.basis.wetted_area_m2
    ratios = s.basis.coverage.in_pose(s.pose)
    rates = [dose.effective_rate(j) for j in dose.slice_densities(mean, ratios)]
    return s.basis.coverage.served(rates)


def areas_of(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts that the doses stand on."""
    return run.stretches[0].basis.coverage.weights if run.stretches else (1 / SLICES,) * SLICES


def charge_ah(stretches: Sequence[Stretch], now: datetime) -> float:
    """Raw charge [Ah]."""
    return sum(
        s.current_a * max((min(s.end or now, now) - s.start).total_seconds(), 0.0) / 3600
        for s in stretches
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
    needs = tuple(belief.quantile(q) for q in (0.1, 0.5, 0.9))
    charge = charge_ah(run.stretches, now)
    area = run.stretches[-1].basis.wetted_area_m2 if run.stretches else math.inf
    weights = areas_of(run)
    effective = dose.mean_of(doses, weights)
    share = dose.share_clean(doses, needs[1], weights)
    return Progress(
        powered_s=run.powered_s(now),
        charge_ah=charge,
        raw_ah_m2=charge / area,
        effective_ah_m2=effective,
        parts_ah_m2=tuple(doses),
        weights=weights,
        need_ah_m2=(needs[0], needs[1], needs[2]),
        share_done=_share_done(doses, needs[1], weights),
        share_clean=share,
        left_s=_left(run, doses, needs),
        seen=bool(run.inspections),
    )


def _share_done(doses: Sequence[float], need: float, weights: Sequence[float]) -> float:
    """Mean share of the need that each part has had, none counted over full [-]."""
    return min(dose.mean_of([min(d / need, 1.0) for d in doses], weights), 1.0)


def _left(
    run: Run, doses: Sequence[float], needs: Sequence[float]
) -> tuple[float, float, float] | None:
    """Powered seconds left: 10, 50, 90 % of the belief, widened by how well the amps are known."""
    if not run.stretches:
        return None
    last = run.stretches[-1]
    rates = rates_of(last)
    if max(rates) <= 0:
        return None
    z = dose.NORMAL.inv_cdf(0.9)
    amps_sigma = math.log(max(last.high_a / max(last.low_a, 1e-9), 1.0)) / (
        2 * dose.NORMAL.inv_cdf(0.95)
    )
    low, mid, high = needs
    weights = areas_of(run)
    left = []
    for edge, sign in ((low, -1), (mid, 0), (high, 1)):
        wide = math.hypot(math.log(edge / mid), z * amps_sigma)
        left.append(dose.dose_to_clean(doses, rates, mid * math.exp(sign * wide), weights) * 3600)
    return left[0], left[1], left[2]


def nothing_gained(run: Run) -> bool:
    """The stop rule: the newest look was equal to the one before it."""
    return bool(run.inspections) and run.inspections[-1][1].verdict == "equal"
