"""What is believed of one bath, as a cloud of particles that every look weighs anew.

Each particle is a whole truth: the need of the slow twentieth of the surface, how much that varies
from spot to spot, amps and area against what the plan takes them for, the density where more charge
makes gas only, and how the person who looks errs. Nothing is added to a window afterwards: what is
unsure is in here, and what a look says about one thing it says about all. The particles are the
same every time (a sequence that fills its room evenly), so that a log gives the same hours always.
Doses [Ah/m2], densities [A/m2], times [h]. Method: docs/models/dose.md.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.data import param
from yellowbath.core.dose import NORMAL, Need
from yellowbath.core.normal import log_ndtr, ndtr, ndtri, ndtri_exp
from yellowbath.core.particles import alive, quantiles, shares, tempered

Array = NDArray[np.float64]

COUNT = 1024  # draws; edges of a window within 1.5 % of those of 60,000
SLOW_TWENTIETH = NORMAL.inv_cdf(0.95)  # the need is that of the slow twentieth
_PINNED = 50.0  # A/m2 at which the trade's hours live: js turns about it
_STEPS = 8  # of a Newton that is all but straight on the normal score
_SETTLED = 1e-3  # of its last step, in the log of the hours: it squares with each
_NEVER = 30.0  # log of hours that nobody waits
_HALF, _HALF_OF_TENS = 0.025, 0.05  # of a share as people say them, either side; judged
_SLIP = 1e-6  # what no particle can account for is taken for a slip, not for certainty
_FEW = 40.0  # draws alive, under which what is fitted to them is too narrow; judged
_WIDER = 1.2  # the proposal, over the spread it was fitted to
BLIND = 0.04  # a change of the clean share smaller than this is not seen; judged


@lru_cache(maxsize=4)
def _draws(count: int) -> Array:
    """Normal draws (count, 6), evenly spread and always the same.

    Multiples of the powers of the root of x**7 = x + 1, the golden ratio of six dimensions
    (Roberts's sequence, from memory).
    """
    root = 1.0
    for _ in range(60):
        root = (1 + root) ** (1 / 7)
    steps = root ** -np.arange(1.0, 7.0)
    unit = (0.5 + np.arange(1, count + 1)[:, None] * steps) % 1.0
    z = ndtri(unit)
    made: Array = (z - z.mean(axis=0)) / z.std(axis=0)
    return made


@dataclass(frozen=True)
class Cloud:
    """Particles (p): need [Ah/m2], scatter [-], amps as a normal score, log of the area's factor,
    js [A/m2], the reader's bias [logit]; ``weights`` sum to one."""

    need: Array
    scatter: Array
    amps: Array
    area: Array
    js: Array
    bias: Array
    weights: Array

    @staticmethod
    def of(need: Need, count: int = COUNT) -> Cloud:
        """The prior of a piece's need, before anything is read or seen."""
        return Cloud.at(need, _draws(count), np.full(count, 1 / count))

    @staticmethod
    def at(need: Need, z: Array, weights: Array) -> Cloud:
        """Particles at normal scores (p, 6) of everything that is unknown."""
        scatter, js = param("need_scatter"), param("js_a_m2")
        return Cloud(
            need.median * np.exp(need.sigma * tailed(z[:, 0])),
            scatter.value * np.exp(param("need_scatter_sigma").value * z[:, 1]),
            z[:, 2],
            need.area_sigma * z[:, 3],
            js.value * np.exp(param("js_sigma").value * z[:, 4]),
            param("look_bias").value * z[:, 5],
            weights,
        )

    @staticmethod
    def believed(need: Need, seen: Seen, count: int = COUNT) -> Cloud:
        """What is believed after things were seen, told how likely particles make each.

        Where the prior's particles that agree are few, particles are drawn anew about those and
        weighed by prior over draw: adaptive importance sampling with a normal proposal.
        """
        draws = _draws(count)
        z, proposed = draws, -0.5 * (draws**2).sum(axis=1)
        for last in (False, False, True):
            cloud = Cloud.at(need, z, np.full(count, 1 / count))
            told = sum((np.log(one + _SLIP) for one in seen(cloud)), start=np.zeros(count))
            score = told - 0.5 * (z**2).sum(axis=1) - proposed
            weights = shares(score)
            if last or alive(weights) > count / 3:
                break
            weights = tempered(score, _FEW)  # fitted to a few, the next draw would be too narrow
            middle = weights @ z
            off = z - middle
            spread = (off * weights[:, None]).T @ off + 0.02 * np.eye(6)
            shape = np.linalg.cholesky(spread) * _WIDER
            z = middle + draws @ shape.T
            proposed = -0.5 * (draws**2).sum(axis=1) - float(np.log(np.diag(shape)).sum())
        return replace(cloud, weights=weights)

    def quantiles(self, values: Array, wanted: Sequence[float]) -> tuple[float, ...]:
        """Values (p) below which these shares of the belief lie; infinity comes last."""
        return quantiles(values, self.weights, wanted)

    # --- Doses ---------------------------------------------------------------------------------

    def rates(self, mean: float, ratios: Sequence[float] | Array, amps_sigma: float) -> Array:
        """Effective dose per hour (p, k) at a mean density and ratios to it (k) [Ah/m2/h].

        ``amps_sigma``: log-spread of the amps [-]. js is pinned at 50 A/m2: there it moves nothing.
        """
        from yellowbath.core.hours.met import density_rates  # compiled, as in ``until``

        density = mean * np.asarray(ratios, dtype=float)
        made = np.empty((len(self.need), len(density)))
        density_rates(*self._by_density(amps_sigma), density, made)
        return made

    def add_scale(
        self, onto: Array, charge: float, density: Array, known: Array, amps_sigma: float
    ) -> None:
        """Add, ``charge`` times, what each particle's dose is over what is known of it to
        ``onto`` (p, k): at densities (k) [A/m2] with ``known`` (k) doses per hour [Ah/m2/h]."""
        from yellowbath.core.hours.met import add_scale  # compiled, as in ``until``

        add_scale(*self._by_density(amps_sigma), density, known, charge, onto)

    def _by_density(self, amps_sigma: float) -> tuple[Array, Array, Array]:
        """Factors of the density and of the dose (p), and js (p)."""
        pin = (1 + _PINNED / self.js) / (1 + _PINNED / param("js_a_m2").value)
        return np.exp(self.amps * amps_sigma + self.area), pin, self.js

    def share_clean(self, doses: Array, weights: Array, needs: Array | None = None) -> Array:
        """Share of the area that has met its need (p), by doses (p, k) and shares of area (k).

        ``needs`` (k): what each part wants over what the piece does [-].
        """
        parts = np.ones(len(weights)) if needs is None else needs
        made: Array = self.shares_clean((1 / parts)[None, :], doses, weights)[0]
        return made

    def shares_clean(self, had: Array, scaled: Array, weights: Array) -> Array:
        """The same of n doses (n, k), each times what a particle makes of it (p, k): (n, p)."""
        from yellowbath.core.hours.met import share_clean  # compiled, as in ``until``

        made = np.empty((len(had), len(self.need)))
        with np.errstate(divide="ignore"):
            logs = np.log(had), np.log(scaled), np.log(self.need)
        share_clean(*logs, self.scatter, SLOW_TWENTIETH, weights / weights.sum(), made)
        return made

    def until(self, had: Array, rates: Array, weights: Array, needs: Array | None = None) -> Array:
        """Powered hours (p) until 95 % of the parts are met, from doses had at such rates (p, k).

        Nought where they are; infinity where the current does not reach enough of them.
        """
        from yellowbath.core.hours.met import share_met  # compiled: a start does not wait for it

        goal = NORMAL.inv_cdf(param("clean_share").value)
        share = weights / weights.sum()
        count = len(self.need)
        parts = np.ones(len(share)) if needs is None else np.asarray(needs, dtype=float)
        clean, slope = np.empty(count), np.empty(count)

        def met(hours: Array, at: NDArray[np.intp]) -> Array:
            """Normal score of the share clean; its slope by the log of the hours is left behind."""
            share_met(had, rates, self.need, parts, self.scatter, SLOW_TWENTIETH, share, hours, at,
                      clean, slope)  # fmt: skip
            score: Array = ndtri(np.clip(clean[at], 1e-9, 1 - 1e-12))
            return score

        everyone = np.arange(count)
        had_some = bool(np.any(had > 0))
        done = met(np.zeros(count), everyone) >= goal if had_some else np.zeros(count, bool)
        had_clean = clean.copy() if had_some else np.zeros(count)
        open_share = (rates > 1e-9 * rates.max(axis=1, keepdims=True)) @ share
        best = had_clean + open_share
        typical = np.maximum((rates * share).sum(axis=1), 1e-12)
        x = np.log(np.maximum(self.need, 1e-9) / typical)
        score = np.full(count, np.inf)
        at = np.flatnonzero(~done)
        for _ in range(_STEPS):
            score[at] = met(np.exp(x), at)
            rising = slope[at] * np.exp(score[at] * score[at] / 2)
            step = np.clip((goal - score[at]) / np.maximum(rising, 1e-3), -2.0, 2.0)
            x[at] = np.clip(x[at] + step, -12.0, _NEVER)
            at = at[np.abs(step) > _SETTLED]
            if not len(at):
                break
        if len(at):  # whoever has not settled may never get there
            score[at] = met(np.exp(x), at)
        never = (rates.max(axis=1) <= 0) | (x >= _NEVER) | (best <= param("clean_share").value)
        never |= score < goal - 0.05
        hours: Array = np.where(done, 0.0, np.where(never, np.inf, np.exp(x)))
        return hours


Seen = Callable[[Cloud], Sequence[Array]]
"""How likely each particle makes each thing that was seen (p)."""


def share_seen(cloud: Cloud, clean: Array, share: float, sure: bool = False) -> Array:
    """Of "so much of it is clean" [-], ``clean`` (p) being what each particle says.

    A spoken share is an interval; one person's looks share a bias beside an error each, and now and
    then one is a slip, which may be any; hardly one that was said twice (``sure``).
    """
    half = _interval(share)
    error, at = param("look_error").value, _logit(clean) + cloud.bias
    high = 1.0 if share + half >= 1 else ndtr((_logit_of(share + half) - at) / error)
    low = 0.0 if share - half <= 0 else ndtr((_logit_of(share - half) - at) / error)
    any_of_it = min(share + half, 1.0) - max(share - half, 0.0)
    return _or_slip(np.asarray(high - low), any_of_it, "look_slip_sure" if sure else "look_slip")


def far_off(cloud: Cloud, clean: Array, share: float) -> bool:
    """Whether hardly anybody would have said so much, or so little, by what is believed so far,
    ``clean`` (p) being what each particle says."""
    half, rare = _interval(share), param("look_far").value
    error, at = param("look_error").value, _logit(clean) + cloud.bias
    so_much = 1 - ndtr((_logit_of(share - half) - at) / error)
    so_little = ndtr((_logit_of(share + half) - at) / error)
    return bool(min(cloud.weights @ so_much, cloud.weights @ so_little) < rare)


def _interval(share: float) -> float:
    """How far either side a share as people say it reaches [-]: those in tens further than those
    in fives."""
    tens = abs(share * 10 - round(share * 10)) < 1e-6
    return _HALF_OF_TENS if tens else _HALF


def _or_slip(seen: Array, slipped: float, slips: str = "look_slip") -> Array:
    """How likely something is seen where a share of all looks are slips."""
    slip = param(slips).value
    made: Array = (1 - slip) * seen + slip * slipped
    return made


def not_yet_seen(cloud: Cloud, clean: Array) -> Array:
    """Of "not clean yet": it looks less than clean to who looks."""
    goal = param("clean_share").value
    error, at = param("look_error").value, _logit_of(goal)
    return _or_slip(ndtr((at - _logit(clean) - cloud.bias) / error), goal)


def equal_seen(before: Array, now: Array) -> Array:
    """Of "equal to last time": hardly anything came clean in between."""
    return _or_slip(np.exp(-((np.maximum(now - before, 0) / BLIND) ** 2) / 2), 2 * BLIND)


def tailed(z: Array) -> Array:
    """Normal scores as those of a grade that is a guess: most near its middle, some far off [-].

    The quantile of a mixture of two normals about nought (``need_core``, ``need_tail``, of the
    spread each; ``need_far`` of them in the tail) at the score's own rank.
    """
    made: Array = np.sign(z) * np.interp(np.abs(z), *_mixture())
    return made


@lru_cache(maxsize=1)
def _mixture() -> tuple[Array, Array]:
    """Normal scores from nought on, and the mixture's quantiles at the same ranks."""
    far, core, tail = (param(n).value for n in ("need_far", "need_core", "need_tail"))
    x = np.linspace(0.0, 8.0 * tail, 4001)
    above = np.logaddexp(
        math.log(1 - far) + log_ndtr(-x / core), math.log(far) + log_ndtr(-x / tail)
    )
    return -ndtri_exp(above), x


def _logit(share: Array) -> Array:
    s = np.clip(share, 0.002, 0.998)
    made: Array = np.log(s / (1 - s))
    return made


def _logit_of(share: float) -> float:
    s = min(max(share, 0.002), 0.998)
    return math.log(s / (1 - s))
