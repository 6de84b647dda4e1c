"""Solving where the current goes: cases from files, and plans.

The numerical stack takes a second to import, so it is imported where it is used: the page is served
first.
"""

from __future__ import annotations

import json
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Container, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yellowbath.core.checks import PLACING, find, find_placing
from yellowbath.core.document import Piece, Plan
from yellowbath.core.dose import wanted_by_region
from yellowbath.core.errors import (
    CaseError,
    NoAnswerError,
    NotFoundError,
    SupersededError,
    YellowBathError,
)
from yellowbath.core.field.solved import FieldSummary, SolvedField
from yellowbath.core.plan.comparison.compare import Difference, differences
from yellowbath.core.plan.reading.entries import Read, read_plan
from yellowbath.core.plan.results.answer import Answer, answer, readied
from yellowbath.core.plan.results.filling import COVERED, bottoms_of
from yellowbath.workflows.plans import Answered, answer_document

if TYPE_CHECKING:
    from yellowbath.core.field.assembly.assemble import Kept
    from yellowbath.core.field.live import LiveField
    from yellowbath.core.field.plan_bath import PieceField


def solve_file(
    path: Path, preview: bool = False, model: str = "linear"
) -> dict[str, dict[str, Any]]:
    """Results of the case in a file, or of each in a file of several under ``cases``, by name.

    Raises NotFoundError without a file, CaseError where it cannot be read.
    """
    from yellowbath.core.field.case.case import kinetic, read_case
    from yellowbath.core.field.case.case_solve import solve_case

    if not path.is_file():
        raise NotFoundError(f"There is no file {path}.", remedy="Give the path of a case in JSON.")
    try:
        data = json.loads(path.read_text("utf-8"))
    except json.JSONDecodeError as error:
        raise CaseError(f"{path.name} is not JSON: {error}.") from None
    if not isinstance(data, dict):
        raise CaseError("A case is a JSON object.", allowed="geometry and parameters.")
    cases = data.get("cases", {path.stem: data})
    load = partial(load_mesh, path.parent)
    read = {name: read_case(case, load) for name, case in cases.items()}
    if model == "kinetic":
        read = {name: kinetic(case) for name, case in read.items()}
    return {name: solve_case(case, preview, time.process_time) for name, case in read.items()}


def load_mesh(folder: Path, name: str) -> tuple[Any, Any]:
    """Vertices and faces of a mesh file beside a case; several bodies in it become one list.

    Raises NotFoundError without the file, CaseError where it is of another kind or broken.
    """
    path = folder / name
    if path.resolve().parent != folder.resolve() or not path.is_file():
        raise NotFoundError(f"There is no mesh {name} beside the case.")
    from yellowbath.core.field.mesh.mesh_files import read_bytes

    read = read_bytes(name, path.read_bytes())
    return read.vertices, read.faces


def field_report(path: Path, preview: bool, model: str, as_json: bool) -> tuple[int, str]:
    """Exit code and text of ``yellowbath field``: results, or what is wrong with the file."""
    try:
        solved = solve_file(path, preview, model)
    except YellowBathError as error:
        return 2, str(error)
    if as_json:
        return 0, json.dumps(next(iter(solved.values())) if len(solved) == 1 else solved, indent=1)
    return 0, "\n\n".join(as_table(name, results) for name, results in solved.items())


def as_table(name: str, results: dict[str, Any]) -> str:
    """Results as a table that a person can read, each with the error claimed for it."""
    errors = results["error_estimate"]
    lines = [
        f"{name}: {results['model']}, {results['timings']['facets']} facets",
        f"  current        {results['total_current_A']:9.4f} A     "
        f"± {errors['total_current_A']:.4f}",
        f"  wetted area    {results['part_wetted_area_m2'] * 100:9.3f} dm2",
        f"  mean density   {results['mean_i_A_m2'] / 100:9.4f} A/dm2",
        f"  p5 of mean     {results['p5_over_mean']:9.4f}       ± {errors['p5_over_mean']:.4f}",
        f"  p95 of mean    {results['p95_over_mean']:9.4f}       ± {errors['p95_over_mean']:.4f}",
        f"  worst patch    {results['worst_face_over_mean']:9.4f} of the mean",
    ]
    lines.append(
        f"  balance        {results['current_balance']:9.1e}       out of all anodes, over in"
    )
    lines += [f"  {note}" for note in results.get("mended", [])]
    lines += [
        f"  anode {anode:8} {share * 100:9.2f} % of the current"
        for anode, share in results["anode_share"].items()
    ]
    lines += [
        f"  {patch:14} {p['ratio_to_mean']:9.4f} of the mean"
        f"  ± {errors['patches'][patch]['ratio_to_mean']:.4f}  {p['area_m2'] * 100:8.3f} dm2"
        for patch, p in results["patches"].items()
    ]
    return "\n".join(lines)


