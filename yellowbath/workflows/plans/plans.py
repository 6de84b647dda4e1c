"""Making, answering, saving and comparing plans."""

from __future__ import annotations

import hashlib
import json
import math
import time
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from functools import cached_property
from importlib.metadata import version
from pathlib import Path
from typing import Any

from pydantic import BaseModel, ConfigDict
from sqlalchemy import Connection

from yellowbath.core import data
from yellowbath.core.checks import Owns, judged, mended
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import AMOUNT, Plan
from yellowbath.core.document.merge import Side
from yellowbath.core.errors import (
    InvalidDocumentError,
    NoAnswerError,
    NotFoundError,
    StaleRevisionError,
    YellowBathError,
)
from yellowbath.core.field.model import FieldModel
from yellowbath.core.figures import Figure
from yellowbath.core.plan.comparison.merged import Both, together
from yellowbath.core.plan.reading.entries import Read, read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.core.plan.start.begin import Begun, First, begin
from yellowbath.core.units import System
from yellowbath.store import plans as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.pages import MOST, Page, Wanted
from yellowbath.store.plans import Numbered, Revision, Standing
from yellowbath.workflows.shop.faults import figures_or_why
from yellowbath.workflows.shop.once import once
from yellowbath.workflows.shop.shop import Shop, new_id


@dataclass(frozen=True)
class Answered:
    """A plan as read, with its answer and findings, or the trouble that leaves it without one;
    ``other_half``: its answer with what stands out of the liquid put end for end, once solved;
    ``offers``: somebody may press what mends a finding; ``own``: what the shop has for it."""

    read: Read
    answer: Answer | None
    findings: Sequence[Finding]
    trouble: str = ""
    other_half: Answer | None = None
    offers: bool = True
    own: Owns | None = None

    @cached_property
    def mended(self) -> Sequence[Finding]:
        """The findings with what mends them, tried out when it is asked for: a save or a step of a
        run asks for none."""
        if self.answer is None or not self.offers:
            return self.findings
        return mended(self.read.plan, self.answer, self.findings, self.own)


@dataclass(frozen=True)
class SavedPlan:
    """A saved revision and what it answers; ``brought``: what another save had changed meanwhile
    and is in it too."""

    revision: Revision
    answered: Answered
    brought: Sequence[Both] = ()


def answer_document(
    document: Mapping[str, Any],
    model: FieldModel | None = None,
    fixes: bool = True,
    own: Owns | None = None,
) -> Answered:
    """Read a document with its typed texts and work it out; nothing is kept.

    The quick closed form answers unless another field model is given. ``fixes``: whether what
    mends a finding may be pressed, where somebody may press it, the shop's ``own`` things first.
    """
    read = read_plan(document)
    try:
        with figures_or_why():
            worked = answer(read.plan, model or FIELD_MODEL)
            return Answered(read, worked, judged(read.plan, worked), offers=fixes, own=own)
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


def create_plan(shop: Shop, document: Mapping[str, Any], key: str = "") -> SavedPlan:
    """Keep a new plan as its first revision; under a ``key`` once, as :func:`once` says."""
    answered = _savable(document)
    made = _dump(answered.read.plan)

    def make() -> str:
        plan_id = new_id()
        store.add_plan(c, plan_id, made, answered.read.plan.title, shop.now())
        _keep_summary(c, plan_id, 1, answered)
        return plan_id

    with writing(shop.engine) as c:
        plan_id = once(c, key, "plan", made, shop.now(), make)
        return SavedPlan(store.revision(c, plan_id, 1), answered)


def save_plan(
    shop: Shop,
    plan_id: str,
    base: int,
    document: Mapping[str, Any],
    choices: Mapping[str, Side] | None = None,
    onto: int | None = None,
) -> SavedPlan:
    """Keep a plan as a new revision that started from ``base``.

    What another save changed meanwhile is brought together with it by thing and field, and told.
    Raises StaleRevisionError where both changed the same, until ``choices`` says by each clash's
    ``where`` whose stays; they count for the newest revision they were made on, ``onto``. Saving
    what is already the newest keeps that.
    """
    answered = _savable(document)
    while True:
        with reading(shop.engine) as c:
            head = store.revision(c, plan_id)
            was = head if head.number == base else store.revision(c, plan_id, base)
        new = answered
        brought: Sequence[Both] = ()
        if head.number != base:
            chosen = (choices or {}) if onto == head.number else {}
            new, brought = _together(was, answered, head, chosen)
        made = _dump(new.read.plan)
        if head.document == made:
            return SavedPlan(head, new, brought)
        with writing(shop.engine) as c:
            if store.head_of(c, plan_id) != head.number:
                continue  # one more came between
            title = new.read.plan.title
            store.add_revision(c, plan_id, head.number + 1, base, made, title, shop.now())
            _keep_summary(c, plan_id, head.number + 1, new)
            return SavedPlan(store.revision(c, plan_id), new, brought)


