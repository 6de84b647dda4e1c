"""Searches over a plan: where to hang its scrap, and how to turn its piece.

Both are told step by step; whoever stops asking for the next step has cancelled them.
"""

from __future__ import annotations

import math
import time
from collections.abc import Generator, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from yellowbath.core.checks.registry import stops
from yellowbath.core.document import Piece, Plan
from yellowbath.core.dose import wanted_by_region
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.geometry.piece import largest
from yellowbath.core.plan.advice.other_baths import OwnTank
from yellowbath.core.plan.advice.proposal import Proposal
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.field import (
    PlanField,
    answer_plan,
    field_of,
    solvable,
    solve_answered,
    trusted,
)
from yellowbath.workflows.plans.plans import answer_document
from yellowbath.workflows.shop.solver import Solver

if TYPE_CHECKING:
    from yellowbath.core.plan.advice.changes import Effect
    from yellowbath.core.plan.advice.dosing import Curve
    from yellowbath.core.plan.placement.turning import Turning

MOST_S = 20.0  # that a search may take


@dataclass(frozen=True)
class SearchStep:
    """How far a search is: so many of at most so many, and the hours of the best so far."""

    done: int
    of: int
    hours: float


@dataclass(frozen=True)
class Placed:
    """The best layout found, its plan solved before and after, and how many layouts were solved.

    ``better`` is false where the plan's own layout is as good; before and after are then the same.
    """

    before: PlanField
    after: PlanField
    solves: int
    better: bool


@dataclass(frozen=True)
class Turned:
    """The turn plan of one of a plan's pieces, and how many poses were solved."""

    plan: Plan
    piece: Piece
    turning: Turning
    poses: int


@dataclass(frozen=True)
class WeighedLayout:
    """A proposal and what it comes to, solved; ``why_not`` says why it is not worth it, if so."""

    proposal: Proposal
    solved: PlanField
    effect: Effect
    why_not: str


@dataclass(frozen=True)
class WeighedChanges:
    """A plan's own effect, the changes that would help most, best first, and those that do not."""

    before: PlanField
    effect: Effect
    best: Sequence[WeighedLayout]
    others: Sequence[WeighedLayout]


def weigh_changes(
    solver: Solver, document: Mapping[str, Any], owned: Sequence[OwnTank] = ()
) -> Iterator[SearchStep | WeighedChanges]:
    """Solve every change that might help a plan; a step a change. ``owned``: the shop's free tanks.

    Raises as ``field_of`` does.
    """
    from yellowbath.core.plan.advice.changes import (
        BEST,
        helps,
        one_after_another,
        proposals,
        why_not,
    )

    before = field_of(solver, document, "preview")
    own = _effect(before)
    tried = list(proposals(before.plan, before.answer, own.region, owned))
    until = time.monotonic() + MOST_S
    weighed: list[WeighedLayout] = []
    for k, proposal in enumerate(tried):
        yield SearchStep(k, len(tried), own.hours if own.hours < 1e6 else 0.0)
        changed = answer_plan(proposal.plan)
        if solvable(changed) and time.monotonic() < until:
            solved = solve_answered(solver, changed, "preview")
            effect = _effect(solved)
            if proposal.then is not None:
                after = answer_plan(proposal.then)
                if not solvable(after):
                    continue
                effect = one_after_another(
                    effect, _effect(solve_answered(solver, after, "preview"))
                )
            reason = "" if helps(own, effect) else why_not(own, effect)
            weighed.append(WeighedLayout(proposal, solved, effect, reason))
    weighed.sort(key=lambda w: (w.effect.stops, w.effect.whole))
    good = [w for w in weighed if not w.why_not]
    late = [replace(w, why_not="less than the ones above") for w in good[BEST:]]
    yield WeighedChanges(before, own, good[:BEST], [*late, *(w for w in weighed if w.why_not)])


def _effect(solved: PlanField) -> Effect:
    from yellowbath.core.plan.advice.changes import Effect, poorest

    a = solved.answer
    region, worst = poorest({k: n.value for k, n in solved.field.regions.items()})
    return Effect(
        region=region,
        worst=worst,
        gives_a=a.gives.value,
        load=a.load.value,
        hours=a.whole_h,
        cost=_cost(solved) if a.window else math.inf,
        stops=len(stops(solved.answered.findings)),
        claim=a.hours_claim,
        dry=1 - a.wetted_area.value / a.area.value,
        left=sum(s.share for s in a.outlook.sides if s.hours is None) if a.outlook else 0.0,
    )


def find_placement(solver: Solver, document: Mapping[str, Any]) -> Iterator[SearchStep | Placed]:
    """Search the best places for a plan's rods and flats, and then for plates on the floor; a step
    after every few layouts.

    Raises as ``field_of`` does, NoAnswerError where the scrap has one place only.
    """
    from yellowbath.core.plan.placement.floors import floor_plates

    before = field_of(solver, document, "preview", refine=True)
    until = time.monotonic() + MOST_S
    after, solves = before, 0
    floors = len(floor_plates(before.plan))
    if any(a.stands for a in before.plan.anodes) or not floors:
        after, solves = yield from _standing(solver, before, until)
    for k in range(floors):
        after, solves = yield from _laid(solver, after, k, solves, until)
    better = _cost(after) < _cost(before) - _WORTH
    yield Placed(before, after if better else before, solves, better)


