"""Baths whose solved field was doubted: the newest so many."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, delete, select
from sqlalchemy.dialects.sqlite import insert

from yellowbath.store.tables import doubted


def put_doubted(c: Connection, mark: str, at: datetime, case: dict[str, Any], most: int) -> None:
    """Keep a case under its mark, once; the oldest go past ``most``."""
    query = insert(doubted).values(mark=mark, at=at, case=case)
    c.execute(query.on_conflict_do_update(index_elements=["mark"], set_={"at": at, "case": case}))
    kept = select(doubted.c.mark).order_by(doubted.c.at.desc()).limit(most)
    c.execute(delete(doubted).where(doubted.c.mark.not_in(kept)))


def all_doubted(c: Connection) -> Sequence[dict[str, Any]]:
    """Every case, newest first."""
    return list(c.scalars(select(doubted.c.case).order_by(doubted.c.at.desc())))
