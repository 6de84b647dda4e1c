"""Fine and preview solves of twelve shapes and poses, from nothing: docs/shapes.

``python -m tests.bench_shapes``. Process CPU, one thread, kernels warm; medians of three.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from tests.bench_field import median
from yellowbath.core.field.plan_bath import PieceField, solve_plan
from yellowbath.core.plan.reading.filling import bottoms_of
from yellowbath.workflows.plans.field import warm_up
from yellowbath.workflows.plans.plans import answer_document
from yellowbath.workflows.shop.solver import Solver

SHAPES = Path(__file__).parents[1] / "docs" / "shapes"


def cold(document: dict[str, Any], quality: str) -> tuple[float, float, PieceField]:
    """Median CPU and its spread [s] of a plan's field from nothing, and the field."""
    quick = answer_document(document)
    assert quick.answer is not None
    plan, level = quick.read.plan, quick.answer.fill.level.value
    bottoms, kappa = bottoms_of(plan, level), quick.answer.conductivity.value
    made: list[PieceField] = []
    taken, spread = median(lambda: made.append(solve_plan(plan, bottoms, level, kappa, quality)), 3)
    return taken, spread, made[-1]


def main(names: Sequence[str]) -> None:
    """One row a shape: CPU, facets, resistance and its claimed error."""
    warm_up(Solver())
    print("| shape and pose | preview | fine | facets | resistance | claimed |")
    print("|---|---|---|---|---|---|")
    for path in sorted(SHAPES.glob("*.json")):
        if names and path.stem not in names:
            continue
        document = json.loads(path.read_text("utf-8"))
        quick, _, _ = cold(document, "preview")
        fine, spread, field = cold(document, "fine")
        r = field.resistance
        print(
            f"| {path.stem} | {quick:.2f} s | {fine:.2f} s ± {spread:.2f} | {field.facets} "
            f"| {r.value:.4f} Ω | {100 * r.share:.2f} % |",
            flush=True,
        )


if __name__ == "__main__":
    main(sys.argv[1:])
