"""Whose turn it is at something that few do at a time: fair between persons, the newest of each
first, and no longer a row than can be served."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from yellowbath.core.errors import CrowdedError

_LOOK_S = 0.05  # how often one who waits looks whether it is still wanted


class Turns:
    """A row before a counter with so many places. Of several of one person the newest is served
    first; of several persons the one who was served longest ago. ``most``: how many may wait in
    all."""

    def __init__(self, most: int, places: int = 1) -> None:
        self._most, self._places = most, places
        self._change = threading.Condition()
        self._waiting: dict[str, list[object]] = {}
        self._served: dict[str, int] = {}
        self._count = 0
        self._busy = 0

    @property
    def waiting(self) -> int:
        """How many wait."""
        with self._change:
            return sum(len(row) for row in self._waiting.values())

    @contextmanager
    def turn(self, person: str, check: Callable[[], None] = lambda: None) -> Iterator[None]:
        """Wait for one's turn and have it.

        ``check`` is asked again and again while waiting, and raises where it is wanted no more.
        Raises CrowdedError where too many wait already.
        """
        self._enter(person, check)
        try:
            yield
        finally:
            with self._change:
                self._busy -= 1
                self._change.notify_all()

    def _enter(self, person: str, check: Callable[[], None]) -> None:
        mine = object()
        with self._change:
            if sum(len(row) for row in self._waiting.values()) >= self._most:
                raise CrowdedError
            self._waiting.setdefault(person, []).append(mine)
            try:
                while self._busy >= self._places or self._next() is not mine:
                    self._change.wait(_LOOK_S)
                    check()
                self._busy += 1
                self._note(person)
            finally:
                self._leave(person, mine)

    def _next(self) -> object:
        """Whose turn it is: the newest of the person who was served longest ago."""
        person = min(self._waiting, key=lambda p: self._served.get(p, -1))
        return self._waiting[person][-1]

    def _note(self, person: str) -> None:
        self._count += 1
        self._served[person] = self._count
        if len(self._served) > 4 * self._most:  # who has long been gone is forgotten
            del self._served[min(self._served, key=lambda p: self._served[p])]

    def _leave(self, person: str, mine: object) -> None:
        row = self._waiting[person]
        row.remove(mine)
        if not row:
            del self._waiting[person]
        self._change.notify_all()
