"""Baths that are listened to: what hangs on a run's line, its samples, and what they are live."""

import asyncio
import json
from collections.abc import AsyncIterator, Iterator
from dataclasses import asdict
from datetime import datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Depends, Header, Query, Request
from fastapi.responses import StreamingResponse
from pydantic import BaseModel

from yellowbath.api.deps import DeviceNowDep, ShopDep, attached
from yellowbath.api.views.pushed import SampleIn, from_json, text_of
from yellowbath.api.views.samples import DrawnOut, drawn_out
from yellowbath.core.errors import NotFoundError
from yellowbath.core.moments import Moment
from yellowbath.core.words import word
from yellowbath.workflows.line import links as lines
from yellowbath.workflows.line import meter_file, samples
from yellowbath.workflows.line.dialects import Dialect, dialect_says
from yellowbath.workflows.line.link_document import LinkDocument, LinkState
from yellowbath.workflows.line.links import Links
from yellowbath.workflows.line.spoken import speak

router = APIRouter(tags=["listening"])


def _links(request: Request) -> Links:
    found: Links = request.app.state.links
    return found


LinksDep = Annotated[Links, Depends(_links)]


class IdentityOut(BaseModel):
    """Who a supply or meter says it is."""

    maker: str
    model: str
    serial: str
    version: str


class StepOfLineOut(BaseModel):
    """How the bath was asked last by a step of its supply; ``why`` it was not, or stayed down."""

    state: Literal["asked", "done", "refused", "lost"]
    why: str


class LinkOut(BaseModel):
    """What hangs on a run's line and how it stands. ``token`` only when it was just made;
    ``dog_s``: after how long unasked the supply switches itself off, as it took it; ``reacts_s``:
    from a danger to the supply switched off, by how fast it answers."""

    document: LinkDocument
    made_at: datetime
    state: Literal["waiting", "linked", "lost", "off"]
    since: datetime | None
    identity: IdentityOut | None
    why: str
    output_on: bool | None
    dog_s: float | None
    reacts_s: float | None
    says: list[str]
    step: StepOfLineOut | None = None
    token: str = ""


def _link_out(found: lines.Linked, state: LinkState) -> LinkOut:
    return LinkOut(
        document=found.document,
        made_at=found.made_at,
        state=state.state,
        since=state.since,
        identity=IdentityOut(**asdict(state.identity)) if state.identity else None,
        why=state.why,
        output_on=state.output_on,
        dog_s=state.watchdog_s,
        reacts_s=state.reacts_s,
        says=dialect_says(found.document.dialect) if found.document.dialect else [],
        step=StepOfLineOut(state=state.step.state, why=state.step.why) if state.step else None,
        token=found.token,
    )


@router.get("/runs/{run_id}/link", operation_id="get_link")
def get_link(run_id: str, shop: ShopDep, links: LinksDep) -> LinkOut | None:
    """What hangs on a run's line; null for nothing."""
    found = lines.link_of(shop, run_id)
    return _link_out(found, links.state(run_id)) if found else None


@router.put("/runs/{run_id}/link", operation_id="put_link")
def put_link(run_id: str, body: LinkDocument, shop: ShopDep, links: LinksDep) -> LinkOut:
    """Hang a supply or meter on a run's line, with its interlocks; what hung there is let go."""
    found = lines.put_link(shop, run_id, body)
    links.take_up(run_id, found.document)
    return _link_out(found, links.state(run_id))


@router.post("/runs/{run_id}/link/step", operation_id="ask_by_step", status_code=202)
def ask_by_step(run_id: str, shop: ShopDep, links: LinksDep) -> LinkOut:
    """Step the supply down for seconds and back to what was set, never above: for a person who
    stands by the bath and asks for it each time. What it told is then an answer in the log."""
    found = lines.link_of(shop, run_id)
    state = links.ask_step(run_id)
    if found is None:
        raise NotFoundError(word("levels.not_now"))
    return _link_out(found, state)


class LetGoOut(BaseModel):
    """A line that was let go; ``dog_off``: the supply's own watchdog was taken off first."""

    dog_off: bool


@router.delete("/runs/{run_id}/link", operation_id="let_go_link")
def delete_link(run_id: str, links: LinksDep) -> LetGoOut:
    """Listen no longer. Nothing at the device changes but its own watchdog, which would else switch
    it off a while after; the samples stay."""
    return LetGoOut(dog_off=links.let_go(run_id))


