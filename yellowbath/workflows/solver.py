"""The solver as a thing of the shop: what it keeps between requests, and whose turn it is.

Handed over as the shop is. Thread-safe; what it keeps is bounded in bytes, oldest use dropped
first, and can be looked at.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

from yellowbath.core.errors import SupersededError

if TYPE_CHECKING:
    from yellowbath.core.field.assembly.assemble import BlockCache
    from yellowbath.core.field.plan_bath import PieceField

CACHE_MB = 256.0
# of what is kept: operators of full solves, those of a hand's, and whole fields
_SHARES = (0.5, 0.3, 0.2)
_ROWS = 200  # rows of requests that are remembered


@dataclass(frozen=True)
class SolverState:
    """What a solver holds [bytes], of how much, how often it could give what it held, and whether
    its kernels are loaded."""

    held_bytes: int
    most_bytes: int
    fields: int
    found: int
    solved: int
    warm: bool
    warming_s: float | None


class Solver:
    """Keeps operators and solved fields, and lets one full solve and one hand's in at a time.

    ``cache_mb``: what it may keep [MB]. A hand has a lock and a store of its own, so that it does
    not wait for a full solve.
    """

    def __init__(self, cache_mb: float = CACHE_MB) -> None:
        self._rooms = [int(share * cache_mb * 1e6) for share in _SHARES]
        self._lock, self._live_lock = threading.Lock(), threading.Lock()
        self._rows_lock = threading.Lock()
        self._newest: OrderedDict[str, int] = OrderedDict()
        self._found = self._solved = 0
        self._began: float | None = None
        self._warm = False

    @cached_property
    def _operators(self) -> BlockCache:
        return _store(self._rooms[0])

    @cached_property
    def _live_operators(self) -> BlockCache:
        return _store(self._rooms[1])

    @cached_property
    def _fields(self) -> BlockCache:
        return _store(self._rooms[2])

    def field(self, key: str, make: Callable[[BlockCache], PieceField]) -> PieceField:
        """The field held under a key, else made with the operators that are kept."""
        with self._lock:
            if self._fields.holds((key,)):
                self._found += 1
            else:
                self._solved += 1
            return self._fields.get((key,), lambda: make(self._operators))

    def held(self, key: str) -> PieceField | None:
        """The field held under a key, if any; nothing is made."""
        with self._lock:
            found: PieceField | None = self._fields.peek((key,))
            return found

    @contextmanager
    def hand(self, drag: Drag | None) -> Iterator[BlockCache]:
        """The operators of what is under a hand, in this one's turn; raises SupersededError where
        a newer request of the row came in meanwhile."""
        with self._live_lock:
            if drag:
                drag.check()
            yield self._live_operators

    def drag(self, by: str, turn: int) -> Drag:
        """One of a row of requests; ``by`` names the row, ``turn`` counts up within it."""
        with self._rows_lock:
            self._newest[by] = max(turn, self._newest.get(by, turn))
            self._newest.move_to_end(by)
            if len(self._newest) > _ROWS:
                self._newest.popitem(last=False)
        return Drag(self, by, turn)

    def newest(self, by: str, turn: int) -> int:
        """The newest turn of a row that came in."""
        return self._newest.get(by, turn)

    @contextmanager
    def warming(self) -> Iterator[None]:
        """While the kernels are loaded or made; warm whichever way it ends."""
        self._began = time.monotonic()
        try:
            yield
        finally:
            self._warm = True

    @property
    def is_warm(self) -> bool:
        """Whether the kernels are loaded, so that a solve takes no longer than it should."""
        return self._warm or self._solved > 0

    @property
    def warming_s(self) -> float | None:
        """Seconds for which it has been getting ready; None before and after."""
        return None if self._warm or self._began is None else time.monotonic() - self._began

    def state(self) -> SolverState:
        """What it holds and how it fares."""
        # only what was used is there: looking makes nothing
        names = ("_operators", "_live_operators", "_fields")
        stores = [self.__dict__[n] for n in names if n in self.__dict__]
        fields = self._fields.count if "_fields" in self.__dict__ else 0
        return SolverState(
            sum(s.held_bytes for s in stores), sum(self._rooms), fields, self._found, self._solved,
            self.is_warm, self.warming_s,
        )  # fmt: skip


class Drag:
    """One of a row of requests of which only the newest is wanted, as while a finger moves."""

    def __init__(self, solver: Solver, by: str, turn: int) -> None:
        self._solver, self._by, self._turn = solver, by, turn

    def check(self) -> None:
        """Raises SupersededError where a newer one of the row has come in."""
        if self._solver.newest(self._by, self._turn) > self._turn:
            raise SupersededError("A newer request took the place of this one.")


def _store(room: int) -> BlockCache:
    # the numerical stack takes a second to import: the page is served first
    from yellowbath.core.field.assembly.assemble import BlockCache

    return BlockCache(room)
