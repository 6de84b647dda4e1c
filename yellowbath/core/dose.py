"""Charge dose and time: how much each part of the piece has had, and when it is clean.

The reachable surface is represented by parts: a plan's by equal-area slices ranked by density, a
run's by the facets of its reference mesh, so that stretches in several poses add up where they
fell. A part's effective dose is the integral of j/(1 + j/js) over powered time. Its need is
log-normal from spot to spot: N is that of the slow twentieth, which makes the window, h the
scatter, which makes the share-clean curve. Parts count by ``weights``, shares of area that sum to
one, or alike where none are given. Densities [A/m2], doses [Ah/m2], times [s]. Method:
docs/models/dose.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from operator import mul
from statistics import NormalDist
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param, require_provenance, source_text, table
from yellowbath.core.document import Piece
from yellowbath.core.field.model import Coverage, FieldNumber, Profile, sliced
from yellowbath.core.field.sides import MAIN
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.geometry.piece import area_sigma
from yellowbath.core.roots import invert

Array = NDArray[np.float64]
NORMAL = NormalDist()
_NEVER = 1e7  # hours
READ_ERROR = 0.05  # a clamp meter's 3 %, and how warm the bath was when it was read [-]; judged
Weights = Sequence[float] | None
Density = TypeVar("Density", float, Array)


def effective_rate(density_a_m2: Density) -> Density:
    """Effective dose per hour [Ah/m2/h] at a density [A/m2]: j/(1 + j/js), js 40 (15-200); of many
    at once where they are an array.

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
    """Share of the area that has met its need [-], N being that of the slow twentieth."""
    scatter = param("need_scatter").value
    wide, slow = scatter * math.sqrt(2), scatter * NORMAL.inv_cdf(0.95)
    met = [
        (1 + math.erf((math.log(dose / need_ah_m2) + slow) / wide)) / 2 if dose > 0 else 0.0
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
    8.5
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


def parts_of(
    profile: Profile, coverage: Coverage | None = None, side: str = MAIN
) -> tuple[Array, Array, Array | None]:
    """Density over its mean, shares of area and, where they differ, relative needs of the parts of
    one side: twenty slices, or every facet where facets want different amounts."""
    if coverage is None or not (coverage.sides or coverage.needs):
        return np.array(profile), np.full(len(profile), 1 / len(profile)), None
    weights = np.array(coverage.shares(side))
    if weights.sum() <= 0:  # nothing sees scrap: then all of it is what there is to clean
        weights = np.array(coverage.weights)
    weights = weights / weights.sum()
    if coverage.needs:
        return np.array(coverage.poses[0]), weights, np.array(coverage.needs)
    slices = np.array(sliced(coverage.poses[0], weights.tolist()))
    return slices, np.full(len(slices), 1 / len(slices)), None


def hours_per_need(mean_a_m2: float, profile: Profile, coverage: Coverage | None = None) -> float:
    """Hours from nothing to a clean main surface per unit of the piece's need [h per Ah/m2]."""
    ratios, weights, needs = parts_of(profile, coverage)
    rates = [effective_rate(mean_a_m2 * float(r)) for r in ratios]
    if needs is not None:
        rates = [r / float(n) for r, n in zip(rates, needs, strict=True)]
    return dose_to_clean([0.0] * len(rates), rates, 1.0, weights.tolist())


# --- Need --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Need:
    """Prior of N: median [Ah/m2 effective] and standard deviation of the log [-].

    ``area``: how unsure the surface is that the charge spreads over, as deviation of the log [-];
    as by tape where nothing else is said.
    """

    median: float
    sigma: float
    area: float | None = None

    @property
    def area_sigma(self) -> float:
        return param("area_sigma").value if self.area is None else self.area


RUNGS = ("light", "moderate", "heavy", "scaled")


def prior_need(grade: str, aim: str, between: bool = False) -> Need:
    """The prior for a rust grade and an aim, from core/data/needs.toml (judged).

    ``between`` this rung and the next one: half-way on the log. The highest has no next.
    """
    rows = table("needs")
    goal = rows["aims"][aim]
    require_provenance(f"needs.aims.{aim}", goal)
    here = RUNGS.index(grade)
    rungs = [rows[r] for r in RUNGS[here : here + 2 if between else here + 1]]
    for rung, row in zip(RUNGS[here:], rungs, strict=False):
        require_provenance(f"needs.{rung}", row)
    middle = math.exp(sum(math.log(r["median_ah_m2"]) for r in rungs) / len(rungs))
    return Need(middle * goal["factor"], float(rungs[0]["sigma_log"]))


def need_of(piece: Piece) -> Need:
    """What a piece wants: by its crust's thickness where that was measured, else by its rung."""
    spread = area_sigma(piece)
    if piece.crust_m is None:
        return replace(prior_need(piece.grade, piece.aim, piece.between), area=spread)
    k, goal = param("crust_need_ah_m3").value, table("needs")["aims"][piece.aim]
    return Need(k * piece.crust_m * goal["factor"], param("crust_sigma").value, spread)


def neediest(pieces: Sequence[Piece]) -> Piece:
    """The piece that wants most, whichever place it has in the list."""

    def wants(piece: Piece) -> tuple[float, float, str, str]:
        need = need_of(piece)
        return need.median, need.sigma, piece.name, piece.id

    return max(pieces, key=wants)


def wanted_by_region(pieces: Sequence[Piece]) -> dict[str, float]:
    """What each region wants over what the neediest piece does [-], by region id.

    A region's own grade, else its piece's; empty where all want the same.
    """
    most = need_of(neediest(pieces)).median
    wanted = {
        r.id: (prior_need(r.grade, p.aim) if r.grade else need_of(p)).median / most
        for p in pieces for r in p.regions
    }  # fmt: skip
    return wanted if any(f != 1.0 for f in wanted.values()) else {}


def need_figure(piece: Piece) -> Figure:
    """The need of the slow twentieth [Ah/m2 effective] with its 10-90 % window."""
    goal, need = table("needs")["aims"][piece.aim], need_of(piece)
    aim = Input("f", f"Aim: {goal['name']}", goal["factor"], "number",
                f"{goal['source']} ({goal['honesty']})")  # fmt: skip
    if piece.crust_m is not None:
        typed_m = typed("d", piece.field_word("crust_m"), piece.crust_m, "length")
        inputs = [uses("k", param("crust_need_ah_m3")), typed_m, aim]
        rule = "k*d*f"
    else:
        row = table("needs")[piece.grade]
        name = f"Need, {row['name']}" + (", and half-way to the next" if piece.between else "")
        inputs = [Input("n", name, need.median / goal["factor"], "charge_density",
                        f"{row['source']} ({row['honesty']})"), aim]  # fmt: skip
        rule = "n*f"
    made = figure(
        "dose.need", "Cleaning charge wanted", need.median, "charge_density", rule, inputs, "dose"
    )
    wide = math.exp(NORMAL.inv_cdf(0.9) * need.sigma)
    return made.with_window(need.median / wide, need.median * wide)


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


def region_figure(density: Figure, key: str, name: str, ratio: FieldNumber) -> Figure:
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
