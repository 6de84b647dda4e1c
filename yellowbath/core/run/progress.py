"""How far a run has come: dose so far, what is believed of the need, the window that is left."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from yellowbath.core import dose
from yellowbath.core.data import param
from yellowbath.core.field.model import REACH
from yellowbath.core.field.sides import MAIN
from yellowbath.core.hours.cloud import (
    SLOW_TWENTIETH,
    Cloud,
)
from yellowbath.core.hours.outlook import LEAST, SLOW
from yellowbath.core.run.basis import Stretch
from yellowbath.core.run.belief import (
    BINS,
    FEW,
    amps_sigma,
    believe,
    gathered,
    scaled_by,
    seen_share,
)
from yellowbath.core.run.charge import (
    areas_of,
    charge_ah,
    charge_edges,
    doses_of,
    present,
    shares_of,
)
from yellowbath.core.run.looked import looks_at, nothing_gained, places_in, seen_clean, stalled
from yellowbath.core.run.run import Run

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Progress:
    """Doses [Ah/m2], charge [Ah], times [s] of power still wanted; None where it cannot end.

    ``charge_edges_ah``: were none or all of the unsure time to count. ``here_s``: of a piece that
    is dipped by halves, what the half under now still wants; None for one that is all under.
    All is of the pieces that are in the bath, or lie out together: ``left_s`` and ``share_done`` of
    the main surface, ``share_clean`` of all in the liquid, of which no current reaches ``beyond``;
    ``sides``: the slow places, with their share of the area and what they still want, None where
    they do not come clean in this bath.
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
    beyond: float
    left_s: tuple[float, float, float] | None
    here_s: tuple[float, float, float] | None
    seen: bool
    sides: tuple[tuple[str, float, tuple[float, float, float] | None], ...] = ()


def progress(run: Run, need: dose.Need, now: datetime) -> Progress:
    """Everything the run screen says about how far it is."""
    doses = doses_of(run, now)
    cloud = believe(run, need)
    low, mid, high = cloud.quantiles(cloud.need, (0.1, 0.5, 0.9))
    charge = run.bank.charge_ah + charge_ah(run.stretches, now)
    area = run.stretches[-1].basis.wetted_area_m2 if run.stretches else math.inf
    weights = present(run)
    main = main_of(run)
    effective = dose.mean_of(doses, weights)
    ahead = _ahead(run, cloud, now)
    left = ahead.left() if ahead else None
    found = clean_shares(run, cloud, np.array(doses)) if run.stretches else None
    done = found is not None and _done(run, found)
    if done:
        left = (0.0, 0.0, 0.0)
    elif stalled(run):  # no hours beside "more of the same gains nothing"
        left, ahead = None, None
    return Progress(
        powered_s=run.powered_s(now),
        charge_ah=charge,
        charge_edges_ah=charge_edges(run, now),
        raw_ah_m2=charge / area,
        effective_ah_m2=effective,
        parts_ah_m2=tuple(doses),
        weights=weights,
        need_ah_m2=(low, mid, high),
        share_done=share_done_of(doses, mid, main),
        share_clean=_share_clean(run, found) if found else 0.0,
        beyond=beyond(run),
        left_s=left,
        here_s=ahead.left_here() if ahead and not done else None,
        seen=bool(run.inspections),
        sides=ahead.sides(left) if ahead and not done else (),
    )


@dataclass(frozen=True)
class CleanShares:
    """Share clean of what the current reaches of each region [-], in ``places``, of all of it as
    "" where regions are not known; ``pieces`` that were seen clean all over, which is a fact, by
    id, "" for all there is; ``areas`` of the regions as shares of all."""

    places: Mapping[str, float]
    areas: Mapping[str, float]
    pieces: frozenset[str]

    def mean(self, names: Sequence[str]) -> float:
        """Of some regions together [-]."""
        area = sum(self.areas[n] for n in names)
        return sum(self.places[n] * self.areas[n] for n in names) / area if area > 0 else 0.0


