"""The book: finished runs."""

from datetime import datetime

from fastapi import APIRouter
from fastapi.responses import Response
from pydantic import BaseModel

from yellowbath.api.deps import ShopDep, attached
from yellowbath.api.problems import Problem
from yellowbath.core.field.sides import MAIN
from yellowbath.core.hours.outlook import Three
from yellowbath.core.hours.said import from_to
from yellowbath.core.process.book import BookEntry, Spread
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.workflows import runs as work
from yellowbath.workflows import unread as unreadable
from yellowbath.workflows.shop import get_settings

router = APIRouter(prefix="/book", tags=["book"])


class PairOut(BaseModel):
    """Planned against happened, one row, written in the person's units."""

    name: str
    planned: str
    happened: str


class PageOut(BaseModel):
    """One entry of the book."""

    run_id: str
    closed_at: datetime
    entry: BookEntry
    pairs: list[PairOut]
    took: str
    hands: str


@router.get("", operation_id="book")
def index(shop: ShopDep) -> list[PageOut]:
    """Every finished run, newest first."""
    system = get_settings(shop).system
    return [_page(i, at, e, system) for i, at, e in work.book(shop)]


@router.get("/{run_id}", operation_id="book_page", responses={404: {"model": Problem}})
def page(run_id: str, shop: ShopDep) -> PageOut:
    """One finished run."""
    closed, entry = work.book_page(shop, run_id)
    return _page(run_id, closed, entry, get_settings(shop).system)


def _page(run_id: str, closed: datetime, e: BookEntry, system: System) -> PageOut:
    def text(value: float, quantity: str) -> str:
        return str(show(value, quantity, system))

    hours = "no window"
    if e.planned_time_s is not None:
        low = show(e.planned_time_s.low, "time", digits=2, like=e.planned_time_s.high)
        high = show(e.planned_time_s.high, "time", digits=2)
        hours = f"{low.text} to {high}"
    pairs = [
        PairOut(
            name="Amps",
            planned=text(e.planned_current_a, "current"),
            happened=text(e.mean_current_a, "current"),
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
            happened=text(e.effective_ah_m2, "charge_density"),
        ),
        PairOut(name="Clock time in the bath", planned="", happened=text(e.clock_s, "time")),
        PairOut(name="Charge", planned="", happened=text(e.charge_ah, "charge")),
    ]
    return PageOut(
        run_id=run_id,
        closed_at=closed,
        entry=e,
        pairs=pairs,
        took=text(e.effective_ah_m2, "charge_density"),
        hands=f"{e.hands_s / 60:.0f} min",
    )


def _three(spread: Spread | None) -> Three | None:
    return (spread.low, spread.mid, spread.high) if spread else None


@router.get(
    "/{run_id}/stored",
    operation_id="stored_page",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}, 404: {"model": Problem}},
)
def stored(run_id: str, shop: ShopDep) -> Response:
    """What cannot be read of it, as it is stored."""
    headers = attached(f"page-{run_id}.json")
    return Response(
        unreadable.stored_page(shop, run_id), media_type="application/json", headers=headers
    )
