"""What is believed of a run's need after its looks, and what that makes of its doses."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from yellowbath.core import dose
from yellowbath.core.data import param
from yellowbath.core.hours.cloud import Cloud, equal_seen, not_yet_seen, share_seen
from yellowbath.core.run.basis import Source
from yellowbath.core.run.charge import areas_of, doses_of, mixed_of
from yellowbath.core.run.log import Inspection
from yellowbath.core.run.run import Run

Array = NDArray[np.float64]


def doses_at_look(run: Run, k: int, at: datetime) -> Sequence[float]:
    """Doses on the parts at the k-th look."""
    return run.looked[k] if k < len(run.looked) else doses_of(run, at)


def believe(run: Run, need: dose.Need, piece: str = "") -> Cloud:
    """The prior after all inspections so far; of one of several pieces those that saw it."""
    looks = [k for k in range(len(run.inspections)) if _sees(run, k, piece)]
    if not looks:
        return Cloud.of(need)
    doses = np.array([doses_at_look(run, k, at) for k, (at, _) in enumerate(run.inspections)])
    others = tuple(p for p in run.stretches[-1].basis.pieces if p != piece) if piece else ()
    mine = {
        k: (look := run.inspections[k][1]).model_copy(
            update={"shares": shares_in(run, look, piece)}
        )
        for k in looks
    }
    own = _own(run, piece)
    places = {
        name: _AtLooks.of(run, doses, part, FEW)
        for name, part in _looked_at(run).items()
        if name in own or not piece
    }
    # as a whole it is only asked for where a look names no regions
    by_name = [k for k in looks if mine[k].shares and all(n in places for n in mine[k].shares)]
    sight = {k: others if piece else run.unseen[k] for k in looks if k not in by_name}
    wholes = {u: _AtLooks.of(run, doses, in_sight(run, u)) for u in sight.values()}

    def seen(cloud: Cloud) -> list[Array]:
        by_place = {name: place.clean(cloud) for name, place in places.items()}
        whole = {unseen: all_of.clean(cloud) for unseen, all_of in wholes.items()}
        return [
            _named(cloud, mine[k], {n: c[k] for n, c in by_place.items()})
            if k in by_name
            else _likely(cloud, mine[k], whole[sight[k]][[*looks_before(run, k), k]])
            for k in looks
        ]

    return Cloud.believed(need, seen)


@dataclass(frozen=True)
class _AtLooks:
    """Some of the surface at each of the looks: its parts gathered into a few, with their doses
    then (n, b) and what makes a particle's doses of them."""

    weights: Array
    doses: Array
    scaling: Scaling

    @classmethod
    def of(cls, run: Run, doses: Array, weights: Array, most: int | None = None) -> _AtLooks:
        order, binned = gathered(doses[-1], doses[0], weights, most or BINS)
        return cls(order, np.maximum(doses @ binned, 1e-9), Scaling.of(run, binned))

    def clean(self, cloud: Cloud) -> Array:
        """Share clean at each look, as each particle has it (n, p)."""
        return cloud.shares_clean(self.doses, self.scaling.by(cloud), self.weights)


def _sees(run: Run, k: int, piece: str) -> bool:
    """Whether a look tells of one of several pieces: it was there, and the shares name it."""
    look = run.inspections[k][1]
    if not piece:
        return True
    if not run.stretches or piece in run.unseen[k]:
        return False
    return not look.shares or any(name in _own(run, piece) for name in look.shares)


def _own(run: Run, piece: str) -> frozenset[str]:
    """The regions of one of several pieces."""
    whose = run.stretches[-1].basis.piece_of if run.stretches else {}
    return frozenset(name for name, of in whose.items() if of == piece)


def shares_in(run: Run, look: Inspection, piece: str) -> Mapping[str, float]:
    """What a look says of one of several pieces, by region; of all where none is named."""
    if not piece:
        return look.shares
    own = _own(run, piece)
    return {name: share for name, share in look.shares.items() if name in own}


def looks_before(run: Run, k: int) -> list[int]:
    """The looks before one that were at the same: at all that was in, or at one piece."""
    piece = run.inspections[k][1].piece
    return [n for n, (_, look) in enumerate(run.inspections[:k]) if look.piece == piece]


def _looked_at(run: Run) -> dict[str, Array]:
    """The regions that were looked at one by one, as shares of area of the parts (k); none where
    it is not known which part is of which."""
    weights = np.array(areas_of(run))
    places = np.array(run.stretches[-1].basis.coverage.places if run.stretches else ())
    names = {name for _, look in run.inspections for name in look.shares}
    parts = {name: np.where(places == name, weights, 0.0) for name in names} if len(places) else {}
    return {name: part for name, part in parts.items() if part.sum() > 0}


def _likely(cloud: Cloud, look: Inspection, clean: Array) -> Array:
    """How likely particles make a look at all of it (p), by what they say was clean of it at each
    look up to it (n, p)."""
    if look.verdict == "equal":
        return equal_seen(*clean[-2:]) if len(clean) > 1 else np.ones(len(cloud.need))
    if not look.shares:
        return not_yet_seen(cloud, clean[-1])
    mean = sum(look.shares.values()) / len(look.shares)
    return share_seen(cloud, clean[-1], mean, look.sure)


def _named(cloud: Cloud, look: Inspection, by_place: Mapping[str, Array]) -> Array:
    """The same of a look at regions (p each). They are one person's at one time: together they
    weigh as one."""
    logs = [
        np.log(np.maximum(share_seen(cloud, by_place[name], share, look.sure), 1e-12))
        for name, share in look.shares.items()
    ]
    together: Array = np.exp(sum(logs) / len(logs))
    return together