def clean_shares(run: Run, cloud: Cloud, doses: Array) -> CleanShares:
    """By all that is believed and seen; ``doses`` (k). Only of a run that had power."""
    basis = run.stretches[-1].basis
    weights = np.array(basis.coverage.weights)
    names = np.array(basis.coverage.places or ("",) * len(doses))
    of = {str(n): np.where(names == n, weights, 0.0) for n in dict.fromkeys(names)}
    shares = dict(zip(of, _clean_by_place(run, cloud, doses, of), strict=True))
    areas = {n: float(part.sum()) for n, part in of.items()}
    found, done = CleanShares(shares, areas, frozenset()), set[str]()
    for piece in basis.pieces if basis.coverage.places and basis.pieces else ("",):
        own = [n for n in of if not piece or basis.piece_of.get(n) == piece]
        there = set(own) if basis.coverage.places else set()
        if own and seen_clean(run, there, (1 - beyond(run)) * found.mean(own)):
            done.add(piece)
            shares.update(dict.fromkeys(own, 1.0))
    return replace(found, pieces=frozenset(done))


def _done(run: Run, found: CleanShares) -> bool:
    """Whether all that is in the bath was seen clean."""
    inside = {p for p in run.stretches[-1].basis.pieces if p not in run.out}
    return "" in found.pieces or (bool(inside) and inside <= found.pieces)


def _share_clean(run: Run, found: CleanShares) -> float:
    """Share of all the surface in the liquid that is clean [-]: what its regions say, by their
    area."""
    if _done(run, found):
        return 1.0
    return (1 - beyond(run)) * found.mean(places_in(run) or ("",))


def _clean_by_place(run: Run, cloud: Cloud, doses: Array, of: Mapping[str, Array]) -> list[float]:
    """Share of what the current reaches of each place that is clean [-]: what was seen of it weighs
    as much as what flowed. Where the looks are equal though more has flowed it is what they say:
    what is left then does not come off by more of the same."""
    shown = dict[str, float]()
    for piece in ("", *run.stretches[-1].basis.pieces):
        if nothing_gained(run, piece):
            shown |= looks_at(run, piece)[-1][2].shares
    middle = _middle_half(run, cloud, doses)
    most = FEW if len(of) > 1 else BINS  # one region is more alike than all of it
    if shown and not any(name in of for name in shown):  # of no place by name: of all of it
        return [seen_share(run, shown)] * len(of)
    return [
        shown[name] if name in shown
        else _flowed(run, cloud, doses, part, middle, most) if sum(part) > 0 else 0.0
        for name, part in of.items()
    ]  # fmt: skip


def beyond(run: Run) -> float:
    """Share of the surface in the liquid that no current reaches [-]."""
    lost = sum(run.stretches[-1].basis.coverage.lost.values()) if run.stretches else 0.0
    return lost / (1 + lost)


def _flowed(
    run: Run, cloud: Cloud, doses: Array, weights: Sequence[float] | Array, middle: Array,
    most: int,
) -> float:  # fmt: skip
    """Share of some of the surface (k) that is clean [-] by what flowed, and what is believed, of
    the ``middle`` (p) of it."""
    return float(np.clip(middle @ _by_particle(run, cloud, doses, weights, most), 0.0, 1.0))


def _by_particle(
    run: Run, cloud: Cloud, doses: Array, weights: Sequence[float] | Array, most: int = BINS
) -> Array:
    """Share of some of the surface (k) that is clean as each particle has it (p), gathered into so
    many parts at the most."""
    order, binned = gathered(doses, doses, np.array(weights), most)
    had = np.maximum(doses @ binned, 0.0) * scaled_by(run, cloud, binned)
    return cloud.share_clean(had, order)


