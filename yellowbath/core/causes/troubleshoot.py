"""What to do next about trouble whose cause is one of several: decision-theoretic troubleshooting.

Heckerman, Breese and Rommelse (1995), "Decision-theoretic troubleshooting", Communications of the
ACM 38(3): with one cause at work, mends that do not disturb one another are tried in the order of
chance over cost, and something is asked first where it is expected to save more than it costs. One
step ahead, as in that paper. No source beyond it: costs are minutes, judged.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellowbath.core.bath.loop import Array


def order(chances: Array, minutes: Array) -> list[int]:
    """Causes in the order in which they are mended: chance over minutes, the highest first."""
    return [int(k) for k in np.argsort(-chances / minutes, kind="stable")]


def expected_minutes(chances: Array, minutes: Array, call: float) -> float:
    """Minutes until it is mended, mends tried in the best order; ``call`` where none of them is it,
    with what is left of the chances [min]."""
    rank = order(chances, minutes)
    p, m = chances[rank], minutes[rank]
    still = np.clip(1 - np.concatenate([[0.0], np.cumsum(p)]), 0.0, 1.0)
    return float(still[:-1] @ m + still[-1] * call)


def after(chances: Array, likelihood: Array) -> Array:
    """Chances (c) once an outcome of this likelihood (c) was met."""
    made = chances * likelihood
    return made / max(float(made.sum()), 1e-300)


def minutes_if_asked(
    chances: Array, minutes: Array, call: float, outcomes: Array, asking: float, rest: Array
) -> float:
    """Minutes until it is mended if something is asked first; ``outcomes`` (c, k): chance of each
    outcome under each cause, ``rest`` (k) under what is no cause of the list."""
    left = max(1 - float(chances.sum()), 0.0)
    whole = np.append(chances, left)
    table = np.vstack([outcomes, rest])
    total = asking
    for k in range(outcomes.shape[1]):
        met = float(whole @ table[:, k])
        if met > 1e-12:
            total += met * expected_minutes(after(whole, table[:, k])[:-1], minutes, call)
    return total


def told(chances: Array, outcomes: Array) -> float:
    """How much is learned of the cause by asking [nats]: entropy that is expected to go."""
    met = chances @ outcomes
    joint = chances[:, None] * outcomes
    with np.errstate(divide="ignore", invalid="ignore"):
        part = joint * np.log(joint / (chances[:, None] * met[None, :]))
    return float(np.nansum(part))


def best(values: Sequence[float]) -> int:
    """The place of the least of some values."""
    return int(np.argmin(np.array(values)))
