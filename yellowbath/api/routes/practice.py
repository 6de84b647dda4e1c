"""Practice baths: the deck, one that goes on, what is looked at and done there, and the debrief."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from pydantic import BaseModel, ConfigDict, Field

from yellowbath.api.deps import ShopDep
from yellowbath.api.views.practice import (
    CardOut,
    DebriefOut,
    PracticeOut,
    card_out,
    debrief_out,
    practice_out,
)
from yellowbath.workflows.practice.debrief import debrief
from yellowbath.workflows.practice.deck import deck
from yellowbath.workflows.practice.practice import Practices
from yellowbath.workflows.shop.shop import get_settings

router = APIRouter(prefix="/practice", tags=["practice"])


def _practices(request: Request) -> Practices:
    found: Practices = request.app.state.practices
    return found


PracticesDep = Annotated[Practices, Depends(_practices)]


@router.get("/deck", operation_id="deck")
def cards() -> list[CardOut]:
    """The cards, the easiest first; what is behind them is told by the debrief."""
    return [card_out(c) for c in deck()]


class BeginPracticeIn(BaseModel):
    """A card, and whether the learner makes the plan too."""

    model_config = ConfigDict(extra="forbid")

    card: str = Field(max_length=20)
    own_plan: bool = False


@router.post("", status_code=201, operation_id="begin_practice")
def begin(body: BeginPracticeIn, shop: ShopDep, practices: PracticesDep) -> PracticeOut:
    """Begin one: a shop of its own, in which the page's requests then are made by its header."""
    made = practices.begin(body.card, get_settings(shop).system, body.own_plan)
    return practice_out(made)


@router.get("/{practice_id}", operation_id="get_practice")
def get(practice_id: str, practices: PracticesDep) -> PracticeOut:
    """One as it stands: its time, what can be looked at and mended, what was met."""
    return practice_out(practices.get(practice_id))


class ObserveIn(BaseModel):
    """Something to look at or read."""

    model_config = ConfigDict(extra="forbid")

    ask: str = Field(max_length=60)


@router.post("/{practice_id}/observe", operation_id="observe")
def observe(practice_id: str, body: ObserveIn, practices: PracticesDep) -> PracticeOut:
    """Look at or read something at the bath; it takes its minutes."""
    found = practices.get(practice_id)
    with found.lock:
        found.observe(body.ask)
        return practice_out(found)


class MendIn(BaseModel):
    """A cause to be mended."""

    model_config = ConfigDict(extra="forbid")

    cause: str = Field(max_length=60)


@router.post("/{practice_id}/mend", operation_id="mend")
def mend(practice_id: str, body: MendIn, practices: PracticesDep) -> PracticeOut:
    """Mend something at the bath; it takes its minutes, and nobody says whether it was that."""
    found = practices.get(practice_id)
    with found.lock:
        found.mend(body.cause)
        return practice_out(found)


class PassIn(BaseModel):
    """Minutes of the bath's time."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    minutes: float


@router.post("/{practice_id}/pass", operation_id="let_pass")
def let_pass(practice_id: str, body: PassIn, practices: PracticesDep) -> PracticeOut:
    """Let time pass at once."""
    found = practices.get(practice_id)
    with found.lock:
        found.let_pass(body.minutes)
        return practice_out(found)


@router.post("/{practice_id}/debrief", operation_id="debrief")
def told(practice_id: str, practices: PracticesDep) -> DebriefOut:
    """What it was and how it went."""
    found = practices.get(practice_id)
    with found.lock:
        return debrief_out(debrief(found))


@router.delete("/{practice_id}", status_code=204, operation_id="end_practice")
def end(practice_id: str, practices: PracticesDep) -> None:
    """Over, with everything in it."""
    practices.end(practice_id)
