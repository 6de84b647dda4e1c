"""Benchmarks: ``make bench``. Process CPU where it is ours alone, wall clock over loopback.

Each figure is the median and the spread of several rounds; no test depends on any of them.
"""

from __future__ import annotations

import itertools
import math
import resource
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from tests import (
    bench_calibration,
    bench_causes,
    bench_crowd,
    bench_field,
    bench_interlocks,
    bench_live,
    bench_samples,
    bench_store,
    bench_years,
)
from tests.server import Server
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.field.estimate import rectangle_neumann
from yellowbath.core.tables import sheets
from yellowbath.workflows.plans.field import field_of, warm_up
from yellowbath.workflows.plans.plans import answer_document
from yellowbath.workflows.plans.search import dose_curve


def rounds(work: Callable[[], object], clock: Callable[[], float], n: int) -> tuple[float, float]:
    """Median and interquartile range of one call [ms]."""
    taken = []
    for _ in range(n):
        start = clock()
        work()
        taken.append((clock() - start) * 1e3)
    quarters = statistics.quantiles(taken, n=4)
    return statistics.median(taken), quarters[2] - quarters[0]


def series(size: tuple[float, float], a: tuple[float, float], b: tuple[float, float]) -> float:
    """The plain cosine series, 400 terms: the alternative to its closed sum."""
    length, width = size
    x, y, x0, y0 = (v + s / 2 for v, s in zip((*a, *b), (*size, *size), strict=True))
    total = 0.0
    for n in range(1, 400):
        k = n * math.pi / length
        images = (abs(y - y0), y + y0, 2 * width - abs(y - y0), 2 * width - y - y0)
        waves = sum(math.exp(-k * d) for d in images) / (2 * (1 - math.exp(-2 * k * width)))
        total += 2 / length * math.cos(k * x) * math.cos(k * x0) * waves / k
    return total


def line(name: str, figures: tuple[float, float], note: str = "") -> None:
    print(f"{name:46} {figures[0]:8.2f} ms  ± {figures[1]:.2f}  {note}")


def field() -> None:
    """A plan's field: from nothing, and after a rod moved; process CPU, kernels loaded."""
    warm_up(SOLVER)
    box = {**QUIET, "tank": {"shape": {"kind": "box"}}}
    for name, base in (("box", box), ("tapered bucket", dict(QUIET))):
        sizes = itertools.count(1)
        gaps = itertools.count(1)

        def fresh(base: dict[str, object] = base, sizes: Iterator[int] = sizes) -> object:
            plate = {"kind": "plate", "length_m": 0.2 + 0.001 * next(sizes)}
            return field_of(SOLVER, {**base, "pieces": [{"shape": plate}]}, "preview")

        def moved(base: dict[str, object] = base, gaps: Iterator[int] = gaps) -> object:
            placing = {"wall_gap_m": 0.02 + 0.0005 * next(gaps)}
            return field_of(SOLVER, {**base, "layout": placing}, "preview")

        line(f"field, {name}, another piece, CPU", rounds(fresh, time.process_time, 7))
        line(f"field, {name}, a rod moved, CPU", rounds(moved, time.process_time, 9))


def behind() -> None:
    """What is behind the bath: a whole evaluation with its checks, the dose curve, the tables."""
    line("answer and checks of a plan, CPU",
         rounds(lambda: answer_document(QUIET), time.process_time, 60))  # fmt: skip
    box = {**QUIET, "tank": {"shape": {"kind": "box"}}}
    for name, base in (("box and rods", box), ("tapered bucket", dict(QUIET))):
        sizes = itertools.count(1)

        def fresh(base: dict[str, object] = base, sizes: Iterator[int] = sizes) -> object:
            plate = {"kind": "plate", "length_m": 0.2 + 0.001 * next(sizes)}
            return dose_curve({**base, "pieces": [{"shape": plate}]})

        line(f"dose curve from nothing, {name}, wall", rounds(fresh, time.perf_counter, 5))
    line("every table, CPU", rounds(lambda: sheets("us"), time.process_time, 9))


def main() -> None:
    at = ((0.4, 0.3), (0.05, -0.08), (-0.12, 0.02))
    answer_document(QUIET)
    line("answer of a plan, CPU", rounds(lambda: answer_document(QUIET), time.process_time, 60))
    closed = rounds(lambda: rectangle_neumann.__wrapped__(*at), time.process_time, 400)
    plain = rounds(lambda: series(*at), time.process_time, 400)
    line("Neumann function, closed sum, CPU", closed)
    line("Neumann function, 400-term series, CPU", plain, f"{plain[0] / closed[0]:.0f} x the above")
    field()
    behind()
    bench_field.main()
    bench_live.main()
    bench_store.main()
    bench_years.main()
    bench_crowd.main()
    bench_samples.main()
    bench_causes.main(1000)
    bench_calibration.main()
    bench_interlocks.main()
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        start = time.perf_counter()
        server.start(fresh=True)
        line("first start to first answer, wall", ((time.perf_counter() - start) * 1e3, 0.0))
        server.kill()
        start, before = time.perf_counter(), resource.getrusage(resource.RUSAGE_CHILDREN)
        server.start(fresh=True)
        line("second start to first answer, wall", ((time.perf_counter() - start) * 1e3, 0.0))
        server.kill()
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        used = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
        line("second start, CPU of its own process", (used * 1e3, 0.0), "5 s asked")
        server.start(fresh=True)
        body = {"document": dict(QUIET)}
        post = rounds(lambda: server.post("/plans/answer", body), time.perf_counter, 40)
        line("answer of a plan over loopback, wall", post)
        server.kill()


if __name__ == "__main__":
    main()
