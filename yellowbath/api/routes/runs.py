"""Runs: the rack, one run, its log."""

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import BaseModel, Field

from yellowbath.api.deps import (
    DeviceNowDep,
    DragIn,
    KeyDep,
    PracticeDep,
    ShopDep,
    attached,
    drag_of,
)
from yellowbath.api.problems import Problem
from yellowbath.api.views.looks import LooksOut, looks_out
from yellowbath.api.views.run import LineOut, RackItemOut, RunOut, lines_out, rack_item_out, run_out
from yellowbath.core.run.log import Entry
from yellowbath.workflows.plans import unread as unreadable
from yellowbath.workflows.runs import book as finished
from yellowbath.workflows.runs import runs as work
from yellowbath.workflows.runs.looks import looks as find_looks
from yellowbath.workflows.runs.rack import rack as on_rack
from yellowbath.workflows.runs.standing import loop_of

router = APIRouter(prefix="/runs", tags=["runs"])


class StartIn(BaseModel):
    """Begin a run on a plan's revision (the newest where none is named); with ``drag`` its solves
    can be followed, and stopped."""

    plan_id: str = Field(max_length=32)
    revision: int | None = Field(default=None, ge=1, le=2**31)
    drag: DragIn | None = None


@router.get("", operation_id="rack")
def rack(shop: ShopDep) -> list[RackItemOut]:
    """The runs that are not over, the newest hundred, the most urgent first."""
    return [rack_item_out(on) for on in on_rack(shop)]


@router.post("", status_code=201, operation_id="start_run")
def start(body: StartIn, shop: ShopDep, key: KeyDep = "") -> RunOut:
    """Begin a run; nothing is switched on."""
    drag = drag_of(shop, body.drag)
    return run_out(work.start_run(shop, body.plan_id, body.revision, key, drag))


class LinesOut(BaseModel):
    """Some of the log, newest first, and whether there are older lines."""

    lines: list[LineOut]
    older: bool


@router.get("/{run_id}/log", operation_id="older_lines")
def log(run_id: str, before: Annotated[str, Query(max_length=64)], shop: ShopDep) -> LinesOut:
    """Lines of the log before one, by its client id."""
    lines, older = work.older_lines(shop, run_id, before)
    return LinesOut(
        lines=lines_out(lines, lambda: loop_of(shop, run_id), work.system(shop)), older=older
    )


@router.get("/{run_id}", operation_id="get_run")
def get(run_id: str, shop: ShopDep) -> RunOut:
    """A run as it stands now."""
    return run_out(work.view_run(shop, run_id))


@router.get("/{run_id}/looks", operation_id="run_looks")
def looks(run_id: str, shop: ShopDep) -> LooksOut | None:
    """How clean each spot is likely to be, now and later; null where that is not known."""
    found = find_looks(shop, run_id)
    return looks_out(found) if found else None


@router.post(
    "/{run_id}/entries",
    operation_id="enter",
    responses={409: {"model": Problem}},
)
def enter(
    run_id: str,
    body: Entry,
    shop: ShopDep,
    practice: PracticeDep,
    device_now: DeviceNowDep = None,
) -> RunOut:
    """Write one entry into the log; the same client id is kept once. Its time is told by the shop's
    clock, as far as ``Device-Now`` says what the device's is."""
    made = work.enter(shop, run_id, body, device_now)
    if practice is not None:  # what is written down there was done there
        with practice.lock:
            practice.heed(run_id, body)
    return run_out(made)


@router.put("/{run_id}/archived", operation_id="archive_run", status_code=204)
def archive(run_id: str, shop: ShopDep) -> None:
    """Take a run that is over out of the lists; nothing of it is lost."""
    finished.archive_run(shop, run_id)


@router.delete("/{run_id}/archived", operation_id="bring_back_run", status_code=204)
def bring_back(run_id: str, shop: ShopDep) -> None:
    """Bring an archived run back into the lists."""
    finished.archive_run(shop, run_id, False)


@router.get(
    "/{run_id}/stored",
    operation_id="stored_run",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def stored(run_id: str, shop: ShopDep) -> Response:
    """What cannot be read of it, as it is stored."""
    headers = attached(f"run-{run_id}.json")
    return Response(
        unreadable.stored_run(shop, run_id), media_type="application/json", headers=headers
    )
