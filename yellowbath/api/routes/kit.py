"""The shop's kit."""

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import BaseModel, Field

from yellowbath.api.deps import BothOut, FromIn, KeyDep, ShopDep, WantedDep, attached
from yellowbath.core.kit import KitAnode, KitChemical, KitEvent, Thing
from yellowbath.core.units import System, show
from yellowbath.core.words import word, words
from yellowbath.workflows.plans import kit as work
from yellowbath.workflows.plans import mix_queue
from yellowbath.workflows.shop.shop import get_settings

router = APIRouter(prefix="/kit", tags=["kit"])
KindDep = Annotated[str, Query(max_length=16)]


class ThingIn(BaseModel):
    """A thing as typed."""

    thing: dict[str, Any]


class ThingChangedIn(ThingIn, FromIn):
    """A thing as typed anew, and the revision it started from."""


class ThingReadOut(BaseModel):
    """A thing as read, with the text of every field, the faults of some, and how those were read
    that say more than a figure."""

    thing: Thing
    shown: dict[str, str]
    faults: dict[str, str]
    heard: dict[str, str]


class HappenedOut(BaseModel):
    """One line of a thing's log."""

    at: datetime
    words: str


class MixOut(BaseModel):
    """What is in a mix now [kg], for a plan to take up."""

    water_m3: float
    salts_kg: float
    salt_kg: float
    bicarbonate_kg: float
    ph: float


class ThingOut(BaseModel):
    """A thing of the kit and how it stands."""

    id: str
    read: ThingReadOut
    word: str
    why: str
    lines: list[str]
    log: list[HappenedOut] = Field(description="The newest of its log, newest first")
    events: int = Field(description="How many lines its log has")
    mix: MixOut | None
    left: float | None = Field(description="Share of it that is left, where that is known [-]")
    revision: int
    brought: list[BothOut]


class KitOut(BaseModel):
    """A page of the kit; ``count``: how many there are in all, ``after``: where the next page
    begins, empty after the last."""

    items: list[ThingOut]
    count: int
    after: str


class DoneIn(BaseModel):
    """What was done to a thing, an amount as typed where there is one."""

    what: str = Field(max_length=20)
    amount: str = Field(default="", max_length=40)
    other: str = Field(default="", max_length=32)


class AddIn(BaseModel):
    """How much liquid at what dose a mix is wanted for, as typed."""

    water: str = Field(max_length=40)
    dose: str = Field(max_length=40)


class AddOut(BaseModel):
    """What to put in, in words."""

    water: str
    salts: str


class WaitingOut(BaseModel):
    """A plan that waits for its turn in the mix."""

    plan_id: str
    name: str


def thing_out(view: work.ThingView, system: System) -> ThingOut:
    """A thing for the page."""
    batch = view.stands.batch
    return ThingOut(
        id=view.id,
        read=read_out(view.read),
        word=view.stands.word,
        why=view.stands.why,
        lines=list(view.stands.lines),
        log=[HappenedOut(at=e.at, words=_words(e, system)) for e in view.log],
        events=view.events,
        mix=None
        if batch is None
        else MixOut(
            water_m3=batch.water,
            salts_kg=batch.soda,
            salt_kg=batch.chloride,
            bicarbonate_kg=batch.bicarbonate,
            ph=batch.liquid().ph(20.0),
        ),
        left=_left(view),
        revision=view.head,
        brought=[BothOut.model_validate(b, from_attributes=True) for b in view.brought],
    )


def _left(view: work.ThingView) -> float | None:
    """Share left of scrap by weight, of a box against three times its low mark."""
    detail, left = view.read.thing.detail, view.stands.left_kg
    if left is None:
        return None
    if isinstance(detail, KitAnode):
        return left / detail.new_kg if detail.new_kg else None
    whole = max(3 * detail.low_kg, detail.left_kg) if isinstance(detail, KitChemical) else left
    return left / whole if whole > 0 else 0.0


