"""Whether the current goes another way than through the bath, by the bath's own circuit.

A sound bath takes the cell's own volts and, at these amps, what its liquid resists. Far fewer volts
at the posts mean that the current has found a metal way: a touch. A share of the volts that the
supply is set to says nothing of it: a supply that holds its current shows few volts on a sound
bath. Volts [V], amps [A], resistances [ohm], times [ms].
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.dangers import BEYOND, Danger, Figures
from yellowbath.core.units import show
from yellowbath.core.words import word


@dataclass
class TouchOhms:
    """What a bath resists by its own samples: of those of some minutes ago, so that a touch of now
    has no part in it. Before there are any, by its plan, with more room."""

    kept: deque[tuple[int, float]] = field(default_factory=lambda: deque(maxlen=400))
    _middle: float | None = None
    _until_ms: int = 0

    def learn(self, at_ms: int, amps: float, volts: float, basis: Basis) -> None:
        """Take in a sample of a bath that is sound."""
        last = self.kept[-1][0] if self.kept else None
        if amps <= limit("interlocks", "touch_least_a"):
            return
        if last is not None and at_ms - last < 1000 * limit("interlocks", "learn_every_s"):
            return
        self.kept.append((at_ms, (volts - floor_v(basis)) / amps))
        while self.kept and at_ms - self.kept[0][0] > 1000 * limit("interlocks", "learn_from_s"):
            self.kept.popleft()

    def forget(self) -> None:
        """Hands were at the bath: it may resist otherwise now."""
        self.kept.clear()
        self._until_ms = 0

    def least_v(self, at_ms: int, amps: float, basis: Basis) -> float:
        """Volts under which it is a touch at these amps [V]."""
        own = self._own(at_ms)
        if own is not None:
            return floor_v(basis) + limit("interlocks", "touch_own") * amps * own
        return floor_v(basis) + limit("interlocks", "touch_plan") * amps * basis.bath_ohm

    def _own(self, at_ms: int) -> float | None:
        """The middle of what is old enough; looked up anew every second or so."""
        if at_ms >= self._until_ms:
            old = at_ms - 1000 * limit("interlocks", "learn_old_s")
            known = sorted(ohm for at, ohm in self.kept if at <= old)
            self._middle = known[len(known) // 2] if known else None
            self._until_ms = at_ms + _LOOK_MS
        return self._middle


_LOOK_MS = 2000  # that a middle is held for; judged


def touch_by_plan(f: Figures, basis: Basis) -> list[Danger]:
    """The same of amps and volts that were read by hand: nothing was learnt of the bath, so by its
    plan, with more room."""
    volts = f.tank_v if f.supply_v is None else f.supply_v
    if not touches(f.amps, volts, TouchOhms(), 0, basis):
        return []
    return [Danger("touch", "amps", f"{touch_says(f.amps, volts)} {word('danger.touch.why')}")]


def touch_says(amps: float | None, volts: float | None) -> str:
    """A touch in words, by the figures that tell of it [A, V]."""
    return word(
        "interlock.touch", amps=show(amps or 0.0, "current"), volts=show(volts or 0.0, "voltage")
    )


def floor_v(basis: Basis) -> float:
    """The cell's own volts, which no sound bath is under while current flows [V]."""
    return limit("interlocks", "touch_eaten_v" if basis.dissolves else "touch_v")


def touches(
    amps: float | None, volts: float | None, ohms: TouchOhms, at_ms: int, basis: Basis
) -> bool:
    """Whether these amps at these volts are a touch."""
    if amps is None or volts is None or amps >= BEYOND:
        return False
    if amps <= limit("interlocks", "touch_least_a"):
        return False
    return volts < ohms.least_v(at_ms, amps, basis)