def _middle_half(run: Run, cloud: Cloud, doses: Array) -> Array:
    """Weights (p) of the half of the belief that lies in the middle by what is clean of all of it.

    After a look that may be a slip there are two heaps of belief, and a mean lies where neither is;
    the same half for every place, so that places add up to the whole.
    """
    order = np.argsort(_by_particle(run, cloud, doses, areas_of(run)))
    upto = np.cumsum(cloud.weights[order])
    within = np.clip(upto, 0.25, 0.75) - np.clip(upto - cloud.weights[order], 0.25, 0.75)
    made = np.zeros(len(order))
    made[order] = within / within.sum()
    return made


def main_of(run: Run) -> tuple[float, ...]:
    """Shares of area of the parts within the main surface, summing to one."""
    if not run.stretches:
        return areas_of(run)
    return main_among(run, run.stretches[-1].basis.under(run.out).here)


def main_among(run: Run, which: NDArray[np.bool_]) -> tuple[float, ...]:
    """The same among some of the parts (k)."""
    shares = np.where(which, np.array(run.stretches[-1].basis.coverage.shares(MAIN)), 0.0)
    total = float(shares.sum())
    return tuple((shares / total).tolist()) if total > 0 else shares_of(run, which)


def share_done_of(doses: Sequence[float], need: float, weights: Sequence[float]) -> float:
    """Mean share of the need that each part has had, none counted over full [-]."""
    return min(dose.mean_of([min(d / need, 1.0) for d in doses], weights), 1.0)


Three = tuple[float, float, float]


@dataclass(frozen=True)
class Ahead:
    """What a run still wants, from its doses (k) on, with some pieces ``out`` of the bath."""

    run: Run
    cloud: Cloud
    doses: Array
    out: tuple[str, ...]

    @property
    def last(self) -> Stretch:
        return self.run.stretches[-1]

    @property
    def current_a(self) -> float:
        """The amps that flowed last; between that and its share where other pieces were in."""
        then, now = (self.last.basis.share_in(o) for o in (self.last.basis.out, self.out))
        return self.last.current_a * (1 + now / then) / 2 if then > 0 else self.last.current_a

    def left(self) -> Three | None:
        """Powered seconds until the main surface is clean: 10, 50, 90 % of what is believed."""
        return three_of(self.cloud, self.whole(main_of(self.run)))

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
        here = _only(main_of(self.run), _halves(self.last)[0])
        return three_of(self.cloud, self.until(self.last.flips, here))

    def sides(self, first: Three | None) -> tuple[tuple[str, float, Three | None], ...]:
        """The slow places: each with its share of the area and the powered seconds it still wants,
        ``first`` being those of the main surface; None where it does not come clean here."""
        basis = self.last.basis
        coverage, open_share = basis.coverage, 1 - basis.inside
        found: list[tuple[str, float, Three | None]] = []
        every = sum(sum(coverage.shares(k)) + coverage.lost.get(k, 0.0) for k in coverage.sides)
        for kind in coverage.sides:
            shares, lost = coverage.shares(kind), coverage.lost.get(kind, 0.0)
            share = open_share * (sum(shares) + lost) / every if every > 0 else 0.0
            if kind == MAIN or share < LEAST:
                continue
            goal = param("clean_share").value
            whole = sum(shares) >= goal * (sum(shares) + lost)
            left = three_of(self.cloud, self.until(self.last.flips, shares) if whole else None)
            if left is None or first is None or left[1] > SLOW * first[1] > 0:
                found.append((kind, share, left))
        if basis.inside >= LEAST:
            inner = self.until(self.last.flips, main_of(self.run), param("heap_inner").value)
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


def _ahead(run: Run, cloud: Cloud, now: datetime) -> Ahead | None:
    """None before there was any power, or while nothing flows."""
    if not run.stretches or run.silent:
        return None
    return Ahead(run, cloud, np.array(doses_of(run, now)), run.out)


def left_s(run: Run, cloud: Cloud, now: datetime) -> Three | None:
    """:attr:`Progress.left_s` alone, by what is believed."""
    ahead = _ahead(run, cloud, now)
    return ahead.left() if ahead else None


