"""The book: runs that are over, what was planned in them against what happened."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pydantic import ValidationError

from yellowbath.core.errors import InvalidDocumentError, StepRefusedError
from yellowbath.core.tell.book import BookEntry
from yellowbath.store import book as book_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.pages import MOST, Page, Wanted
from yellowbath.workflows.shop.shop import Shop


@dataclass(frozen=True)
class Over:
    """A page of the book, of a run or of a ``piece`` that was finished by itself; or a run that was
    given up, without one."""

    run_id: str
    piece: str
    plan_id: str
    title: str
    state: str
    over_at: datetime
    entry: BookEntry | None


def book(shop: Shop, wanted: Wanted | None = None) -> Page[Over]:
    """What is over, newest first; pages that cannot be read ``unread`` lists."""
    with reading(shop.engine) as c:
        page = book_store.over(c, wanted or Wanted(most=MOST))
    out = []
    for r in page.rows:
        try:
            entry = None if r.entry is None else BookEntry.model_validate(r.entry)
        except ValidationError:
            continue  # its own page says what is wrong with it
        piece = (r.page or "").removeprefix(r.run_id).removeprefix(".")
        out.append(Over(r.run_id, piece, r.plan_id, r.title, r.state, r.over_at, entry))
    return Page(out, page.count, page.after)


def book_page(shop: Shop, run_id: str, piece: str = "") -> tuple[datetime, BookEntry]:
    """One entry of the book: of a run, or of one piece of it by itself."""
    with reading(shop.engine) as c:
        closed, entry = book_store.book_entry(c, book_store.page_name(run_id, piece))
    try:
        return closed, BookEntry.model_validate(entry)
    except ValidationError as error:
        faults = [("/" + "/".join(map(str, e["loc"])), e["msg"]) for e in error.errors()]
        raise InvalidDocumentError(faults) from None


def archive_run(shop: Shop, run_id: str, away: bool = True) -> None:
    """Take a run that is over out of the lists, or back in; nothing of it is lost."""
    with writing(shop.engine) as c:
        if away and store.run_row(c, run_id).over_at is None:
            raise StepRefusedError(
                "This bath is not over.", allowed="Runs that are closed or given up are archived.",
                remedy="Close it, or give it up, first.",
            )  # fmt: skip
        store.archive_run(c, run_id, away)
