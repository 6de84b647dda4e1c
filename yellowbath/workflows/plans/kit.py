"""The shop's kit: adding, changing and using things; what a run draws and writes back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import partial
from typing import Any

from pydantic import BaseModel, ValidationError
from sqlalchemy import Connection

from yellowbath.core.chemistry.batch import to_add
from yellowbath.core.document.merge import Side
from yellowbath.core.document.upgrade import upgrade_thing
from yellowbath.core.ear import parse
from yellowbath.core.errors import (
    InputError,
    InvalidDocumentError,
    OutOfRangeError,
    YellowBathError,
)
from yellowbath.core.kit import KitEvent, KitMix, Stands, Thing, stands
from yellowbath.core.plan.comparison.merged import Both
from yellowbath.core.plan.reading.entries import fields_of, heard_as, locate, read_text
from yellowbath.core.units import System, show
from yellowbath.core.words import of_field
from yellowbath.store import kit as store
from yellowbath.store import runs as run_store
from yellowbath.store.engine import reading, writing
from yellowbath.store.kit import ThingRow
from yellowbath.store.pages import MOST, Page, Wanted
from yellowbath.store.readable import forget_found
from yellowbath.store.written import kept_revision
from yellowbath.workflows.plans.plans import MARK, as_file
from yellowbath.workflows.shop.once import once
from yellowbath.workflows.shop.shop import Shop, get_settings, new_id
from yellowbath.workflows.shop.versions import together_plainly


@dataclass(frozen=True)
class ThingRead:
    """A thing as typed: read as far as it can be, its faults and texts by pointer."""

    thing: Thing
    faults: dict[str, str]
    shown: dict[str, str]
    heard: dict[str, str]


@dataclass(frozen=True)
class ThingView:
    """A thing of the kit, how it stands and the newest of what it has been through, newest first;
    ``events``: how much that was in all, ``head``: the newest revision of what was typed."""

    id: str
    read: ThingRead
    stands: Stands
    log: Sequence[KitEvent]
    events: int
    head: int
    brought: Sequence[Both] = ()


TOLD = 12  # of a thing's log, at once


def read_thing(document: Mapping[str, Any], system: System) -> ThingRead:
    """Validate a thing and read its typed texts; raises InvalidDocumentError as a plan does."""
    try:
        thing = Thing.model_validate(upgrade_thing(document))
    except ValidationError as error:
        raise InvalidDocumentError(
            [
                ("/" + "/".join(map(str, e["loc"])), e["msg"].removeprefix("Value error, "))
                for e in error.errors()
            ]
        ) from None
    faults: dict[str, str] = {}
    heard: dict[str, str] = {}
    for pointer, text in thing.typed.items():
        target = locate(thing.detail, pointer)
        if target is None:
            continue
        try:
            target.put(read_text(text, target, system))
            heard[pointer] = heard_as(text, target, system)
        except InputError as error:
            faults[pointer] = str(error)
    said = {pointer: words for pointer, words in heard.items() if words}
    return ThingRead(thing, faults, _texts(thing, system), said)


def _texts(thing: Thing, system: System) -> dict[str, str]:
    out = {}
    for pointer, target in fields_of(thing.detail):
        value = target.get()
        plain = "" if value is None else str(show(value, target.quantity, system, 4))
        out[pointer] = thing.typed.get(pointer, plain)
    return out


def kit(shop: Shop, kind: str = "", wanted: Wanted | None = None) -> Page[ThingView]:
    """Things of a kind, or of any, by name; those that cannot be read ``unread`` lists."""
    system = get_settings(shop).system
    with reading(shop.engine) as c:
        found = store.thing_rows(c, kind, wanted or Wanted(most=MOST))
        busy, folds, views = _in_use(c), list[_Fold](), []
        for row in found.rows:
            try:
                view, fold = _view(c, row, busy.get(row.id, ""), system)
            except (YellowBathError, ValidationError):
                continue
            views.append(view)
            folds += [fold] if fold else []
    if folds:
        with writing(shop.engine) as c:
            for fold in folds:
                store.put_fold(c, fold[0], *fold[1])
    return Page(views, found.count, found.after)


def stored_thing(shop: Shop, thing_id: str) -> bytes:
    """A thing as it is stored, whether or not it can be read here."""
    with reading(shop.engine) as c:
        document = store.thing_row(c, thing_id).document
    return as_file(document)


_Fold = tuple[str, store.Fold]


def _view(c: Connection, row: ThingRow, by: str, system: System) -> tuple[ThingView, _Fold | None]:
    """A thing, and what its log comes to where that is not kept yet."""
    read = read_thing(row.document, system)
    wear, fold = store.wear_of(c, row.id, read.thing, MARK)
    log, count = store.newest_events(c, row.id, TOLD)
    written = partial(_written, system)
    stand = stands(read.thing, wear, by, written)
    told = [KitEvent.model_validate(e) for e in log]
    return ThingView(row.id, read, stand, told, count, row.head), fold and (row.id, fold)


def _written(system: System, value: float, quantity: str) -> str:
    return str(show(value, quantity, system))


def _in_use(c: Connection) -> dict[str, str]:
    """Things that hang in a bath which is not over, and whose bath it is; by what is stored, so
    that no plan has to be read for it."""
    out = {}
    for title, document in run_store.in_use(c):
        refs = document.get("kit") if isinstance(document, dict) else None
        for ref in refs if isinstance(refs, list) else []:
            if isinstance(ref, dict) and ref.get("role") != "chemical":
                out[str(ref.get("ref"))] = title or "a piece"
    return out


def add(shop: Shop, document: Mapping[str, Any], key: str = "") -> ThingView:
    """Put a thing into the kit; raises InvalidDocumentError where a typed text cannot be read.

    Under a ``key`` once, as :func:`once` says."""
    system = get_settings(shop).system
    read = _sound(document, system)

    def make() -> str:
        thing_id = new_id()
        store.add_thing(c, thing_id, read.thing.model_dump(mode="json"), shop.now())
        return thing_id

    with writing(shop.engine) as c:
        return _one(c, once(c, key, "add", document, shop.now(), make), system)


def change(
    shop: Shop,
    thing_id: str,
    document: Mapping[str, Any],
    base: int,
    choices: Mapping[str, Side] | None = None,
    onto: int | None = None,
) -> ThingView:
    """Type a thing anew from its revision ``base``; its log stays.

    What was changed of it elsewhere meanwhile is brought together with it by field, and told; where
    both changed the same it raises StaleRevisionError until ``choices`` say, as a plan does.
    """
    system = get_settings(shop).system
    read = _sound(document, system)
    with writing(shop.engine) as c:
        row = store.thing_row(c, thing_id)
        made, brought = read.thing.model_dump(mode="json"), list[Both]()
        if row.head != base:
            was = upgrade_thing(kept_revision(c, thing_id, base))
            theirs = upgrade_thing(row.document)
            chosen = (choices or {}) if onto == row.head else {}
            versions = (was, made, theirs)
            made, brought = together_plainly(
                versions, (base, row.head), chosen, partial(_named, system), "/detail"
            )
            made = _sound(made, system).thing.model_dump(mode="json")
        if made != row.document:
            store.put_thing(c, thing_id, row.head + 1, made, shop.now())
            forget_found(c, "thing", thing_id)
        return replace(_one(c, thing_id, system), brought=brought)


def _named(system: System, document: Mapping[str, Any], name: str, value: Any) -> tuple[str, str]:
    """What a field of a thing is called, and its value in words."""
    target = locate(read_thing(document, system).thing.detail, name.removeprefix("/detail"))
    if target is None:
        own = of_field("field", "thing", name.rpartition("/")[2])
        return own or name.rpartition("/")[2].replace("_", " "), _plain(value)
    return target.called, "" if value is None else _written(system, value, target.quantity)


def _plain(value: Any) -> str:
    return str(value.get("kind", "")) if isinstance(value, dict) else str(value)


def put_away(shop: Shop, thing_id: str, gone: bool = True) -> None:
    """Take a thing out of the kit, or back in; nothing of it is lost."""
    with writing(shop.engine) as c:
        store.thing_row(c, thing_id)
        store.retire(c, thing_id, gone)


def note(
    shop: Shop, thing_id: str, what: str, text: str, other: str = "", key: str = ""
) -> ThingView:
    """Write down what was done to a thing by hand; ``text`` is an amount as typed. Under a ``key``
    once, as :func:`once` says.

    ``poured_in`` takes the mix ``other`` whole and empties it. Raises OutOfRangeError for an
    amount that cannot be, InvalidDocumentError for something that is not done to such a thing.
    """
    system = get_settings(shop).system
    with writing(shop.engine) as c:
        kind = _one(c, thing_id, system).read.thing.detail.kind
        if what not in _DONE.get(kind, {}):
            raise InvalidDocumentError([("/what", f"is not done to a {kind}")])
        quantity = _DONE[kind][what]
        amount = _amount(text, quantity, system) if quantity else 0.0

        def make() -> str:
            event = {"at": shop.now().isoformat(), "what": what, "amount": amount}
            if what == "poured_in":
                event["other"] = _emptied(c, other, thing_id, system, shop.now())
            made = KitEvent.model_validate(event)
            store.append_event(c, thing_id, f"hand {new_id()}", made.model_dump(mode="json"))
            return thing_id

        once(c, key, "done", [thing_id, what, text, other], shop.now(), make)
        return _one(c, thing_id, system)


_DONE: Mapping[str, Mapping[str, str]] = {
    "anode": {"scraped": "", "weighed": "mass"},
    "pump": {"flushed": ""},
    "mix": {
        "topped_up": "volume", "added": "mass", "poured_out": "volume", "decanted": "",
        "strip": "ph", "poured_in": "",
    },
    "chemical": {"restocked": "mass", "weighed": "mass"},
}  # fmt: skip


def _amount(text: str, quantity: str, system: System) -> float:
    value = parse(text, quantity, system)
    low, high = (2.0, 14.0) if quantity == "ph" else (0.0, 5.0 if quantity == "volume" else 500.0)
    if not low <= value <= high:
        raise OutOfRangeError(
            f"{show(value, quantity, system)} cannot be.",
            allowed=f"{show(low, quantity, system)} to {show(high, quantity, system)}.",
            remedy="Check the number and the unit.",
        )
    return value


def _emptied(
    c: Connection, other: str, into: str, system: System, now: datetime
) -> dict[str, float]:
    """What another mix holds; it is written down as poured out, and put away."""
    view = _one(c, other, system)
    if other == into or not isinstance(view.read.thing.detail, KitMix):
        raise InvalidDocumentError([("/other", "must be another mix of the kit")])
    batch = view.stands.batch
    assert batch is not None
    gone = KitEvent(at=now, what="poured_out", amount=batch.water)
    store.append_event(c, other, f"hand {new_id()}", gone.model_dump(mode="json"))
    store.retire(c, other, True)
    return {
        "water": batch.water, "soda": batch.soda, "bicarbonate": batch.bicarbonate,
        "chloride": batch.chloride, "dirt": batch.dirt, "charge": batch.charge, "days": batch.days,
    }  # fmt: skip


def _sound(document: Mapping[str, Any], system: System) -> ThingRead:
    read = read_thing(document, system)
    if read.faults:
        raise InvalidDocumentError(list(read.faults.items()))
    if not read.thing.name.strip():
        raise InvalidDocumentError([("/name", "Give it a name by which you would ask for it.")])
    return read


def _one(c: Connection, thing_id: str, system: System) -> ThingView:
    row = store.thing_row(c, thing_id)
    return _view(c, row, _in_use(c).get(thing_id, ""), system)[0]


class ToAdd(BaseModel):
    """What to add now to a mix for so much liquid at a dose."""

    water_m3: float
    salts_kg: float


def what_to_add(shop: Shop, thing_id: str, water: str, dose: str) -> ToAdd:
    """Water and dry salts for a mix, both as typed."""
    system = get_settings(shop).system
    with reading(shop.engine) as c:
        view = _one(c, thing_id, system)
    if not isinstance(view.read.thing.detail, KitMix):
        raise InvalidDocumentError([("/id", "is not a mix")])
    batch = view.stands.batch
    assert batch is not None
    amounts = parse(water, "volume", system), parse(dose, "concentration", system)
    more, salts = to_add(batch, *amounts)
    return ToAdd(water_m3=more, salts_kg=salts)
