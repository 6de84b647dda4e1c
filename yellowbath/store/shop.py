"""The shop's own settings: one row, and its revisions."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import Connection, select
from sqlalchemy.dialects.sqlite import insert

from yellowbath.store.tables import shop
from yellowbath.store.written import keep_revision

NAME = "shop"  # of its revisions


def shop_settings(c: Connection) -> dict[str, Any]:
    settings: dict[str, Any] | None = c.scalar(select(shop.c.settings).where(shop.c.id == 1))
    return settings or {}


def put_shop_settings(c: Connection, number: int, settings: dict[str, Any], now: datetime) -> None:
    keep_revision(c, NAME, number, settings, now)
    query = insert(shop).values(id=1, settings=settings)
    c.execute(query.on_conflict_do_update(index_elements=["id"], set_={"settings": settings}))
