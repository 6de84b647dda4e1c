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

    def get(self, key: str, make: Callable[[], T]) -> T:
        """What is kept under a key, else made; two that ask at once may both make it."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        made = make()
        with self._lock:
            self._held[key] = made
            while len(self._held) > self._most:
                self._held.popitem(last=False)
        return made
