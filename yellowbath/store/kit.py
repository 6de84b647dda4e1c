"""The shop's own things, and the log of what happened to each."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass, fields
from datetime import datetime
from functools import reduce
from typing import Any

from pydantic import ValidationError
from sqlalchemy import Connection, and_, func, insert, select, tuple_, update
from sqlalchemy.dialects import sqlite

from yellowbath.core.document.upgrade import upgrade_thing
from yellowbath.core.errors import NotFoundError, YellowBathError
from yellowbath.core.kit import Held, KitEvent, Thing, Wear, after, unworn
from yellowbath.store.pages import Page, Wanted, folded, has_words, page_of
from yellowbath.store.tables import kept_revisions, kit, kit_folds, kit_log
from yellowbath.store.written import keep_revision


@dataclass(frozen=True)
class ThingRow:
    """A thing's own row; its log says the rest. ``head``: the newest revision of what was typed."""

    id: str
    created_at: datetime
    retired: bool
    document: dict[str, Any]
    head: int


_ROW = [kit.c[f.name] for f in fields(ThingRow)]


def add_thing(c: Connection, thing_id: str, document: Mapping[str, Any], now: datetime) -> None:
    row = {"id": thing_id, "created_at": now, "retired": False, "head": 1}
    c.execute(insert(kit).values({**row, **_told(document)}))
    keep_revision(c, thing_id, 1, document, now)


def put_thing(
    c: Connection, thing_id: str, number: int, document: Mapping[str, Any], now: datetime
) -> None:
    """What was typed of a thing anew, as its next revision."""
    c.execute(update(kit).where(kit.c.id == thing_id).values({"head": number, **_told(document)}))
    keep_revision(c, thing_id, number, document, now)


def document_at(c: Connection, thing_id: str, at: datetime) -> dict[str, Any] | None:
    """What was typed of a thing at a time; None where it was not there yet."""
    t = kept_revisions
    query = select(t.c.document).where(t.c.of == thing_id, t.c.created_at <= at)
    return c.scalar(query.order_by(t.c.number.desc()).limit(1))


def _told(document: Mapping[str, Any]) -> dict[str, Any]:
    title = str(document["name"])
    return {"document": dict(document), "title": title, "sought": folded(title),
            "kind": document["detail"]["kind"]}  # fmt: skip


def retire(c: Connection, thing_id: str, gone: bool) -> None:
    c.execute(update(kit).where(kit.c.id == thing_id).values(retired=gone))


def thing_row(c: Connection, thing_id: str) -> ThingRow:
    row = c.execute(select(*_ROW).where(kit.c.id == thing_id)).one_or_none()
    if row is None:
        raise NotFoundError("There is no such thing in the kit.", remedy="Open the kit again.")
    return ThingRow(*row)


def has_thing(c: Connection, thing_id: str) -> bool:
    return c.scalar(select(kit.c.id).where(kit.c.id == thing_id)) is not None


def thing_rows(c: Connection, kind: str, wanted: Wanted) -> Page[ThingRow]:
    """Things of a kind, or of any, by name; ``archived``: those that were put away."""
    where = and_(kit.c.retired == wanted.archived, has_words(kit.c.sought, wanted.find))
    if kind:
        where = and_(where, kit.c.kind == kind)
    query = select(*_ROW, kit.c.sought).where(where).order_by(kit.c.sought, kit.c.id)
    if wanted.after:
        name, _, row = wanted.after.rpartition("~")
        query = query.where(tuple_(kit.c.sought, kit.c.id) > tuple_(name, row))
    found = c.execute(query.limit(wanted.most + 1)).all()
    rows = [ThingRow(*row[:-1]) for row in found]
    count = c.scalar(select(func.count()).select_from(kit).where(where)) or 0
    last = found[min(len(found), wanted.most) - 1] if found else None
    return page_of(rows, wanted, count, f"{last.sought}~{last.id}" if last else "")


# --- What happened to it ----------------------------------------------------------------------


