"""Charge dose and time: how much each part of the piece has had, and when it is clean.

The reachable surface is represented by parts: a plan's by equal-area slices ranked by density, a
run's by the facets of its reference mesh, so that stretches in several poses add up where they
fell. A part's effective dose is the integral of j/(1 + j/js) over powered time. Its need is N h: N
one log-normal factor for the piece, which makes the window, h the scatter from place to place,
which makes the share-clean curve. Parts count by ``weights``, shares of area that sum to one, or
alike where none are given. Densities [A/m2], doses [Ah/m2], times [s]. Method: docs/models/dose.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from operator import mul
from statistics import NormalDist

from yellowbath.core.data import param, require_provenance, source_text, table
from yellowbath.core.document import Piece
from yellowbath.core.field.model import SLICES, Coverage, Number, Profile
from yellowbath.core.figures import Figure, Input, figure, uses
from yellowbath.core.roots import invert

NORMAL = NormalDist()
GRID = 241
_NEVER = 1e7  # hours
Weights = Sequence[float] | None
_REACH = 4.0  # the grid of N spans this many standard deviations either side


def effective_rate(density_a_m2: float) -> float:
    """Effective dose per hour [Ah/m2/h] at a density [A/m2]: j/(1 + j/js), js 40 (15-200).

    >>> effective_rate(40.0), round(effective_rate(0.4), 3)
    (20.0, 0.396)
    """
    return density_a_m2 / (1 + density_a_m2 / param("js_a_m2").value)


def share_by_density(hours: float, need_ah_m2: float, top: float) -> list[tuple[float, float]]:
    """Dose over need [-] after so many hours, by density [A/m2] from nought to ``top``."""
    densities = [top * (k / 24) ** 2 for k in range(25)]
    return [(j, hours * effective_rate(j) / need_ah_m2) for j in densities]


def slice_densities(mean_a_m2: float, profile: Profile) -> list[float]:
    """Density [A/m2] on each equal slice of the reachable surface, lowest first."""
    return [mean_a_m2 * ratio for ratio in profile]


def percentile(mean_a_m2: float, spread: float, share: float) -> float:
    """Density [A/m2] below which this share of the area lies, log-normal with the given mean."""
    return mean_a_m2 * math.exp(spread * NORMAL.inv_cdf(share) - spread**2 / 2)


def share_below(mean_a_m2: float, spread: float, density_a_m2: float) -> float:
    """Share of the area whose density is below a value [A/m2], log-normal with the given mean."""
    if mean_a_m2 <= 0:
        return 1.0
    return NORMAL.cdf((math.log(density_a_m2 / mean_a_m2) + spread**2 / 2) / spread)


def share_clean(doses_ah_m2: Sequence[float], need_ah_m2: float, weights: Weights = None) -> float:
    """Share of the area that has met its need [-] when the piece's need is N."""
    wide = param("need_scatter").value * math.sqrt(2)
    met = [
        (1 + math.erf(math.log(dose / need_ah_m2) / wide)) / 2 if dose > 0 else 0.0
        for dose in doses_ah_m2
    ]  # fmt: skip
    return min(mean_of(met, weights), 1.0)


def mean_of(values: Sequence[float], weights: Weights = None) -> float:
    """Mean over the surface."""
    if weights is None:
        return sum(values) / len(values)
    return float(sum(map(mul, values, weights)))


def dose_to_clean(
    doses: Sequence[float], rates: Sequence[float], need: float, weights: Weights = None
) -> float:
    """Powered hours still wanted at these rates [Ah/m2/h] until the clean share is reached.

    Zero where it is reached already; infinity where the rates are too unevenly zero to reach it.

    >>> round(dose_to_clean([0.0, 0.0], [20.0, 10.0], 100.0), 1)
    15.7
    """
    goal = param("clean_share").value
    if share_clean(doses, need, weights) >= goal:
        return 0.0
    reached = [d > 0 or r > 0 for d, r in zip(doses, rates, strict=True)]
    if max(rates) <= 0 or mean_of([float(r) for r in reached], weights) <= goal:
        return math.inf

    def clean_after(hours: float) -> float:
        had = [d + r * hours for d, r in zip(doses, rates, strict=True)]
        return share_clean(had, need, weights)

    top = need / max(rates)
    while clean_after(top) < goal:
        top *= 2
        if top > _NEVER:
            return math.inf
    return invert(clean_after, goal, 0.0, top)


def hours_per_need(mean_a_m2: float, profile: Profile, coverage: Coverage | None = None) -> float:
    """Hours from nothing to clean per unit of the piece's need [h per Ah/m2].

    By slices; by the parts of a ``coverage`` where those want different amounts.
    """
    if coverage is not None and coverage.needs:
        rates = [effective_rate(j) for j in slice_densities(mean_a_m2, coverage.poses[0])]
        none = [0.0] * len(rates)
        return dose_to_clean(none, coverage.served(rates), 1.0, coverage.weights)
    rates = [effective_rate(j) for j in slice_densities(mean_a_m2, profile)]
    return dose_to_clean([0.0] * SLICES, rates, 1.0)


