"""The field's benchmarks: speed by part, against general finite elements, memory, cost by facets.

``python -m tests.bench_field`` or ``make bench``. Process CPU seconds, one thread, compiled code
warm. The finite-element route needs the ``bench`` extra; without it its lines are left out, said.
"""

from __future__ import annotations

import itertools
import json
import math
import resource
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import trimesh

from yellowbath.core.field.assembly.assemble import BlockCache
from yellowbath.core.field.case.case import kinetic, read_case
from yellowbath.core.field.case.case_solve import build, green_of, solve_case
from yellowbath.core.field.solver.bath import FieldBath
from yellowbath.core.field.solver.solve import solve
from yellowbath.workflows.plans.cases import solve_file

CASES = json.loads((Path(__file__).parent / "published" / "field_cases.json").read_text("utf-8"))[
    "cases"
]
GOAL = 0.003  # error in current at which the two routes are compared
TRIES = (60, 80, 100, 140, 200, 300, 450, 700)
SCALES = (3.0, 2.7, 2.5, 2.3, 2.1, 1.9, 1.75, 1.6, 1.5, 1.4, 1.3, 1.1)


def median(work: Callable[[], object], n: int) -> tuple[float, float]:
    """Median and interquartile range of one call, CPU [s]."""
    taken = []
    for _ in range(n):
        start = time.process_time()
        work()
        taken.append(time.process_time() - start)
    quarters = statistics.quantiles(taken, n=4) if n > 2 else [taken[0]] * 3
    return statistics.median(taken), quarters[2] - quarters[0]


def current(bath: FieldBath, solved: Any) -> float:
    return float(solved.density["part"] @ bath.bodies[0].surface.areas)


def moved_rods(bath: FieldBath) -> Iterator[FieldBath]:
    """The same bath with its rods a little elsewhere, each time anew."""
    for k in itertools.count(1):
        shift = np.array([2e-4 * k, 0.0, 0.0])
        rods = [replace(r, start=r.start + shift, end=r.end + shift) for r in bath.rods]
        yield replace(bath, rods=rods)


def against_finite_elements() -> None:
    """C1, C2, C5 at the coarsest setting of each route that meets the error goal."""
    try:
        from tests import finite_elements
    except ImportError:
        print("finite elements: not compared, since the bench extra is not installed")
        return
    nothing, moved = [], []
    for name, raw in CASES.items():
        want = raw["results"]["total_current_A"]
        case = read_case(raw)
        facets, off = next(
            (f, e) for f in TRIES
            if (e := _error(case, f, want)) <= GOAL and _error(case, round(f * 1.2), want) <= GOAL
        )  # fmt: skip
        scale, fem_off = next(
            (s, e) for s in SCALES if (e := _fem_error(finite_elements, raw, s, want)) <= GOAL
        )  # fmt: skip
        unknowns = int(finite_elements.solve(raw, scale)["unknowns"])
        fem, fem_spread = median(lambda raw=raw, s=scale: finite_elements.solve(raw, s), 3)

        def fresh(case: Any = case, facets: int = facets) -> object:
            return solve(build(case, facets, green_of(case)))

        kept = BlockCache()
        bath = build(case, facets, green_of(case))
        solve(bath, kept)
        baths = moved_rods(bath)
        ours, spread = median(fresh, 7)
        again, again_spread = median(lambda b=baths, k=kept: solve(next(b), k), 15)
        count = len(bath.bodies[0].surface)
        print(
            f"{name}: finite elements {fem:6.2f} s ± {fem_spread:.2f} ({unknowns} unknowns, "
            f"{100 * fem_off:.2f} %); ours {ours:6.3f} s ± {spread:.3f} from nothing, "
            f"{again:6.4f} s ± {again_spread:.4f} a moved rod ({count} facets, {100 * off:.2f} %); "
            f"{fem / ours:.0f} and {fem / again:.0f} times"
        )
        nothing.append(fem / ours)
        moved.append(fem / again)
    print(
        f"medians over C1, C2, C5 at {100 * GOAL:.1f} %: {statistics.median(nothing):.0f} times "
        f"from nothing, {statistics.median(moved):.0f} times a moved rod"
    )


def _fem_error(route: Any, raw: Any, scale: float, want: float) -> float:
    """Infinite where the mesher's curved elements fold, which coarse ones do."""
    try:
        return float(abs(route.solve(raw, scale)["total_current_A"] / want - 1))
    except Exception as error:
        print(f"  finite elements at scale {scale}: {error!r:.70}")
        return math.inf


