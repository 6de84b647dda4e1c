"""Queries on plans and their revisions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, Row, delete, insert, select, update

from yellowbath.core.errors import NotFoundError
from yellowbath.store.tables import plan_revisions, plan_summaries, plans


@dataclass(frozen=True)
class Revision:
    """One immutable revision of a plan."""

    plan_id: str
    number: int
    base: int
    created_at: datetime
    document: dict[str, Any]


def add_plan(c: Connection, plan_id: str, document: dict[str, Any], now: datetime) -> None:
    c.execute(insert(plans).values(id=plan_id, created_at=now, head=1))
    _add_revision(c, plan_id, 1, 0, document, now)


def add_revision(
    c: Connection, plan_id: str, number: int, base: int, document: dict[str, Any], now: datetime
) -> None:
    _add_revision(c, plan_id, number, base, document, now)
    c.execute(update(plans).where(plans.c.id == plan_id).values(head=number))


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


def revisions(c: Connection, plan_id: str) -> Sequence[Revision]:
    """Every revision of a plan, newest first."""
    head_of(c, plan_id)
    t = plan_revisions
    query = select(t).where(t.c.plan_id == plan_id).order_by(t.c.number.desc())
    return [_revision(row) for row in c.execute(query)]


def newest(c: Connection) -> Sequence[Revision]:
    """The newest revision of every plan, newest first."""
    t = plan_revisions
    query = (
        select(t)
        .join(plans, (plans.c.id == t.c.plan_id) & (plans.c.head == t.c.number))
        .order_by(t.c.created_at.desc())
    )
    return [_revision(row) for row in c.execute(query)]


@dataclass(frozen=True)
class Listed:
    """The newest revision of a plan without its document; its summary, None where there is none
    that fits."""

    plan_id: str
    number: int
    created_at: datetime
    summary: dict[str, Any] | None


def listed(c: Connection, mark: str) -> Sequence[Listed]:
    """Every plan, newest first; ``mark`` says which summaries are of any use."""
    t, kept = plan_revisions, plan_summaries
    fits = (kept.c.plan_id == t.c.plan_id) & (kept.c.number == t.c.number) & (kept.c.mark == mark)
    query = (
        select(t.c.plan_id, t.c.number, t.c.created_at, kept.c.summary)
        .join(plans, (plans.c.id == t.c.plan_id) & (plans.c.head == t.c.number))
        .outerjoin(kept, fits)
        .order_by(t.c.created_at.desc())
    )
    return [Listed(*row) for row in c.execute(query)]


def put_summary(
    c: Connection, plan_id: str, number: int, mark: str, summary: dict[str, Any]
) -> None:
    """Keep what a list tells of a plan."""
    t = plan_summaries
    c.execute(delete(t).where(t.c.plan_id == plan_id))
    c.execute(insert(t).values(plan_id=plan_id, number=number, mark=mark, summary=summary))


def _revision(row: Row[Any]) -> Revision:
    return Revision(row.plan_id, row.number, row.base, row.created_at, row.document)
