"""What was worked out and does not change, kept a while."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Memo(Generic[T]):
    """So many of the newest used, by key; safe between threads."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._held: OrderedDict[str, T] = OrderedDict()
        self._lock = threading.Lock()

    def peek(self, key: str) -> T | None:
        """What is kept under a key, if anything."""
        with self._lock:
            return self._held.get(key)

    def put(self, key: str, made: T) -> None:
        """Keep it, the newest of all."""
        with self._lock:
            self._held[key] = made
            self._held.move_to_end(key)
            while len(self._held) > self._most:
                self._held.popitem(last=False)

    def get(self, key: str, make: Callable[[], T]) -> T:
        """What is kept under a key, else made; two that ask at once may both make it."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        made = make()
        self.put(key, made)
        return made
