"""Samples: what one costs as there are more, how long a million take to draw, six baths at once.

``python -m tests.bench_samples [MINUTES]``: the last for so many minutes (default 2; an hour was
asked), against six stand-ins on loopback.
"""

from __future__ import annotations

import sys
import tempfile
import time
from contextlib import ExitStack
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median

import numpy as np

from tests.api.test_faults import entry
from tests.core.simulation.designs import design
from tests.instruments.peers import standing_in
from tests.server import Server
from tests.shops import QUIET
from yellowbath.core.run.samples import Sample
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.truth import meant
from yellowbath.store.engine import open_engine, reading, writing
from yellowbath.store.runs import add_run
from yellowbath.store.samples import put_samples
from yellowbath.workflows.line.samples import drawn
from yellowbath.workflows.plans.plans import create_plan
from yellowbath.workflows.shop.shop import Shop

MILLION, BATCH, BY_TWOS = 1_000_000, 5_000, 400


def million(folder: Path) -> None:
    shop = Shop(open_engine(folder / "shop.sqlite"))
    plan = create_plan(shop, dict(QUIET)).revision
    with writing(shop.engine) as c:
        add_run(c, "r", plan.plan_id, 1, datetime.now(UTC), "Bath")
    rng, start = np.random.default_rng(1), 1_700_000_000_000

    def rows(first: int, count: int) -> list[tuple[Sample, str]]:
        noise = rng.standard_normal((count, 3))
        return [
            (Sample(start + 1000 * (first + k), 3 + a / 100, 12 + b / 100, 20 + w / 10), "")
            for k, (a, b, w) in enumerate(noise)
        ]  # fmt: skip

    def cost(first: int) -> float:
        """Milliseconds a sample, two in a batch as a line brings them."""
        began = time.perf_counter()
        for k in range(BY_TWOS):
            with writing(shop.engine) as c:
                put_samples(c, "r", rows(first + 2 * k, 2))  # type: ignore[arg-type]
        return (time.perf_counter() - began) / BY_TWOS / 2 * 1000

    early = cost(0)
    for k in range(2 * BY_TWOS, MILLION, BATCH):
        with writing(shop.engine) as c:
            put_samples(c, "r", rows(k, BATCH))  # type: ignore[arg-type]
    late = cost(MILLION + BATCH)
    print(f"a sample, two at a time: {early:.2f} ms of the first, {late:.2f} ms after a million")
    for name, seconds in (("all, 11.6 days", None), ("12 h", 43_200), ("1 h", 3600)):
        took = []
        for _ in range(7):
            began = time.perf_counter()
            end = start + MILLION * 1000
            first = None if seconds is None else end - 1000 * seconds
            found = drawn(shop, "r", first, end, 800)
            took.append((time.perf_counter() - began) * 1000)
        points = sum(len(s.at_ms) for s in found.series.values())
        print(f"drawn, {name}: {median(took):.0f} ms, {points} points")
    with reading(shop.engine) as c:
        began = time.perf_counter()
        c.exec_driver_sql("SELECT at_ms, amps FROM samples WHERE run_id = 'r'").fetchall()
        print(f"beside it, reading a million rows plainly: {time.perf_counter() - began:.2f} s")


def six(folder: Path, minutes: float) -> None:
    server = Server(folder / "six").start()
    since = datetime.now(UTC) - timedelta(minutes=1)
    with ExitStack() as stack:
        runs = []
        for _ in range(6):
            supply = stack.enter_context(standing_in())
            plan = server.post("/plans", {"document": dict(QUIET)})
            run = server.post("/runs", {"plan_id": plan["id"]})
            where = f"/runs/{run['id']}"
            ticked = [p["id"] for p in run["points"]]
            server.post(f"{where}/entries", entry("checklist", since, ticked=ticked))
            server.post(f"{where}/entries", entry("switch_on", since))
            server.post(f"{where}/link", {"address": f"127.0.0.1:{supply.port}"}, "PUT")
            runs.append(where)
        time.sleep(30)  # kernels are loaded beside the first of them
        counts, cpu, began = _counts(server, runs), _cpu(server), time.monotonic()
        time.sleep(minutes * 60)
        took = time.monotonic() - began
        more = [b - a for a, b in zip(counts, _counts(server, runs), strict=True)]
        share = (_cpu(server) - cpu) / took
    server.kill()
    print(f"six baths for {took / 60:.1f} min: {min(more)} to {max(more)} samples each of "
          f"{took:.0f} s, {100 * share:.1f} % of a core")  # fmt: skip


def _counts(server: Server, runs: list[str]) -> list[int]:
    return [server.get(f"{where}/samples?points=10")["count"] for where in runs]


def _cpu(server: Server) -> float:
    """Seconds of a processor that the server has had."""
    fields = Path(f"/proc/{server.pid}/stat").read_text("utf-8").rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / 100


def simulated() -> None:
    """How many times as fast as the clock one simulated bath goes, by its steps."""
    bath = SimulatedBath(design("transformer"), meant(design("transformer")), (), 18.0)
    bath.switch_on()
    for step in (10.0, 1.0):
        bath.advance(100, step)
        began = time.process_time()
        bath.advance(3000 * step, step)
        speed = 3000 * step / (time.process_time() - began)
        print(f"simulated bath, steps of {step:g} s: {speed:,.0f} times real time")


def main(minutes: float = 2.0) -> None:
    simulated()
    with tempfile.TemporaryDirectory() as folder:
        million(Path(folder))
        six(Path(folder), minutes)


if __name__ == "__main__":
    main(*map(float, sys.argv[1:]))
