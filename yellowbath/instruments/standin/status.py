"""The status model of IEEE 488.2 and SCPI: event register, enables, status byte, error queue."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

OPC, QYE, DDE, EXE, CME, PON = 1, 4, 8, 16, 32, 128
_QUEUE = 16
_NONE = (0, "No error")
_OVERFLOW = (-350, "Queue overflow")


def class_of(code: int) -> int:
    """The bit of the event register that an error sets, by the hundred of its number."""
    return {-1: CME, -2: EXE, -3: DDE, -4: QYE}.get(-(-code // 100), DDE)


@dataclass
class Status:
    """What a device remembers of what has happened."""

    events: int = PON
    event_enable: int = 0
    service_enable: int = 0
    questionable: int = 0
    questionable_event: int = 0
    questionable_enable: int = 0
    operation_enable: int = 0
    errors: deque[tuple[int, str]] = field(default_factory=deque)

    def fault(self, code: int, words: str) -> None:
        """An error into the queue; where it is full its last becomes "overflow"."""
        self.events |= class_of(code)
        if len(self.errors) >= _QUEUE:
            self.errors[-1] = _OVERFLOW
        else:
            self.errors.append((code, words))

    def next_error(self) -> str:
        code, words = self.errors.popleft() if self.errors else _NONE
        return f'{code},"{words}"'

    def take_events(self) -> int:
        """The event register, which reading clears."""
        found, self.events = self.events, 0
        return found

    def take_questionable(self) -> int:
        found, self.questionable_event = self.questionable_event, 0
        return found

    def question(self, bit: int, on: bool) -> None:
        """A condition that makes what is measured doubtful."""
        if on and not self.questionable & bit:
            self.questionable_event |= bit
        self.questionable = self.questionable | bit if on else self.questionable & ~bit

    def byte(self, answer_waits: bool) -> int:
        """The status byte; its bit 6 sums up what was enabled."""
        found = 4 if self.errors else 0
        found |= 8 if self.questionable_event & self.questionable_enable else 0
        found |= 16 if answer_waits else 0
        found |= 32 if self.events & self.event_enable else 0
        return found | (64 if found & self.service_enable & ~64 else 0)

    def clear(self) -> None:
        """Event registers and queue; what was enabled stays."""
        self.events = self.questionable_event = 0
        self.errors.clear()
