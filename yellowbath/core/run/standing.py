"""How a run stands: what its log came to, under its plan's answer and with what became known."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import lru_cache
from typing import Any

from yellowbath.core.bath.loop import Loop
from yellowbath.core.checks import judged
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import Plan
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.model import Coverage
from yellowbath.core.field.solved import SolvedField
from yellowbath.core.plan.comparison.compare import Difference
from yellowbath.core.plan.comparison.facts import design_differences, with_facts
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.run.fold import Past, fold
from yellowbath.core.run.in_bath import StopsAsked, asked_of, stops_of, with_scrap
from yellowbath.core.run.kit import Things, chloride_of, typed_anew
from yellowbath.core.run.run import Run
from yellowbath.core.run.switch_on import ListPoint, points
from yellowbath.core.units import System


@dataclass(frozen=True)
class Own:
    """What a run was begun on and never changes: a plan's revision with its answer and findings,
    what each part gets over all dips where it is dipped by halves, its basis, its solved field."""

    run_id: str
    plan_id: str
    revision: int
    plan: Plan
    answer: Answer
    findings: Sequence[Finding]
    halves: Coverage | None
    basis: Basis
    model: SolvedField | None

    @classmethod
    def of(
        cls, run_id: str, plan_id: str, revision: int, plan: Plan, worked: Answer,
        findings: Sequence[Finding], model: SolvedField | None,
    ) -> Own:  # fmt: skip
        """Of a revision that has an answer."""
        halves = model.summary.by_halves if model else None
        rods = model.summary.rods if model else None
        basis = basis_of(plan, revision, worked, halves, rods)
        return cls(run_id, plan_id, revision, plan, worked, findings, halves, basis, model)


@dataclass(frozen=True)
class Since:
    """What is known beside a run's log: the newest revision of its plan, what the kit has of the
    things that either names, when it was begun and planned, the shop's units."""

    head: int
    document: Mapping[str, Any]
    things: Things
    created_at: datetime
    planned_at: datetime
    system: System


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


@dataclass(frozen=True)
class Standing:
    """A run as it stands, without how far it is: what a step is judged by."""

    own: Own
    since: Since
    run: Run
    known: KnownPlan
    points: Sequence[ListPoint]

    @property
    def plan(self) -> Plan:
        """The revision that it was begun on."""
        return self.own.plan

    @property
    def answer(self) -> Answer:
        """What that answers."""
        return self.own.answer

    @property
    def basis(self) -> Basis:
        """What it runs under."""
        return self.own.basis

    @property
    def system(self) -> System:
        """The shop's units."""
        return self.since.system

    @property
    def loop(self) -> Loop:
        """Its circuit as its plan has it, with what is in the bath now."""
        made = Loop.of(self.plan, self.answer, self.basis.rods)
        return made.less(self.basis.share_in(self.run.out))

    def with_run(self, run: Run) -> Standing:
        """With what the log comes to by now; judged anew only where it said something of the bath
        itself."""
        said, had = ((r.went_in, r.now_in, r.ideas) for r in (run, self.run))
        return replace(self, run=run) if said == had else standing(self.own, self.since, run)


def standing(own: Own, since: Since, run: Run) -> Standing:
    """How a run stands by all that is known of it."""
    known = known_since(own, since, run)
    return Standing(own, since, run, known, points(known.plan, known.findings))


def standing_by(own: Own, since: Since, past: Past) -> Standing:
    """The same where its log stands."""
    return standing(own, since, fold(past, own.basis).run)


def known_since(own: Own, since: Since, run: Run) -> KnownPlan:
    """A run's plan with what became known since it was begun, judged."""
    plan, worked = own.plan, own.answer
    before = frozenset(f.id for f in stops(own.findings))
    newest = plan if since.head == own.revision else read_plan(since.document).plan
    known = with_scrap(with_facts(plan, newest), run.went_in)
    salt = chloride_of(plan, since.things, worked.fill.water.value)
    if salt > known.mix.kept_salt_kg:
        mix = known.mix.model_copy(update={"kept_salt_kg": salt, "source": "reuse"})
        known = known.model_copy(update={"mix": mix})
    meant = typed_anew(newest, since.things)
    asked = StopsAsked()
    if meant != plan:
        new, old = (_stops(_Asked.of(own, p)) for p in (with_scrap(meant, run.went_in), known))
        asked = asked_of(new, old, run.now_in, run.ideas, since.head)
    findings = own.findings if known == plan else _findings(_Asked.of(own, known))
    design = [] if newest is plan else design_differences(plan, newest)
    return KnownPlan(known, [*asked.now, *findings], before, design, asked.open)


@dataclass(frozen=True)
class _Asked:
    """A plan to be judged beside a run's own: the same by what it says."""

    mark: str
    own: Own = field(compare=False)
    plan: Plan = field(compare=False)

    @classmethod
    def of(cls, own: Own, plan: Plan) -> _Asked:
        text = f"{own.run_id} {plan.model_dump_json()}"
        return cls(hashlib.sha256(text.encode()).hexdigest(), own, plan)


# every entry of a run asks for them: worked out once a plan
@lru_cache(30)
def _stops(of: _Asked) -> Sequence[Finding]:
    return stops_of(of.plan, of.own.answer)


@lru_cache(30)
def _findings(of: _Asked) -> Sequence[Finding]:
    try:
        worked = answer(of.plan, of.own.model or FIELD_MODEL)
    except NoAnswerError:
        worked = of.own.answer  # its figures are the run's own; facts are judged all the same
    return judged(of.plan, worked)
