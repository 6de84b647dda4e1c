"""The hours of a plan: the main surface's window, of several pieces that of the last, the slow
places, and what makes it unsure.

Times [h] under power, densities [A/m2]. What is believed is in ``cloud``; where the current goes is
in the coverage. A side that takes more than five times the main surface's hours is "not in this
bath": it wants a turn, scrap on its side, an inner rod, or hands.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.dose import Need, log_error, parts_of
from yellowbath.core.field.model import Coverage, Profile, sliced
from yellowbath.core.field.sides import KINDS, MAIN
from yellowbath.core.figures import Figure, Input, figure, uses
from yellowbath.core.hours.cloud import Cloud, share_seen
from yellowbath.core.words import word

Array = NDArray[np.float64]
Three = tuple[float, float, float]
SHARES = (0.1, 0.5, 0.9)  # low, middle and high of a window
NOT_HERE = 5.0  # times the main surface's hours from which a side is not for this bath
LEAST = 0.02  # of the area: a smaller side is not spoken of; judged
SOONER = 0.7  # of the hours of all, from which a piece is lifted by itself; judged
SLOW = 1.1  # times the main surface's hours from which a side is a slow place; judged
_COUNT = 256  # particles of a plan's window
_LOOK_AT = 0.35  # of the hours expected: when one look is said to narrow them


@dataclass(frozen=True)
class Side:
    """One side of the surface: its share of the wet area and its hours at 10, 50 and 90 %.

    ``hours`` is None where it does not come clean in this bath; ``turned``: the same were the piece
    turned round half-way, None where that is not known or no better.
    """

    kind: str
    share: float
    hours: Three | None
    turned: Three | None = None


@dataclass(frozen=True)
class Outlook:
    """The main surface and the slow places, which come later than it.

    ``unsure``: what the window is made of, as shares of its variance that sum to one; ``looked``:
    what one look after ``look_h`` would leave of it; ``buys``: what a clamp reading (nought hours)
    or a look after so many hours would, where none of them is later than the window's middle;
    ``first``: the hours of the piece that is clean first of several, where it is well before.
    """

    sides: tuple[Side, ...]
    unsure: tuple[tuple[str, float], ...]
    look_h: float
    looked: Three
    buys: tuple[tuple[float, Three], ...] = ()
    first: Three | None = None

    @property
    def main(self) -> Side:
        """The headline."""
        return self.sides[0]


def window_figure(
    need: Figure, prior: Need, density: Figure, profile: Profile, coverage: Coverage | None
) -> Figure:
    """Powered time until the main surface is clean [s]: median, and the 10-90 % window."""
    several = coverage is not None and len(coverage.pieces) > 1
    coverage = last_piece(prior, density, profile, coverage)
    ratios, weights, needs = parts_of(profile, coverage, MAIN)
    middle = _median(prior)
    rates = middle.rates(density.value, ratios, 0.0)
    hours = float(middle.until(0 * rates, rates, weights, needs)[0])
    per_need = hours / prior.median
    value = need.value * per_need * 3600
    made = figure(
        "time.clean", "Clean after, under power", value, "time", "N*k*3600",
        [
            uses("N", need),
            Input("k", "Hours per unit of need at this density and spread", per_need, "number",
                  "95 % of the main surface met; docs/models/dose.md"),
        ],
        "dose",
    )  # fmt: skip
    cloud = Cloud.of(prior, _COUNT)
    low, _, high = _hours(cloud, density, ratios, weights, needs)
    note = "One run in ten is sooner, one in ten later."
    if several:
        note = f"{note} {word('alone.last_piece')}"
    return made.with_window(min(low * 3600, value), max(high * 3600, value), note)


def last_piece(
    prior: Need, density: Figure, profile: Profile, coverage: Coverage | None
) -> Coverage | None:
    """Of several pieces the one whose main surface is clean last, as far as they come clean here:
    a bath is done when it is. All there is where it is not known which part is whose."""
    each = _in_turn(prior, density, profile, coverage)
    return each[-1] if each else coverage


def _in_turn(
    prior: Need, density: Figure, profile: Profile, coverage: Coverage | None
) -> list[Coverage]:
    """Several pieces by when their main surface is clean, those that come clean here; none of one,
    or where it is not known which part is whose."""
    if coverage is None or len(coverage.pieces) < 2:
        return []
    middle, found = _median(prior), list[tuple[float, Coverage]]()
    for piece in coverage.pieces:
        one = coverage.of_piece(piece)
        ratios, weights, needs = parts_of(profile, one, MAIN)
        rates = middle.rates(density.value, ratios, 0.0)
        found.append((float(middle.until(0 * rates, rates, weights, needs)[0]), one))
    here = [(hours, one) for hours, one in found if math.isfinite(hours)]
    return [one for _, one in sorted(here, key=lambda each: each[0])]


def _median(prior: Need) -> Cloud:
    """One particle with everything at its middle."""
    return Cloud.at(prior, np.zeros((1, 6)), np.ones(1))


def _hours(
    cloud: Cloud, density: Figure, ratios: Array, weights: Array, needs: Array | None
) -> Three:
    rates = cloud.rates(density.value, ratios, log_error(density))
    low, mid, high = cloud.quantiles(cloud.until(0 * rates, rates, weights, needs), SHARES)
    return low, mid, high


def outlook(
    prior: Need, density: Figure, profile: Profile, coverage: Coverage | None,
    turned: Sequence[float] | None = None, inside: float = 0.0, reading_sigma: float = 0.0,
) -> Outlook | None:  # fmt: skip
    """The hours side by side; None where nothing flows.

    ``turned``: density over its mean on the coverage's parts with the piece turned round;
    ``inside``: share of the surface that lies inside a heap; ``reading_sigma``: what a reading
    would leave of the log-spread of the amps [-].
    """
    if density.value <= 0:
        return None
    cloud = Cloud.of(prior, _COUNT)
    ratios, weights, needs = parts_of(profile, last_piece(prior, density, profile, coverage), MAIN)
    rates = cloud.rates(density.value, ratios, log_error(density))
    hours = cloud.until(0 * rates, rates, weights, needs)
    low, mid, high = cloud.quantiles(hours, SHARES)
    if not math.isfinite(mid):
        return None
    open_share = 1 - inside
    main = Side(MAIN, _share(coverage, MAIN) * open_share, (low, mid, high))
    others = [] if coverage is None else _others(cloud, density, coverage, mid, turned)
    others = [replace(s, share=s.share * open_share) for s in others]
    if inside >= LEAST:
        less = cloud.rates(density.value, ratios * param("heap_inner").value, log_error(density))
        until = cloud.until(0 * less, less, weights, needs)
        others.append(Side("inner", inside, _known(cloud, until, mid)))
    look = _LOOK_AT * mid

    def looked(at: float) -> Three:
        """The window after a look at so many hours that sees what is most likely there."""
        seen = cloud.share_clean(rates * at, weights, needs)
        return _told(cloud, share_seen(cloud, seen, float(np.median(seen))), hours)

    buys = [(h, looked(h)) for h in _LOOKS_H if h <= mid]
    spread = log_error(density)
    if spread > reading_sigma > 0:
        read = np.exp(-((cloud.amps * spread / reading_sigma) ** 2) / 2)
        buys.insert(0, (0.0, _told(cloud, read, hours)))
    unsure = _unsure(cloud, hours)
    first = _first(cloud, prior, density, profile, coverage)
    early = first if first and first[1] < SOONER * mid else None
    return Outlook((main, *others), unsure, look, looked(look), tuple(buys), early)


def _first(
    cloud: Cloud, prior: Need, density: Figure, profile: Profile, coverage: Coverage | None
) -> Three | None:
    """Hours of the piece that is clean first of several; None of one."""
    each = _in_turn(prior, density, profile, coverage)
    if not each:
        return None
    found = _hours(cloud, density, *parts_of(profile, each[0], MAIN))
    return found if math.isfinite(found[2]) else None


_LOOKS_H = (1.0, 3.0)  # h after which a look is weighed; judged


def _told(cloud: Cloud, likely: Array, hours: Array) -> Three:
    """The window that is left once something was seen, by how likely each particle makes it."""
    after = replace(cloud, weights=cloud.weights * likely / float(cloud.weights @ likely))
    first, middle, last = after.quantiles(hours, SHARES)
    return first, middle, last


def _share(coverage: Coverage | None, kind: str) -> float:
    if coverage is None:
        return 1.0
    if kind == MAIN and sum(coverage.shares(MAIN)) <= 0:
        return 1.0  # nothing sees scrap from outside: all of it is what there is to clean
    return coverage.share_of(kind)


def _others(
    cloud: Cloud, density: Figure, coverage: Coverage, headline: float,
    turned: Sequence[float] | None,
) -> Sequence[Side]:  # fmt: skip
    out = []
    for kind in KINDS[1:]:
        share = _share(coverage, kind)
        if share < LEAST:
            continue
        weights = np.array(coverage.shares(kind))
        lost = coverage.lost.get(kind, 0.0)

        own_hours = _alone(cloud, density, coverage, weights, lost)
        own = _known(cloud, own_hours, headline)
        if own is not None and own[1] < SLOW * headline:
            continue  # as soon as the main surface: no slow place
        better = None
        if turned is not None and len(turned) == len(coverage.weights):
            mixed = _mixed(cloud, density, coverage, turned, weights, lost)
            better = _known(cloud, mixed, headline)
            if better and own and better[1] > 0.9 * own[1]:
                better = None
        out.append(Side(kind, share, own, better))
    return out


def _alone(cloud: Cloud, density: Figure, coverage: Coverage, weights: Array, lost: float) -> Array:
    """Hours of some parts in the plan's own pose, in slices where all want alike; what the current
    does not reach counts as area without a rate."""
    ratios, needs, total = coverage.poses[0], None, float(weights.sum())
    if coverage.needs:
        needs = np.array([*coverage.needs, 1.0])
    elif total > 0:
        ratios = tuple(sliced(ratios, (weights / total).tolist()))
        weights = np.full(len(ratios), total / len(ratios))
    rates = cloud.rates(density.value, [*ratios, 0.0], log_error(density))
    return cloud.until(0 * rates, rates, np.append(weights, lost), needs)


def _mixed(
    cloud: Cloud, density: Figure, coverage: Coverage, turned: Sequence[float], weights: Array,
    lost: float,
) -> Array:  # fmt: skip
    """Hours where half of the time goes to each pose."""
    sigma = log_error(density)
    one = cloud.rates(density.value, [*coverage.poses[0], 0.0], sigma)
    two = cloud.rates(density.value, [*turned, 0.0], sigma)
    rates = (one + two) / 2
    needs = np.array([*coverage.needs, 1.0]) if coverage.needs else None
    return cloud.until(0 * rates, rates, np.append(weights, lost), needs)


def _known(cloud: Cloud, hours: Array, headline: float) -> Three | None:
    low, mid, high = cloud.quantiles(hours, SHARES)
    return (low, mid, high) if mid <= NOT_HERE * headline and math.isfinite(high) else None


UNSURE: tuple[tuple[str, Callable[[Cloud], Array]], ...] = (
    ("need", lambda c: np.log(c.need)),
    ("amps", lambda c: c.amps),
    ("area", lambda c: c.area),
    ("js", lambda c: np.log(c.js)),
    ("scatter", lambda c: np.log(c.scatter)),
)


def _unsure(cloud: Cloud, hours: Array) -> tuple[tuple[str, float], ...]:
    """Share of the variance of the log of the hours that goes with each thing unknown, largest
    first: the hours are a product of powers of them very nearly."""
    known = np.isfinite(hours) & (hours > 0)
    if known.sum() < 32:
        return ()
    x = np.stack([f(cloud)[known] for _, f in UNSURE], axis=1)
    x = x - x.mean(axis=0)
    y = np.log(hours[known])
    slopes = np.linalg.lstsq(x, y - y.mean(), rcond=None)[0]
    parts = (slopes * x.std(axis=0)) ** 2
    found = [(name, float(p / parts.sum())) for (name, _), p in zip(UNSURE, parts, strict=True)]
    return tuple(sorted(found, key=lambda f: -f[1]))
