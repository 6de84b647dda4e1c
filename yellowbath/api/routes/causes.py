"""What is the matter with a bath: of a run, and without one."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from yellowbath.api.deps import ShopDep
from yellowbath.api.views.causes import CausesOut, QuestionOut, causes_out, question_out
from yellowbath.api.views.estimate import EstimateOut, FreshOut, estimate_out, fresh_out
from yellowbath.api.views.run import RunOut, run_out
from yellowbath.core.bath.levels import AtLevel
from yellowbath.core.run.log import GoesIn
from yellowbath.workflows.runs import causes as work
from yellowbath.workflows.runs.causes import CausesSeen
from yellowbath.workflows.runs.estimate import believed, goes_in
from yellowbath.workflows.runs.levels import write_levels

router = APIRouter(tags=["causes"])
Mode = Literal["mend", "know"]
Name = Annotated[str, Field(max_length=60)]


@router.get("/runs/{run_id}/causes", operation_id="run_causes")
def of_run(run_id: str, shop: ShopDep, mode: Annotated[Mode, Query()] = "mend") -> CausesOut:
    """The likeliest causes of what a run's log tells, and the one next step: towards the bath being
    mended soonest, or towards knowing what it is."""
    told = work.causes_of_run(shop, run_id, mode)
    return causes_out(told)


@router.get("/runs/{run_id}/estimate", operation_id="run_estimate")
def estimate(run_id: str, shop: ShopDep) -> EstimateOut:
    """What is believed of a run's circuit by its readings: the amps to expect now, what the
    readings tell apart, and what a change would make of the amps."""
    return estimate_out(believed(shop, run_id))


class GoesInIn(BaseModel):
    """Scrap that goes in, swapped for what there is or added to it."""

    what: Literal["swapped_anodes", "added_anode"]
    scrap: GoesIn


@router.post("/runs/{run_id}/goes-in", operation_id="goes_in")
def fresh(run_id: str, body: GoesInIn, shop: ShopDep) -> FreshOut:
    """What scrap would make of a run's amps, and whether it must not go in; nothing is kept."""
    return fresh_out(goes_in(shop, run_id, body.what, body.scrap))


class TwoLevelsIn(BaseModel):
    """Volts at the supply [V] and amps [A] at its higher and its lower setting."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    high_v: float = Field(ge=0, le=1000)
    high_a: float = Field(ge=0, le=1000)
    low_v: float = Field(ge=0, le=1000)
    low_a: float = Field(ge=0, le=1000)


@router.post("/runs/{run_id}/two-levels", operation_id="two_levels")
def two_levels(run_id: str, body: TwoLevelsIn, shop: ShopDep) -> RunOut:
    """What two levels tell of a run's bath, as an answer in its log."""
    high, low = AtLevel(body.high_v, body.high_a), AtLevel(body.low_v, body.low_a)
    return run_out(write_levels(shop, run_id, high, low))


class SeenIn(BaseModel):
    """One thing seen, an outcome of an ask, or read: amps [A], supply_v or tank_v [V]."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    ask: Name
    outcome: Name = ""
    value: float | None = Field(default=None, ge=0, le=1000)
    before: bool = False


class GuideIn(BaseModel):
    """A bath by its plan's id or document (the usual one where neither is given), what was seen of
    it, what was mended without help, and for how long it has run [h]."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    plan_id: Name = ""
    document: dict[str, Any] | None = None
    seen: list[SeenIn] = Field(default_factory=list, max_length=40)
    tried: list[Name] = Field(default_factory=list, max_length=40)
    hours: float = Field(default=3.0, ge=0, le=2000)
    mode: Mode = "mend"
    first: Name = ""


@router.get("/causes/questions", operation_id="questions")
def questions() -> list[QuestionOut]:
    """What people ask of a bath, with what holds whatever the cause is."""
    return [question_out(q) for q in work.questions()]


@router.post("/causes", operation_id="guide")
def guide(body: GuideIn, shop: ShopDep) -> CausesOut:
    """The same without a run. Nothing is kept."""
    seen = [CausesSeen(s.ask, s.outcome, s.value, s.before) for s in body.seen]
    told = work.guide(
        shop, body.document, body.plan_id, seen, body.tried, body.hours, body.mode, body.first
    )  # fmt: skip
    return causes_out(told)
