"""Plans: answering while typing, saving as revisions."""

from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Query, Request
from fastapi.responses import Response, StreamingResponse
from pydantic import BaseModel, Field

from yellowbath.api.deps import DragIn, FromIn, KeyDep, ShopDep, WantedDep, attached, drag_of
from yellowbath.api.lines import LineResponse
from yellowbath.api.views.field import (
    FieldOut,
    LiveOut,
    field_out,
    live_out,
)
from yellowbath.api.views.listed import PlansOut, plans_out
from yellowbath.api.views.mesh import MeshLine, mesh_lines
from yellowbath.api.views.plan import CompareOut, PlanOut, ReadOut, compare_out, plan_out, read_out
from yellowbath.api.views.search import SearchLine, begun
from yellowbath.api.views.start import BegunOut, begun_out
from yellowbath.api.views.surroundings import (
    DoseCurveOut,
    WhichTankOut,
    dose_curve_out,
    which_tank_out,
)
from yellowbath.core.document import Meter, Plan
from yellowbath.core.plan.results.scrap import judge
from yellowbath.core.plan.start.begin import First
from yellowbath.core.units import System
from yellowbath.workflows.plans import field as solving
from yellowbath.workflows.plans import plans as work
from yellowbath.workflows.plans import search as searching
from yellowbath.workflows.plans import sheets, which
from yellowbath.workflows.plans.doubted import settled
from yellowbath.workflows.shop.shop import Shop

router = APIRouter(prefix="/plans", tags=["plans"])


class DocumentIn(BaseModel):
    """A plan document; may be partial, missing parts take their defaults."""

    document: dict[str, Any] = Field(default_factory=dict)


class FieldIn(DocumentIn):
    """A document to solve; ``fine`` is finer and slower than ``preview``. Where it is the newest of
    a saved plan, ``plan_id``, lists tell of it what is solved here."""

    drag: DragIn | None = None
    quality: Literal["preview", "fine"] = "preview"
    sight: bool = False
    plan_id: str = Field(default="", max_length=64)


class AnswerIn(DocumentIn):
    """A document to answer: at once by the closed form (``quick``), or by the solved field."""

    drag: DragIn | None = None
    quality: Literal["quick", "preview", "fine"] = "quick"


class LiveIn(DocumentIn):
    """A document under the hand. ``mesh`` names the mesh whose corners the page has already;
    ``ready`` prepares the finer mesh for moves to come; ``brief`` leaves out the figures' inputs
    and the fields' texts, as while a hand holds something."""

    drag: DragIn | None = None
    mesh: str = Field(default="", max_length=64)
    ready: bool = False
    brief: bool = False


class MeterIn(DocumentIn):
    """A document, and what the meter showed there as typed."""

    text: str = Field(max_length=40)


class SaveIn(DocumentIn, FromIn):
    """A save names the revision it started from."""


class TurnIn(BaseModel):
    """A pose of the turn plan as the page shows it."""

    words: str = Field(max_length=120)
    seconds: float = Field(ge=0)


class SheetIn(DocumentIn):
    """A document to print; with ``plan_id`` the card leads a phone to the plan's run. ``outside``:
    the band is laid round the tank and not into it."""

    paper: Literal["a4", "letter"] = "a4"
    plan_id: str = Field(default="", max_length=64)
    turns: list[TurnIn] = Field(default_factory=list, max_length=12)
    outside: bool = False


class DoingOut(BaseModel):
    """Which mesh is being solved of how many that are known to be wanted by now, and of what: a
    word under ``solving``."""

    mesh: int
    of: int
    what: str


class StopIn(BaseModel):
    """The row of requests that nobody waits for any more."""

    by: str = Field(min_length=1, max_length=80)


class SolverOut(BaseModel):
    """Seconds for which the solver has been getting ready since the start, none once it is; what it
    keeps [MB] of how much, in how many fields, and how many it found kept or had to solve; what it
    does for the row that was asked about."""

    getting_ready_s: float | None
    held_mb: float
    most_mb: float
    fields: int
    found: int
    solved: int
    doing: DoingOut | None


@router.get("/solver", operation_id="solver_state")
def solver(shop: ShopDep, by: Annotated[str, Query(max_length=80)] = "") -> SolverOut:
    """How the solver fares: whether its compiled part is still being made, what it keeps, and how
    far it is with what a row of requests waits for."""
    state = shop.solver.state()
    doing = shop.solver.doing(by)
    return SolverOut(
        getting_ready_s=state.warming_s,
        held_mb=state.held_bytes / 1e6,
        most_mb=state.most_bytes / 1e6,
        fields=state.fields, found=state.found, solved=state.solved,
        doing=DoingOut(mesh=doing.mesh, of=doing.of, what=doing.what) if doing else None,
    )  # fmt: skip


@router.post("/stop", operation_id="stop_solving", status_code=204)
def stop(body: StopIn, shop: ShopDep) -> None:
    """Nobody waits any more for what a row asked for: it ends before its next mesh."""
    shop.solver.stop(body.by)


