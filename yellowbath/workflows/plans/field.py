"""Solving where the current goes in plans, with the solver that the shop keeps.

The numerical stack takes a second to import, so it is imported where it is used: the page is served
first.
"""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from yellowbath.core.checks import PLACING, Owns, find_placing, judged
from yellowbath.core.document import Meter, Piece, Plan
from yellowbath.core.dose import wanted_by_region
from yellowbath.core.ear import parse
from yellowbath.core.errors import NoAnswerError
from yellowbath.core.field.model import QUALITIES
from yellowbath.core.field.solved import FieldSummary, SolvedField
from yellowbath.core.field.watch import Doubt
from yellowbath.core.plan.comparison.compare import Difference, differences
from yellowbath.core.plan.placement.dips import dipped, end_for_end
from yellowbath.core.plan.reading.entries import Read, read_plan
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.core.plan.results.answer import Answer, answer, prepared
from yellowbath.core.plan.results.meter import meter_of
from yellowbath.workflows.plans.plans import Answered, answer_document
from yellowbath.workflows.shop.faults import figures_or_why
from yellowbath.workflows.shop.solver import Drag, Solver, course, expect

if TYPE_CHECKING:
    from yellowbath.core.field.live import LiveField
    from yellowbath.core.field.plan_bath import PieceField


# --- Plans ----------------------------------------------------------------------------------


@dataclass(frozen=True)
class PlanField:
    """A plan answered by its solved field, and the field itself; ``doubted``: what spoke against
    the field before it was refined."""

    answered: Answered
    answer: Answer
    field: PieceField
    summary: FieldSummary
    seconds: float
    doubted: tuple[Doubt, ...] = ()

    @property
    def plan(self) -> Plan:
        return self.answered.read.plan


def field_of(
    solver: Solver,
    document: Mapping[str, Any],
    quality: str,
    drag: Drag | None = None,
    refine: bool = False,
    own: Owns | None = None,
) -> PlanField:
    """Solve a document's bath, or take it from the cache; the API stays without state.

    A fine field that is doubted is refined, a preview if ``refine``: whoever shows one asks for the
    fine one next.

    Raises SupersededError where the next of a row of drags came in before the solve was done,
    NoAnswerError where there is no current path, InvalidDocumentError as elsewhere.
    """
    quick = answer_document(document, own=own)
    if quick.answer is None:
        raise NoAnswerError(quick.trouble)
    if not solvable(quick):
        raise NoAnswerError(
            "By the sizes typed in things stand inside one another: there is no field to solve.",
            remedy="Mend that stop first.",
        )
    with course(drag):
        expect(drag, "first")
        if quality == "preview":
            return (trusted if refine else solve_answered)(solver, quick, quality, drag, fixes=True)
        before = _held(solver, quick, "preview")
        solved = trusted(solver, quick, quality, drag, True, before)
        return _with_other_half(solver, _with_turn(solver, solved, drag), drag)


def trusted(
    solver: Solver,
    quick: Answered,
    quality: str,
    drag: Drag | None = None,
    fixes: bool = False,
    before: PieceField | None = None,
    what: str = "first",
) -> PlanField:
    """Solved, and once more on finer meshes where something speaks against it as it is; ``what`` a
    person is told that it is of, a key under ``solving``."""
    expect(drag, what)
    solved = solve_answered(solver, quick, quality, drag, fixes, before)
    if not solved.answer.doubts:
        return solved
    expect(drag, "finer")
    finer = solve_answered(solver, quick, QUALITIES[quality].then, drag, fixes, solved.field)
    return replace(finer, doubted=solved.answer.doubts)


def _with_turn(solver: Solver, solved: PlanField, drag: Drag | None) -> PlanField:
    """The same with the piece turned round solved too, where some of it looks away from all scrap:
    so that what a turn would do is known and not guessed."""
    found = solved.answer.outlook
    away = next((s for s in found.sides if s.kind == "away"), None) if found else None
    if found is None or away is None or found.main.hours is None:
        return solved
    if away.hours is not None and away.hours[1] < _LATE * found.main.hours[1]:
        return solved
    posed = _Posed(solver, solved.summary.resistance_ohm, drag)
    turned = posed.ratios(solved.plan, _turned_round, "turned")
    if not turned:
        return solved
    quick = solved.answered
    summary = solved.summary
    with_turn = summary.model_copy(update={"poses": (*summary.poses, *turned)})
    worked = answer(solved.plan, SolvedField(with_turn))
    return replace(
        solved, answered=replace(quick, answer=worked), answer=worked,
    )  # fmt: skip


def _with_other_half(solver: Solver, solved: PlanField, drag: Drag | None) -> PlanField:
    """The same with what stands out of the liquid solved put end for end too: its own hours."""
    if not dipped(solved.plan, solved.answer):
        return solved
    other = answer_plan(end_for_end(solved.plan, solved.answer))
    if not solvable(other):
        return solved
    half = trusted(solver, other, "preview", drag, what="dipped").answer
    return replace(solved, answered=replace(solved.answered, other_half=half))


