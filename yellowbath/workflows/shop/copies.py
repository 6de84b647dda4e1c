"""Copies of a shop, made at the start and once a day while it is served."""

from __future__ import annotations

import logging
import threading
from datetime import UTC, datetime, timedelta
from pathlib import Path

from yellowbath.core.errors import StoreError
from yellowbath.store.care import back_up, backups

DAILY = timedelta(hours=24)
_FRESH = timedelta(hours=20)  # a copy younger than this is not made again at a start
_log = logging.getLogger(__name__)


def copy_if_due(database: Path, now: datetime, after: timedelta = _FRESH) -> Path | None:
    """Copy a shop unless there is a copy younger than ``after``; None where there is."""
    newest = next(iter(backups(database)), None)
    if newest and now.timestamp() - newest.stat().st_mtime < after.total_seconds():
        return None
    return back_up(database, now)


def keep_copies(database: Path) -> threading.Thread:
    """Copy a shop now and every day, in a thread that ends with the process. A disk that takes no
    copy is told in the log and does not stop the shop."""

    def copies() -> None:
        while True:
            try:
                copy_if_due(database, datetime.now(UTC))
            except StoreError as error:
                _log.error("no copy was made: %s", error)
            pause.wait(DAILY.total_seconds() / 24)

    pause = threading.Event()
    thread = threading.Thread(target=copies, name="copies", daemon=True)
    thread.start()
    return thread
