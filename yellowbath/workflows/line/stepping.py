"""A bath is asked by a step: its supply goes down for seconds, is read, and goes back.

Asked for by a person who stands by, each time. Never above what was set before; where the line is
lost meanwhile, it stays down.
"""

from __future__ import annotations

import statistics
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.bath.draws import law
from yellowbath.core.bath.levels import AtLevel
from yellowbath.core.errors import StepRefusedError
from yellowbath.core.words import word
from yellowbath.instruments.protocol import Instrument, Measured


@dataclass(frozen=True)
class LineStep:
    """How a step went: the two levels where both were read, and whether it went back; ``why`` not,
    in words."""

    state: Literal["asked", "done", "refused", "lost"]
    high: AtLevel | None = None
    low: AtLevel | None = None
    why: str = ""


ASKED = LineStep("asked")
Look = Callable[[], Measured | None]


def step_down(instrument: Instrument, look: Look, wait: Callable[[float], object]) -> LineStep:
    """Down and back. ``look`` reads once, judges what it read, and gives None where the bath has
    been switched off; ``wait`` waits so many seconds.

    Raises InstrumentError where the line is lost: then it stays down.
    """
    first = _reads(look, wait)
    if not first or (before := first[-1].limit_a) is None or not _flows(first):
        return LineStep("refused", why=word("levels.not_now"))
    high = _mean(first)
    try:
        instrument.lower_limit(law("step_to") * high.amps)
    except StepRefusedError:
        return LineStep("refused", why=word("levels.not_now"))
    wait(law("step_settles_s"))
    second = _reads(look, wait)
    if not second:  # switched off meanwhile: it stays down
        return LineStep("lost", why=word("levels.stays", before=f"{before:g} A"))
    low = _mean(second)
    try:
        back = instrument.give_back() >= before - law("step_back_a")
    except StepRefusedError:  # hands have set it meanwhile
        back = False
    if not back:
        return LineStep("lost", high, low, word("levels.stays", before=f"{before:g} A"))
    return LineStep("done", high, low)


def lost() -> LineStep:
    """The line went while it was down."""
    return LineStep("lost", why=word("levels.lost"))


def _reads(look: Look, wait: Callable[[float], object]) -> list[Measured]:
    made = list[Measured]()
    for _ in range(int(law("step_reads"))):
        read = look()
        if read is None:
            return []
        made.append(read)
        wait(law("step_apart_s"))
    return made


def _flows(reads: Sequence[Measured]) -> bool:
    return all((r.amps or 0) > law("step_least_a") and r.volts is not None for r in reads)


def _mean(reads: Sequence[Measured]) -> AtLevel:
    return AtLevel(
        statistics.fmean(r.volts or 0.0 for r in reads),
        statistics.fmean(r.amps or 0.0 for r in reads),
    )
