"""When what a line measures becomes an entry of the log: the estimate goes by entries, and a second
more of the same says nothing new.

A stretch of ten seconds is said when it is the first, when the amps have changed, when they began
or ceased, and otherwise now and then. Before a change what stood until then is said too, so that no
straight line is drawn through it; a change that stands is said once more soon after, which tells it
from hands in the liquid. A stretch with a step in it is not said: its mean is what never
flowed. Amps [A], times [ms].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.log import Reading
from yellowbath.core.run.samples import COLDEST
from yellowbath.core.units import MS

COVERS_S = 10
"""Seconds that one entry sums up."""


@dataclass(frozen=True)
class LineHeard:
    """What ten seconds came to on the mean; None for what was not measured or not believed.

    ``swing``: the most of the amps less the least [A].
    """

    start_ms: int
    amps: float | None
    volts: float | None = None
    bath_c: float | None = None
    swing: float = 0.0

    @property
    def steps(self) -> bool:
        """Whether the amps went from one level to another in it, by far more than a flicker."""
        middle = (self.amps or 0.0) + self.swing / 2
        return self.swing > max(
            limit("samples", "say_step") * middle, 2 * limit("samples", "say_amps")
        )

    @property
    def end_ms(self) -> int:
        return self.start_ms + MS * COVERS_S

    def reading(self) -> Reading:
        """As an entry."""
        warm = self.bath_c
        return Reading(
            current_a=_kept(self.amps, 3),
            supply_v=_kept(self.volts, 2),
            bath_c=None if warm is None or not COLDEST <= warm <= 100 else round(warm, 1),
            method="line",
        )


def _kept(value: float | None, digits: int) -> float | None:
    return None if value is None else round(max(value, 0.0), digits)


def to_say(heard: Sequence[LineHeard], said: LineHeard | None) -> list[LineHeard]:
    """Which of some stretches become entries, oldest first; ``said``: the one that did last."""
    out: list[LineHeard] = []
    before: LineHeard | None = None
    moved = _moved(heard, said)
    for h, after in zip_longest(heard, heard[1:]):
        nothing = h.amps is None and h.volts is None and h.bath_c is None
        if nothing or (said is not None and h.start_ms <= said.start_ms):
            continue
        # amps that swing all the time have nothing but their mean; the newest waits for the next
        if h.steps and (after is None or not after.steps):
            continue
        if said is None or _differs(h, said):
            if said is not None and before is not None and before is not said:
                out.append(before)
            out.append(h)
            moved, said = said is not None, h
        elif h.start_ms - said.start_ms >= MS * limit(
            "samples", "say_again_s" if moved else "say_every_s"
        ):
            out.append(h)
            moved, said = False, h
        before = h
    return out


def _moved(heard: Sequence[LineHeard], said: LineHeard | None) -> bool:
    """Whether what was said last was a change from the stretch before it, however soon."""
    if said is None or said.amps is None:
        return False
    earlier = [h.amps for h in heard if h.start_ms < said.start_ms and not h.steps and h.amps]
    return bool(earlier) and _changed(said.amps, earlier[-1])


def _changed(amps: float, was: float) -> bool:
    """By more than a meter errs."""
    return abs(amps - was) > max(limit("samples", "say_share") * was, limit("samples", "say_amps"))


def _differs(h: LineHeard, said: LineHeard) -> bool:
    """Whether amps began, ceased, or are others than they were by more than a meter errs, or the
    bath is warmer or colder than it was said to be; small changes not more often than once in a
    while, or a meter that flickers would fill the log."""
    warm, before = h.bath_c, said.bath_c
    if (
        warm is not None
        and before is not None
        and abs(warm - before) > limit("samples", "say_warm")
    ):
        return True
    if h.amps is None or said.amps is None:
        return h.amps is not said.amps and h.amps is not None
    amps, was, still = h.amps, said.amps, limit("advice", "still_amps")
    if (amps > still) != (was > still):
        return True
    changed = abs(amps - was)
    if not _changed(amps, was):
        return False
    if changed > limit("samples", "say_much") * was:
        return True
    apart = "say_again_s" if changed > limit("samples", "say_step") * was else "say_apart_s"
    return h.start_ms - said.start_ms >= MS * limit("samples", apart)
