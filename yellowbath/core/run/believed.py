"""What is believed of a run's pieces, each by what was seen of it: how clean it is, and what it
still wants.

Of several pieces each has a need of its own: what one was seen to be says nothing of another, which
may have rusted elsewhere.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from yellowbath.core import dose
from yellowbath.core.hours.cloud import SLOW_TWENTIETH, Cloud
from yellowbath.core.normal import ndtr
from yellowbath.core.run.ahead import Ahead, Three, main_among
from yellowbath.core.run.belief import (
    BINS,
    FEW,
    amps_sigma,
    believe,
    gathered,
    scaled_by,
    seen_share,
)
from yellowbath.core.run.charge import areas_of, doses_of, shares_of
from yellowbath.core.run.looked import looks_at, nothing_gained, seen_clean, stalled
from yellowbath.core.run.run import Run

Array = NDArray[np.float64]


@dataclass(frozen=True)
class CleanShares:
    """Share clean of what the current reaches of each region [-], of all of it as "" where regions
    are not known, and the ``areas`` of the regions."""

    places: Mapping[str, float]
    areas: Mapping[str, float]

    @property
    def mean(self) -> float:
        """Of all regions together [-]."""
        area = sum(self.areas.values())
        return sum(self.places[n] * self.areas[n] for n in self.places) / area if area > 0 else 0.0


@dataclass(frozen=True)
class BelievedPiece:
    """What is believed of one of several pieces, by its id, or of all there is ("").

    ``doses`` (k) of all parts of the surface [Ah/m2]; ``which`` of them (k) are its own.
    """

    run: Run
    piece: str
    cloud: Cloud
    doses: Array
    which: NDArray[np.bool_]

    @property
    def inside(self) -> bool:
        """Whether it is with the others, and not out by itself."""
        return self.piece not in self.run.out

    @cached_property
    def weights(self) -> tuple[float, ...]:
        """Its shares of area (k), summing to one."""
        return shares_of(self.run, self.which)

    @cached_property
    def area(self) -> float:
        """Its share of the area of all pieces."""
        return float(np.array(areas_of(self.run))[self.which].sum())

    @cached_property
    def ahead(self) -> Ahead | None:
        """What it still wants, were it in; None before any power, or while nothing flows."""
        if not self.run.stretches or self.run.silent:
            return None
        out = tuple(p for p in self.run.out if p != self.piece)
        return Ahead(self.run, self.cloud, self.doses, self.which, out)

    @cached_property
    def stands(self) -> bool:
        """Whether more of the same gains it nothing."""
        return stalled(self.run, self.piece) or (self.inside and stalled(self.run))

    @cached_property
    def left(self) -> Three | None:
        """Powered seconds that its main surface still wants; None where it does not come clean so,
        nothing flows, or more of the same gains nothing."""
        if self.seen:
            return (0.0, 0.0, 0.0)
        return self.ahead.left() if self.ahead and not self.stands else None

    @property
    def share_done(self) -> float:
        """Mean share of the need that its main surface has had, none counted over full [-]."""
        if not self.run.stretches:
            return 0.0
        need = self.cloud.quantiles(self.cloud.need, (0.5,))[0]
        main = main_among(self.run, self.which)
        return min(dose.mean_of([min(d / need, 1.0) for d in self.doses.tolist()], main), 1.0)

    @property
    def share_clean(self) -> float:
        """Share of its surface in the liquid that is clean [-]."""
        if not self.run.stretches:
            return 0.0
        return 1.0 if self.seen else (1 - beyond(self.run)) * self.clean.mean

    @cached_property
    def seen(self) -> bool:
        """Whether it was seen clean all over, which is a fact."""
        if not self.run.stretches:
            return False
        there = set(self._parts) if self._by_region else set[str]()
        return seen_clean(self.run, there, (1 - beyond(self.run)) * self._thought.mean)

    @property
    def clean(self) -> CleanShares:
        """By all that is believed and seen. Only of a run that had power."""
        if self.seen:
            return CleanShares(dict.fromkeys(self._parts, 1.0), self._thought.areas)
        return self._thought

    def chance_clean(self, hours: Sequence[float]) -> Array:
        """Chance (h, k) that each part is clean by now and after so many more hours as it hangs."""
        last, cloud = self.run.stretches[-1], self.cloud
        needs = last.basis.coverage.needs
        served = np.array(needs) if needs else 1.0
        had = np.maximum(self.doses, 0.0) * scaled_by(self.run, cloud)
        ratios = last.basis.under(self.run.out).ratios(last.pose, last.flips)
        mean = last.current_a / last.basis.wetted_area_m2
        rates = cloud.rates(mean, ratios, amps_sigma(last.source, last.low_a, last.high_a)) / served
        half = np.flatnonzero(self._middle > 0)
        wanted, scatter = np.log(cloud.need[half])[:, None], cloud.scatter[half, None]
        out = []
        for after in hours:
            with np.errstate(divide="ignore"):
                score = np.log(had[half] + rates[half] * after) - wanted
            out.append(self._middle[half] @ ndtr(score / scatter + SLOW_TWENTIETH))
        return np.array(out)

    # --- How it is made -----------------------------------------------------------------------

    @property
    def _by_region(self) -> bool:
        return bool(self.run.stretches[-1].basis.coverage.places)

    @cached_property
    def _parts(self) -> Mapping[str, Array]:
        """Its regions, as shares of area of the parts (k)."""
        coverage = self.run.stretches[-1].basis.coverage
        weights = np.where(self.which, np.array(coverage.weights), 0.0)
        names = np.array(coverage.places or ("",) * len(weights))
        own = dict.fromkeys(names[self.which].tolist())
        return {n: np.where(names == n, weights, 0.0) for n in own}

    @cached_property
    def _thought(self) -> CleanShares:
        """What was seen of it weighs as much as what flowed. Where the looks are equal though more
        has flowed it is what they say: what is left then does not come off by more of the same."""
        run, of = self.run, self._parts
        areas = {n: float(part.sum()) for n, part in of.items()}
        shown = dict[str, float]()
        for piece in dict.fromkeys(("", self.piece)):
            if nothing_gained(run, piece):
                shown |= looks_at(run, piece)[-1][2].shares
        if shown and not self._by_region:  # of no place by name: of all of it
            return CleanShares(dict.fromkeys(of, seen_share(run, shown)), areas)
        if shown and not self.piece and not any(name in of for name in shown):
            return CleanShares(dict.fromkeys(of, seen_share(run, shown)), areas)
        most = FEW if len(of) > 1 else BINS  # one region is more alike than all of it
        shares = {
            name: shown[name] if name in shown
            else self._flowed(part, most) if areas[name] > 0 else 0.0
            for name, part in of.items()
        }  # fmt: skip
        return CleanShares(shares, areas)

    def _flowed(self, weights: Array, most: int) -> float:
        """Share of some of the surface (k) that is clean [-] by what flowed, and what is believed,
        of the middle half of it."""
        return float(np.clip(self._middle @ self._by_particle(weights, most), 0.0, 1.0))

    def _by_particle(self, weights: Array, most: int = BINS) -> Array:
        """Share of some of the surface (k) that is clean as each particle has it (p), gathered into
        so many parts at the most."""
        order, binned = gathered(self.doses, self.doses, weights, most)
        had = np.maximum(self.doses @ binned, 0.0) * scaled_by(self.run, self.cloud, binned)
        return self.cloud.share_clean(had, order)

    @cached_property
    def _middle(self) -> Array:
        """Weights (p) of the half of the belief that lies in the middle by what is clean of it.

        After a look that may be a slip there are two heaps of belief, and a mean lies where neither
        is; the same half for every place, so that places add up to the whole.
        """
        order = np.argsort(self._by_particle(np.array(self.weights)))
        upto = np.cumsum(self.cloud.weights[order])
        within = np.clip(upto, 0.25, 0.75) - np.clip(upto - self.cloud.weights[order], 0.25, 0.75)
        made = np.zeros(len(order))
        made[order] = within / within.sum()
        return made


def believed(run: Run, need: dose.Need, now: datetime, only: str = "") -> list[BelievedPiece]:
    """Each piece of a run, or all there is as one where it is not known which part is whose;
    ``only`` one of them, by its id."""
    doses = np.array(doses_of(run, now))
    if not run.stretches:
        return [BelievedPiece(run, "", Cloud.of(need), doses, np.ones(len(doses), dtype=bool))]
    basis = run.stretches[-1].basis
    several = len(basis.pieces) > 1 and bool(basis.coverage.places)
    made = []
    for piece in basis.pieces if several else ("",):
        which = basis.parts_of((piece,)) if piece else np.ones(len(doses), dtype=bool)
        if (piece == only or not only) and which.any():
            made.append(BelievedPiece(run, piece, believe(run, need, piece), doses, which))
    return made


def beyond(run: Run) -> float:
    """Share of the surface in the liquid that no current reaches [-]."""
    lost = sum(run.stretches[-1].basis.coverage.lost.values()) if run.stretches else 0.0
    return lost / (1 + lost)