@router.post("/runs/{run_id}/link/token", operation_id="make_token")
def make_token(run_id: str, shop: ShopDep, links: LinksDep) -> LinkOut:
    """A new token for a home-made logger; shown once. One made before is worth nothing then."""
    had = lines.link_of(shop, run_id)
    document = had.document if had else LinkDocument()
    return _link_out(lines.put_link(shop, run_id, document, token=True), links.state(run_id))


class FoundOut(BaseModel):
    """Who answers, how it is spoken to, and in words what it does not know."""

    identity: IdentityOut
    dialect: Dialect
    says: list[str]


@router.post("/instruments/identify", operation_id="identify")
def identify(body: LinkDocument) -> FoundOut:
    """Ask who answers at an address, before it is hung on a run, and how it is spoken to."""
    found = lines.identify(body)
    return FoundOut(
        identity=IdentityOut(**asdict(found.identity)), dialect=found.dialect,
        says=dialect_says(found.dialect),
    )  # fmt: skip


# --- Samples -----------------------------------------------------------------------------------


class ApartOut(BaseModel):
    """Samples that stand apart: why, how many, what it is and how to mend it."""

    why: str
    count: int
    what: str
    mend: str


class TakenOut(BaseModel):
    """What became of a batch: kept, known already, at a time that holds another; those kept that
    stand apart."""

    taken: int
    known: int
    clashed: int
    apart: list[ApartOut]


def _taken_out(taken: samples.Taken) -> TakenOut:
    apart = [ApartOut(why=a.why, count=a.count, what=a.what, mend=a.mend) for a in taken.apart]
    put = taken.put
    return TakenOut(taken=put.taken, known=put.known, clashed=put.clashed, apart=apart)


async def _body(request: Request) -> bytes:
    return await request.body()


_KINDS = {
    "requestBody": {
        "required": True,
        "content": {
            "application/json": {
                "schema": {
                    "type": "object", "required": ["samples"],
                    "properties": {"samples": {
                        "type": "array", "maxItems": samples.MOST,
                        "items": SampleIn.model_json_schema(),
                    }},
                }
            },
            "text/csv": {"schema": {"type": "string"}},
        },
    }
}  # fmt: skip


@router.post(
    "/runs/{run_id}/samples", operation_id="push_samples", openapi_extra=_KINDS,
)  # fmt: skip
def push(
    run_id: str,
    shop: ShopDep,
    links: LinksDep,
    body: Annotated[bytes, Depends(_body)],
    content_type: Annotated[str, Header(max_length=200)] = "",
    authorization: Annotated[str, Header(max_length=200)] = "",
    device_now: DeviceNowDep = None,
) -> TakenOut:
    """Samples of a home-made logger, as JSON or lines of CSV, under the run's token (``Bearer``).

    Answered once they are on disk: what was answered is not lost, and may be sent again.
    """
    samples.run_of_token(shop, run_id, authorization.removeprefix("Bearer ").strip())
    if content_type.partition(";")[0].strip().lower() == "text/csv":
        found = samples.from_lines(text_of(body))
    else:
        found = from_json(body)
    taken = samples.take(shop, run_id, found, device_now)
    links.act(run_id, taken.trips)
    speak(shop, run_id)
    return _taken_out(taken)


@router.get("/runs/{run_id}/samples", operation_id="run_samples")
def get_samples(
    run_id: str,
    shop: ShopDep,
    first: Moment | None = None,
    last: Moment | None = None,
    points: Annotated[int, Query(ge=10, le=4000)] = 800,
) -> DrawnOut:
    """A run's samples between two times, thinned with their extremes kept; a gap is a null."""
    start, end = (samples.ms_of(t) if t else None for t in (first, last))
    return drawn_out(shop, run_id, samples.drawn(shop, run_id, start, end, points))


@router.get(
    "/runs/{run_id}/samples.csv",
    operation_id="samples_file",
    response_class=StreamingResponse,
    responses={200: {"content": {"text/csv": {}}}},
)
def samples_csv(run_id: str, shop: ShopDep) -> StreamingResponse:
    """All samples of a run, times in UTC; what stands apart says why."""
    lines_of = samples.csv_lines(shop, run_id)
    first = next(lines_of)  # that there is such a run is known before anything is sent

    def every() -> Iterator[str]:
        yield first
        yield from lines_of

    headers = attached(f"run-{run_id}-samples.csv")
    return StreamingResponse(every(), media_type="text/csv", headers=headers)