# --- Plans ----------------------------------------------------------------------------------

_KEPT = 40
_solved: OrderedDict[str, PieceField] = OrderedDict()
_lock = threading.Lock()


@dataclass(frozen=True)
class PlanField:
    """A plan answered by its solved field, and the field itself."""

    answered: Answered
    answer: Answer
    field: PieceField
    seconds: float

    @property
    def plan(self) -> Plan:
        return self.answered.read.plan


_ROWS = 200
_newest: OrderedDict[str, int] = OrderedDict()


class Drag:
    """One of a row of requests of which only the newest is wanted, as while a finger moves.

    ``by`` names the row, ``turn`` counts up within it.
    """

    def __init__(self, by: str, turn: int) -> None:
        self._by, self._turn = by, turn
        _newest[by] = max(turn, _newest.get(by, turn))
        _newest.move_to_end(by)
        if len(_newest) > _ROWS:
            _newest.popitem(last=False)

    def check(self) -> None:
        """Raises SupersededError where a newer one of the row has come in."""
        if _newest.get(self._by, self._turn) > self._turn:
            raise SupersededError("A newer request took the place of this one.")


def field_of(document: Mapping[str, Any], quality: str, drag: Drag | None = None) -> PlanField:
    """Solve a document's bath, or take it from the cache; the API stays without state.

    Raises SupersededError where the next of a row of drags came in before the solve was done,
    NoAnswerError where there is no current path, InvalidDocumentError as elsewhere.
    """
    quick = answer_document(document)
    if quick.answer is None:
        raise NoAnswerError(quick.trouble)
    if not solvable(quick):
        raise NoAnswerError(
            "By the sizes typed in things stand inside one another: there is no field to solve.",
            remedy="Mend that stop first.",
        )
    return solve_answered(quick, quality, drag, mends=True)


def solve_answered(
    quick: Answered, quality: str, drag: Drag | None = None, mends: bool = False
) -> PlanField:
    """Solve what was answered quickly and is solvable, and answer it again by its field."""
    assert quick.answer is not None
    start = time.perf_counter()
    plan = quick.read.plan
    found = _cached(plan, quick.answer, quality, drag)
    summary = found.summary(quick.answer.warm, wanted_by_region(plan.pieces))
    worked = answer(plan, SolvedField(summary))
    answered = Answered(quick.read, worked, find(plan, worked, mends))
    return PlanField(answered, worked, found, time.perf_counter() - start)


@dataclass(frozen=True)
class Live:
    """A plan answered while it is being moved; ``field`` is None where there is none to solve."""

    answered: Answered
    field: LiveField | None
    seconds: float


def live(document: Mapping[str, Any], drag: Drag | None = None, ready: bool = False) -> Live:
    """Answer a document by one mesh; by the closed form alone until the solver is ready.

    ``ready`` puts tank and piece together on the finer mesh, for the moves to come. Raises
    SupersededError where the next of a row came in before it was this one's turn.
    """
    start = time.perf_counter()
    if not is_warm():
        return Live(answer_document(document), None, time.perf_counter() - start)
    read = read_plan(document)
    try:
        answered, found = _moved(read, drag, ready)
    except NoAnswerError as error:
        answered, found = Answered(read, None, [], str(error)), None
    return Live(answered, found, time.perf_counter() - start)


def _moved(read: Read, drag: Drag | None, ready: bool) -> tuple[Answered, LiveField | None]:
    from yellowbath.core.field.live import solve_live

    plan = read.plan
    first = readied(plan)
    if find_placing(plan, first.fill):
        quick = answer(plan)
        return Answered(read, quick, find(plan, quick, mends=False)), None
    level = first.fill.level.value
    with _live_lock:
        if drag:
            drag.check()
        found = solve_live(
            plan, bottoms_of(plan, level), level, first.conductivity.value, _live_blocks(), ready
        )
    worked = answer(plan, SolvedField(found.summary(first.warm, wanted_by_region(plan.pieces))))
    return Answered(read, worked, find(plan, worked, mends=False)), found


# a lock and a store of its own: a hand does not wait for a settled solve
_live_lock = threading.Lock()


@cache
def _live_blocks() -> Kept:
    from yellowbath.core.field.assembly.assemble import Kept

    return Kept(150_000_000)