@router.post("/answer", operation_id="answer_document")
def answer(body: AnswerIn, shop: ShopDep) -> ReadOut:
    """Read a document and work it out; nothing is kept."""
    if body.quality == "quick":
        return read_out(work.answer_document(body.document, own=partial(which.own_things, shop)))
    drag = drag_of(shop, body.drag)
    return read_out(solving.answer_solved(shop.solver, body.document, body.quality, drag))


@router.post("/field", operation_id="solve_field")
def field(body: FieldIn, shop: ShopDep) -> FieldOut:
    """Where the current goes on the piece, solved in three dimensions; kept is only a bath whose
    field was doubted."""
    found = settled(shop, body.document, body.quality, drag_of(shop, body.drag))
    if body.plan_id:
        work.keep_solved(shop, body.plan_id, found.answered)
    return field_out(found, body.sight)


@router.post("/begin", operation_id="begin_plan")
def begin(body: First) -> BegunOut:
    """A first plan from a few words, everything else assumed; nothing is kept."""
    return begun_out(body)


@router.post("/meter", operation_id="read_meter")
def meter(body: MeterIn, shop: ShopDep) -> Meter:
    """What a reading of the bath as planned puts on its resistance; nothing is kept."""
    return solving.by_meter(shop.solver, body.document, body.text)


@router.post("/live", operation_id="answer_live", response_model=LiveOut)
def live(body: LiveIn, shop: ShopDep) -> Response:
    """Answer a document while something is being moved, by one mesh; nothing is kept."""
    found = solving.live(shop.solver, body.document, drag_of(shop, body.drag), body.ready)
    # written out here, since the framework would check the whole answer once more
    made = live_out(found, body.mesh, body.brief).model_dump_json()
    return Response(made, media_type="application/json")


_LINES: dict[int | str, dict[str, Any]] = {200: {"model": SearchLine}}


@router.post(
    "/placement", operation_id="find_placement", responses=_LINES, response_class=LineResponse
)
def place(body: DocumentIn, shop: ShopDep) -> StreamingResponse:
    """Search the best places for the scrap: a line a step, the result in the last; keeps nothing.

    Hanging up cancels it.
    """
    return begun(searching.find_placement(shop.solver, body.document))


class TurnsIn(DocumentIn):
    """A document, and the piece to turn; the largest where none is named."""

    piece_id: str = Field(default="", max_length=40)


@router.post("/turns", operation_id="plan_turns", responses=_LINES, response_class=LineResponse)
def turns(body: TurnsIn, shop: ShopDep) -> StreamingResponse:
    """Search the poses that clean a piece soonest and their shares of the time, line by line."""
    return begun(searching.turns(shop.solver, body.document, body.piece_id))


@router.post(
    "/changes", operation_id="weigh_changes", responses=_LINES, response_class=LineResponse
)
def weigh_changes(body: DocumentIn, shop: ShopDep) -> StreamingResponse:
    """Solve the changes that might help, a line each; those worth it in the last."""
    return begun(searching.weigh_changes(shop.solver, body.document, which.free_tanks(shop)))


@router.post(
    "/mesh",
    operation_id="read_mesh_file",
    responses={200: {"model": MeshLine}},
    response_class=LineResponse,
)
def mesh(
    data: Annotated[bytes, Body(media_type="application/octet-stream")],
    name: Annotated[str, Query(max_length=200)],
    request: Request,
    unit: Annotated[str, Query(max_length=4)] = "",
    system: System = "metric",
) -> StreamingResponse:
    """Read, clean and measure a mesh file in a process of its own: a line for what is being done,
    the result or what is wrong in the last. Without a unit it is asked for. Keeps nothing.

    Hanging up ends it; so do its limits of time and memory.
    """
    return mesh_lines(request.app.state.meshes.read(name, data, unit), system)


@router.post("/doses", operation_id="dose_curve")
def doses(body: DocumentIn) -> DoseCurveOut:
    """Amps and evenness against dose for this tank and supply, and the dose to take."""
    return dose_curve_out(*searching.dose_curve(body.document))


@router.post("/tanks", operation_id="which_tank")
def tanks(body: DocumentIn, shop: ShopDep) -> WhichTankOut:
    """The smallest sensible tank for the piece, and how it goes into those in the kit."""
    return which_tank_out(which.which_tank(shop, body.document))


class CompareIn(BaseModel):
    """Two documents to be laid side by side."""

    one: dict[str, Any]
    other: dict[str, Any]


@router.post("/compare", operation_id="compare_plans")
def compare(body: CompareIn, shop: ShopDep) -> CompareOut:
    """Two variants of a plan, answered by their fields, and what they differ in."""
    return compare_out(solving.compare(shop.solver, body.one, body.other))


