"""The account of a run at one moment: all that a screen tells of it, from how it stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from yellowbath.core import dose
from yellowbath.core.checks.registry import Finding, stops
from yellowbath.core.document import Plan
from yellowbath.core.field.solved import SolvedField
from yellowbath.core.plan.comparison.compare import Difference
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.progress import PieceProgress, Progress, progress
from yellowbath.core.run.run import Run
from yellowbath.core.run.standing import Standing
from yellowbath.core.run.switch_on import ListPoint, unread
from yellowbath.core.tell.advice import Advice, advise
from yellowbath.core.tell.doubts import in_doubt, was_unnamed
from yellowbath.core.tell.finish import Step, delicate, steps_by_piece
from yellowbath.core.tell.leads import lead_doubted
from yellowbath.core.tell.schedule import Action, PieceWays, Shout, Ways, actions
from yellowbath.core.tell.told import LookTold, look_told
from yellowbath.core.units import System
from yellowbath.core.words import word


@dataclass(frozen=True)
class Account:
    """A run with everything that follows from its log at one moment.

    ``judged`` are the findings on its plan with what became known since; ``since`` says what the
    newest revision does otherwise by design, ``asked`` which of that would be a stop and was not
    said to be so in the bath or an idea, ``head`` is its number; ``doubted``: there is a reason to
    ask what the matter is.
    """

    plan: Plan
    answer: Answer
    model: SolvedField | None
    basis: Basis
    run: Run
    points: Sequence[ListPoint]
    judged: Sequence[Finding]
    since: Sequence[Difference]
    asked: Sequence[Finding]
    head: int
    system: System
    now: datetime
    progress: Progress
    actions: Sequence[Action]
    steps: Sequence[Step]
    pieces: Sequence[PieceWays]
    advice: Advice | None
    doubted: bool
    unnamed: bool
    looked: LookTold


def _doubt(found: Standing, advice: Advice | None) -> str:
    """What does not fit, as a title."""
    if advice is not None:
        return advice.title
    by_lead = lead_doubted(found.plan, found.run, found.basis, found.system)
    return by_lead or word("matter.title")


def account(found: Standing, now: datetime, shout: Shout | None = None) -> Account:
    """The account of a run where it stands; ``shout``: what its line shouts just now."""
    plan, run, known = found.plan, found.run, found.known
    need = dose.need_of(dose.neediest(plan.pieces))
    how_far = progress(run, need, now)
    steps = steps_by_piece(known.plan, run.out)
    pieces = _pieces(known.plan, run, steps, {p.id: p for p in how_far.pieces})
    advice, doubted = advise(run, found.basis), in_doubt(run, found.basis)
    ways = Ways(
        one_sided=plan.layout.arrangement == "one_side",
        by_halves=found.own.halves is not None,
        delicate=any(delicate(p) for p in known.plan.pieces if p.id not in run.apart),
        battery_ah=plan.supply.battery_ah if plan.supply.on_battery else None,
        charges_a=plan.supply.charges_a if plan.supply.on_mains else 0.0,
        buffered=plan.supply.on_battery and plan.supply.on_mains,
        doubt=_doubt(found, advice) if doubted else "",
        known=tuple(
            f"{f.title}. {f.fix}"
            for f in stops(known.findings)
            if run.already or f.id not in known.before
        ),
        already=run.already,
        shout=shout,
        unread=bool(unread(found.points, run.ticked)),
        asked=" ".join(f"{f.title}. {f.evidence}" for f in known.asked),
        pieces=pieces,
    )
    return Account(
        plan=plan,
        answer=found.answer,
        model=found.own.model,
        basis=found.basis,
        run=run,
        points=found.points,
        judged=known.findings,
        since=known.design,
        asked=known.asked,
        head=found.since.head,
        system=found.system,
        now=now,
        progress=how_far,
        actions=actions(run, how_far, ways, steps.get("", []), now),
        steps=steps.get("", []),
        pieces=pieces,
        advice=advice,
        doubted=doubted,
        unnamed=not doubted and was_unnamed(run, found.basis),
        looked=look_told(run, need, now, found.system, how_far.left_s),
    )


def _pieces(
    plan: Plan, run: Run, steps: Mapping[str, Sequence[Step]], far: Mapping[str, PieceProgress]
) -> tuple[PieceWays, ...]:
    """Each piece as hands meet it, where there are several."""
    if len(plan.pieces) < 2:
        return ()
    return tuple(
        PieceWays(
            p.id, plan.called(p), delicate(p), run.apart.get(p.id), steps.get(p.id, ()),
            far.get(p.id), nothing_gained(run, p.id),
        )
        for p in plan.pieces
    )  # fmt: skip
