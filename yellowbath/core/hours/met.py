"""The innermost sums of a belief, compiled: how much of the surface each particle says is clean,
and how fast it says each part comes on.

Plain loops; ``cloud.py`` tells what for. Doses and needs [Ah/m2], rates [Ah/m2/h], times [h].
"""

from __future__ import annotations

import math

import numpy as np

from yellowbath.core.compiled import compiled
from yellowbath.core.normal import ndtr

_LOWEST = 1e-12  # of a dose, so that it has a logarithm
_BEYOND = 6.0  # normal scores beyond which a part is all clean or not at all: 1e-9 of it
_STEP = 256  # entries of the tables a unit of the score; cubic between, within 1e-12
_SCORES = np.arange(-_BEYOND, _BEYOND + 1.5 / _STEP, 1 / _STEP)
_CLEAN = ndtr(_SCORES)
_SLOPE = np.exp(-_SCORES * _SCORES / 2)
_RUN = 1 / math.sqrt(2 * math.pi) / _STEP


@compiled
def _clean_at(z):
    """Share of a part that is clean at a normal score within the table, cubic between its rows;
    the row, and how far beyond it [-]."""
    place = (z + _BEYOND) * _STEP
    i = int(place)
    beyond = place - i
    left = 1 - beyond
    curve = (1 + 2 * beyond) * left * left * _CLEAN[i]
    curve += (1 + 2 * left) * beyond * beyond * _CLEAN[i + 1]
    curve += left * beyond * (left * _SLOPE[i] - beyond * _SLOPE[i + 1]) * _RUN
    return curve, i, beyond


@compiled
def share_met(had, rates, need, needs, scatter, slow, share, hours, at, clean, slope):
    """Into ``clean`` and ``slope`` (p): the share that has met its need after so many hours (p),
    and its slope by their logarithm without the factor 1/sqrt(2 pi), for the particles ``at``.

    ``had`` and ``rates`` (p, k); ``needs`` (k) over the piece's own ``need`` (p); ``scatter`` (p);
    ``slow``: normal score at which the need stands; ``share`` (k) of the area.
    """
    for p in at:
        total, rising = 0.0, 0.0
        for k in range(len(share)):
            gained = rates[p, k] * hours[p]
            dose = max(had[p, k] + gained, _LOWEST)
            z = math.log(dose / (need[p] * needs[k])) / scatter[p] + slow
            if z > _BEYOND:
                total += share[k]
            elif z > -_BEYOND:
                curve, i, beyond = _clean_at(z)
                total += share[k] * curve
                bell = _SLOPE[i] + beyond * (_SLOPE[i + 1] - _SLOPE[i])
                rising += share[k] * bell * gained / dose / scatter[p]
        clean[p], slope[p] = total, rising


@compiled
def share_clean(had, scale, need, scatter, slow, share, out):
    """Into ``out`` (n, p): the share that is clean, by logarithms of n doses on each part (n, k)
    and of what each particle makes of them (p, k); ``need`` (p) a logarithm too."""
    for n in range(len(had)):
        for p in range(len(need)):
            total = 0.0
            for k in range(len(share)):
                z = (had[n, k] + scale[p, k] - need[p]) / scatter[p] + slow
                if z > _BEYOND:
                    total += share[k]
                elif z > -_BEYOND:
                    total += share[k] * _clean_at(z)[0]
            out[n, p] = total


@compiled
def density_rates(factor, pin, js, density, out):
    """Into ``out`` (p, k): effective dose per hour at densities (k) times each particle's factor.

    ``factor``, ``pin`` (p) of the density and of the dose [-]; ``js`` (p), ``density`` (k) [A/m2].
    """
    for p in range(len(factor)):
        for k in range(len(density)):
            flows = factor[p] * density[k]
            out[p, k] = pin[p] * flows / (1 + flows / js[p])


@compiled
def add_scale(factor, pin, js, density, known, charge, out):
    """Onto ``out`` (p, k): ``charge`` times what each particle's dose is over the ``known`` one
    (k); nothing where nothing is known to flow."""
    for p in range(len(factor)):
        for k in range(len(density)):
            if known[k] > 1e-9:
                flows = factor[p] * density[k]
                out[p, k] += charge * (pin[p] * flows / (1 + flows / js[p])) / known[k]