def big_file() -> None:
    """A mesh file of 200,000 triangles, from reading it to the first preview."""
    ball = trimesh.creation.uv_sphere(count=(224, 224), radius=40.0)
    case = {
        "geometry": {
            "tank": {"shape": "box", "lx": 300, "ly": 250},
            "liquid_depth": 200,
            "part": {"shape": "mesh", "file": "ball.stl", "units": "mm",
                     "pose": [[1, 0, 0, 150], [0, 1, 0, 130], [0, 0, 1, 100], [0, 0, 0, 1]]},
            "anodes": [{"name": "A", "shape": "cylinder", "axis": "z", "centre_coords": "x,y",
                        "centre_of_axis_mm": [150, 25], "radius_mm": 6, "from_mm": 20,
                        "to_mm": "through liquid surface"}],
        },
        "parameters": {"V_eff_V": 10.0, "r_a_ohm_m2": 0.01, "r_c_ohm_m2": 0.005, "sigma_S_m": 0.9},
    }  # fmt: skip
    with tempfile.TemporaryDirectory() as folder:
        ball.export(Path(folder) / "ball.stl")
        (Path(folder) / "case.json").write_text(json.dumps(case))
        cost, spread = median(lambda: solve_file(Path(folder) / "case.json", True), 3)
    print(
        f"a file of {len(ball.faces)} triangles to its first preview: {cost:.2f} s ± {spread:.2f}"
    )


def _error(case: Any, facets: int, want: float) -> float:
    bath = build(case, facets, green_of(case))
    return abs(current(bath, solve(bath)) * case.scale / want - 1)


def parts() -> None:
    """Preview and settled, from nothing and after a rod moved, linear and kinetic."""
    for name, raw in CASES.items():
        for model in ("linear", "kinetic"):
            case = read_case(raw) if model == "linear" else kinetic(read_case(raw))
            for quality, facets in (("preview", 350), ("fine", 800)):
                bath = build(case, facets, green_of(case))
                kept = BlockCache()
                solve(bath, kept)
                baths = moved_rods(bath)
                rod, spread = median(lambda b=baths, k=kept: solve(next(b), k), 9)
                fresh, wide = median(lambda c=case, q=quality: solve_case(c, q == "preview"), 3)
                count = sum(len(b.surface) for b in bath.bodies)
                print(
                    f"{name} {model:8} {quality:8} {count:5} facets: rod moved, one mesh "
                    f"{1e3 * rod:7.1f} ms ± {1e3 * spread:.1f}; from nothing with its error "
                    f"{fresh:6.2f} s ± {wide:.2f}"
                )


def exponent(picture: Path | None = None) -> None:
    """Cost from nothing and error in current against facets, with the exponent of each.

    The error is against the finest mesh's own, so that it shows the solver's convergence.
    """
    case = read_case(CASES["C1"])
    green = green_of(case)
    facets, costs, currents = [], [], []
    for asked in (100, 200, 400, 800, 1600, 3200):
        bath = build(case, asked, green)
        costs.append(median(lambda b=bath: solve(b), 3)[0])
        facets.append(len(bath.bodies[0].surface))
        currents.append(current(bath, solve(bath)))
        print(f"C1, {facets[-1]:5} facets: {costs[-1]:7.3f} s, {currents[-1] * case.scale:.5f} A")
    errors = [abs(c / currents[-1] - 1) for c in currents[:-1]]
    x = np.log(facets)
    cost_power = float(np.polyfit(x, np.log(costs), 1)[0])
    error_power = float(np.polyfit(x[:-1], np.log(errors), 1)[0])
    print(f"exponents by facets: cost {cost_power:.2f}, error {error_power:.2f}")
    if picture is not None:
        panels = (
            (f"CPU seconds from nothing: facets to the {cost_power:.2f}", facets, costs),
            (f"Error of the current: facets to the {error_power:.2f}", facets[:-1], errors),
        )
        draw(panels, picture)


def draw(panels: Sequence[tuple[str, list[int], list[float]]], picture: Path) -> None:
    """Log-log panels side by side, as SVG; nothing without the ``bench`` extra."""
    try:
        from matplotlib import pyplot
    except ImportError:
        print("no picture, since the bench extra is not installed")
        return
    figure, axes = pyplot.subplots(1, len(panels), figsize=(10, 3.6), layout="constrained")
    for axis, (title, xs, ys) in zip(axes, panels, strict=True):
        axis.loglog(xs, ys, "-o", color="#1b1a17", markerfacecolor="#f2c200", markersize=8)
        axis.set(title=title, xlabel="facets on the piece")
        axis.grid(which="both", color="#d9d2c0")
    figure.savefig(picture, metadata={"Date": None})


def memory() -> None:
    """Peak of this process after the largest settled case."""
    for raw in CASES.values():
        solve_case(read_case(raw))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"peak resident memory after C1, C2, C5 settled: {peak:.0f} MB")


def main() -> None:
    solve_case(read_case(CASES["C1"]), True)
    memory()
    parts()
    big_file()
    exponent(Path(__file__).parents[1] / "docs" / "models" / "field-cost.svg")
    against_finite_elements()


if __name__ == "__main__":
    main()
