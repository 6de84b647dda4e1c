"""Making, answering, saving and comparing plans."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from importlib.metadata import version
from pathlib import Path
from typing import Any

from pydantic import BaseModel, ConfigDict
from sqlalchemy import Connection

from yellowbath.core import data
from yellowbath.core.checks import find
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import AMOUNT, Plan
from yellowbath.core.errors import (
    InvalidDocumentError,
    NoAnswerError,
    NotFoundError,
    StaleRevisionError,
    YellowBathError,
)
from yellowbath.core.field.model import FieldModel
from yellowbath.core.figures import Figure
from yellowbath.core.plan.reading.entries import Read, read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.core.plan.start.begin import Begun, First, begin
from yellowbath.core.units import System
from yellowbath.store import plans as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.plans import Revision
from yellowbath.workflows.faults import figures_or_why
from yellowbath.workflows.shop import Shop, new_id


@dataclass(frozen=True)
class Answered:
    """A plan as read, with its answer and findings, or the trouble that leaves it without one;
    ``other_half``: its answer with what stands out of the liquid put end for end, once solved."""

    read: Read
    answer: Answer | None
    findings: Sequence[Finding]
    trouble: str = ""
    other_half: Answer | None = None


@dataclass(frozen=True)
class SavedPlan:
    """A saved revision and what it answers."""

    revision: Revision
    answered: Answered


def answer_document(
    document: Mapping[str, Any], model: FieldModel | None = None, fixes: bool = True
) -> Answered:
    """Read a document with its typed texts and work it out; nothing is kept.

    The quick closed form answers unless another field model is given. ``fixes``: whether what
    mends a finding is tried out, where somebody may press it.
    """
    read = read_plan(document)
    try:
        with figures_or_why():
            worked = answer(read.plan, model or FIELD_MODEL)
            return Answered(read, worked, find(read.plan, worked, fixes))
    except NoAnswerError as error:
        return Answered(read, None, [], str(error))


def begun(first: First) -> tuple[Begun, Answered | None]:
    """A first plan from the first words, with its quick answer; nothing is kept."""
    made = begin(first)
    if made.plan is None:
        return made, None
    answered = answer_document(_dump(made.plan))
    if fault := answered.read.faults.get(AMOUNT):
        made.faults["dose"] = fault
    return made, answered


def create_plan(shop: Shop, document: Mapping[str, Any]) -> SavedPlan:
    """Keep a new plan as its first revision."""
    answered = _savable(document)
    plan_id = new_id()
    with writing(shop.engine) as c:
        store.add_plan(c, plan_id, _dump(answered.read.plan), shop.now())
        _keep_summary(c, plan_id, 1, answered)
        return SavedPlan(store.revision(c, plan_id), answered)


def save_plan(shop: Shop, plan_id: str, base: int, document: Mapping[str, Any]) -> SavedPlan:
    """Keep a plan as a new revision that started from ``base``.

    Raises StaleRevisionError, carrying the newest document, where another save came between.
    Saving what is already the newest keeps that.
    """
    answered = _savable(document)
    new = _dump(answered.read.plan)
    with writing(shop.engine) as c:
        head = store.revision(c, plan_id)
        if head.document == new:
            return SavedPlan(head, answered)
        if head.number != base:
            raise StaleRevisionError(base, head.number, head.document)
        store.add_revision(c, plan_id, head.number + 1, base, new, shop.now())
        _keep_summary(c, plan_id, head.number + 1, answered)
        return SavedPlan(store.revision(c, plan_id), answered)


def get_plan(shop: Shop, plan_id: str, number: int | None = None) -> SavedPlan:
    """A saved revision, the newest where no number is given."""
    with reading(shop.engine) as c:
        revision = store.revision(c, plan_id, number)
    return SavedPlan(revision, answer_document(revision.document))


def plan_revisions(shop: Shop, plan_id: str) -> Sequence[Revision]:
    """Every revision of a plan, newest first."""
    with reading(shop.engine) as c:
        return store.revisions(c, plan_id)


class PlanSummary(BaseModel):
    """What a list tells of a plan: amps and hours as value and window [SI], the first of its stops,
    how many there are, and how many cautions; ``trouble`` where it has no answer."""

    model_config = ConfigDict(extra="forbid")

    title: str
    system: System
    gives_a: tuple[float, float, float] | None = None
    clean_s: tuple[float, float, float] | None = None
    stop: str = ""
    stops: int = 0
    cautions: int = 0
    trouble: str = ""


@dataclass(frozen=True)
class Summed:
    """The newest revision of a plan, and what a list tells of it."""

    plan_id: str
    number: int
    created_at: datetime
    summary: PlanSummary


def list_plans(shop: Shop) -> Sequence[Summed]:
    """Every plan's newest revision, newest first, by what was kept of it when it was saved.

    What was kept by another version is worked out anew. One that cannot be read does not take the
    others along, and is listed by :func:`yellowbath.workflows.unread.unread`.
    """
    with reading(shop.engine) as c:
        found = store.listed(c, MARK)
    fresh = _fresh(shop, [r.plan_id for r in found if r.summary is None])
    out = []
    for r in found:
        told = r.summary or fresh.get((r.plan_id, r.number))
        if told is not None:
            summary = PlanSummary.model_validate(told)
            out.append(Summed(r.plan_id, r.number, r.created_at, summary))
    return out


def _fresh(shop: Shop, wanted: Sequence[str]) -> Mapping[tuple[str, int], dict[str, Any]]:
    """Summaries of plans that have none, kept for the next time."""
    out: dict[tuple[str, int], dict[str, Any]] = {}
    if not wanted:
        return out
    for some in (
        wanted[k : k + 200] for k in range(0, len(wanted), 200)
    ):  # what is done is kept, whatever comes between
        with reading(shop.engine) as c:
            revisions = [store.revision(c, plan_id) for plan_id in some]
        made: dict[tuple[str, int], dict[str, Any]] = {}
        for r in revisions:
            try:
                answered = answer_document(r.document, fixes=False)
            except YellowBathError:
                continue
            made[r.plan_id, r.number] = summary_of(answered).model_dump(mode="json")
        with writing(shop.engine) as c:
            for (plan_id, number), told in made.items():
                if store.head_of(c, plan_id) == number:
                    store.put_summary(c, plan_id, number, MARK, told)
        out |= made
    return out


def _keep_summary(c: Connection, plan_id: str, number: int, answered: Answered) -> None:
    told = summary_of(answered).model_dump(mode="json")
    store.put_summary(c, plan_id, number, MARK, told)


def keep_solved(shop: Shop, plan_id: str, answered: Answered) -> None:
    """Let lists tell of a plan what its solved field says, where its newest revision is what was
    solved; nothing otherwise."""
    document = _dump(answered.read.plan)
    told = summary_of(answered).model_dump(mode="json")
    with writing(shop.engine) as c:
        try:
            head = store.revision(c, plan_id)
        except NotFoundError:
            return
        if head.document == document:
            store.put_summary(c, plan_id, head.number, MARK, told)


def summary_of(answered: Answered) -> PlanSummary:
    """What a list tells of an answered plan."""
    plan, worked = answered.read.plan, answered.answer
    halting = stops(answered.findings)
    return PlanSummary(
        title=plan.title,
        system=plan.system,
        gives_a=_window(worked.gives) if worked else None,
        clean_s=_window(worked.window) if worked and worked.window else None,
        stop=halting[0].title if halting else "",
        stops=len(halting),
        cautions=sum(f.severity == "caution" for f in answered.findings),
        trouble=answered.trouble,
    )


def _window(f: Figure) -> tuple[float, float, float]:
    low, high = (f.value if edge is None else edge for edge in (f.low, f.high))
    return f.value, low, high


def _mark() -> str:
    """By what a summary was made: this version, its tables and words."""
    tables = "".join(
        p.read_text("utf-8") for p in sorted(Path(data.__file__).parent.glob("*.toml"))
    )
    return hashlib.sha256(f"{version('yellowbath')} {tables}".encode()).hexdigest()[:24]


MARK = _mark()


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
