"""A run as it stands: what it was begun on, kept at hand, and what the store has of it now."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import Connection

from yellowbath.core.bath.expected import Band, expected
from yellowbath.core.bath.loop import Loop
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.solved import FieldSummary, SolvedField
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.charge import crust_ah
from yellowbath.core.run.run import Run
from yellowbath.core.run.standing import Own, Standing, standing_by
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.store.facts import Facts, facts_of
from yellowbath.workflows.plans.plans import MARK, Answered, answer_document
from yellowbath.workflows.shop.shop import Shop


@dataclass(frozen=True)
class RunPlan:
    """What a run was begun on, with its plan as it was answered."""

    answered: Answered
    own: Own


def begun(shop: Shop, c: Connection, run_id: str) -> RunPlan:
    """A run's plan and field never change, so what follows from them is worked out once and kept a
    while. Raises NoAnswerError where its plan has no current."""
    made: RunPlan = shop.answers.get(run_id, lambda: _begun(c, run_id))
    return made


def _begun(c: Connection, run_id: str) -> RunPlan:
    row, field = store.run_row(c, run_id), store.field_of(c, run_id)
    revision = plan_store.revision(c, row.plan_id, row.revision)
    model = SolvedField(FieldSummary.model_validate(field)) if field else None
    answered = answer_document(revision.document, model, fixes=False)
    if answered.answer is None:
        raise NoAnswerError(answered.trouble)
    plan = answered.read.plan
    own = Own.of(row.id, row.plan_id, row.revision, plan, answered.answer, answered.findings, model)
    return RunPlan(answered, own)


def facts(shop: Shop, c: Connection, run_id: str) -> tuple[RunPlan, Facts]:
    """What a run was begun on, and what is kept of it."""
    of = begun(shop, c, run_id)
    return of, facts_of(c, of.own, MARK, shop.now())


def stand(shop: Shop, c: Connection, run_id: str) -> Standing:
    """A run as it stands; raises NoAnswerError where its plan has no current."""
    of, found = facts(shop, c, run_id)
    return standing_by(of.own, found.since, found.past)


def basis_at(shop: Shop, c: Connection, run_id: str) -> tuple[Basis, Run]:
    """What a run runs under now, with the pieces that are in, and where it stands."""
    found = stand(shop, c, run_id)
    return found.basis.under(found.run.out), found.run


def expected_of(shop: Shop, run_id: str) -> Mapping[str, Band]:
    """What a line should show of a run as it was planned, by channel [A, V, C]."""
    with reading(shop.engine) as c:
        found = stand(shop, c, run_id)
    return expected(found.loop, found.answer, crust_ah(found.run, shop.now()))


def loop_of(shop: Shop, run_id: str) -> Loop:
    """A run's circuit, as its plan has it."""
    with reading(shop.engine) as c:
        found = stand(shop, c, run_id)
    return found.loop