_LATE = 1.25  # times the main surface's hours from which a side turned away is worth a turn; judged


def solve_answered(
    solver: Solver,
    quick: Answered,
    quality: str,
    drag: Drag | None = None,
    fixes: bool = False,
    earlier: PieceField | None = None,
) -> PlanField:
    """Solve what was answered quickly and is solvable, and answer it again by its field; what an
    ``earlier``, coarser solve claimed is held against it."""
    assert quick.answer is not None
    start = time.perf_counter()
    plan = quick.read.plan
    with figures_or_why():
        found = _cached(solver, plan, quick.answer, quality, drag)
        summary = found.summary(quick.answer.warm, wanted_by_region(plan.pieces))
        if earlier is not None:
            before = (earlier.resistance.value, earlier.resistance.share)
            summary = summary.model_copy(update={"earlier": before})
        worked = answer(plan, SolvedField(summary))
        answered = Answered(quick.read, worked, judged(plan, worked), offers=fixes, own=quick.own)
    return PlanField(answered, worked, found, summary, time.perf_counter() - start)


@dataclass(frozen=True)
class Live:
    """A plan answered while it is being moved; ``field`` is None where there is none to solve."""

    answered: Answered
    field: LiveField | None
    seconds: float


def live(
    solver: Solver, document: Mapping[str, Any], drag: Drag | None = None, ready: bool = False
) -> Live:
    """Answer a document by one mesh; by the closed form alone until the solver is ready.

    ``ready`` puts tank and piece together on the finer mesh, for the moves to come. Raises
    SupersededError where the next of a row came in before it was this one's turn.
    """
    start = time.perf_counter()
    if not solver.is_warm:
        return Live(answer_document(document), None, time.perf_counter() - start)
    read = read_plan(document)
    try:
        # all of it in one's turn: what is worked out beside the solve is most of the time
        with solver.hand(drag), figures_or_why():
            answered, found = _moved(solver, read, ready)
    except NoAnswerError as error:
        answered, found = Answered(read, None, [], str(error)), None
    return Live(answered, found, time.perf_counter() - start)


def _moved(solver: Solver, read: Read, ready: bool) -> tuple[Answered, LiveField | None]:
    from yellowbath.core.field.live import solve_live

    plan = read.plan
    first = prepared(plan)
    if find_placing(plan, first.fill):
        quick = answer(plan, first=first)
        return Answered(read, quick, judged(plan, quick), offers=False), None
    level = first.fill.level.value
    bottoms, kappa = bottoms_of(plan, level), first.conductivity(plan).value
    with solver.operators() as kept:
        found = solve_live(plan, bottoms, level, kappa, kept, ready)
    model = SolvedField(found.summary(first.warm, wanted_by_region(plan.pieces)))
    worked = answer(plan, model, first)
    return Answered(read, worked, judged(plan, worked), offers=False), found


def run_summary(solver: Solver, quick: Answered, drag: Drag | None = None) -> FieldSummary:
    """What a run keeps of its field: the plan's pose, and all pieces turned round where they fit.

    A turn in the run's log then adds its dose to the facets that it serves. Pieces that stand out
    of the liquid are also solved put end for end, so that each dip counts where it was under.
    """
    with course(drag):
        return _run_summary(solver, quick, drag)


def _run_summary(solver: Solver, quick: Answered, drag: Drag | None) -> FieldSummary:
    found, plan = _settled(solver, quick, drag), quick.read.plan
    # poses are previews, and so are held against one
    made = _Posed(solver, _summary(solver, quick, drag).resistance_ohm, drag)
    poses = [*found.poses, *made.ratios(plan, _turned_round, "turned")]
    ohm, made.ohm = [1.0, *made.ohm], []
    halves: list[tuple[float, ...]] = []
    assert quick.answer is not None
    if dipped(plan, quick.answer):
        flipped = end_for_end(plan, quick.answer)
        halves += made.ratios(flipped, lambda p: p, "dipped")
        if halves:
            halves += made.ratios(flipped, _turned_round, "turned")
    return found.model_copy(
        update={
            "poses": tuple(poses), "dipped": tuple(halves),
            "pose_ohm": tuple(ohm), "dipped_ohm": tuple(made.ohm),
        }
    )  # fmt: skip


@dataclass
class _Posed:
    """Poses that are solved one after the other; ``ohm``: their resistance over the first's."""

    solver: Solver
    first_ohm: float
    drag: Drag | None = None
    ohm: list[float] = field(default_factory=list)

    def ratios(
        self, plan: Plan, pose: Callable[[Piece], Piece], what: str
    ) -> tuple[tuple[float, ...], ...]:
        """With every piece in another pose; nothing where that cannot be built."""
        other = answer_plan(plan.model_copy(update={"pieces": [pose(p) for p in plan.pieces]}))
        if not solvable(other):
            return ()
        found = _summary(self.solver, other, self.drag, what)
        self.ohm.append(found.resistance_ohm / self.first_ohm)
        return found.poses


