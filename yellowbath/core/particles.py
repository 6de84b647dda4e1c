"""Beliefs as weighed draws: weights from likelihoods, how many draws they come to, quantiles.

Whatever is believed of a bath, its need and its circuit, is tempered and told by these.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

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
