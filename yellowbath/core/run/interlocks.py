"""What may switch a bath off by itself, and what is a danger whatever was chosen.

A machine may lower or switch off; only hands switch on. Every sample is judged as it came: what is
set apart from means is not set apart from danger. What was chosen for a run trips it; any other
danger is said. Amps [A], volts [V], degrees [C].
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.dangers import Danger, Figures, judge
from yellowbath.core.run.samples import Sample, Why
from yellowbath.core.run.touch import TouchOhms, touch_says, touches
from yellowbath.core.units import MS, System, show
from yellowbath.core.words import word

Which = Literal["touch", "over_amps", "over_warm", "dose", "danger"]


WARM = (15.0, 95.0)  # °C that a bath may be held under


class Interlocks(BaseModel):
    """Which of them a run has; None for a limit that was not chosen. ``danger``: whatever else
    would be a danger if a person had read it."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    touch: bool = True
    danger: bool = True
    over_amps_a: float | None = Field(default=None, ge=0.05, le=200)
    over_warm_c: float | None = Field(default=None, ge=WARM[0], le=WARM[1])
    over_warm: str = Field(default="", max_length=24)
    """The same as it was typed, in any unit: read when it is chosen, and kept."""
    dose: bool = False

    @property
    def relied_on(self) -> bool:
        """Whether anything at all is left to them."""
        limits = (self.over_amps_a, self.over_warm_c)
        return self.touch or self.danger or self.dose or any(m is not None for m in limits)


@dataclass(frozen=True)
class Trip:
    """What a stream tells: which interlock it is for, the danger, in words for the log; ``acts``:
    whether it was chosen that this switches off. The dose has no danger."""

    which: Which
    danger: Danger | None
    reason: str
    acts: bool


@dataclass(frozen=True)
class GuardStanding:
    """What a bath is held against: what it runs under, the share of its dose that it has had, and
    when hands were last at it [ms]."""

    basis: Basis
    share_done: float = 0.0
    hands_ms: int = 0


@dataclass
class Guard:
    """One stream of samples, judged as they come. One sample alone never trips: what trips has held
    for a while (``interlocks`` in checks.toml)."""

    since: dict[str, int] = field(default_factory=dict)
    ohms: TouchOhms = field(default_factory=TouchOhms)
    hands_ms: int = 0
    last_ms: int = 0

    def judge(
        self,
        s: Sample,
        why: Why,
        stand: GuardStanding,
        chosen: Interlocks,
        system: System = "metric",
    ) -> Trip | None:
        """What the newest sample comes to after those before it, the gravest; None for nothing.
        ``why`` it stands apart from means, if it does."""
        if stand.hands_ms != self.hands_ms:
            self.ohms.forget()
            self.hands_ms = stand.hands_ms
        if s.at_ms - self.last_ms > MS * limit("interlocks", "gap_s"):
            self.since.clear()
        self.last_ms = s.at_ms
        known = {t.reason_key: t for t in _told(s, why, stand, chosen, system, self.ohms)}
        measured = {"amps": s.amps, "supply_v": s.volts, "bath": s.bath_c}
        for key in list(self.since):
            by = key.partition(" ")[2]
            if key not in known and (by not in measured or measured[by] is not None):
                del self.since[key]
        held = []
        for key, one in known.items():
            first = self.since.setdefault(key, s.at_ms)
            wait = limit("interlocks", "held_leap_s" if one.leapt else "held_s")
            if s.at_ms - first >= MS * wait:
                held.append(one.trip)
        touched = any(key.startswith("touch ") for key in known)
        if s.amps is not None and s.volts is not None and not why and not touched:
            self.ohms.learn(s.at_ms, s.amps, s.volts, stand.basis)
        if held:
            return min(held, key=lambda t: (not t.acts, not (t.danger and t.danger.grave)))
        if chosen.dose and stand.share_done >= 1:
            return Trip("dose", None, word("interlock.dose"), True)
        return None


@dataclass(frozen=True)
class _Told:
    """A trip that one sample would make, and by what it is known from one sample to the next.
    ``leapt``: of a warmth that no water can have come to, which is given longer."""

    trip: Trip
    leapt: bool = False

    @property
    def reason_key(self) -> str:
        found = self.trip.danger
        assert found is not None
        return f"{found.key} {found.by}"


def _told(
    s: Sample, why: Why, stand: GuardStanding, chosen: Interlocks, system: System, ohms: TouchOhms
) -> Iterator[_Told]:
    basis = stand.basis
    if touches(s.amps, s.volts, ohms, s.at_ms, basis):
        said = touch_says(s.amps, s.volts)
        yield _Told(Trip("touch", Danger("touch", "leads", said), said, chosen.touch))
    leapt = why in ("leapt", "impossible")
    for d in judge(Figures(s.amps, s.volts, None, s.bath_c), basis, system):
        yield _Told(
            Trip("danger", d, f"{d.title}: {d.why}", chosen.danger and d.grave),
            leapt and d.by == "bath",
        )
    most, warm = chosen.over_amps_a, chosen.over_warm_c
    if most is not None and s.amps is not None and abs(s.amps) > most:
        said = word("interlock.over_amps", amps=show(abs(s.amps), "current"),
                    most=show(most, "current"))  # fmt: skip
        yield _Told(Trip("over_amps", Danger("over_amps", "amps", said), said, True))
    if warm is not None and s.bath_c is not None and s.bath_c > warm:
        said = word("interlock.over_warm", warm=show(s.bath_c, "temperature", system),
                    most=show(warm, "temperature", system))  # fmt: skip
        yield _Told(Trip("over_warm", Danger("over_warm", "bath", said), said, True), leapt)
    if why == "frozen":
        said = word("danger.frozen.why")
        yield _Told(Trip("danger", Danger("frozen", "meter", said), said, False))