_WORTH = 0.01  # of the log of the cost: less is no better place


def _standing(
    solver: Solver, before: PlanField, until: float
) -> Generator[SearchStep, None, tuple[PlanField, int]]:
    """The plan with its rods and flats where they are best, and how many layouts were solved."""
    from yellowbath.core.plan.placement.search import Trials, search

    plan, answer = before.plan, before.answer
    trials = Trials(plan, answer, bottoms_of(plan, answer.fill.level.value))
    solves, after, found = 0, before, None
    trials.calibrate(trials.nearest(), answer.p95.value)
    for _ in range(2):  # once more where the full solve finds the band overstepped
        for found in search(trials):
            yield SearchStep(solves + found.solves, solves + found.most, found.score.hours)
            if time.monotonic() > until:
                break
        assert found is not None
        solves += found.solves
        moved = answer_plan(trials.plan_with(found.layout))
        after = trusted(solver, moved, "preview") if solvable(moved) else before
        better = _cost(after) < _cost(before) - _WORTH
        if better or after is before or time.monotonic() > until:
            break
        trials.calibrate(found.layout, after.answer.p95.value)
    return (after if better else before), solves


def _laid(
    solver: Solver, before: PlanField, number: int, solves: int, until: float
) -> Generator[SearchStep, None, tuple[PlanField, int]]:
    """The plan with one of its floor plates where it is best: first spots, then steps from the
    best of them, shorter ones once none is better."""
    from yellowbath.core.plan.placement import floors

    plan = before.plan
    plate = floors.floor_plates(plan)[number]
    best, cost, at = before, _cost(before), (plate.x_m, plate.y_m)
    tried = {at}

    def tries(spots: Iterable[tuple[float, float]]) -> Iterator[SearchStep]:
        nonlocal best, cost, at, solves
        for spot in spots:
            if spot in tried or time.monotonic() > until:
                continue
            tried.add(spot)
            moved = answer_plan(floors.laid(plan, plate, spot))
            if not solvable(moved):
                continue
            solved = solve_answered(solver, moved, "preview")
            solves += 1
            if _cost(solved) < cost - _WORTH:
                best, cost, at = solved, _cost(solved), spot
            yield SearchStep(solves, solves + 4, best.answer.whole_h)

    yield from tries(floors.first_spots(plan, plate))
    for step in floors.STEPS:
        came = None
        while came != at:
            came = at
            yield from tries(list(floors.steps_from(plan, plate, at, step)))
    return best, solves


def _cost(solved: PlanField) -> float:
    """The search's own measure of a plan solved in full."""
    from yellowbath.core.plan.placement.search import cost_of

    return cost_of(solved.plan, solved.answer)


def turns(
    solver: Solver, document: Mapping[str, Any], piece_id: str = ""
) -> Iterator[SearchStep | Turned]:
    """Solve every pose in which a piece fits and share the time out; a step a pose. Without an id
    it is the largest.

    Raises as ``field_of`` does; a pose that leaves more of the piece dry is not considered.
    """
    from yellowbath.core.field.plan_bath import needs_of
    from yellowbath.core.plan.placement.turning import Served, best_turning, poses_of

    first = field_of(solver, document, "preview")
    plan, wet = first.plan, first.answer.fill.wetted_share
    if first.answer.density.value <= 0:
        raise NoAnswerError("No current flows, so turning would not help.")
    if plan.tank.is_piece:
        raise NoAnswerError("A tube that holds the liquid itself stands as it does.")
    piece = plan.piece(piece_id) or largest(plan.pieces)
    poses = list(poses_of(piece))
    served: list[Served] = []
    until = time.monotonic() + MOST_S
    for k, pose in enumerate(poses):
        turned = [pose.of(p) if p.id == piece.id else p for p in plan.pieces]
        posed = answer_plan(plan.model_copy(update={"pieces": turned}))
        if posed.answer and solvable(posed) and posed.answer.fill.wetted_share > wet - 0.01:
            solved = solve_answered(solver, posed, "preview")
            ratios = solved.field.carried.rounded()
            served.append(Served(pose, solved.answer.density.value, ratios))
        yield SearchStep(k + 1, len(poses), first.answer.whole_h)
        if time.monotonic() > until:
            break
    areas = [float(a) for a in first.field.carried.areas]
    needs = needs_of(first.field.carried.regions, wanted_by_region(plan.pieces))
    turning = best_turning(served, areas, first.answer.need.value, needs)
    yield Turned(plan, piece, turning, len(served))


def dose_curve(document: Mapping[str, Any]) -> tuple[Plan, Curve, float]:
    """Amps and evenness against dose, solved, the dose to take, and the band's edge [A/m2].

    Raises NoAnswerError where there is nothing to solve, InvalidDocumentError as elsewhere.
    """
    from yellowbath.core.field.doses import solve_doses
    from yellowbath.core.plan.advice.dosing import curve

    quick = answer_document(document)
    if quick.answer is None or not solvable(quick):
        raise NoAnswerError(
            quick.trouble or "By the sizes typed in things stand inside one another.",
            remedy="Mend the stop first.",
        )
    plan, level = quick.read.plan, quick.answer.fill.level.value
    bottoms = bottoms_of(plan, level)
    made = curve(plan, quick.answer, lambda s: solve_doses(plan, bottoms, level, s))
    return plan, made, quick.answer.band.p95_high
