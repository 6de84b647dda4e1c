"""The book: finished runs."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import BaseModel

from yellowbath.api.deps import ShopDep, WantedDep, attached
from yellowbath.core.field.sides import MAIN
from yellowbath.core.hours.outlook import Three
from yellowbath.core.hours.said import from_to
from yellowbath.core.tell.book import BookEntry, Spread
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.workflows.plans import unread as unreadable
from yellowbath.workflows.runs import book as work
from yellowbath.workflows.shop.shop import get_settings

router = APIRouter(prefix="/book", tags=["book"])


PieceId = Annotated[str, Query(max_length=60)]


class PairOut(BaseModel):
    """Planned against happened, one row, written in the person's units."""

    name: str
    planned: str
    happened: str


class PageOut(BaseModel):
    """One entry of the book; ``piece``: of one of several by itself, by its id."""

    run_id: str
    piece: str
    closed_at: datetime
    entry: BookEntry
    pairs: list[PairOut]
    took: str
    hands: str


class OverOut(BaseModel):
    """A page of the book in its list, of a run or of a piece by itself (``alone``, by its id); or a
    run that was given up, whose ``took`` is empty."""

    run_id: str
    alone: str
    plan_id: str
    over_at: datetime
    state: str
    piece: str
    grade: str
    aim: str
    took: str
    hands: str


class BookOut(BaseModel):
    """A page of the book; ``count``: how many there are in all, ``after``: where the next page
    begins, empty after the last."""

    items: list[OverOut]
    count: int
    after: str


@router.get("", operation_id="book")
def index(shop: ShopDep, wanted: WantedDep) -> BookOut:
    """What is over, newest first, page by page."""
    system = get_settings(shop).system
    page = work.book(shop, wanted)
    return BookOut(items=[_over(o, system) for o in page.rows], count=page.count, after=page.after)


def _over(o: work.Over, system: System) -> OverOut:
    e = o.entry
    return OverOut(
        run_id=o.run_id, alone=o.piece, plan_id=o.plan_id, over_at=o.over_at, state=o.state,
        piece=e.piece if e else o.title, grade=e.grade if e else "", aim=e.aim if e else "",
        took=str(show(e.effective_ah_m2, "charge_density", system)) if e else "",
        hands=_hands(e) if e else "",
    )  # fmt: skip


def _hands(e: BookEntry) -> str:
    return f"{e.hands_s / 60:.0f} min"


@router.get("/{run_id}", operation_id="book_page")
def page(run_id: str, shop: ShopDep, piece: PieceId = "") -> PageOut:
    """One finished run, or one of its pieces that was finished by itself."""
    closed, entry = work.book_page(shop, run_id, piece)
    return page_out(run_id, piece, closed, entry, get_settings(shop).system)


def page_out(run_id: str, piece: str, closed: datetime, e: BookEntry, system: System) -> PageOut:
    """An entry of the book, in the person's units."""

    def text(value: float, quantity: str) -> str:
        return str(show(value, quantity, system))

    def charged(said: str) -> str:
        """What rests on amps, and whether any were read."""
        return said if e.amps_read else word("run.by_plan", value=said)

    hours = "no window"
    if e.planned_time_s is not None:
        low = show(e.planned_time_s.low, "time", digits=2, like=e.planned_time_s.high)
        high = show(e.planned_time_s.high, "time", digits=2)
        hours = f"{low.text} to {high}"
    pairs = [
        PairOut(
            name="Amps",
            planned=text(e.planned_current_a, "current"),
            happened=(
                text(e.mean_current_a, "current") if e.amps_read else word("run.amps_not_read")
            ),
        ),
        PairOut(name="Time under power", planned=hours, happened=text(e.powered_s, "time")),
        *(
            PairOut(
                name=word(f"side.{s.kind}"),
                happened="",
                planned=from_to(_three(s.clean_s), system) or word("side.not_here"),
            )
            for s in e.planned_sides
            if s.kind != MAIN
        ),
        PairOut(
            name="Cleaning charge on the piece",
            planned=text(e.planned_need_ah_m2, "charge_density"),
            happened=charged(text(e.effective_ah_m2, "charge_density")),
        ),
        PairOut(name="Clock time in the bath", planned="", happened=text(e.clock_s, "time")),
        PairOut(name="Charge", planned="", happened=charged(text(e.charge_ah, "charge"))),
    ]
    return PageOut(
        run_id=run_id,
        piece=piece,
        closed_at=closed,
        entry=e,
        pairs=pairs,
        took=text(e.effective_ah_m2, "charge_density"),
        hands=_hands(e),
    )


def _three(spread: Spread | None) -> Three | None:
    return (spread.low, spread.mid, spread.high) if spread else None


@router.get(
    "/{run_id}/stored",
    operation_id="stored_page",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def stored(run_id: str, shop: ShopDep) -> Response:
    """What cannot be read of it, as it is stored."""
    headers = attached(f"page-{run_id}.json")
    return Response(
        unreadable.stored_page(shop, run_id), media_type="application/json", headers=headers
    )
