"""What may switch a bath off by itself: chosen for each run, and each gives its reason.

A machine may lower or switch off; only hands switch on. An interlock judges what is measured alone:
a sample that stands apart trips nothing but is told elsewhere. Amps [A], volts [V], degrees [C].
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.checks.limits import limit
from yellowbath.core.process.samples import MS, Sample
from yellowbath.core.units import System, show
from yellowbath.core.words import word

Which = Literal["touch", "over_amps", "over_warm", "dose"]


WARM = (15.0, 95.0)  # °C that a bath may be held under


class Interlocks(BaseModel):
    """Which of them a run has; None for a limit that was not chosen."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    touch: bool = True
    over_amps_a: float | None = Field(default=None, ge=0.05, le=200)
    over_warm_c: float | None = Field(default=None, ge=WARM[0], le=WARM[1])
    over_warm: str = Field(default="", max_length=24)
    """The same as it was typed, in any unit: read when it is chosen, and kept."""
    dose: bool = False


@dataclass(frozen=True)
class Trip:
    """One that has tripped: which, and its reason in words for the log."""

    which: Which
    reason: str


@dataclass(frozen=True)
class Standing:
    """What a bath is held against: the amps that its plan and readings expect, the supply's limit
    where it holds one, volts without a load; ``share_done`` of the dose."""

    expected_a: float
    limit_a: float = math.inf
    open_v: float = 12.0
    share_done: float = 0.0


def tripped(
    chosen: Interlocks, recent: Sequence[Sample], stand: Standing, system: System = "metric"
) -> Trip | None:
    """The gravest that trips on the newest of the samples (oldest first); None where none does.

    One sample alone never trips: what trips has held for a while (``interlocks`` in checks.toml).
    """
    if not recent:
        return None
    last = recent[-1]

    def held(test: Callable[[Sample], bool]) -> bool:
        first = last.at_ms
        for s in reversed(recent):
            if not test(s):
                break
            first = s.at_ms
        return test(last) and last.at_ms - first >= MS * limit("interlocks", "held_s")

    if chosen.touch and held(lambda s: _touches(s, stand)):
        return Trip("touch", word(
            "interlock.touch", amps=show(last.amps or 0.0, "current"),
            volts=show(last.volts or 0.0, "voltage"),
        ))  # fmt: skip
    most = chosen.over_amps_a
    if most is not None and held(lambda s: s.amps is not None and s.amps > most):
        return Trip("over_amps", word(
            "interlock.over_amps", amps=show(last.amps or 0.0, "current"),
            most=show(most, "current"),
        ))  # fmt: skip
    warm = chosen.over_warm_c
    if warm is not None and held(lambda s: s.bath_c is not None and s.bath_c > warm):
        return Trip("over_warm", word(
            "interlock.over_warm", warm=show(last.bath_c or 0.0, "temperature", system),
            most=show(warm, "temperature", system),
        ))  # fmt: skip
    if chosen.dose and stand.share_done >= 1:
        return Trip("dose", word("interlock.dose"))
    return None


def _touches(s: Sample, stand: Standing) -> bool:
    """Volts that broke down while amps went up: the current goes another way than the bath."""
    if s.amps is None or s.volts is None:
        return False
    low = s.volts < limit("interlocks", "touch_volts") * stand.open_v
    at_limit = s.amps >= limit("interlocks", "touch_limit") * stand.limit_a
    return low and (at_limit or s.amps > limit("interlocks", "touch_amps") * stand.expected_a)
