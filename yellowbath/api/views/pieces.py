"""The pieces of a run as the page shows them, and their regions."""

from datetime import datetime

from pydantic import BaseModel

from yellowbath.api.views.plan import StepOut, steps_out
from yellowbath.core.document import Piece, Plan
from yellowbath.core.hours.said import left_said, nothing_left
from yellowbath.core.run.apart import AfterBath, allowed_apart
from yellowbath.core.tell.schedule import PieceWays
from yellowbath.workflows.runs.runs import RunView


class RegionOut(BaseModel):
    id: str
    name: str


class PieceAloneOut(BaseModel):
    """One of several pieces: where it stands (``state`` is "in" for one that is with the others),
    how far it is, what it can be told, its finishing steps with their marks; ``left_text`` is empty
    where that is not known, ``nothing_gained``: its own last two looks were equal."""

    id: str
    name: str
    state: str
    since: datetime | None
    share_clean: float
    left_text: str
    allowed: list[str]
    steps: list[StepOut]
    finish: dict[str, datetime]
    regions: list[RegionOut]
    nothing_gained: bool
    delicate: bool


def regions_out(plan: Plan, piece: Piece) -> list[RegionOut]:
    """Every region of a piece; of several pieces, with whose it is."""
    whose = f"{plan.called(piece)}: " if len(plan.pieces) > 1 else ""
    return [RegionOut(id=r.id, name=f"{whose}{r.name}") for r in piece.regions]


def piece_out(view: RunView, ways: PieceWays) -> PieceAloneOut:
    """One of several pieces, for the page."""
    piece = view.plan.piece(ways.id)
    stands = ways.stands or AfterBath("paused", None)
    outside = ways.stands is not None
    return PieceAloneOut(
        id=ways.id,
        name=ways.name,
        state=stands.state if outside else "in",
        since=stands.since,
        share_clean=ways.how_far.share_clean if ways.how_far else 0.0,
        left_text=(
            ""
            if ways.left_s is None or nothing_left(ways.left_s)
            else left_said(ways.left_s, view.system)
        ),
        allowed=list(allowed_apart(stands.state)) if outside else [],
        steps=steps_out(ways.steps),
        finish={key: at for key, (at, _) in stands.finish.items()},
        regions=[RegionOut(id=r.id, name=r.name) for r in (piece.regions if piece else ())],
        nothing_gained=ways.equal,
        delicate=ways.delicate,
    )
