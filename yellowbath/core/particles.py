"""Beliefs as weighed draws: weights from likelihoods, how many draws they come to, quantiles; and
draws of a belief that is far narrower than what was thought before.

Whatever is believed of a bath, its need and its circuit, is worked out and told by these.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_GENTLER = 0.8  # a step of tempering; judged
_LEAST = 0.05  # the power under which a belief is no longer made gentler; judged
_TINY = 1e-9  # of a value, so that it has a logarithm


def shares(logs: Array) -> Array:
    """Weights that sum to one, by the logarithms of their likelihoods."""
    made: Array = np.exp(logs - logs.max())
    made /= made.sum()
    return made


def alive(weights: Array) -> float:
    """How many draws' worth of weights there are."""
    return float(1 / (weights**2).sum())


def tempered(logs: Array, few: float) -> Array:
    """Weights that sum to one, raised to a power under one where fewer draws would count."""
    power, made = 1.0, shares(logs)
    while alive(made) < few and power > _LEAST:
        power *= _GENTLER
        made = shares(power * logs)
    return made


def quantiles(values: Array, weights: Array, wanted: Sequence[float]) -> tuple[float, ...]:
    """Values (p), none below nought, under which these shares of the weights lie, even in their
    logarithm between two; infinity comes last."""
    order = np.argsort(values)
    ranks = np.cumsum(weights[order]) - weights[order] / 2
    sorted_values = values[order]
    known, out = int(np.isfinite(sorted_values).sum()), list[float]()
    logs = np.log(np.maximum(sorted_values[:known], _TINY))
    for share in wanted:
        if known == 0 or (share > ranks[known - 1] and known < len(values)):
            out.append(math.inf)
        else:
            out.append(float(np.exp(np.interp(share, ranks[:known], logs))))
    return tuple(out)


_KEPT = 0.4  # of the draws that count after a step towards what was told; judged
_MOVES, _LAST = 6, 8  # of each draw after a step, and after the last
_BLOCK = 0.4  # of the unknowns that a move touches, each by chance
_NEAR, _WIDE = 0.1, 1.0  # how far it goes, even in the logarithm between; 1 forgets where it was
_JITTER = 1e-3  # of a score, so that a move along a difference can reach all
_STRIDE = 2.38  # of a difference, over the root of twice the unknowns (Roberts, Rosenthal 2001)
_SEED = 4107  # any; the same belief comes of the same readings


def annealed(start: Array, told: Callable[[Array], Array]) -> Array:
    """Draws (n, d) of what is believed once something was told, none weighing more than another.

    ``start``: standard normal scores (n, d) of all that is unknown; ``told``: the logarithm (n) of
    how likely each makes what was told. Annealed by steps of the likelihood's power, each resampled
    and moved by rules that leave the belief as it is: sequential Monte Carlo (Del Moral, Doucet,
    Jasra 2006) with Crank-Nicolson moves of the scores (Cotter and others 2013) and moves along
    differences (ter Braak 2006), all from memory.
    """
    rng = np.random.Generator(np.random.PCG64(_SEED))
    z, logs, power = start, told(start), 0.0
    while power < 1:
        step = _step(logs, 1 - power)
        power = 1.0 if step >= 1 - power else power + step
        chosen = _resampled(shares(step * logs), rng)
        z, logs = z[chosen], logs[chosen]
        for k in range(_LAST if power == 1 else _MOVES):
            tried, odds = (_by_others if k % 2 else _by_itself)(z, rng)
            found = told(tried)
            goes = np.log(rng.random(len(z))) < power * (found - logs) + odds
            z, logs = np.where(goes[:, None], tried, z), np.where(goes, found, logs)
    return z


def _by_itself(z: Array, rng: np.random.Generator) -> tuple[Array, Array]:
    """A move that keeps the prior, by a step of any length of some of the unknowns."""
    far = np.exp(rng.uniform(math.log(_NEAR), math.log(_WIDE), (len(z), 1)))
    far = far * (rng.random(z.shape) < _BLOCK)
    return np.sqrt(1 - far**2) * z + far * rng.standard_normal(z.shape), np.zeros(len(z))


def _by_others(z: Array, rng: np.random.Generator) -> tuple[Array, Array]:
    """A move along what two others differ by, and so as long and as slanting as the belief is; and
    the logarithm of the prior's odds."""
    one, other = (z[rng.permutation(len(z))] for _ in range(2))
    some = rng.random(z.shape) < rng.uniform(_BLOCK / 4, 1.0, (len(z), 1))
    along = _STRIDE / np.sqrt(2 * np.maximum(some.sum(axis=1, keepdims=True), 1))
    tried = z + some * (along * (one - other) + _JITTER * rng.standard_normal(z.shape))
    return tried, ((z**2).sum(axis=1) - (tried**2).sum(axis=1)) / 2


def _step(logs: Array, most: float) -> float:
    """How much of the likelihood's power leaves enough of the draws."""
    enough = _KEPT * len(logs)
    if alive(shares(most * logs)) >= enough:
        return most
    low, high = 0.0, most
    for _ in range(40):  # to a part in a billion of it
        middle = (low + high) / 2
        low, high = (middle, high) if alive(shares(middle * logs)) >= enough else (low, middle)
    return max(low, _TINY)


def _resampled(weights: Array, rng: np.random.Generator) -> NDArray[np.int64]:
    """Which draws go on, each about as often as it weighs: systematic resampling."""
    at = (np.arange(len(weights)) + rng.random()) / len(weights)
    return np.minimum(np.searchsorted(np.cumsum(weights), at), len(weights) - 1)
