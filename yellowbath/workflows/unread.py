"""What is stored and cannot be read here: told row by row, kept as it is, and given away as a file.

A document of a later version, or one that was damaged, does not take the rest of the shop along.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from pydantic import ValidationError
from sqlalchemy import Connection

from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.process.book import BookEntry
from yellowbath.store import kit as kit_store
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as run_store
from yellowbath.store.engine import reading
from yellowbath.workflows.kit import read_thing
from yellowbath.workflows.plans import MARK, as_file, named
from yellowbath.workflows.shop import Shop, system_of


@dataclass(frozen=True)
class Unread:
    """One thing that cannot be read: what it is, what it may be called, and why."""

    kind: Literal["plan", "run", "thing", "page"]
    id: str
    name: str
    why: str


def unread(shop: Shop) -> list[Unread]:
    """Everything stored that cannot be read here."""
    with reading(shop.engine) as c:
        return [*_plans(c), *_runs(c), *_things(c), *_pages(c)]


def stored_run(shop: Shop, run_id: str) -> bytes:
    """The plan that a run runs on, as it is stored."""
    with reading(shop.engine) as c:
        row = run_store.run_row(c, run_id)
        document = plan_store.revision(c, row.plan_id, row.revision).document
    return as_file(document)


def stored_page(shop: Shop, run_id: str) -> bytes:
    """A page of the book, as it is stored."""
    with reading(shop.engine) as c:
        return as_file(run_store.book_entry(c, run_id)[1])


def _plans(c: Connection) -> Iterator[Unread]:
    for listed in plan_store.listed(c, MARK):
        if listed.summary is not None:
            continue  # it was answered when it was kept
        r = plan_store.revision(c, listed.plan_id, listed.number)
        if why := _why_not(r.document):
            yield Unread("plan", r.plan_id, named(r.document), why)


def _runs(c: Connection) -> Iterator[Unread]:
    """Runs that are not over, by the revision that they run on."""
    for row in run_store.open_run_rows(c):
        document = plan_store.revision(c, row.plan_id, row.revision).document
        if why := _why_not(document):
            yield Unread("run", row.id, named(document), why)


def _why_not(document: dict[str, object]) -> str:
    try:
        read_plan(document)
    except YellowBathError as error:
        return str(error)
    return ""


def _things(c: Connection) -> Iterator[Unread]:
    system = system_of(c)
    for row in kit_store.thing_rows(c):
        try:
            read_thing(row.document, system)
        except (YellowBathError, ValidationError) as error:
            yield Unread("thing", row.id, named(row.document), str(error))


def _pages(c: Connection) -> Iterator[Unread]:
    for run_id, _, entry in run_store.book(c):
        try:
            BookEntry.model_validate(entry)
        except ValidationError as error:
            name = entry.get("piece") if isinstance(entry, dict) else None
            first = error.errors()[0]
            where = "/".join(map(str, first["loc"]))
            yield Unread("page", run_id, str(name or ""), f"{where}: {first['msg']}")
