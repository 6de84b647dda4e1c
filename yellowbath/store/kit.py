"""The shop's own things, and the log of what happened to each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, insert, select, update

from yellowbath.core.errors import NotFoundError
from yellowbath.store.tables import kit, kit_log


@dataclass(frozen=True)
class ThingRow:
    """A thing's own row; its log says the rest."""

    id: str
    created_at: datetime
    retired: bool
    document: dict[str, Any]


def add_thing(c: Connection, thing_id: str, document: Mapping[str, Any], now: datetime) -> None:
    c.execute(
        insert(kit).values(id=thing_id, created_at=now, retired=False, document=dict(document))
    )


def put_thing(c: Connection, thing_id: str, document: Mapping[str, Any]) -> None:
    c.execute(update(kit).where(kit.c.id == thing_id).values(document=dict(document)))


def retire(c: Connection, thing_id: str, gone: bool) -> None:
    c.execute(update(kit).where(kit.c.id == thing_id).values(retired=gone))


def thing_row(c: Connection, thing_id: str) -> ThingRow:
    row = c.execute(select(kit).where(kit.c.id == thing_id)).one_or_none()
    if row is None:
        raise NotFoundError("There is no such thing in the kit.", remedy="Open the kit again.")
    return ThingRow(*row)


def has_thing(c: Connection, thing_id: str) -> bool:
    return c.scalar(select(kit.c.id).where(kit.c.id == thing_id)) is not None


def thing_rows(c: Connection) -> Sequence[ThingRow]:
    """All things that were not put away, oldest first."""
    query = select(kit).where(~kit.c.retired).order_by(kit.c.created_at, kit.c.id)
    return [ThingRow(*row) for row in c.execute(query)]


def kit_logs(c: Connection) -> Mapping[str, list[dict[str, Any]]]:
    """Every thing's log, in the order of writing."""
    out: dict[str, list[dict[str, Any]]] = {}
    for row in c.execute(select(kit_log).order_by(kit_log.c.id)):
        out.setdefault(row.thing_id, []).append(row.event)
    return out


def append_event(c: Connection, thing_id: str, key: str, event: Mapping[str, Any]) -> bool:
    """Write an event once; false where one of this key is there already."""
    t = kit_log
    there = c.scalar(select(t.c.id).where(t.c.thing_id == thing_id, t.c.key == key))
    if there is not None:
        return False
    c.execute(insert(t).values(thing_id=thing_id, key=key, event=dict(event)))
    return True
