"""What a page waits for of twelve shapes and poses, from nothing: docs/shapes.

``python -m tests.bench_shapes [NAME...]``. Quick to settled is all that a page asks for after a
change: the preview, then the fine solve, and with it the turned pose or the other dip where the
answer tells them. Process CPU, one thread, kernels warm; medians of three.
"""

from __future__ import annotations

import json
import statistics
import sys
import time
from collections.abc import Sequence
from multiprocessing import get_context
from pathlib import Path
from typing import Any, NamedTuple

from yellowbath.workflows.plans.field import field_of, warm_up
from yellowbath.workflows.shop.solver import Solver

SHAPES = Path(__file__).parents[1] / "docs" / "shapes"
TIMES = 3


class Waited(NamedTuple):
    """CPU [s] of all solves until a document's answer is settled, and what it says."""

    cpu: float
    facets: int
    ohm: float
    claimed: float


def waited(document: dict[str, Any]) -> Waited:
    """From nothing; meant for a process of its own, which has kept no mesh."""
    solver = Solver()
    start = time.process_time()
    field_of(solver, document, "preview")
    found = field_of(solver, document, "fine").field
    taken = time.process_time() - start
    return Waited(taken, found.facets, found.resistance.value, found.resistance.share)


def main(names: Sequence[str]) -> None:
    """One row a shape: CPU, facets, resistance and its claimed error."""
    warm_up(Solver())
    print("| shape and pose | settled | facets | resistance | claimed |")
    print("|---|---|---|---|---|")
    every = []
    for path in sorted(SHAPES.glob("*.json")):
        if names and path.stem not in names:
            continue
        document = json.loads(path.read_text("utf-8"))
        with get_context("fork").Pool(1, maxtasksperchild=1) as pool:
            found = pool.map(waited, [document] * TIMES, chunksize=1)
        taken = [w.cpu for w in found]
        every.append(statistics.median(taken))
        print(
            f"| {path.stem} | {every[-1]:.2f} s ({min(taken):.2f} to {max(taken):.2f}) "
            f"| {found[0].facets} | {found[0].ohm:.4f} Ω | {100 * found[0].claimed:.2f} % |",
            flush=True,
        )
    print(f"| median; most | {statistics.median(every):.2f}; {max(every):.2f} s | | | |")


if __name__ == "__main__":
    main(sys.argv[1:])
