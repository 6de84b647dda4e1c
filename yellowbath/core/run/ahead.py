"""What the pieces of a run still want: hours under power, from their doses on."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.field.model import REACH
from yellowbath.core.field.sides import MAIN
from yellowbath.core.hours.cloud import Cloud
from yellowbath.core.hours.outlook import LEAST, SLOW
from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.belief import amps_sigma, gathered, scaled_by
from yellowbath.core.run.charge import areas_of, shares_of
from yellowbath.core.run.run import Run

Array = NDArray[np.float64]
Three = tuple[float, float, float]
Side = tuple[str, float, Three | None]


def main_among(run: Run, which: NDArray[np.bool_]) -> tuple[float, ...]:
    """Shares of area within the main surface of some of the parts (k), summing to one."""
    if not run.stretches:
        return areas_of(run)
    shares = np.where(which, np.array(run.stretches[-1].basis.coverage.shares(MAIN)), 0.0)
    total = float(shares.sum())
    return tuple((shares / total).tolist()) if total > 0 else shares_of(run, which)


@dataclass(frozen=True)
class Ahead:
    """What some of a run's parts (``which``, k) still want, from the doses (k) of all on, with some
    pieces ``out`` of the bath."""

    run: Run
    cloud: Cloud
    doses: Array
    which: NDArray[np.bool_]
    out: tuple[str, ...]

    @property
    def last(self) -> Stretch:
        return self.run.stretches[-1]

    @property
    def current_a(self) -> float:
        """The amps that flowed last; between that and its share where other pieces were in."""
        then, now = (self.last.basis.share_in(o) for o in (self.last.basis.out, self.out))
        return self.last.current_a * (1 + now / then) / 2 if then > 0 else self.last.current_a

    @property
    def main(self) -> tuple[float, ...]:
        return main_among(self.run, self.which)

    def left(self) -> Three | None:
        """Powered seconds until the main surface is clean: 10, 50, 90 % of what is believed."""
        return three_of(self.cloud, self.whole(self.main))

    def whole(self, shares: Sequence[float]) -> Array | None:
        """Powered hours (p) until some parts are clean, in both dips where it is dipped by halves:
        what those under now still want, and then the others."""
        last = self.last
        if not last.basis.coverage.dipped:
            return self.until(last.flips, shares)
        here, there = _halves(last)
        one = self.until(last.flips, _only(shares, here))
        other = self.until(last.flips + 1, _only(shares, there))
        return None if one is None or other is None else one + other

    def left_here(self) -> Three | None:
        """What the half under now still wants; None for a piece that is all under."""
        if not self.last.basis.coverage.dipped:
            return None
        here = _only(self.main, _halves(self.last)[0])
        return three_of(self.cloud, self.until(self.last.flips, here))

    def sides(self, first: Three | None) -> tuple[Side, ...]:
        """The slow places: each with its share of the area of all pieces and the powered seconds it
        still wants, ``first`` being those of the main surface; None where it does not come clean
        here."""
        basis = self.last.basis
        coverage, open_share = basis.coverage, 1 - basis.inside
        found: list[Side] = []
        every = coverage.sided
        for kind in coverage.sides:
            shares = np.where(self.which, np.array(coverage.shares(kind)), 0.0)
            # of several pieces it is not known whose the lost surface is
            lost = coverage.lost.get(kind, 0.0) if self.which.all() else 0.0
            share = open_share * (float(shares.sum()) + lost) / every if every > 0 else 0.0
            if kind == MAIN or share < LEAST:
                continue
            goal = param("clean_share").value
            whole = shares.sum() >= goal * (shares.sum() + lost)
            hours = self.until(self.last.flips, shares.tolist()) if whole else None
            left = three_of(self.cloud, hours)
            if left is None or first is None or left[1] > SLOW * first[1] > 0:
                found.append((kind, share, left))
        if basis.inside >= LEAST:
            inner = self.until(self.last.flips, self.main, param("heap_inner").value)
            found.append(("inner", basis.inside, three_of(self.cloud, inner)))
        return tuple(found)

    def until(self, flips: int, shares: Sequence[float], reached: float = 1.0) -> Array | None:
        """Powered hours (p) until some parts are clean, put end for end so many times, with so much
        of their current reaching them all along; None where nothing flows."""
        weights, cloud, last = np.array(shares), self.cloud, self.last
        if weights.sum() <= 0:
            return np.zeros(len(cloud.need))
        ratios = last.basis.under(self.out).ratios(last.pose, flips)
        mean = self.current_a / last.basis.wetted_area_m2
        if mean * ratios[weights > 0].max() <= 0:
            return None
        # what a part had is kept as served: over what it wants
        needs = last.basis.coverage.needs
        sooner = ratios / np.array(needs) if needs else ratios
        order, binned = gathered(self.doses, sooner, weights)
        middle = ratios @ binned
        served = (sooner @ binned) / np.maximum(middle, 1e-12)
        sigma = amps_sigma(last.source, last.low_a, last.high_a)
        had = np.maximum(self.doses @ binned, 0.0) * scaled_by(self.run, cloud, binned)
        rates = cloud.rates(mean, middle, sigma)
        if reached != 1.0:
            less = cloud.rates(mean, middle * reached, sigma)
            had, rates = had * less / np.maximum(rates, 1e-12), less
        return self.caking(cloud.until(had, rates * served, order))

    def caking(self, hours: Array) -> Array:
        """The same hours with amps that fall as crust grows on the scrap: by the law of the cake,
        until it is due to be scraped, and less in dose than in amps."""
        last = self.last
        due = last.basis.crust_ah
        if not math.isfinite(due) or last.current_a <= 0:
            return hours
        js = param("js_a_m2").value
        mean = last.current_a / last.basis.wetted_area_m2
        falls = param("cake_over").value / (1 + mean / js)
        share: Array = np.minimum(last.current_a * hours / due, 1.0)
        return hours * (1 + falls * share / 2)


def three_of(cloud: Cloud, hours: Array | None) -> Three | None:
    """Seconds at 10, 50 and 90 %; None where one in ten never is."""
    if hours is None:
        return None
    low, mid, high = cloud.quantiles(hours, (0.1, 0.5, 0.9))
    return (low * 3600, mid * 3600, high * 3600) if math.isfinite(high) else None


def _halves(s: Stretch) -> tuple[Sequence[int], Sequence[int]]:
    """Parts that the present dip serves, and the others."""
    ratios = s.basis.coverage.in_pose(s.pose, s.flips)
    here = [k for k, r in enumerate(ratios) if r >= REACH]
    return here, [k for k in range(len(ratios)) if k not in set(here)]


def _only(shares: Sequence[float], parts: Sequence[int]) -> Sequence[float]:
    wanted = set(parts)
    return [s if k in wanted else 0.0 for k, s in enumerate(shares)]
