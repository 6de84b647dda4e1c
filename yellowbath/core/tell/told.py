"""What became of one's look: what was thought before it, and what it did to the hours."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np

from yellowbath.core.dose import Need
from yellowbath.core.hours.cloud import far_off
from yellowbath.core.hours.said import left_said, nothing_left
from yellowbath.core.run.ahead import Three
from yellowbath.core.run.belief import clean_in_sight, seen_share, shares_in
from yellowbath.core.run.believed import believed
from yellowbath.core.run.progress import left_of
from yellowbath.core.run.run import Run
from yellowbath.core.units import System
from yellowbath.core.words import small, word

_IN_HANDS = ("lifted", "clean")
_ROUND = 0.05  # shares as people say them


@dataclass(frozen=True)
class LookTold:
    """The newest look in a sentence or two, while what it was at is still in hands; empty where
    there was none, or none with shares; ``far``: so far from what was thought that it is asked
    about, once."""

    text: str = ""
    far: bool = False


def look_told(run: Run, need: Need, now: datetime, system: System, after: Three | None) -> LookTold:
    """What becomes of the newest look.

    What was thought of the share beforehand is its middle eight tenths, by all that was known
    without this look; ``after``: powered seconds still wanted, with it.
    """
    if not run.inspections:
        return LookTold()
    _, look = run.inspections[-1]
    stands = run.apart.get(look.piece) if look.piece else run.whole
    if not look.shares or not run.stretches or stands is None or stands.state not in _IN_HANDS:
        return LookTold()
    without = replace(
        run, inspections=run.inspections[:-1], looked=run.looked[:-1], unseen=run.unseen[:-1]
    )
    low, high, far = _thought(run, without, need, now)
    seen = seen_share(run, look.shares)
    key = "told.look" if _percent(low) < _percent(high) else "told.look_one"
    said = [word(key, seen=_percent(seen), low=_percent(low), high=_percent(high))]
    said.append(word(
        "told.more" if seen > high + _ROUND else "told.less" if seen < low - _ROUND
        else "told.as_thought"
    ))  # fmt: skip
    before = left_of(without, need, now, look.piece)
    if look.piece:  # of one by itself: its own hours
        after = left_of(run, need, now, look.piece)
    if after is not None and nothing_left(after):
        said.append(word("told.done"))
    elif before is not None and after is not None and after[1] > 0:
        said.append(
            word("told.hours", before=left_said(before, system), after=left_said(after, system))
        )
    text = " ".join(said)
    if look.piece:
        text = f"{run.stretches[-1].basis.pieces.get(look.piece, look.piece)}: {small(text)}"
    return LookTold(text, far)


def _thought(run: Run, without: Run, need: Need, now: datetime) -> tuple[float, float, bool]:
    """What was thought of the share that the newest look told [-], its middle eight tenths, of
    several pieces by their area; and whether that is so far off that it is asked about."""
    at, look = run.inspections[-1]
    lows, highs, far, total = 0.0, 0.0, False, 0.0
    for b in believed(without, need, now, look.piece):
        mine = shares_in(run, look, b.piece)
        if not mine:
            continue
        clean = np.maximum(clean_in_sight(run, b.cloud, at, mine), 1e-6)
        low, high = b.cloud.quantiles(clean, (0.1, 0.9))
        lows, highs, total = lows + b.area * low, highs + b.area * high, total + b.area
        far = far or (not look.sure and far_off(b.cloud, clean, seen_share(run, mine)))
    return (lows / total, highs / total, far) if total > 0 else (0.0, 1.0, False)


def _percent(share: float) -> int:
    return round(100 * round(share / _ROUND) * _ROUND)
