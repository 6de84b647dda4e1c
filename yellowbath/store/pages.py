"""Long lists page by page: found by words, cut after a row, never by counting from the start."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Generic, TypeVar

from sqlalchemy import ColumnElement, Connection, FromClause, Select, and_, func, or_, select

from yellowbath.core.errors import OutOfRangeError

MOST = 100  # rows of a page
T = TypeVar("T")


@dataclass(frozen=True)
class Wanted:
    """Which rows of a list: those whose title has all the words of ``find``, after the row
    ``after`` names, so many at most."""

    find: str = ""
    after: str = ""
    most: int = 50
    archived: bool = False


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some rows of a list; ``count``: how many there are in all, ``after``: the last of these,
    empty where none come after it."""

    rows: Sequence[T]
    count: int
    after: str

    def __iter__(self) -> Iterator[T]:
        return iter(self.rows)

    def __len__(self) -> int:
        return len(self.rows)


def page_of(rows: Sequence[T], wanted: Wanted, count: int, last: str) -> Page[T]:
    """A page of rows read one more than wanted, so that it is known whether more come."""
    more = len(rows) > wanted.most
    return Page(rows[: wanted.most], count, last if more else "")


def folded(title: str) -> str:
    """A title as it is looked through: small letters in any script."""
    return title[:200].casefold()


def has_words(column: ColumnElement[str], text: str) -> ColumnElement[bool]:
    """Whether every word of a text stands somewhere in a folded title."""
    words = text[:200].casefold().split()
    return and_(True, *(column.contains(w, autoescape=True) for w in words))


def cursor(at: datetime, name: str) -> str:
    """The place after which the next page begins, as one text."""
    return f"{at.isoformat()}~{name}"


def older(at: ColumnElement[Any], name: ColumnElement[str], after: str) -> ColumnElement[bool]:
    """Rows older than the one a cursor names; raises OutOfRangeError for a text that is none."""
    time, found, row = after.partition("~")
    try:
        moment = datetime.fromisoformat(time)
    except ValueError:
        moment = None
    if not found or moment is None or moment.tzinfo is None:
        raise OutOfRangeError(
            "That is no place in this list.", remedy="Begin with its first page again."
        )
    return earlier(at, name, moment, row)


def newest_first(
    c: Connection, query: Select[Any], where: ColumnElement[bool], at: ColumnElement[Any],
    name: ColumnElement[str], wanted: Wanted, among: FromClause | None = None,
) -> tuple[list[tuple[Any, ...]], int, str]:  # fmt: skip
    """Rows of a query by their time, the newest first, one more than wanted; how many there are in
    all, ``among`` the rows of one table or of what joins several, and the place of the last that is
    wanted."""
    query = query.where(where).order_by(at.desc(), name.desc()).limit(wanted.most + 1)
    if wanted.after:
        query = query.where(older(at, name, wanted.after))
    query = query.add_columns(at.label("_at"), name.label("_name"))
    rows: list[tuple[Any, ...]] = [tuple(row) for row in c.execute(query)]
    counted = select(func.count(name)).where(where)
    count = c.scalar(counted if among is None else counted.select_from(among)) or 0
    last = rows[min(len(rows), wanted.most) - 1] if rows else None
    return [row[:-2] for row in rows], count, cursor(last[-2], last[-1]) if last else ""


def earlier(
    at: ColumnElement[Any], name: ColumnElement[Any], moment: datetime, row: object
) -> ColumnElement[bool]:
    """Rows before one by its time and, of one time, its name. Not by a comparison of tuples: the
    driver would write that time in another form than the column's."""
    return or_(at < moment, and_(at == moment, name < row))