def seen_share(run: Run, shares: Mapping[str, float]) -> float:
    """Share of what a look was at that it saw clean [-]: its regions by their area where that is
    known, else each as much. 0 of a look without shares."""
    areas = {name: float(part.sum()) for name, part in _looked_at(run).items()}
    if not all(name in areas for name in shares):
        areas = dict.fromkeys(shares, 1.0)
    total = sum(areas[name] for name in shares)
    return sum(areas[name] * share for name, share in shares.items()) / total if total else 0.0


def clean_in_sight(run: Run, cloud: Cloud, at: datetime, shares: Mapping[str, float]) -> Array:
    """Share of what a look was at that is clean at a time, as each particle has it (p): the regions
    of its ``shares`` where they are known, else all that the eye meets."""
    weights, doses = in_sight(run, run.unseen[-1]), np.array(doses_of(run, at))
    parts = _looked_at(run)
    if shares and all(name in parts for name in shares):
        weights = sum((parts[n] for n in shares), start=0 * weights)
    order, binned = gathered(doses, doses, weights)
    return cloud.share_clean(
        np.maximum(scaled_by(run, cloud, binned) * (doses @ binned), 1e-9), order
    )


def in_sight(run: Run, unseen: tuple[str, ...]) -> Array:
    """Shares of area of what the eye meets (k): all but the bores, of all but some pieces."""
    weights = np.array(areas_of(run))
    if not run.stretches:
        return weights
    basis = run.stretches[-1].basis
    if unseen:
        seen = np.where(basis.under(unseen).here, weights, 0.0)
        weights = seen if seen.sum() > 0 else weights
    if "bore" not in basis.coverage.sides:
        return weights
    left: Array = weights * (1 - np.array(basis.coverage.sides["bore"]))
    return left if left.sum() > 0 else weights


@dataclass(frozen=True)
class Scaling:
    """What makes each particle's dose of the log's own, on some parts (k): of each stretch
    its charge [Ah], density [A/m2], dose per hour [Ah/m2/h] and spread of amps [-]."""

    parts: Sequence[tuple[float, Array, Array, float]]
    total: Array

    @classmethod
    def of(cls, run: Run, binned: Array | None = None) -> Scaling:
        """On all parts; on parts gathered by ``binned`` (k, b), where it is given, by the density
        in their middle (b)."""
        count = len(areas_of(run)) if binned is None else binned.shape[1]
        parts, total = list[tuple[float, Array, Array, float]](), np.zeros(count)
        for m in mixed_of(run.bank.mixed, run.stretches) if run.stretches else ():
            basis = run.stretches[-1].basis.under(m.out)
            density = basis.ratios(m.pose, m.flips) * (m.current_a / basis.wetted_area_m2)
            if binned is not None:
                density = density @ binned
            known = density / (1 + density / param("js_a_m2").value)
            sigma = amps_sigma(m.source, m.low_a, m.high_a)
            parts.append((m.charge_ah, density, known, sigma))
            total += np.where(known > _NOTHING, m.charge_ah, 0.0)
        return cls(parts, total)

    def by(self, cloud: Cloud) -> Array:
        """What each particle's dose is over the log's own (p, k): amps, area and js by the
        stretches, each counted by its charge; one where nothing was given."""
        mixed = np.zeros((len(cloud.need), len(self.total)))
        for charge, density, known, sigma in self.parts:
            cloud.add_scale(mixed, charge, density, known, sigma)
        made: Array = np.where(self.total > 0, mixed / np.maximum(self.total, 1e-12), 1.0)
        return made


def scaled_by(run: Run, cloud: Cloud, binned: Array | None = None) -> Array:
    """:meth:`Scaling.by`, asked for once."""
    return Scaling.of(run, binned).by(cloud)


def amps_sigma(source: Source, low_a: float, high_a: float) -> float:
    """Log-spread of a stretch's amps [-], its edges read as 5 and 95 %."""
    least = high_a if source == "unsure" else low_a
    return math.log(max(high_a / max(least, 1e-9), 1.0)) / (2 * dose.NORMAL.inv_cdf(0.95))


_NOTHING = 1e-9  # dose per hour up to which nothing flows, as in ``met``
BINS = 20  # of like dose and rate (docs/models/dose.md)
FEW = 6  # of one region: it is more alike


def gathered(doses: Array, ratios: Array, weights: Array, most: int = BINS) -> tuple[Array, Array]:
    """Parts (k) gathered into a few (b) of like dose and rate: their shares of area (b), and what
    makes of figures of the parts the means of each (k, b)."""
    some = np.flatnonzero(weights > 0)
    if len(some) <= most:
        return weights[some], np.eye(len(weights))[:, some]
    order = some[np.lexsort((ratios[some], np.round(doses[some] / _highest(doses[some]) * 6)))]
    share = np.cumsum(weights[order]) / weights.sum()
    bins = np.minimum((share * most).astype(np.int64), most - 1)
    total = np.bincount(bins, weights[order], most).astype(float)
    used = np.flatnonzero(total > 0)
    made = np.zeros((len(weights), len(used)))
    made[order, np.searchsorted(used, bins)] = weights[order] / total[bins]
    return total[used], made


def _highest(doses: Array) -> float:
    return max(float(doses.max()), 1e-9)