# --- Need --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Need:
    """Prior of N: median [Ah/m2 effective] and standard deviation of the log [-]."""

    median: float
    sigma: float


def prior_need(grade: str, aim: str) -> Need:
    """The prior for a rust grade and an aim, from core/data/needs.toml (judged)."""
    rows = table("needs")
    row, goal = rows[grade], rows["aims"][aim]
    require_provenance(f"needs.{grade}", row)
    require_provenance(f"needs.aims.{aim}", goal)
    return Need(float(row["median_ah_m2"] * goal["factor"]), float(row["sigma_log"]))


def wanted_most(pieces: Sequence[Piece]) -> tuple[str, str]:
    """Rust grade and aim of the piece that wants most, which is what a bath's hours are for."""
    most = neediest(pieces)
    return most.grade, most.aim


def neediest(pieces: Sequence[Piece]) -> Piece:
    """The piece that wants most, whichever place it has in the list."""

    def wants(piece: Piece) -> tuple[float, float, str, str]:
        need = prior_need(piece.grade, piece.aim)
        return need.median, need.sigma, piece.name, piece.id

    return max(pieces, key=wants)


def wanted_by_region(pieces: Sequence[Piece]) -> dict[str, float]:
    """What each region wants over what the neediest piece does [-], by region id.

    A region's own grade, else its piece's; empty where all want the same.
    """
    most = prior_need(*wanted_most(pieces)).median
    wanted = {
        r.id: prior_need(r.grade or p.grade, p.aim).median / most for p in pieces for r in p.regions
    }
    return wanted if any(f != 1.0 for f in wanted.values()) else {}


def need_figure(grade: str, aim: str) -> Figure:
    """The need [Ah/m2 effective] with its 10-90 % window."""
    row, goal = table("needs")[grade], table("needs")["aims"][aim]
    need = prior_need(grade, aim)
    made = figure(
        "dose.need", "Cleaning charge wanted", need.median, "charge_density", "n*f",
        [
            Input("n", f"Need, {row['name']}", row["median_ah_m2"], "charge_density",
                  f"{row['source']} ({row['honesty']})"),
            Input("f", f"Aim: {goal['name']}", goal["factor"], "number",
                  f"{goal['source']} ({goal['honesty']})"),
        ],
        "dose",
    )  # fmt: skip
    wide = math.exp(NORMAL.inv_cdf(0.9) * need.sigma)
    return made.with_window(need.median / wide, need.median * wide)


@dataclass(frozen=True)
class Belief:
    """What is believed of N: log-spaced values [Ah/m2] and their weights, summing to one."""

    values: tuple[float, ...]
    weights: tuple[float, ...]

    def quantile(self, share: float) -> float:
        """N below which this share of the belief lies, interpolated on the grid."""
        total = 0.0
        for k, weight in enumerate(self.weights):
            if total + weight >= share:
                part = (share - total) / weight if weight else 0.0
                low = self.values[max(k - 1, 0)]
                return float(low * (self.values[k] / low) ** part)
            total += weight
        return self.values[-1]


def prior_belief(need: Need) -> Belief:
    """A log-normal prior on a grid of 241 log-spaced values, four deviations either side."""
    steps = [_REACH * (2 * k / (GRID - 1) - 1) for k in range(GRID)]
    values = tuple(need.median * math.exp(need.sigma * z) for z in steps)
    return _normalised(values, [math.exp(-z * z / 2) for z in steps])


def _normalised(values: tuple[float, ...], weights: Sequence[float]) -> Belief:
    total = sum(weights)
    return Belief(values, tuple(w / total for w in weights))


def _logit(share: float) -> float:
    s = min(max(share, 0.005), 0.995)
    return math.log(s / (1 - s))


def _clean_by_need(belief: Belief, doses: Sequence[float], areas: Weights) -> Sequence[float]:
    """Share clean at each N of the belief's grid; what was had at a past look does not change."""
    return _clean_curve(belief.values, tuple(doses), None if areas is None else tuple(areas))


@lru_cache(maxsize=256)
def _clean_curve(
    needs: tuple[float, ...], doses: tuple[float, ...], areas: tuple[float, ...] | None
) -> tuple[float, ...]:
    return tuple(share_clean(doses, n, areas) for n in needs)


def seen_share(
    belief: Belief, doses: Sequence[float], share: float, areas: Weights = None
) -> Belief:
    """Update on "so much of it is clean" [-] at these doses; the eye errs on the logit scale."""
    error = param("inspection_error").value
    clean = _clean_by_need(belief, doses, areas)
    weights = [
        w * math.exp(-(((_logit(share) - _logit(c)) / error) ** 2) / 2)
        for c, w in zip(clean, belief.weights, strict=True)
    ]
    return _normalised(belief.values, weights)


def seen_not_yet(belief: Belief, doses: Sequence[float], areas: Weights = None) -> Belief:
    """Update on "not clean yet": a censored look, N is at least what these doses would need."""
    error, goal = param("inspection_error").value, _logit(param("clean_share").value)
    clean = _clean_by_need(belief, doses, areas)
    weights = [
        w * (1 - NORMAL.cdf((_logit(c) - goal) / error) + 1e-9)
        for c, w in zip(clean, belief.weights, strict=True)
    ]
    return _normalised(belief.values, weights)


