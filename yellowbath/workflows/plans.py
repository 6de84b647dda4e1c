"""Making, answering, saving and comparing plans."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.checks import find
from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Plan
from yellowbath.core.errors import (
    InvalidDocumentError,
    NoAnswerError,
    StaleRevisionError,
    YellowBathError,
)
from yellowbath.core.field.model import FieldModel
from yellowbath.core.plan.reading.entries import Read, read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.store import plans as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.plans import Revision
from yellowbath.workflows.shop import Shop, new_id


@dataclass(frozen=True)
class Answered:
    """A plan as read, with its answer and findings, or the trouble that leaves it without one."""

    read: Read
    answer: Answer | None
    findings: Sequence[Finding]
    trouble: str = ""


@dataclass(frozen=True)
class Kept:
    """A saved revision and what it answers."""

    revision: Revision
    answered: Answered


def answer_document(
    document: Mapping[str, Any], model: FieldModel | None = None, mends: bool = True
) -> Answered:
    """Read a document with its typed texts and work it out; nothing is kept.

    The quick closed form answers unless another field model is given. ``mends``: whether what
    mends a finding is tried out, where somebody may press it.
    """
    read = read_plan(document)
    try:
        worked = answer(read.plan, model or FIELD_MODEL)
    except NoAnswerError as error:
        return Answered(read, None, [], str(error))
    return Answered(read, worked, find(read.plan, worked, mends))


def create_plan(shop: Shop, document: Mapping[str, Any]) -> Kept:
    """Keep a new plan as its first revision."""
    answered = _savable(document)
    plan_id = new_id()
    with writing(shop.engine) as c:
        store.add_plan(c, plan_id, _dump(answered.read.plan), shop.now())
        return Kept(store.revision(c, plan_id), answered)


def save_plan(shop: Shop, plan_id: str, base: int, document: Mapping[str, Any]) -> Kept:
    """Keep a plan as a new revision that started from ``base``.

    Raises StaleRevisionError, carrying the newest document, where another save came between.
    Saving what is already the newest keeps that.
    """
    answered = _savable(document)
    new = _dump(answered.read.plan)
    with writing(shop.engine) as c:
        head = store.revision(c, plan_id)
        if head.document == new:
            return Kept(head, answered)
        if head.number != base:
            raise StaleRevisionError(base, head.number, head.document)
        store.add_revision(c, plan_id, head.number + 1, base, new, shop.now())
        return Kept(store.revision(c, plan_id), answered)


def get_plan(shop: Shop, plan_id: str, number: int | None = None) -> Kept:
    """A saved revision, the newest where no number is given."""
    with reading(shop.engine) as c:
        revision = store.revision(c, plan_id, number)
    return Kept(revision, answer_document(revision.document))


def plan_revisions(shop: Shop, plan_id: str) -> Sequence[Revision]:
    """Every revision of a plan, newest first."""
    with reading(shop.engine) as c:
        return store.revisions(c, plan_id)


def list_plans(shop: Shop) -> Sequence[Kept]:
    """Every plan's newest revision, newest first; one that cannot be read does not take the others
    along, and is listed by :func:`yellowbath.workflows.unread.unread`."""
    with reading(shop.engine) as c:
        revisions = store.newest(c)
    out = []
    for r in revisions:
        try:
            out.append(Kept(r, answer_document(r.document, mends=False)))
        except YellowBathError:
            continue
    return out


def named(document: object) -> str:
    """What a stored document calls itself, as far as that can be told."""
    if not isinstance(document, dict):
        return ""
    pieces = document.get("pieces")
    called = (
        [p.get("name") for p in pieces if isinstance(p, dict)] if isinstance(pieces, list) else []
    )
    names = [n for n in (document.get("name"), *called) if isinstance(n, str) and n]
    return next(iter(names), "")[:200]


def stored_plan(shop: Shop, plan_id: str, number: int | None = None) -> bytes:
    """A revision as it is stored, whether or not it can be read here."""
    with reading(shop.engine) as c:
        document = store.revision(c, plan_id, number).document
    return as_file(document)


def as_file(document: object) -> bytes:
    """A stored document as a file, to be kept or sent to somebody."""
    return json.dumps(document, indent=1, ensure_ascii=False).encode()


def _savable(document: Mapping[str, Any]) -> Answered:
    answered = answer_document(document)
    if answered.read.faults:
        raise InvalidDocumentError(list(answered.read.faults.items()))
    return answered


def _dump(plan: Plan) -> dict[str, Any]:
    return plan.model_dump(mode="json")