def read_out(read: work.ThingRead) -> ThingReadOut:
    return ThingReadOut(thing=read.thing, shown=read.shown, faults=read.faults, heard=read.heard)


def _words(event: KitEvent, system: System) -> str:
    if event.what == "used" and event.charge_ah:
        charge, time = (
            show(v, q, system) for v, q in ((event.charge_ah, "charge"), (event.seconds, "time"))
        )
        return word("kit.log.bath", charge=charge, time=time)
    amounts = {q: show(event.amount, q, system) for q in ("mass", "volume", "ph")}
    key = f"kit.log.{event.what}"
    return word(key if key in words() else f"kit.done.mix.{event.what}", **amounts)


@router.get("", operation_id="kit")
def list_kit(shop: ShopDep, wanted: WantedDep, kind: KindDep = "") -> KitOut:
    """The kit by name, page by page: all of it or one kind; ``archived``: what was put away."""
    system = get_settings(shop).system
    page = work.kit(shop, kind, wanted)
    items = [thing_out(v, system) for v in page.rows]
    return KitOut(items=items, count=page.count, after=page.after)


@router.get(
    "/{thing_id}/stored",
    operation_id="stored_thing",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def stored(thing_id: str, shop: ShopDep) -> Response:
    """A thing as it is stored, whether it can be read or not."""
    data = work.stored_thing(shop, thing_id)
    return Response(data, media_type="application/json", headers=attached(f"thing-{thing_id}.json"))


@router.post("/read", operation_id="read_thing")
def read(body: ThingIn, shop: ShopDep) -> ThingReadOut:
    """Read a thing while it is typed; nothing is kept."""
    return read_out(work.read_thing(body.thing, get_settings(shop).system))


@router.post("", operation_id="add_thing")
def add(body: ThingIn, shop: ShopDep, key: KeyDep = "") -> ThingOut:
    """Put a thing into the kit."""
    return thing_out(work.add(shop, body.thing, key), get_settings(shop).system)


@router.get("/queue", operation_id="mix_queue")
def queue(shop: ShopDep) -> list[WaitingOut]:
    """Plans that wait, in the order in which their pieces go through one mix."""
    return [WaitingOut(plan_id=i, name=n) for i, n in mix_queue.queue(shop)]


@router.put("/{thing_id}", operation_id="change_thing")
def change(thing_id: str, body: ThingChangedIn, shop: ShopDep) -> ThingOut:
    """Type a thing anew; what was changed elsewhere meanwhile is brought together with it, 409 with
    both versions where both changed the same."""
    made = work.change(shop, thing_id, body.thing, body.base_revision, body.choices, body.onto)
    return thing_out(made, get_settings(shop).system)


@router.delete("/{thing_id}", operation_id="put_away", status_code=204)
def put_away(thing_id: str, shop: ShopDep) -> None:
    """Take a thing out of the kit; it can come back."""
    work.put_away(shop, thing_id)


@router.post("/{thing_id}/back", operation_id="bring_back", status_code=204)
def bring_back(thing_id: str, shop: ShopDep) -> None:
    """Bring a thing back that was put away."""
    work.put_away(shop, thing_id, False)


@router.post("/{thing_id}/done", operation_id="done_to_thing")
def done(thing_id: str, body: DoneIn, shop: ShopDep, key: KeyDep = "") -> ThingOut:
    """Write down what was done to a thing."""
    made = work.note(shop, thing_id, body.what, body.amount, body.other, key)
    return thing_out(made, get_settings(shop).system)


@router.post("/{thing_id}/to-add", operation_id="to_add")
def to_add(thing_id: str, body: AddIn, shop: ShopDep) -> AddOut:
    """What to put into a mix now."""
    made, system = (
        work.what_to_add(shop, thing_id, body.water, body.dose),
        get_settings(shop).system,
    )
    return AddOut(
        water=str(show(made.water_m3, "volume", system)),
        salts=str(show(made.salts_kg, "mass", system)),
    )
