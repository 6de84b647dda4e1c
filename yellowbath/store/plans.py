"""Queries on plans and their revisions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import (
    ColumnElement,
    Connection,
    Row,
    and_,
    delete,
    exists,
    insert,
    not_,
    select,
    true,
    update,
)

from yellowbath.core.errors import NotFoundError
from yellowbath.core.run.moves import OVER
from yellowbath.store.pages import Page, Wanted, folded, has_words, newest_first, page_of
from yellowbath.store.tables import plan_revisions, plan_summaries, plans, runs


@dataclass(frozen=True)
class Revision:
    """One immutable revision of a plan."""

    plan_id: str
    number: int
    base: int
    created_at: datetime
    document: dict[str, Any]


def add_plan(
    c: Connection, plan_id: str, document: dict[str, Any], title: str, now: datetime
) -> None:
    c.execute(insert(plans).values(
        id=plan_id, created_at=now, head=1, title=title[:200], sought=folded(title), saved_at=now
    ))  # fmt: skip
    _add_revision(c, plan_id, 1, 0, document, now)


def add_revision(
    c: Connection, plan_id: str, number: int, base: int, document: dict[str, Any], title: str,
    now: datetime,
) -> None:  # fmt: skip
    _add_revision(c, plan_id, number, base, document, now)
    c.execute(update(plans).where(plans.c.id == plan_id).values(
        head=number, title=title[:200], sought=folded(title), saved_at=now
    ))  # fmt: skip


def archive_plan(c: Connection, plan_id: str, away: bool) -> None:
    head_of(c, plan_id)
    c.execute(update(plans).where(plans.c.id == plan_id).values(archived=away))


def made_at(c: Connection, plan_id: str) -> datetime:
    """When a plan was first saved."""
    head_of(c, plan_id)
    at: datetime = c.execute(select(plans.c.created_at).where(plans.c.id == plan_id)).scalar_one()
    return at


def _add_revision(
    c: Connection, plan_id: str, number: int, base: int, document: dict[str, Any], now: datetime
) -> None:
    c.execute(
        insert(plan_revisions).values(
            plan_id=plan_id,
            number=number,
            base=base,
            created_at=now,
            schema_version=document["schema_version"],
            document=document,
        )
    )


def head_of(c: Connection, plan_id: str) -> int:
    head = c.scalar(select(plans.c.head).where(plans.c.id == plan_id))
    if head is None:
        raise NotFoundError(f"There is no plan {plan_id}.", remedy="Open one from the rack.")
    return int(head)


def revision(c: Connection, plan_id: str, number: int | None = None) -> Revision:
    """One revision; the newest where no number is given."""
    number = head_of(c, plan_id) if number is None else number
    t = plan_revisions
    row = c.execute(select(t).where(t.c.plan_id == plan_id, t.c.number == number)).one_or_none()
    if row is None:
        raise NotFoundError(f"Plan {plan_id} has no revision {number}.")
    return _revision(row)


@dataclass(frozen=True)
class Numbered:
    """A revision without its document."""

    number: int
    created_at: datetime


def revisions(c: Connection, plan_id: str, below: int | None, most: int) -> Sequence[Numbered]:
    """Revisions of a plan, newest first; those below a number where one is given."""
    head_of(c, plan_id)
    t = plan_revisions
    query = select(t.c.number, t.c.created_at).where(t.c.plan_id == plan_id)
    if below is not None:
        query = query.where(t.c.number < below)
    return [Numbered(*row) for row in c.execute(query.order_by(t.c.number.desc()).limit(most))]


@dataclass(frozen=True)
class Listed:
    """The newest revision of a plan without its document; its summary, None where there is none
    that fits."""

    plan_id: str
    number: int
    created_at: datetime
    title: str
    summary: dict[str, Any] | None


Standing = Literal["waiting", "made", "any"]
"""Plans whose turn is yet to come, those in the book and in no bath now, and all of them."""


def listed(c: Connection, mark: str, standing: Standing, wanted: Wanted) -> Page[Listed]:
    """Plans, newest first; ``mark`` says which summaries are of any use."""
    p, kept = plans, plan_summaries
    found = has_words(p.c.sought, wanted.find)
    where = and_(p.c.archived == wanted.archived, _stands(standing), found)
    fits = (kept.c.plan_id == p.c.id) & (kept.c.number == p.c.head) & (kept.c.mark == mark)
    query = select(p.c.id, p.c.head, p.c.saved_at, p.c.title, kept.c.summary).outerjoin(kept, fits)
    rows, count, last = newest_first(c, query, where, p.c.saved_at, p.c.id, wanted)
    return page_of([Listed(*row) for row in rows], wanted, count, last)


def _stands(standing: Standing) -> ColumnElement[bool]:
    now = exists().where(runs.c.plan_id == plans.c.id, runs.c.state.not_in(OVER))
    done = exists().where(runs.c.plan_id == plans.c.id, runs.c.state == "closed")
    if standing == "waiting":
        return and_(not_(now), not_(done))
    return and_(not_(now), done) if standing == "made" else true()


def never_ran(c: Connection, most: int) -> Sequence[Revision]:
    """The newest revisions of plans that no run was ever begun on, newest first."""
    ran = exists().where(runs.c.plan_id == plans.c.id)
    query = (
        select(plan_revisions)
        .join(plans, (plans.c.id == plan_revisions.c.plan_id)
              & (plans.c.head == plan_revisions.c.number))
        .where(not_(ran), ~plans.c.archived)
        .order_by(plans.c.saved_at.desc())
        .limit(most)
    )  # fmt: skip
    return [_revision(row) for row in c.execute(query)]


def without_summary(c: Connection, mark: str, most: int) -> Sequence[str]:
    """Plans whose newest revision has no summary that fits, newest first."""
    p, kept = plans, plan_summaries
    fits = (kept.c.plan_id == p.c.id) & (kept.c.number == p.c.head) & (kept.c.mark == mark)
    query = select(p.c.id).outerjoin(kept, fits).where(kept.c.plan_id.is_(None))
    return [str(i) for i in c.scalars(query.order_by(p.c.saved_at.desc()).limit(most))]


def put_summary(
    c: Connection, plan_id: str, number: int, mark: str, summary: dict[str, Any]
) -> None:
    """Keep what a list tells of a plan."""
    t = plan_summaries
    c.execute(delete(t).where(t.c.plan_id == plan_id))
    c.execute(insert(t).values(plan_id=plan_id, number=number, mark=mark, summary=summary))


def _revision(row: Row[Any]) -> Revision:
    return Revision(row.plan_id, row.number, row.base, row.created_at, row.document)
