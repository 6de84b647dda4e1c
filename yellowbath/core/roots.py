"""Where a function that rises meets a value: the one root finder of the core."""

from __future__ import annotations

from collections.abc import Callable


def invert(rising: Callable[[float], float], target: float, low: float, high: float) -> float:
    """The argument at which a rising function meets a target, to 1e-12 of the range.

    By false position, the end that stays twice losing half its weight (Illinois), with a bisection
    wherever three steps have not halved the range.

    >>> round(invert(lambda x: x * x, 2.0, 0.0, 2.0), 6)
    1.414214
    """
    near, under, over = 1e-12 * (high - low), rising(low) - target, rising(high) - target
    if under >= 0 or over <= 0:
        return low if under >= 0 else high
    at, side, widths = low, 0, [high - low]
    while len(widths) < 100:
        slow = len(widths) > 3 and widths[-1] > widths[-4] / 2
        before = at
        at = (low + high) / 2 if slow else low + (high - low) * under / (under - over)
        off = rising(at) - target
        if off == 0 or abs(at - before) <= near:
            return at
        if off < 0:
            low, under, over = at, off, over / 2 if side < 0 else over
        else:
            high, over, under = at, off, under / 2 if side > 0 else under
        side = -1 if off < 0 else 1
        widths.append(high - low)
    return at
