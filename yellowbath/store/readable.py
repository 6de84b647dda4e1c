"""What a version found when it read a row: whether it can, or why not."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlalchemy import Connection, Table, select
from sqlalchemy.dialects.sqlite import insert

from yellowbath.store.tables import book_entries, kit, plans, readable, runs

# kind: the table, and what names a row of it
_ROWS: Mapping[str, tuple[Table, str]] = {
    "plan": (plans, "id"), "run": (runs, "id"), "thing": (kit, "id"),
    "page": (book_entries, "page"),
}  # fmt: skip


def unexamined(c: Connection, kind: str, mark: str, most: int) -> Sequence[str]:
    """Rows of a kind that this version has not read yet."""
    table, name = _ROWS[kind]
    seen = (readable.c.kind == kind) & (readable.c.id == table.c[name]) & (readable.c.mark == mark)
    query = select(table.c[name]).outerjoin(readable, seen).where(readable.c.id.is_(None))
    if kind == "run":
        query = query.where(runs.c.over_at.is_(None))  # what is over has its page
    return [str(i) for i in c.scalars(query.order_by(table.c[name].desc()).limit(most))]


def put_found(c: Connection, kind: str, found: Mapping[str, str], mark: str) -> None:
    """Keep why rows cannot be read, empty for those that can."""
    rows = [{"kind": kind, "id": i, "mark": mark, "why": why} for i, why in found.items()]
    if rows:
        query = insert(readable)
        told = {"mark": query.excluded.mark, "why": query.excluded.why}
        c.execute(query.on_conflict_do_update(index_elements=["kind", "id"], set_=told), rows)


def forget_found(c: Connection, kind: str, name: str) -> None:
    """A row was written anew: it is to be read again."""
    c.execute(readable.delete().where(readable.c.kind == kind, readable.c.id == name))


def not_readable(c: Connection, mark: str, most: int) -> Sequence[tuple[str, str, str]]:
    """(kind, id, why) of what this version cannot read."""
    t = readable
    query = select(t.c.kind, t.c.id, t.c.why).where(t.c.mark == mark, t.c.why != "")
    return [tuple(row) for row in c.execute(query.order_by(t.c.kind, t.c.id).limit(most))]