def _turned_round(piece: Piece) -> Piece:
    turn = piece.turn_deg + (180 if piece.turn_deg <= 0 else -180)
    return piece.model_copy(update={"turn_deg": turn})


def _summary(
    solver: Solver, quick: Answered, drag: Drag | None, what: str = "first"
) -> FieldSummary:
    return trusted(solver, quick, "preview", drag, what=what).summary


def _settled(solver: Solver, quick: Answered, drag: Drag | None) -> FieldSummary:
    """The settled field, as the plan's page shows it; solved where it does not stand yet."""
    before = _held(solver, quick, "preview")
    return trusted(solver, quick, "fine", drag, before=before).summary


def settled_answer(solver: Solver, document: Mapping[str, Any]) -> Answered:
    """A document answered by its settled field, waited for; by the closed form where there is none
    to solve. What is printed, run or told once tells this."""
    quick = answer_document(document)
    return field_of(solver, document, "fine").answered if solvable(quick) else quick


def by_now(solver: Solver, document: Mapping[str, Any], own: Owns | None = None) -> Answered | None:
    """A document answered by its settled field where that stands by now; None until then."""
    quick = answer_document(document, fixes=False)
    if not solvable(quick) or _held(solver, quick, "fine") is None:
        return None
    return field_of(solver, document, "fine", own=own).answered


def answer_plan(plan: Plan) -> Answered:
    """A plan made from a plan, answered quickly."""
    return answer_document(plan.model_dump(mode="json", exclude={"typed"}), fixes=False)


def answer_solved(
    solver: Solver, document: Mapping[str, Any], quality: str, drag: Drag | None = None
) -> Answered:
    """A document answered by its solved field; by the quick one where there is none to solve."""
    quick = answer_document(document)
    if not solvable(quick):
        return quick
    with course(drag):
        return trusted(solver, quick, quality, drag, True).answered


def by_meter(solver: Solver, document: Mapping[str, Any], text: str) -> Meter:
    """A reading typed in any unit, and what it puts on this bath's resistance.

    Raises NotUnderstoodError, OutOfRangeError where it cannot be or says nothing, NoAnswerError.
    """
    plan = read_plan(document).plan

    def work(tried: Plan) -> Answer:
        solved = answer_solved(solver, tried.model_dump(mode="json", exclude={"typed"}), "preview")
        if solved.answer is None:
            raise NoAnswerError(solved.trouble)
        return solved.answer

    return meter_of(plan, parse(text, "current", plan.system), work)


@dataclass(frozen=True)
class Compared:
    """Two documents answered, and what they differ in."""

    one: Answered
    other: Answered
    differences: Sequence[Difference]


def compare(solver: Solver, one: Mapping[str, Any], other: Mapping[str, Any]) -> Compared:
    """Two variants of a plan side by side, each by its solved field where there is one."""
    a, b = (answer_solved(solver, d, "preview") for d in (one, other))
    return Compared(a, b, differences(a.read.plan, b.read.plan))


def solvable(quick: Answered) -> bool:
    """Whether there is a current path and nothing stands inside anything else."""
    return quick.answer is not None and not set(PLACING) & {f.id for f in quick.findings}


_SHAPING = {
    "id",
    "shape",
    "hang",
    "turn_deg",
    "tilt_deg",
    "flipped",
    "x_m",
    "y_m",
    "contact_ohm",
    "masked",
}


def _key(plan: Plan, worked: Answer, quality: str) -> str:
    """What a field depends on, and nothing else."""
    level = worked.fill.level.value
    return json.dumps([
        quality, level, worked.conductivity.value, bottoms_of(plan, level),
        plan.tank.shape.model_dump(), [p.model_dump(include=_SHAPING) for p in plan.pieces],
        [a.model_dump(exclude={"material"}) for a in plan.anodes], plan.layout.wall_gap_m,
    ])  # fmt: skip


def _held(solver: Solver, quick: Answered, quality: str) -> PieceField | None:
    assert quick.answer is not None
    return solver.held(_key(quick.read.plan, quick.answer, quality))


def _cached(
    solver: Solver, plan: Plan, worked: Answer, quality: str, drag: Drag | None
) -> PieceField:
    from yellowbath.core.field.plan_bath import solve_plan

    kappa, depth = worked.conductivity.value, worked.fill.level.value
    bottoms, key = bottoms_of(plan, depth), _key(plan, worked, quality)
    check = drag.mesh if drag else lambda: None
    return solver.field(
        key, lambda kept: solve_plan(plan, bottoms, depth, kappa, quality, kept, check), drag
    )


def warm_up(solver: Solver) -> None:
    """Load or make the compiled kernels by a small solve; meant for a thread of its own."""
    with solver.warming():
        field_of(solver, {"mix": {"product": "soda_anhydrous"}}, "preview")
