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
from yellowbath.workflows.shop.memory import give_back
from yellowbath.workflows.shop.turns import Turns

if TYPE_CHECKING:
    from yellowbath.core.field.assembly.assemble import BlockCache
    from yellowbath.core.field.plan_bath import PieceField

CACHE_MB = 128.0
# of what is kept: operators of full solves, those of a hand's, and whole fields
_SHARES = (0.5, 0.3, 0.2)
_ROWS = 200  # rows of requests that are remembered
_HANDS = 2  # at once: one is answered while another is solved
_WAITING = 60  # that may wait at once for a solve, and for a hand's


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


@dataclass(frozen=True)
class OnMesh:
    """Which mesh of how many that are known to be needed by now; ``what`` is solved on it: a key of
    the words under ``solving``."""

    mesh: int
    of: int
    what: str


class Solver:
    """Keeps operators and solved fields, and lets one full solve and two hands in at a time, fair
    between those who ask.

    ``cache_mb``: what it may keep [MB]. A hand has a row and a store of its own, so that it does
    not wait for a full solve.
    """

    def __init__(self, cache_mb: float = CACHE_MB) -> None:
        self._rooms = [int(share * cache_mb * 1e6) for share in _SHARES]
        self._turns, self._live_turns = Turns(_WAITING), Turns(_WAITING, _HANDS)
        self._live_lock = threading.Lock()
        self._fields_lock, self._rows_lock = threading.Lock(), threading.Lock()
        self._newest: OrderedDict[str, int] = OrderedDict()
        self._doing: dict[str, OnMesh] = {}
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

    def field(
        self, key: str, make: Callable[[BlockCache], PieceField], drag: Drag | None = None
    ) -> PieceField:
        """The field held under a key, else made with the operators that are kept, in this one's
        turn. Raises SupersededError where a newer request of the row came in meanwhile,
        CrowdedError where too many wait."""
        found = self.held(key)
        if found is None:
            with self._turns.turn(*_asks(drag)):
                found = self.held(key)  # made while this one waited
                if found is None:
                    found = make(self._operators)
                    give_back()  # what it took besides what is kept of it
                    with self._fields_lock:
                        self._solved += 1
                        self._fields.put((key,), found)
                    return found
        with self._fields_lock:
            self._found += 1
        return found

    def held(self, key: str) -> PieceField | None:
        """The field held under a key, if any; nothing is made, and no solve is waited for."""
        with self._fields_lock:
            found: PieceField | None = self._fields.peek((key,))
            if found is not None:
                self._fields.get((key,), lambda: found)  # the newest used by now
            return found

    @contextmanager
    def hand(self, drag: Drag | None) -> Iterator[None]:
        """This one's turn at what is under a hand; raises SupersededError where a newer request of
        the row came in meanwhile, CrowdedError where too many wait."""
        with self._live_turns.turn(*_asks(drag)):
            if drag:
                drag.check()
            yield

    @contextmanager
    def operators(self) -> Iterator[BlockCache]:
        """What is kept of what is under a hand, for one at a time."""
        with self._live_lock:
            yield self._live_operators

    def drag(self, by: str, turn: int) -> Drag:
        """One of a row of requests; ``by`` names the row, ``turn`` counts up within it."""
        with self._rows_lock:
            self._newest[by] = max(turn, self._newest.get(by, turn))
            self._newest.move_to_end(by)
            if len(self._newest) > _ROWS:
                self._doing.pop(self._newest.popitem(last=False)[0], None)
        return Drag(self, by, turn)

    def newest(self, by: str, turn: int) -> int:
        """The newest turn of a row that came in."""
        return self._newest.get(by, turn)

    def stop(self, by: str) -> None:
        """Nobody waits any more for what a row asked for last: it ends before its next mesh."""
        with self._rows_lock:
            self._doing.pop(by, None)
            if by in self._newest:
                self._newest[by] += 1

    def doing(self, by: str) -> OnMesh | None:
        """What is being solved for a row, if anything."""
        with self._rows_lock:
            return self._doing.get(by)

    def tell(self, by: str, doing: OnMesh | None) -> None:
        """What is being solved for a row from now on."""
        with self._rows_lock:
            if doing is None:
                self._doing.pop(by, None)
            elif by in self._newest:
                self._doing[by] = doing

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
        self._done = self._known = 0
        self._what = ""

    @property
    def person(self) -> str:
        """Who asks: the page that the row is of."""
        return self._by.rpartition(" ")[2]

    def done(self) -> None:
        """All its meshes are solved, or given up."""
        if not self._late:
            self._solver.tell(self._by, None)

    def expect(self, what: str) -> None:
        """Two more meshes are wanted, for what."""
        self._what, self._known = what, self._done + 2

    def mesh(self) -> None:
        """The next mesh is begun, unless a newer one of the row has come in."""
        self.check()
        self._done += 1
        known = max(self._known, self._done)
        self._solver.tell(self._by, OnMesh(self._done, known, self._what))

    @property
    def _late(self) -> bool:
        return self._solver.newest(self._by, self._turn) > self._turn

    def check(self) -> None:
        """Raises SupersededError where a newer one of the row has come in."""
        if self._late:
            raise SupersededError("A newer request took the place of this one.")


@contextmanager
def course(drag: Drag | None) -> Iterator[None]:
    """While the meshes of a request are solved: what is told of them ends with it."""
    try:
        yield
    finally:
        if drag:
            drag.done()


def expect(drag: Drag | None, what: str) -> None:
    """The next two meshes of a request are of this."""
    if drag:
        drag.expect(what)


def _asks(drag: Drag | None) -> tuple[str, Callable[[], None]]:
    """Who asks, and what says whether it is still wanted."""
    return (drag.person, drag.check) if drag else ("", lambda: None)


def _store(room: int) -> BlockCache:
    # the numerical stack takes a second to import: the page is served first
    from yellowbath.core.field.assembly.assemble import BlockCache

    return BlockCache(room)
