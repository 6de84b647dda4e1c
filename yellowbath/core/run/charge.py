"""What a run's stretches came to: doses by part of the surface, charge, crust, added up as it goes.

Doses [Ah/m2], charge [Ah], times [h] unless they say otherwise.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from itertools import takewhile

import numpy as np
from numpy.typing import NDArray

from yellowbath.core import dose
from yellowbath.core.field.model import SLICES
from yellowbath.core.run.basis import Bank, Mixed, Stretch
from yellowbath.core.run.log import Inspection
from yellowbath.core.run.run import Run


def doses_at(stretches: Sequence[Stretch], now: datetime) -> list[float]:
    """Effective dose on each part of the surface [Ah/m2] up to ``now``, in the pose of each."""
    return _added([], stretches, now)


def _added(had: Sequence[float], stretches: Sequence[Stretch], now: datetime) -> list[float]:
    """Doses that were had, none where there are none of them, and those of some stretches."""
    doses = np.array(had) if had else np.zeros(len(areas_under(stretches)))
    for s in stretches:
        doses = doses + rates_of(s) * (s.counted * s.hours(now))
    return doses.tolist()


def rates_of(s: Stretch) -> NDArray[np.float64]:
    """Effective dose per hour on each part [Ah/m2/h] during a stretch, as the piece's own grade
    counts it: a part that wants half as much gets twice as far."""
    mean = s.current_a / s.basis.wetted_area_m2
    coverage = s.basis.coverage
    rates = dose.effective_rate(mean * s.basis.ratios(s.pose, s.flips))
    return rates / np.array(coverage.needs) if coverage.needs else rates


def doses_of(run: Run, now: datetime) -> list[float]:
    """Effective dose on each part [Ah/m2] up to ``now``, of all of a run."""
    return _added(run.bank.doses, run.stretches, now)


def areas_of(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts that the doses stand on."""
    return areas_under(run.stretches)


def areas_under(stretches: Sequence[Stretch]) -> tuple[float, ...]:
    """The same, of some stretches."""
    return stretches[0].basis.coverage.weights if stretches else (1 / SLICES,) * SLICES


def present(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts that are in the bath, summing to one; all before any power."""
    if not run.out or not run.stretches:
        return areas_of(run)
    return shares_of(run, run.stretches[-1].basis.under(run.out).here)


def shares_of(run: Run, which: NDArray[np.bool_]) -> tuple[float, ...]:
    """Shares of area of some of the parts (k), summing to one."""
    weights = np.where(which, np.array(areas_of(run)), 0.0)
    return tuple((weights / max(weights.sum(), 1e-12)).tolist())


def compact(run: Run) -> Run:
    """The same run with all stretches but the last two, and those since the last sign of life,
    added up, and the doses of its looks kept.

    Only a run whose log goes on in order may be kept so: what is added up cannot be opened again.
    """
    # the last may turn out to be nothing, and then the one before it is the last; what is younger
    # than the last sign of life may turn out to be unsure
    life, most = run.alive_at, max(len(run.stretches) - 2, 0)
    older = takewhile(lambda s: life is None or (s.end or life) <= life, run.stretches[:most])
    count = len(list(older))
    over, last = run.stretches[:count], run.stretches[count:]
    looked = [*run.looked, *(tuple(doses_of(run, at)) for at, _ in _unlooked(run))]
    if not over:
        return replace(run, looked=looked)
    end = last[0].start
    unsure = [s for s in over if s.source == "unsure"]
    bank = Bank(
        count=run.bank.count + len(over),
        start=run.begun,
        doses=tuple(_added(run.bank.doses, over, end)),
        powered_s=run.bank.powered_s + sum(s.counted * s.hours(end) for s in over) * 3600,
        charge_ah=run.bank.charge_ah + charge_ah(over, end),
        unsure_ah=run.bank.unsure_ah + charge_ah(unsure, end),
        unsure_more_ah=run.bank.unsure_more_ah + _more(unsure, end),
        crust_ah=_crust(run, over, end),
        mixed=mixed_of(run.bank.mixed, over),
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


def mixed_of(bank: Sequence[Mixed], stretches: Sequence[Stretch]) -> tuple[Mixed, ...]:
    """Stretches with current gathered by pose, by how well their amps are known and by what was out
    of the bath."""
    found = {(m.pose, m.flips, m.source, m.out): m for m in bank}
    for s in stretches:
        if s.current_a <= 0:
            continue
        hours = s.counted * max(s.hours(s.end) if s.end else 1.0, 1e-3)
        key = (s.pose, s.flips, s.source, s.basis.out)
        had, before = (found[key].charge_ah, found[key].hours) if key in found else (0.0, 0.0)
        found[key] = Mixed(
            s.pose, s.flips, s.source, had + s.current_a * hours, s.current_a, s.low_a, s.high_a,
            before + hours, s.basis.out,
        )  # fmt: skip
    return tuple(found.values())


def of_piece(run: Run, piece: str, now: datetime) -> tuple[float, float]:
    """Hours under power and charge [Ah] that one of several pieces has had."""
    if not run.stretches:
        return 0.0, 0.0
    basis, hours, charge = run.stretches[-1].basis, 0.0, 0.0
    ended = [replace(s, end=s.end or now) for s in run.stretches]
    for m in mixed_of(run.bank.mixed, ended):
        if piece in m.out:
            continue
        others = tuple(sorted({*m.out, piece}))
        all_in, without = (basis.share_in(o, m.pose, m.flips) for o in (m.out, others))
        hours += m.hours
        charge += m.charge_ah * (all_in - without) / max(all_in, 1e-12)
    return hours, charge