@dataclass(frozen=True)
class SurfacePlace:
    """Some of the surface, as a region of a piece: how much of it should be clean by now [-], and
    the powered seconds that it still wants as it hangs; None where it does not come clean here, or
    nothing flows."""

    id: str
    clean: float
    left_s: Three | None


def places(
    run: Run, need: dose.Need, now: datetime, of: Mapping[str, tuple[Sequence[float], float]]
) -> list[SurfacePlace]:
    """The same told place by place: ``of`` each its shares of the parts (k) and of what no part
    reaches, which add up to its own area in any unit."""
    cloud, doses = believe(run, need), np.array(doses_of(run, now))
    ahead = None if stalled(run) else _ahead(run, cloud, now)
    goal = param("clean_share").value
    found, made = clean_shares(run, cloud, doses), []
    whose = run.stretches[-1].basis.piece_of
    for name, (parts, lost) in of.items():
        if "" in found.pieces or whose.get(name) in found.pieces:
            made.append(SurfacePlace(name, 1.0, (0.0, 0.0, 0.0)))
            continue
        share = found.places.get(name, found.places.get("", 0.0))
        reached = sum(parts) / max(sum(parts) + lost, 1e-12)
        here = ahead is not None and reached >= goal
        left = three_of(cloud, ahead.whole(parts)) if ahead is not None and here else None
        made.append(SurfacePlace(name, reached * share, left))
    return made


def three_of(cloud: Cloud, hours: Array | None) -> Three | None:
    if hours is None:
        return None
    low, mid, high = cloud.quantiles(hours, (0.1, 0.5, 0.9))
    # as of a plan's sides: what one in ten never is has no hours
    return (low * 3600, mid * 3600, high * 3600) if math.isfinite(high) else None


def _halves(s: Stretch) -> tuple[Sequence[int], Sequence[int]]:
    """Parts that the present dip serves, and the others."""
    ratios = s.basis.coverage.in_pose(s.pose, s.flips)
    here = [k for k, r in enumerate(ratios) if r >= REACH]
    return here, [k for k in range(len(ratios)) if k not in set(here)]


def _only(shares: Sequence[float], parts: Sequence[int]) -> Sequence[float]:
    wanted = set(parts)
    return [s if k in wanted else 0.0 for k, s in enumerate(shares)]


def chance_clean(run: Run, need: dose.Need, now: datetime, hours: Sequence[float]) -> Array | None:
    """Chance (h, k) that each part of the surface is clean by now and after so many more hours
    under power (h) as it hangs; None before there was any power, or while nothing flows."""
    if not run.stretches or run.silent:
        return None
    cloud, doses = believe(run, need), np.array(doses_of(run, now))
    last = run.stretches[-1]
    seen = clean_shares(run, cloud, doses).pieces
    known = last.basis.parts_of(tuple(seen)) if seen else np.zeros(len(doses), dtype=bool)
    coverage = last.basis.coverage
    served = np.array(coverage.needs) if coverage.needs else 1.0
    had = np.maximum(doses, 0.0) * scaled_by(run, cloud)
    ratios = last.basis.under(run.out).ratios(last.pose, last.flips)
    mean = last.current_a / last.basis.wetted_area_m2
    rates = cloud.rates(mean, ratios, amps_sigma(last.source, last.low_a, last.high_a)) / served
    middle = _middle_half(run, cloud, doses)
    half = np.flatnonzero(middle > 0)
    wanted, scatter = np.log(cloud.need[half])[:, None], cloud.scatter[half, None]
    out = []
    for after in hours:
        with np.errstate(divide="ignore"):
            score = np.log(had[half] + rates[half] * after) - wanted
        chance = middle[half] @ ndtr(score / scatter + SLOW_TWENTIETH)
        out.append(np.where(known, 1.0, chance))
    return np.array(out)
