"""The shop's own settings: one row."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Connection, select
from sqlalchemy.dialects.sqlite import insert

from yellowbath.store.tables import shop


def shop_settings(c: Connection) -> dict[str, Any]:
    settings: dict[str, Any] | None = c.scalar(select(shop.c.settings).where(shop.c.id == 1))
    return settings or {}


def put_shop_settings(c: Connection, settings: dict[str, Any]) -> None:
    query = insert(shop).values(id=1, settings=settings)
    c.execute(query.on_conflict_do_update(index_elements=["id"], set_={"settings": settings}))
