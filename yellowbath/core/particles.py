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
_MOVES, _LAST = 3, 6  # of each draw after a step, and after the last
_BLOCK = 0.4  # of the unknowns that a move touches, each by chance
_NEAR, _WIDE = 0.03, 1.0  # how far it goes, even in the logarithm between; 1 forgets where it was
_SEED = 4107  # any; the same belief comes of the same readings


def annealed(start: Array, told: Callable[[Array], Array]) -> Array:
    """Draws (n, d) of what is believed once something was told, none weighing more than another.

    ``start``: standard normal scores (n, d) of all that is unknown; ``told``: the logarithm (n) of
    how likely each makes what was told. Annealed by steps of the likelihood's power, each resampled
    and moved by rules that leave the belief as it is: sequential Monte Carlo (Del Moral, Doucet,
    Jasra 2006) with Crank-Nicolson moves of the scores (Cotter and others 2013), both from memory.
    """
    rng = np.random.Generator(np.random.PCG64(_SEED))
    z, logs, power = start, told(start), 0.0
    while power < 1:
        step = _step(logs, 1 - power)
        power = 1.0 if step >= 1 - power else power + step
        chosen = _resampled(shares(step * logs), rng)
        z, logs = z[chosen], logs[chosen]
        for _ in range(_LAST if power == 1 else _MOVES):
            far = np.exp(rng.uniform(math.log(_NEAR), math.log(_WIDE), (len(z), 1)))
            far = far * (rng.random(z.shape) < _BLOCK)
            tried = np.sqrt(1 - far**2) * z + far * rng.standard_normal(z.shape)
            found = told(tried)
            better = np.log(rng.random(len(z))) < power * (found - logs)
            z, logs = np.where(better[:, None], tried, z), np.where(better, found, logs)
    return z


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
