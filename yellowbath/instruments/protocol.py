"""What a supply or meter on a line can be asked: the least that a bath needs of it.

There is no way to switch on and none to raise a limit: that is for hands; what this line itself
lowered it may give back, never more. Volts [V], amps [A], temperatures [C], times [s].
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol


@dataclass(frozen=True)
class Identity:
    """Who it says it is."""

    maker: str
    model: str
    serial: str
    version: str

    @property
    def name(self) -> str:
        """Maker and model as one would say it."""
        return " ".join(part for part in (self.maker, self.model) if part)


@dataclass(frozen=True)
class Measured:
    """One reading; None for what it does not measure or tell."""

    volts: float | None
    amps: float | None
    bath_c: float | None = None
    output_on: bool | None = None
    limit_a: float | None = None


class Instrument(Protocol):
    """A supply or meter. Every call may raise LinkLostError, BadAnswerError or
    InstrumentRefusedError; after the first the line is opened anew with the next call."""

    def identify(self) -> Identity:
        """Who it is."""

    def read(self) -> Measured:
        """What it measures now."""

    def lower_limit(self, amps: float) -> float:
        """Set the limit of current lower, never higher; what it then stands at [A].

        Raises StepRefusedError for a limit above the one that is set.
        """

    def give_back(self) -> float:
        """Set the limit to what it stood at before this line lowered it last; what it then stands
        at [A]. Raises StepRefusedError where it did not, the line was lost, or hands set it since.
        """

    def off(self) -> None:
        """Switch the output off, and see that it is."""

    def watchdog(self, seconds: float) -> float | None:
        """Have it switch itself off when it is not asked for so long; what it took, or None where
        it has no such thing."""

    def watchdog_off(self) -> bool:
        """Take that off again, before nobody asks any more; whether it was."""

    def close(self) -> None:
        """Let go of the line."""


class Line(Protocol):
    """A line of text to a device and back."""

    def write(self, text: str) -> None:
        """Send one message; raises LinkLostError."""

    def ask(self, text: str) -> str:
        """Send a query and wait for its answer; raises LinkLostError where none comes in time."""

    def drain(self) -> None:
        """Throw away what is still coming: answers to questions that nobody waits for."""

    def close(self) -> None:
        """Let go of it; a line that is asked again opens itself."""