def _together(
    was: Revision, mine: Answered, head: Revision, choices: Mapping[str, Side]
) -> tuple[Answered, Sequence[Both]]:
    """Mine and the newest revision as one; raises StaleRevisionError where they want a choice."""
    before, theirs = (read_plan(r.document).plan for r in (was, head))
    made = together(before, mine.read.plan, theirs, choices)
    merged = None if made.whole or made.clashes else answer_document(made.document)
    if merged is None or merged.read.faults:
        clashes = [] if made.whole or merged else [asdict(b) for b in made.clashes]
        raise StaleRevisionError(was.number, head.number, head.document, clashes)
    return merged, made.brought


def get_plan(shop: Shop, plan_id: str, number: int | None = None) -> SavedPlan:
    """A saved revision, the newest where no number is given."""
    with reading(shop.engine) as c:
        revision = store.revision(c, plan_id, number)
    return SavedPlan(revision, answer_document(revision.document))


def plan_revisions(shop: Shop, plan_id: str, below: int | None = None) -> Sequence[Numbered]:
    """The newest revisions of a plan, newest first; those below a number where one is given."""
    with reading(shop.engine) as c:
        return store.revisions(c, plan_id, below, MOST)


def archive_plan(shop: Shop, plan_id: str, away: bool = True) -> None:
    """Take a plan out of the lists, or back in; nothing of it is lost."""
    with writing(shop.engine) as c:
        store.archive_plan(c, plan_id, away)


class PlanSummary(BaseModel):
    """What a list tells of a plan: amps and hours as value and window [SI], the first of its stops,
    how many there are, and how many cautions; ``trouble`` where it has no answer, ``quick``: by the
    closed form, its field being still to be solved."""

    model_config = ConfigDict(extra="forbid")

    title: str
    system: System
    gives_a: tuple[float, float, float] | None = None
    clean_s: tuple[float, float, float] | None = None
    stop: str = ""
    stops: int = 0
    cautions: int = 0
    trouble: str = ""
    quick: bool = False


@dataclass(frozen=True)
class Summed:
    """The newest revision of a plan, and what a list tells of it; None while that is worked out
    anew, as after an update."""

    plan_id: str
    number: int
    created_at: datetime
    title: str
    summary: PlanSummary | None


def list_plans(
    shop: Shop, standing: Standing = "any", wanted: Wanted | None = None
) -> Page[Summed]:
    """Plans, newest first, by what was kept of them when they were saved.

    What was kept by another version is worked out anew, as much of it as a page has time for. One
    that cannot be read does not take the others along, and is listed by
    :func:`yellowbath.workflows.plans.unread.unread`.
    """
    with reading(shop.engine) as c:
        page = store.listed(c, MARK, standing, wanted or Wanted(most=MOST))
    fresh = _fresh(shop, [r.plan_id for r in page.rows if r.summary is None], _PATIENCE_S)
    out = []
    for r in page.rows:
        told = r.summary or fresh.get(r.plan_id)
        if told is None and r.plan_id in fresh:
            continue
        summary = PlanSummary.model_validate(told) if told else None
        out.append(Summed(r.plan_id, r.number, r.created_at, r.title, summary))
    return Page(out, page.count, page.after)


_PATIENCE_S = 0.05  # of a list for what is worked out anew


def renew(shop: Shop) -> None:
    """Work out anew what another version kept for the lists, the newest plans first."""
    tried: set[str] = set()
    while True:
        with reading(shop.engine) as c:
            some = [i for i in store.without_summary(c, MARK, 50 + len(tried)) if i not in tried]
        if not some:
            return
        tried.update(some)
        for plan_id in some:
            began = time.monotonic()
            _fresh(shop, [plan_id])
            time.sleep(2 * (time.monotonic() - began))  # the served page comes first


def _fresh(
    shop: Shop, wanted: Sequence[str], patience_s: float = math.inf
) -> Mapping[str, dict[str, Any] | None]:
    """Summaries of plans that have none, None for one that cannot be read; kept for the next time.
    As many as there is patience for, and one at least."""
    made: dict[str, dict[str, Any] | None] = {}
    numbers: dict[str, int] = {}
    until = time.monotonic() + patience_s
    for plan_id in wanted:
        if made and time.monotonic() > until:
            break
        with reading(shop.engine) as c:
            r = store.revision(c, plan_id)
        try:
            answered = answer_document(r.document, fixes=False)
            made[plan_id] = summary_of(answered).model_dump(mode="json")
        except YellowBathError:
            made[plan_id] = None
        numbers[plan_id] = r.number
    with writing(shop.engine) as c:
        for plan_id, told in made.items():
            if told is not None and store.head_of(c, plan_id) == numbers[plan_id]:
                store.put_summary(c, plan_id, numbers[plan_id], MARK, told)
    return made


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
        quick=worked is not None and worked.models[0] == FIELD_MODEL.name,
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
