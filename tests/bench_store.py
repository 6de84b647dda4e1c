"""Benchmarks of what grows: an entry into a short and a long log, lists of many plans.

``python -m tests.bench_store``; part of ``make bench``. A hundred thousand readings are seventy
days of one a minute.
"""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from sqlalchemy import delete, insert

from tests.shops import QUIET, START, Clock, entry
from tests.solving import SOLVER
from yellowbath.store.engine import open_engine, writing
from yellowbath.store.tables import run_log, run_snapshots
from yellowbath.workflows.plans.plans import create_plan, list_plans
from yellowbath.workflows.plans.unread import unread
from yellowbath.workflows.runs.runs import enter, start_run, view_run
from yellowbath.workflows.shop.shop import Shop


def timed(what: Callable[[int], object], times: int) -> tuple[float, float]:
    """Median wall time and half the middle half [ms]."""
    took = []
    for k in range(times):
        began = time.perf_counter()
        what(k)
        took.append((time.perf_counter() - began) * 1e3)
    low, mid, high = statistics.quantiles(took, n=4)
    return mid, (high - low) / 2


def told(name: str, figures: tuple[float, float]) -> None:
    print(f"{name:52} {figures[0]:9.2f} ms  ± {figures[1]:.2f}", flush=True)


def writer(shop: Shop, run_id: str, clock: Clock) -> Callable[..., None]:
    """What writes an entry at so many minutes into a run, which is switched on."""

    def write(minutes: float, kind: str, **detail: object) -> None:
        enter(shop, run_id, entry(clock.to(minutes), kind, **detail))

    write(0, "checklist", ticked=[p.id for p in view_run(shop, run_id).points])
    write(1, "switch_on")
    return write


def main(entries: int = 100_000, plans: int = 5_000) -> None:
    with tempfile.TemporaryDirectory() as folder:
        clock = Clock()
        shop = Shop(open_engine(Path(folder) / "shop.sqlite"), clock, SOLVER)
        plan_id = create_plan(shop, dict(QUIET)).revision.plan_id
        run_id = start_run(shop, plan_id).row.id
        write = writer(shop, run_id, clock)
        for k in range(8):
            write(2 + k, "reading", current_a=3.0, method="clamp")
        told("an entry after 10", timed(
            lambda k: write(20 + k, "reading", current_a=3.0, method="clamp"), 40))  # fmt: skip
        told("the run's page after 10", timed(lambda _: view_run(shop, run_id), 40))
        _after_looks(shop, plan_id, clock)
        _grown(shop, run_id, entries)
        late = 100 + entries
        began = time.perf_counter()
        write(late - 1, "remark", text="folded once, as after an update")
        print(f"all {entries:,} folded again, once {time.perf_counter() - began:22.1f} s")
        told(f"an entry after {entries:,}", timed(
            lambda k: write(late + k, "reading", current_a=3.0, method="clamp"), 40))  # fmt: skip
        told(f"the run's page after {entries:,}", timed(lambda _: view_run(shop, run_id), 40))
        told("one that comes an hour late", timed(
            lambda k: write(late - 20 - k, "remark", text="late"), 9))  # fmt: skip
        one = timed(lambda _: list_plans(shop), 20)
        told("a list of one plan", one)
        for k in range(plans - 1):
            create_plan(shop, {**QUIET, "name": f"Plan {k}"})
        many = timed(lambda _: list_plans(shop), 5)
        told(f"a list of {plans:,} plans", many)
        print(f"  by plan {many[0] / plans:.3f} ms")
        told(f"what cannot be read of {plans:,}", timed(lambda _: unread(shop), 5))


def _after_looks(shop: Shop, plan_id: str, clock: Clock) -> None:
    """An entry of a bath that was looked at three times, each a share: what was seen weighs all
    that is believed anew."""
    write = writer(shop, start_run(shop, plan_id).row.id, clock)
    for k, at in enumerate((100, 200, 300)):
        for step, kind in enumerate(("switch_off", "lift")):
            write(at + step, kind)
        write(at + 2, "inspection", verdict="share", shares={"all": 0.2 + 0.2 * k})
        for step, kind in enumerate(("back_in", "switch_on")):
            write(at + 3 + step, kind)
    told("an entry after three looks", timed(
        lambda k: write(310 + k, "reading", current_a=3.0, method="clamp"), 40))  # fmt: skip


def _grown(shop: Shop, run_id: str, entries: int) -> None:
    """So many readings more, written at once."""
    rows = [
        {
            "run_id": run_id, "client_id": f"bulk-{k:09}", "kind": "reading",
            "at": START + timedelta(minutes=100 + k), "recorded_at": START,
            "detail": {"kind": "reading", "current_a": 3.0 + 0.01 * (k % 7), "method": "clamp"},
        }
        for k in range(entries)
    ]  # fmt: skip
    with writing(shop.engine) as c:
        c.execute(insert(run_log), rows)
        c.execute(delete(run_snapshots))


if __name__ == "__main__":
    main()
