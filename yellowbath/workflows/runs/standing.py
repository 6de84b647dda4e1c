"""How a run stands: what its log came to, under its plan's answer and with what became known."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import Connection

from yellowbath.core.bath.expected import Band, expected
from yellowbath.core.bath.loop import Loop
from yellowbath.core.checks import judged
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.model import Coverage
from yellowbath.core.field.solved import FieldSummary, SolvedField
from yellowbath.core.plan.comparison.compare import Difference
from yellowbath.core.plan.comparison.facts import design_differences, with_facts
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.run.charge import crust_ah
from yellowbath.core.run.in_bath import StopsAsked, asked_of, stops_of, with_scrap
from yellowbath.core.run.run import Run
from yellowbath.core.run.switch_on import ListPoint, points
from yellowbath.core.units import System
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.store.plans import Revision
from yellowbath.store.runs import RunRow
from yellowbath.workflows.plans import kit
from yellowbath.workflows.plans.plans import Answered, answer_document
from yellowbath.workflows.runs.projection import run_of
from yellowbath.workflows.shop.shop import Shop, system_of


@dataclass(frozen=True)
class KnownPlan:
    """A run's plan with the facts of the newest revision: its findings, and the ids of the stops
    that the run's own revision had; what the newest does otherwise by design; ``asked``: stops of
    it, and of things of the kit typed anew, of which was not said whether the bath has them."""

    plan: Plan
    findings: Sequence[Finding]
    before: frozenset[str]
    design: Sequence[Difference]
    asked: Sequence[Finding] = ()


def _known_since(
    shop: Shop, c: Connection, answered: Answered, row: RunRow, head: Revision, run: Run
) -> KnownPlan:
    plan, worked = answered.read.plan, answered.answer
    assert worked is not None
    before = frozenset(f.id for f in stops(answered.findings))
    newest = plan if head.number == row.revision else read_plan(head.document).plan
    known = with_scrap(with_facts(plan, newest), run.went_in)
    salt = kit.chloride_of(c, plan, worked.fill.water.value)
    if salt > known.mix.kept_salt_kg:
        mix = known.mix.model_copy(update={"kept_salt_kg": salt, "source": "reuse"})
        known = known.model_copy(update={"mix": mix})
    meant = kit.typed_anew(c, newest, row.created_at)
    asked = StopsAsked()
    if meant != plan:
        new, own = (_stops_of(shop, p, worked) for p in (with_scrap(meant, run.went_in), known))
        asked = asked_of(new, own, run.now_in, run.ideas, head.number)
    findings = answered.findings
    if known != plan:
        try:
            now_worked = answer(known, _model(row) or FIELD_MODEL)
        except NoAnswerError:
            now_worked = worked  # its figures are the run's own; facts are judged all the same
        findings = judged(known, now_worked)
    design = [] if newest is plan else design_differences(plan, newest)
    return KnownPlan(known, [*asked.now, *findings], before, design, asked.open)


def _stops_of(shop: Shop, plan: Plan, worked: Answer) -> list[Finding]:
    """Worked out once a plan: every entry of a run asks for it."""
    mark = hashlib.sha256(plan.model_dump_json().encode()).hexdigest()
    found: list[Finding] = shop.judged.get(mark, lambda: stops_of(plan, worked))
    return found


def _model(row: RunRow) -> SolvedField | None:
    return SolvedField(FieldSummary.model_validate(row.field)) if row.field else None


@dataclass(frozen=True)
class Standing:
    """A run as it stands, without how far it is: what a step is judged by."""

    row: RunRow
    plan: Plan
    answered: Answered
    answer: Answer
    halves: Coverage | None
    basis: Basis
    run: Run
    known: KnownPlan
    points: Sequence[ListPoint]
    head: int
    system: System

    @property
    def loop(self) -> Loop:
        """Its circuit as its plan has it, with what is in the bath now."""
        return Loop.of(self.plan, self.answer).less(self.basis.share_in(self.run.out))


def stand(shop: Shop, c: Connection, run_id: str) -> Standing:
    """A run as it stands; raises NoAnswerError where its plan has no current."""
    row = store.run_row(c, run_id)
    head = plan_store.revision(c, row.plan_id)
    own: _Own = shop.answers.get(
        row.id, lambda: _own(row, plan_store.revision(c, row.plan_id, row.revision))
    )
    run = run_of(c, row.id, own.basis)
    known = _known_since(shop, c, own.answered, row, head, run)
    return Standing(
        row, own.answered.read.plan, own.answered, own.answer, own.halves, own.basis,
        run, known, points(known.plan, known.findings), head.number,
        system_of(c),
    )  # fmt: skip


@dataclass(frozen=True)
class _Own:
    """A run's plan and field never change, so what follows from them is worked out once and kept a
    while: its answer, what each part gets over all dips where it is dipped by halves, its basis."""

    answered: Answered
    answer: Answer
    halves: Coverage | None
    basis: Basis


def _own(row: RunRow, revision: Revision) -> _Own:
    answered = answer_document(revision.document, _model(row), fixes=False)
    worked = answered.answer
    if worked is None:
        raise NoAnswerError(answered.trouble)
    halves = FieldSummary.model_validate(row.field).by_halves if row.field else None
    basis = basis_of(answered.read.plan, row.revision, worked, halves)
    return _Own(answered, worked, halves, basis)


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