class _Events(StreamingResponse):
    media_type = "text/event-stream"


_EVERY_S = 1.0
_ALIVE_S = 15.0
_MOST_EVENTS = 600


@router.get(
    "/runs/{run_id}/live",
    operation_id="live_samples",
    response_class=_Events,
    responses={200: {"content": {"text/event-stream": {}}}},
)
async def live(
    run_id: str,
    request: Request,
    shop: ShopDep,
    links: LinksDep,
    last_event_id: Annotated[str, Header(max_length=40)] = "",
    after: Annotated[str, Query(max_length=40)] = "",
) -> StreamingResponse:
    """Samples as they come, and how the line stands: server-sent events. Whoever was cut off goes
    on after the last one that came (``Last-Event-ID``)."""
    since = last_event_id or after
    start = int(since) if since.isdigit() else samples.ms_of(shop.now())
    if not await asyncio.to_thread(samples.there_is, shop, run_id):
        raise NotFoundError(f"There is no run {run_id}.", remedy="Open one from the rack.")

    async def events() -> AsyncIterator[str]:
        newest, told, quiet = start, "", 0.0
        while not await request.is_disconnected():
            found = await asyncio.to_thread(samples.after, shop, run_id, newest, _MOST_EVENTS)
            for event in found:
                newest = event["at_ms"]
            shout = shop.shouts.of(run_id)
            entry = await asyncio.to_thread(samples.newest_entry, shop, run_id)
            state = _state(links.state(run_id), shout.kind if shout else "", entry)
            if state != told:
                told = state
                yield f"event: link\ndata: {state}\n\n"
            if found:
                yield f"id: {newest}\nevent: samples\ndata: {json.dumps(found)}\n\n"
            quiet = 0.0 if found else quiet + _EVERY_S
            if quiet >= _ALIVE_S:
                quiet = 0.0
                yield ": still here\n\n"
            await asyncio.sleep(_EVERY_S)

    return _Events(events(), headers={"X-Accel-Buffering": "no"})


def _state(state: LinkState, shout: str, entry: int) -> str:
    told: dict[str, Any] = {
        "state": state.state, "why": state.why, "output_on": state.output_on, "shout": shout,
        "entry": entry, "step": state.step.state if state.step else "",
    }  # fmt: skip
    return json.dumps(told)


# --- Meter files -------------------------------------------------------------------------------


class ColumnOut(BaseModel):
    number: int
    heading: str
    cells: list[str]
    guess: Literal["time", "amps", "volts", "bath"] | None
    unit: str


class FileOut(BaseModel):
    """A meter's file: its columns with what each is taken for; ``elapsed``: its times count from a
    start that has to be said."""

    columns: list[ColumnOut]
    rows: int
    elapsed: bool


FileBody = Annotated[bytes, Body(media_type="application/octet-stream")]


@router.post("/meter-file", operation_id="look_into_meter_file")
def look(data: FileBody) -> FileOut:
    """Look into a meter's file: nothing is kept."""
    found = meter_file.look_into(data)
    return FileOut(
        columns=[ColumnOut(**{**asdict(c), "cells": list(c.cells)}) for c in found.columns],
        rows=found.rows,
        elapsed=found.elapsed,
    )


class BroughtOut(BaseModel):
    """What became of a meter's file."""

    rows: int
    unread: int
    first_unread: str
    taken: TakenOut


Column = Annotated[int | None, Query(ge=0, le=200)]


@router.post("/runs/{run_id}/samples/file", operation_id="bring_meter_file")
def bring(
    run_id: str,
    data: FileBody,
    shop: ShopDep,
    time: Annotated[int, Query(ge=0, le=200)],
    amps: Column = None,
    volts: Column = None,
    bath: Column = None,
    zone_min: Annotated[int, Query(ge=-900, le=900)] = 0,
    start: Moment | None = None,
    month_first: bool = False,
) -> BroughtOut:
    """Bring a meter's file into a run, its columns by number, times without a zone so many minutes
    ahead of UTC. The same file brought twice is kept once."""
    columns = meter_file.Columns(time, amps, volts, bath, zone_min, start, month_first)
    found = meter_file.bring(shop, run_id, data, columns)
    speak(shop, run_id)
    return BroughtOut(
        rows=found.rows,
        unread=found.unread,
        first_unread=found.first_unread,
        taken=_taken_out(found.taken),
    )
