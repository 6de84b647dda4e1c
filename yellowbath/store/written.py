"""Writes that are known by a key, and what is kept by revision beside plans."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, func, insert, select

from yellowbath.core.errors import NotFoundError
from yellowbath.store.tables import kept_revisions, written


def result_of(c: Connection, key: str) -> tuple[str, str] | None:
    """What was written under a key, as (mark of its content, id of what it made)."""
    t = written
    row = c.execute(select(t.c.mark, t.c.result).where(t.c.key == key)).one_or_none()
    return (row.mark, row.result) if row else None


def put_result(c: Connection, key: str, mark: str, result: str, now: datetime) -> None:
    c.execute(insert(written).values(key=key, mark=mark, result=result, at=now))


def newest_number(c: Connection, of: str) -> int:
    """The newest revision's number; nought where none is kept."""
    t = kept_revisions
    return int(c.scalar(select(func.max(t.c.number)).where(t.c.of == of)) or 0)


def kept_revision(c: Connection, of: str, number: int) -> dict[str, Any]:
    t = kept_revisions
    found: dict[str, Any] | None = c.scalar(
        select(t.c.document).where(t.c.of == of, t.c.number == number)
    )
    if found is None:
        raise NotFoundError(f"There is no revision {number} of it.", remedy="Open it again.")
    return found


def keep_revision(
    c: Connection, of: str, number: int, document: Mapping[str, Any], now: datetime
) -> None:
    c.execute(insert(kept_revisions).values(
        of=of, number=number, document=dict(document), created_at=now
    ))  # fmt: skip