def seen_equal(
    belief: Belief, before: Sequence[float], now: Sequence[float], areas: Weights = None
) -> Belief:
    """Update on "equal to last time": hardly anything came clean between two doses."""
    blind = 0.04  # a change of the clean share smaller than this is not seen; judged
    then, since = (_clean_by_need(belief, d, areas) for d in (before, now))
    weights = [
        w * math.exp(-((max(b - a, 0) / blind) ** 2) / 2)
        for a, b, w in zip(then, since, belief.weights, strict=True)
    ]
    return _normalised(belief.values, weights)


# --- The window of a plan ------------------------------------------------------------------------


def window_figure(
    need: Figure,
    density: Figure,
    profile: Profile,
    sigma: float,
    coverage: Coverage | None = None,
) -> Figure:
    """Powered time until clean [s]: median, and the 10-90 % window.

    ``sigma`` is the log-spread of the need [-]; that of the amps comes from the density's window.
    """
    hours = hours_per_need(density.value, profile, coverage)
    parts = f"{SLICES} equal-area slices"
    if coverage is not None and coverage.needs:
        parts = f"{len(coverage.weights)} facets, each against its region's own grade,"
    value = need.value * hours * 3600
    made = figure(
        "time.clean", "Clean after, under power", value, "time", "N*k*3600",
        [
            uses("N", need),
            Input("k", "Hours per unit of need at this density and spread", hours, "number",
                  f"95 % of {parts} met; docs/models/dose.md"),
        ],
        "dose",
    )  # fmt: skip
    wide = math.exp(NORMAL.inv_cdf(0.9) * math.hypot(sigma, log_error(density)))
    return made.with_window(
        value / wide, value * wide, "One run in ten is sooner, one in ten later."
    )


def log_error(item: Figure) -> float:
    """Standard deviation of the log that a figure's window stands for, read as 5-95 %."""
    if item.low is None or item.high is None or item.low <= 0:
        return 0.0
    return math.log(item.high / item.low) / (2 * NORMAL.inv_cdf(0.95))


def density_figure(current: Figure, area: Figure) -> Figure:
    """Mean current density on the wetted piece [A/m2]."""
    made = figure(
        "density.mean", "Mean current density on the piece", current.value / area.value,
        "density", "I/A", [uses("I", current), uses("A", area)], "ohm",
    )  # fmt: skip
    if current.low is None or current.high is None:
        return made
    return made.with_window(current.low / area.value, current.high / area.value)


def percentile_figure(density: Figure, spread: Figure, share: float) -> Figure:
    """A percentile of density over the piece's area [A/m2]."""
    z = NORMAL.inv_cdf(share)
    return figure(
        f"density.p{round(share * 100)}",
        "Slowest spots: 5 % of the surface" if share < 0.5
        else "Fastest spots: 5 % of the surface",
        percentile(density.value, spread.value, share), "density", "j*exp(d*z - d**2/2)",
        [uses("j", density), uses("d", spread), Input("z", "Normal quantile", z, "number",
         "Standard normal distribution")],
        "lognormal",
    )  # fmt: skip


def ratio_figure(density: Figure, quantiles: Sequence[float], share: float) -> Figure:
    """A percentile of density [A/m2] from solved quantiles of density over mean."""
    ratio = _quantile(quantiles, share)
    return figure(
        f"density.p{round(share * 100)}",
        "Slowest spots: 5 % of the surface" if share < 0.5
        else "Fastest spots: 5 % of the surface",
        density.value * ratio, "density", "j*r",
        [uses("j", density), Input("r", "Solved ratio to the mean", ratio, "number",
         source_text("field"))],
        "field",
    )  # fmt: skip


def region_figure(density: Figure, key: str, name: str, ratio: Number) -> Figure:
    """Mean density of a part of the surface [A/m2] from its solved ratio to the mean."""
    made = figure(
        f"density.{key}", f"Mean density: {name}", density.value * ratio.value, "density", "j*r",
        [uses("j", density), Input("r", "Solved ratio to the mean", ratio.value, "number",
         source_text("field"))],
        "field",
    )  # fmt: skip
    if not ratio.error:
        return made
    return made.with_window(
        density.value * max(ratio.value - ratio.error, 0.0),
        density.value * (ratio.value + ratio.error),
        "Spread of the field alone, at these amps.",
    )


def _quantile(quantiles: Sequence[float], share: float) -> float:
    """Linear between quantiles that stand at the middles of equal shares."""
    at = min(max(share * len(quantiles) - 0.5, 0.0), len(quantiles) - 1.0)
    low = int(at)
    high = min(low + 1, len(quantiles) - 1)
    return quantiles[low] + (at - low) * (quantiles[high] - quantiles[low])


def amps_sigma(errors: Sequence[float]) -> float:
    """Several relative errors taken together [-], root of the sum of squares."""
    return math.hypot(*errors)