def events_after(c: Connection, thing_id: str, number: int) -> list[tuple[int, dict[str, Any]]]:
    """A thing's events after one by its number, in the order of writing; all of them after 0."""
    t = kit_log
    query = select(t.c.id, t.c.event).where(t.c.thing_id == thing_id, t.c.id > number)
    return [(row.id, row.event) for row in c.execute(query.order_by(t.c.id))]


def newest_events(c: Connection, thing_id: str, most: int) -> tuple[list[dict[str, Any]], int]:
    """A thing's newest events, newest first, and how many there are."""
    t = kit_log
    where = t.c.thing_id == thing_id
    query = select(t.c.event).where(where).order_by(t.c.id.desc()).limit(most)
    count = c.scalar(select(func.count()).select_from(t).where(where)) or 0
    return list(c.scalars(query)), count


def append_event(c: Connection, thing_id: str, key: str, event: Mapping[str, Any]) -> bool:
    """Write an event once; false where one of this key is there already."""
    t = kit_log
    there = c.scalar(select(t.c.id).where(t.c.thing_id == thing_id, t.c.key == key))
    if there is not None:
        return False
    c.execute(insert(t).values(thing_id=thing_id, key=key, event=dict(event)))
    return True


Fold = tuple[int, str, dict[str, Any]]
"""What a log came to up to an event by its number, the mark of how, and the state."""


def wear_of(c: Connection, thing_id: str, thing: Thing, version: str) -> tuple[Wear, Fold | None]:
    """What a thing's log comes to, by what was kept of it and what came since; and what is to be
    kept, where it is not. ``version``: the mark of the tables it is folded with."""
    text = f"{version} {thing.detail.model_dump_json()}"
    mark = hashlib.sha256(text.encode()).hexdigest()[:24]
    kept = fold_of(c, thing_id, mark)
    upto, wear = (kept[0], Wear.kept(kept[1])) if kept else (0, unworn(thing.detail))
    new = events_after(c, thing_id, upto)
    wear = reduce(lambda w, e: after(w, KitEvent.model_validate(e[1]), thing.detail), new, wear)
    if not new and kept:
        return wear, None
    return wear, (new[-1][0] if new else 0, mark, asdict(wear))


def refs_of(document: object) -> list[str]:
    """The things that a plan's document names, whether or not the plan can be read."""
    named = document.get("kit") if isinstance(document, dict) else None
    refs = [r.get("ref") for r in named if isinstance(r, dict)] if isinstance(named, list) else []
    return [ref for ref in refs if isinstance(ref, str)]


def held(c: Connection, refs: Collection[str], since: datetime, version: str) -> dict[str, Held]:
    """Those things that are still in the kit, by id; as they were at a time too."""
    made = {}
    rows = c.execute(select(kit.c.id, kit.c.kind, kit.c.document).where(kit.c.id.in_(refs))).all()
    for thing_id, kind, now in rows:
        was, made[thing_id] = document_at(c, thing_id, since), Held()
        if kind != "mix" and was in (None, now):
            continue
        with suppress(ValidationError, YellowBathError):  # ``unread`` lists it; its bath goes on
            thing = Thing.model_validate(upgrade_thing(now))
            then = None if was in (None, now) else Thing.model_validate(upgrade_thing(was))
            wear = wear_of(c, thing_id, thing, version)[0] if kind == "mix" else None
            made[thing_id] = Held(thing.detail, then.detail if then else None, wear)
    return made


def fold_of(c: Connection, thing_id: str, mark: str) -> tuple[int, dict[str, Any]] | None:
    """What a thing's log came to, up to an event by its number; None where nothing fit is kept."""
    t = kit_folds
    query = select(t.c.upto, t.c.state).where(t.c.thing_id == thing_id, t.c.mark == mark)
    row = c.execute(query).one_or_none()
    return (row.upto, row.state) if row else None


def put_fold(c: Connection, thing_id: str, upto: int, mark: str, state: Mapping[str, Any]) -> None:
    row = {"upto": upto, "mark": mark, "state": dict(state)}
    query = sqlite.insert(kit_folds).values(thing_id=thing_id, **row)
    c.execute(query.on_conflict_do_update(index_elements=["thing_id"], set_=row))