def run_summary(quick: Answered) -> FieldSummary:
    """What a run keeps of its field: the plan's pose, and all pieces turned round where they fit.

    A turn in the run's log then adds its dose to the facets that it serves. Pieces that stand out
    of the liquid are also solved put end for end, so that each dip counts where it was under.
    """
    found, plan = _summary(quick), quick.read.plan
    poses = [*found.poses, *_posed(plan, _turned_round)]
    dipped: list[tuple[float, ...]] = []
    assert quick.answer is not None
    out = {key for key, share in quick.answer.fill.shares.items() if share < COVERED}
    if out:
        flip = partial(_flipped, out)
        dipped += _posed(plan, flip)
        if dipped:
            dipped += _posed(plan, lambda p: _turned_round(flip(p)))
    return found.model_copy(update={"poses": tuple(poses), "dipped": tuple(dipped)})


def _posed(plan: Plan, pose: Callable[[Piece], Piece]) -> tuple[tuple[float, ...], ...]:
    """Ratios with every piece in another pose; nothing where that cannot be built."""
    other = answer_plan(plan.model_copy(update={"pieces": [pose(p) for p in plan.pieces]}))
    return _summary(other).poses if solvable(other) else ()


def _turned_round(piece: Piece) -> Piece:
    turn = piece.turn_deg + (180 if piece.turn_deg <= 0 else -180)
    return piece.model_copy(update={"turn_deg": turn})


def _flipped(which: Container[str], piece: Piece) -> Piece:
    return piece.model_copy(update={"flipped": not piece.flipped}) if piece.id in which else piece


def _summary(quick: Answered) -> FieldSummary:
    solved = solve_answered(quick, "preview")
    return solved.field.summary(solved.answer.warm, wanted_by_region(solved.plan.pieces))


def answer_plan(plan: Plan) -> Answered:
    """A plan made from a plan, answered quickly."""
    return answer_document(plan.model_dump(mode="json", exclude={"typed"}), mends=False)


def answer_solved(document: Mapping[str, Any], quality: str, drag: Drag | None = None) -> Answered:
    """A document answered by its solved field; by the quick one where there is none to solve."""
    quick = answer_document(document)
    return solve_answered(quick, quality, drag, mends=True).answered if solvable(quick) else quick


@dataclass(frozen=True)
class Compared:
    """Two documents answered, and what they differ in."""

    one: Answered
    other: Answered
    differences: Sequence[Difference]


def compare(one: Mapping[str, Any], other: Mapping[str, Any]) -> Compared:
    """Two variants of a plan side by side, each by its solved field where there is one."""
    a, b = answer_solved(one, "preview"), answer_solved(other, "preview")
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


def _cached(plan: Plan, worked: Answer, quality: str, drag: Drag | None) -> PieceField:
    from yellowbath.core.field.plan_bath import solve_plan

    fill, kappa = worked.fill, worked.conductivity.value
    bottoms, depth = bottoms_of(plan, fill.level.value), fill.level.value
    key = json.dumps([
        quality, depth, kappa, bottoms, plan.tank.shape.model_dump(),
        [p.model_dump(include=_SHAPING) for p in plan.pieces],
        [a.model_dump(exclude={"material"}) for a in plan.anodes], plan.placing.wall_gap_m,
    ])  # fmt: skip
    with _lock:
        if key in _solved:
            _solved.move_to_end(key)
            return _solved[key]
        check = drag.check if drag else lambda: None
        found = solve_plan(plan, bottoms, depth, kappa, quality, _blocks(), check)
        _solved[key] = found
        if len(_solved) > _KEPT:
            _solved.popitem(last=False)
        return found


@cache
def _blocks() -> Kept:
    """What facets do to one another, kept between requests; guarded by the lock."""
    from yellowbath.core.field.assembly.assemble import Kept

    return Kept()


_warming: list[float] = []  # when it began, and how long it took once it is done


def warm_up() -> None:
    """Load or make the compiled kernels by a small solve; meant for a thread of its own."""
    _warming[:] = [time.monotonic()]
    try:
        field_of({"mix": {"product": "soda_anhydrous"}}, "preview")
    finally:
        _warming.append(time.monotonic() - _warming[0])


def is_warm() -> bool:
    """Whether the compiled kernels are loaded, so that a solve takes no longer than it should."""
    return len(_warming) == 2 or bool(_solved)


def getting_ready() -> float | None:
    """Seconds for which the solver has been getting ready; None before and after."""
    return time.monotonic() - _warming[0] if len(_warming) == 1 else None
