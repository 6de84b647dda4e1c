"""What became of one's look: what was thought before it, and what it did to the hours."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import numpy as np

from yellowbath.core.dose import Need
from yellowbath.core.process.belief import believe, clean_in_sight
from yellowbath.core.process.progress import Three, left_s
from yellowbath.core.process.run import Run
from yellowbath.core.units import System, show
from yellowbath.core.words import word

_ROUND = 0.05  # shares as people say them


def look_told(run: Run, need: Need, now: datetime, system: System, after: Three | None) -> str:
    """The newest look in a sentence or two; empty where there was none, or none with shares.

    What was thought of the share beforehand is its middle eight tenths, by all that was known
    without this look; ``after``: powered seconds still wanted, with it.
    """
    if not run.inspections:
        return ""
    at, look = run.inspections[-1]
    if not look.shares or not run.stretches:
        return ""
    without = replace(run, inspections=run.inspections[:-1], looked=run.looked[:-1])
    cloud = believe(without, need)
    clean = np.maximum(clean_in_sight(run, cloud, at, look.shares), 1e-6)
    low, high = cloud.quantiles(clean, (0.1, 0.9))
    seen = sum(look.shares.values()) / len(look.shares)
    said = [word("told.look", seen=_percent(seen), low=_percent(low), high=_percent(high))]
    said.append(word(
        "told.more" if seen > high + _ROUND else "told.less" if seen < low - _ROUND
        else "told.as_thought"
    ))  # fmt: skip
    before = left_s(without, cloud, now)
    if before is not None and after is not None and after[1] > 0:
        said.append(word("told.hours", before=_span(before, system), after=_span(after, system)))
    return " ".join(said)


def _span(left_s: tuple[float, float, float], system: System) -> str:
    """From the early edge to the late one, in the unit of the late."""
    early = left_s[0] if left_s[0] > 0.05 * left_s[2] else 0.0
    low, high = (show(s, "time", system, 2, like=left_s[2]) for s in (early, left_s[2]))
    return f"{low.text} to {high}"


def _percent(share: float) -> int:
    return round(100 * round(share / _ROUND) * _ROUND)