class JudgeIn(BaseModel):
    """A bit of iron as a look and a magnet find it."""

    item: str = Field(max_length=20)
    magnet: Literal["yes", "no"]
    look: Literal["bare", "shiny", "spangled", "painted", "yellow"]


class JudgedOut(BaseModel):
    """What it is taken for, and whether it may hang on the plus side."""

    material: str
    verdict: Literal["yes", "no", "after"]
    why: str
    ask: str


@router.post("/judge", operation_id="judge_scrap")
def judged(body: JudgeIn) -> JudgedOut:
    """Whether a bit of iron may be an anode. Common practice, no source."""
    found = judge(body.item, body.magnet, body.look)
    return JudgedOut.model_validate(found, from_attributes=True)


@router.get("/schema", operation_id="plan_schema")
def schema() -> dict[str, Any]:
    """The JSON schema of a plan file."""
    return Plan.model_json_schema()


@router.post(
    "/sheets/{kind}",
    operation_id="make_sheet",
    response_class=Response,
    responses={200: {"content": {"application/octet-stream": {}}}},
)
def sheet(kind: str, body: SheetIn, request: Request, shop: ShopDep) -> Response:
    """The bench card, the band, a drawing, the mapped piece or the plan, as a file."""
    asked = sheets.SheetAsked(
        paper=body.paper,
        plan_id=body.plan_id,
        base_url=sheets.reachable(*request.app.state.address),
        turns=tuple((t.words, t.seconds) for t in body.turns),
        outside=body.outside,
    )
    made = sheets.make(shop.solver, kind, body.document, asked)
    return Response(made.data, media_type=made.media, headers=attached(made.name))


RevisionDep = Annotated[int | None, Query(ge=1, le=2**31)]


@router.get("", operation_id="list_plans")
def index(
    shop: ShopDep, wanted: WantedDep, standing: Literal["waiting", "made", "any"] = "any"
) -> PlansOut:
    """Plans, newest first, page by page: those that wait, those in the book and in no bath now, or
    all of them."""
    return plans_out(work.list_plans(shop, standing, wanted))


@router.get(
    "/{plan_id}/stored",
    operation_id="stored_plan",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def stored(plan_id: str, shop: ShopDep, revision: RevisionDep = None) -> Response:
    """A revision as it is stored, to be kept or sent to somebody; whether it can be read or not."""
    data = work.stored_plan(shop, plan_id, revision)
    return Response(data, media_type="application/json", headers=attached(f"plan-{plan_id}.json"))


def _as_settled(shop: Shop, saved: work.SavedPlan) -> work.SavedPlan:
    """A saved plan as its settled field answers it, where that stands by now; lists tell it too."""
    told = solving.by_now(shop.solver, saved.revision.document, partial(which.own_things, shop))
    if told is None:
        return saved
    work.keep_solved(shop, saved.revision.plan_id, told)
    return replace(saved, answered=told)


@router.post("", status_code=201, operation_id="create_plan")
def create(body: DocumentIn, shop: ShopDep, key: KeyDep = "") -> PlanOut:
    """Keep a new plan."""
    return plan_out(_as_settled(shop, work.create_plan(shop, body.document, key)))


@router.get("/{plan_id}", operation_id="get_plan")
def show(plan_id: str, shop: ShopDep, revision: RevisionDep = None) -> PlanOut:
    """A saved revision, the newest by default."""
    return plan_out(_as_settled(shop, work.get_plan(shop, plan_id, revision)))


class RevisionOut(BaseModel):
    """A revision of a plan: its number and when it was saved."""

    number: int
    created_at: datetime


@router.get("/{plan_id}/revisions", operation_id="plan_revisions")
def revisions(
    plan_id: str, shop: ShopDep, below: Annotated[int | None, Query(ge=1, le=2**31)] = None
) -> list[RevisionOut]:
    """The newest hundred revisions of a plan, newest first, or those below a number."""
    found = work.plan_revisions(shop, plan_id, below)
    return [RevisionOut.model_validate(r, from_attributes=True) for r in found]


@router.post("/{plan_id}/revisions", operation_id="save_plan")
def save(plan_id: str, body: SaveIn, shop: ShopDep) -> PlanOut:
    """Keep a new revision. What another save changed meanwhile is brought together with it; 409
    with both versions where both changed the same and no choice is made."""
    made = work.save_plan(shop, plan_id, body.base_revision, body.document, body.choices, body.onto)
    return plan_out(_as_settled(shop, made))


@router.put("/{plan_id}/archived", operation_id="archive_plan", status_code=204)
def archive(plan_id: str, shop: ShopDep) -> None:
    """Take a plan out of the lists; nothing of it is lost."""
    work.archive_plan(shop, plan_id)


@router.delete("/{plan_id}/archived", operation_id="bring_back_plan", status_code=204)
def bring_back(plan_id: str, shop: ShopDep) -> None:
    """Bring an archived plan back into the lists."""
    work.archive_plan(shop, plan_id, False)
