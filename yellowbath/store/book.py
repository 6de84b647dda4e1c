"""Queries on the book: its pages, and runs that were given up without one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, and_, func, insert, select

from yellowbath.core.errors import NotFoundError
from yellowbath.store.pages import Page, Wanted, has_words, newest_first, page_of
from yellowbath.store.tables import book_entries, runs


@dataclass(frozen=True)
class OverRow:
    """A page of the book, of a run or of a piece that was finished by itself; or a run that was
    given up, without one."""

    run_id: str
    plan_id: str
    title: str
    state: str
    over_at: datetime
    page: str | None
    entry: dict[str, Any] | None


def over(c: Connection, wanted: Wanted) -> Page[OverRow]:
    """Pages of the book and runs that were given up, newest first."""
    r, b = runs, book_entries
    both = r.outerjoin(b, b.c.run_id == r.c.id)
    at = func.coalesce(b.c.closed_at, r.c.over_at, type_=r.c.over_at.type)
    where = and_(r.c.archived == wanted.archived, at.is_not(None),
                 has_words(r.c.sought, wanted.find))  # fmt: skip
    query = select(r.c.id, r.c.plan_id, r.c.title, r.c.state, at, b.c.page, b.c.entry)
    name = func.coalesce(b.c.page, r.c.id)
    rows, count, last = newest_first(c, query.select_from(both), where, at, name, wanted, both)
    return page_of([OverRow(*row) for row in rows], wanted, count, last)


def page_name(run_id: str, piece: str) -> str:
    """What a page of the book is known by: its run, and the piece that it is of by itself."""
    return f"{run_id}.{piece}" if piece else run_id


def add_book_entry(
    c: Connection, run_id: str, piece: str, entry: dict[str, Any], closed_at: datetime
) -> None:
    page = page_name(run_id, piece)
    made = insert(book_entries).values(page=page, run_id=run_id, closed_at=closed_at, entry=entry)
    c.execute(made)


def book_entry(c: Connection, page: str) -> tuple[datetime, dict[str, Any]]:
    t = book_entries
    row = c.execute(select(t).where(t.c.page == page)).one_or_none()
    if row is None:
        raise NotFoundError("This is not in the book yet.", remedy="Close its run first.")
    return row.closed_at, row.entry
