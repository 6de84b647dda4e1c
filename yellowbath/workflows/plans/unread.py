"""What is stored and cannot be read here: told row by row, kept as it is, and given away as a file.

A document of a later version, or one that was damaged, does not take the rest of the shop along.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Literal

from pydantic import ValidationError
from sqlalchemy import Connection

from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.tell.book import BookEntry
from yellowbath.core.units import System
from yellowbath.store import book as book_store
from yellowbath.store import kit as kit_store
from yellowbath.store import plans as plan_store
from yellowbath.store import readable as store
from yellowbath.store import runs as run_store
from yellowbath.store.engine import reading, writing
from yellowbath.store.pages import MOST
from yellowbath.workflows.plans.kit import read_thing
from yellowbath.workflows.plans.plans import MARK, as_file, named
from yellowbath.workflows.shop.shop import Shop, system_of

Kind = Literal["plan", "run", "thing", "page"]


@dataclass(frozen=True)
class Unread:
    """One thing that cannot be read: what it is, what it may be called, and why."""

    kind: Kind
    id: str
    name: str
    why: str


def unread(shop: Shop) -> list[Unread]:
    """What of the shop this version cannot read, as far as it has been through it."""
    examine(shop, _PATIENCE_S)
    with reading(shop.engine) as c:
        found = store.not_readable(c, MARK, MOST)
        kinds = {str(k): k for k in _READ}
        return [Unread(kinds[k], i, _name(c, k, i), why) for k, i, why in found]


def examine(shop: Shop, patience_s: float = math.inf) -> None:
    """Read what this version has not read yet, for as long as there is patience, and keep what was
    found."""
    until = time.monotonic() + patience_s
    for kind, read in _READ.items():
        while time.monotonic() < until:
            with reading(shop.engine) as c:
                system = system_of(c)
                rows = store.unexamined(c, kind, MARK, _AT_ONCE)
                found = {row: _why_not(partial(read, c, row, system)) for row in rows}
            if not found:
                break
            with writing(shop.engine) as c:
                store.put_found(c, kind, found, MARK)
            if math.isinf(patience_s):
                time.sleep(_REST_S)  # the served page comes first


_PATIENCE_S = 0.03  # of a page; the rest is read beside the served page
_AT_ONCE = 20
_REST_S = 0.05


def stored_run(shop: Shop, run_id: str) -> bytes:
    """The plan that a run runs on, as it is stored."""
    with reading(shop.engine) as c:
        row = run_store.run_row(c, run_id)
        document = plan_store.revision(c, row.plan_id, row.revision).document
    return as_file(document)


def stored_page(shop: Shop, page: str) -> bytes:
    """A page of the book, as it is stored."""
    with reading(shop.engine) as c:
        return as_file(book_store.book_entry(c, page)[1])


def _plan(c: Connection, plan_id: str, _: System) -> object:
    return read_plan(plan_store.revision(c, plan_id).document)


def _run(c: Connection, run_id: str, _: System) -> object:
    """A run by the revision that it runs on."""
    row = run_store.run_row(c, run_id)
    return read_plan(plan_store.revision(c, row.plan_id, row.revision).document)


def _thing(c: Connection, thing_id: str, system: System) -> object:
    return read_thing(kit_store.thing_row(c, thing_id).document, system)


def _page(c: Connection, page: str, _: System) -> object:
    return BookEntry.model_validate(book_store.book_entry(c, page)[1])


_READ: Mapping[Kind, Callable[[Connection, str, System], object]] = {
    "plan": _plan, "run": _run, "thing": _thing, "page": _page
}  # fmt: skip


def _why_not(read: Callable[[], object]) -> str:
    """Why a row cannot be read; empty where it can."""
    try:
        read()
    except YellowBathError as error:
        return str(error)
    except ValidationError as error:
        first = error.errors()[0]
        return f"{'/'.join(map(str, first['loc']))}: {first['msg']}"
    return ""


def _name(c: Connection, kind: str, row: str) -> str:
    """What it calls itself, as far as that can be told."""
    if kind == "page":
        entry = book_store.book_entry(c, row)[1]
        return str(entry.get("piece") or "") if isinstance(entry, dict) else ""
    if kind == "thing":
        return named(kit_store.thing_row(c, row).document)
    of = run_store.run_row(c, row) if kind == "run" else None
    plan = plan_store.revision(c, of.plan_id if of else row, of.revision if of else None)
    return named(plan.document)
