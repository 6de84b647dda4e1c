"""A write that is sent twice is made once: known by the key that its sender made up."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from datetime import datetime
from typing import Any

from sqlalchemy import Connection

from yellowbath.core.errors import KnownKeyError
from yellowbath.store import written as store


def once(
    c: Connection, key: str, what: str, content: Any, now: datetime, make: Callable[[], str]
) -> str:
    """The id of what ``make`` writes, or wrote when the same came under this key before.

    In one transaction with the write. Without a key it is made anew each time. Raises
    KnownKeyError where something else was written under the key.
    """
    if not key:
        return make()
    mark = _mark(what, content)
    known = store.result_of(c, key)
    if known is not None:
        if known[0] != mark:
            raise KnownKeyError
        return known[1]
    made = make()
    store.put_result(c, key, mark, made, now)
    return made


def made_before(c: Connection, key: str, what: str, content: Any) -> str | None:
    """What was made under a key before, so that nothing has to be worked out for it again."""
    known = store.result_of(c, key) if key else None
    if known is None:
        return None
    if known[0] != _mark(what, content):
        raise KnownKeyError
    return known[1]


def _mark(what: str, content: Any) -> str:
    text = json.dumps([what, content], sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()
