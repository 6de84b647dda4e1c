"""How far a run has come: dose so far, what is believed of the need, the window that is left."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from yellowbath.core import dose
from yellowbath.core.field.model import REACH, SLICES
from yellowbath.core.process.basis import Bank, Stretch
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
    return _added([0.0] * (len(areas_under(stretches))), stretches, now)


def _added(doses: list[float], stretches: Sequence[Stretch], now: datetime) -> list[float]:
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


def doses_of(run: Run, now: datetime) -> list[float]:
    """Effective dose on each part [Ah/m2] up to ``now``, of all of a run."""
    had = list(run.bank.doses) or [0.0] * len(areas_of(run))
    return _added(had, run.stretches, now)


def areas_of(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts that the doses stand on."""
    return areas_under(run.stretches)


def areas_under(stretches: Sequence[Stretch]) -> tuple[float, ...]:
    """The same, of some stretches."""
    return stretches[0].basis.coverage.weights if stretches else (1 / SLICES,) * SLICES


def compact(run: Run) -> Run:
    """The same run with all stretches but the last two added up, and the doses of its looks kept.

    Only a run whose log goes on in order may be kept so: what is added up cannot be opened again.
    """
    # the last may turn out to be nothing, and then the one before it is the last
    over, last = run.stretches[:-2], run.stretches[-2:]
    looked = [*run.looked, *(tuple(doses_of(run, at)) for at, _ in _unlooked(run))]
    if not over:
        return replace(run, looked=looked)
    end = last[0].start
    unsure = [s for s in over if s.source == "unsure"]
    bank = Bank(
        count=run.bank.count + len(over),
        start=run.begun,
        doses=tuple(_added(list(run.bank.doses) or [0.0] * len(areas_of(run)), over, end)),
        powered_s=run.bank.powered_s + sum(s.counted * s.hours(end) for s in over) * 3600,
        charge_ah=run.bank.charge_ah + charge_ah(over, end),
        unsure_ah=run.bank.unsure_ah + charge_ah(unsure, end),
        unsure_more_ah=run.bank.unsure_more_ah + _more(unsure, end),
        crust_ah=_crust(run, over, end),
    )
    return replace(run, stretches=last, bank=bank, looked=looked)


def crust_ah(run: Run, now: datetime) -> float:
    """Charge since all scrap was last scraped or swapped [Ah]."""
    return _crust(run, run.stretches, now)


def _crust(run: Run, stretches: Sequence[Stretch], now: datetime) -> float:
    scraped = scraped_at(run)
    if scraped is None:
        return run.bank.crust_ah + charge_ah(stretches, now)
    since = charge_ah([s for s in stretches if s.start >= scraped], now)
    earlier = not stretches or stretches[0].start >= scraped
    return since + (run.bank.crust_ah if earlier else 0.0)


def scraped_at(run: Run) -> datetime | None:
    """When all scrap was last scraped or swapped."""
    done = [run.last_of[k] for k in ("change.scraped", "change.swapped_anodes") if k in run.last_of]
    return max(done, default=None)


def _unlooked(run: Run) -> Sequence[tuple[datetime, Inspection]]:
    return run.inspections[len(run.looked) :]


def charge_ah(stretches: Sequence[Stretch], now: datetime) -> float:
    """Raw charge [Ah]; of what is unsure, half."""
    return sum(s.current_a * s.counted * s.hours(now) for s in stretches)


def _more(unsure: Sequence[Stretch], now: datetime) -> float:
    """What more charge [Ah] it would be, were all of what is unsure counted."""
    return sum((1 - s.counted) * s.current_a * s.hours(now) for s in unsure)


def charge_edges(run: Run, now: datetime) -> tuple[float, float]:
    """Charge [Ah] were none of the unsure time under current, and were all of it."""
    unsure = [s for s in run.stretches if s.source == "unsure"]
    middle = run.bank.charge_ah + charge_ah(run.stretches, now)
    return (
        middle - run.bank.unsure_ah - charge_ah(unsure, now),
        middle + run.bank.unsure_more_ah + _more(unsure, now),
    )


def believe(run: Run, need: dose.Need) -> dose.Belief:
    """The prior after all inspections so far."""
    belief = dose.prior_belief(need)
    before: Sequence[float] | None = None
    areas = areas_of(run)
    for k, (at, look) in enumerate(run.inspections):
        now = run.looked[k] if k < len(run.looked) else doses_of(run, at)
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
    doses = doses_of(run, now)
    belief = believe(run, need)
    needs = belief.quantile(0.1), belief.quantile(0.5), belief.quantile(0.9)
    charge = run.bank.charge_ah + charge_ah(run.stretches, now)
    area = run.stretches[-1].basis.wetted_area_m2 if run.stretches else math.inf
    weights = areas_of(run)
    effective = dose.mean_of(doses, weights)
    share = dose.share_clean(doses, needs[1], weights)
    return Progress(
        powered_s=run.powered_s(now),
        charge_ah=charge,
        charge_edges_ah=charge_edges(run, now),
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
