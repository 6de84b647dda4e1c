"""What is shouted of a bath just now: a supply that does not obey, a line that is lost though it
was relied on. It is so as long as it is so, so it lives beside the log, where the danger itself is
written."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field

from yellowbath.core.tell.schedule import Shout


@dataclass
class Shouts:
    """The shouts of a shop, one a run; a supply that does not obey before a line that is lost."""

    _by_run: dict[str, Shout] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def of(self, run_id: str) -> Shout | None:
        with self._lock:
            return self._by_run.get(run_id)

    def say(self, run_id: str, shout: Shout) -> bool:
        """Shout it; whether it was not shouted already."""
        with self._lock:
            had = self._by_run.get(run_id)
            self._by_run[run_id] = shout
            return had != shout

    def end(self, run_id: str, kind: str = "") -> bool:
        """It is over, all of it or of one kind; whether anything was."""
        with self._lock:
            had = self._by_run.get(run_id)
            if had is None or (kind and had.kind != kind):
                return False
            del self._by_run[run_id]
            return True
