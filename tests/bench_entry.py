"""An entry to its whole new answer, as the page sends it: processor and bytes.

``python -m tests.bench_entry [TIMES]``; part of ``make bench``. By the application's own routes in
this process, the test client's way there and back in the figures (two to three milliseconds).
"""

from __future__ import annotations

import gc
import gzip
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from tests.shops import QUIET, Clock, entry
from tests.solving import SOLVER
from yellowbath.api.app import make_app
from yellowbath.store.engine import open_engine
from yellowbath.workflows.plans.plans import create_plan
from yellowbath.workflows.runs.runs import enter, start_run, view_run
from yellowbath.workflows.shop.shop import Shop


class Run:
    """A bath under power, entered into by the page's request."""

    def __init__(self, shop: Shop, plan_id: str, clock: Clock, http: TestClient) -> None:
        self.shop, self.clock, self.http = shop, clock, http
        clock.to(0)
        self.id = start_run(shop, plan_id).row.id
        self.write(0, "checklist", ticked=[p.id for p in view_run(shop, self.id).points])
        self.write(1, "switch_on")
        self.minutes = 1.0

    def write(self, minutes: float, kind: str, **detail: Any) -> None:
        enter(self.shop, self.id, entry(self.clock.to(minutes), kind, **detail))
        self.minutes = minutes

    def post(self, kind: str, **detail: Any) -> bytes:
        """One entry a minute later, over the application's route."""
        self.minutes += 1
        made = entry(self.clock.to(self.minutes), kind, **detail)
        got = self.http.post(f"/api/runs/{self.id}/entries", json=made.model_dump(mode="json"))
        assert got.status_code == 200, got.text
        return got.content

    def looked(self, share: float) -> None:
        """Off, lifted, looked at, back and on again."""
        for kind in ("switch_off", "lift"):
            self.write(self.minutes + 60, kind)
        self.write(self.minutes + 1, "inspection", verdict="share", shares={"all": share})
        for kind in ("back_in", "switch_on"):
            self.write(self.minutes + 1, kind)


def cpu(work: Callable[[], bytes], times: int) -> str:
    """Median and 95th percentile of one call [ms of processor], its answer plain and packed."""
    taken, body = [], b""
    for _ in range(times):
        began = time.process_time()
        body = work()
        taken.append(1e3 * (time.process_time() - began))
    late = sorted(taken)[int(0.95 * (times - 1))]
    packed = len(gzip.compress(body, 5)) / 1e3
    middle = statistics.median(taken)
    return f"{middle:.0f}, {late:.0f} ms | {len(body) / 1e3:.0f} kB, {packed:.1f} packed"


def main(times: int = 40) -> None:
    print("| an entry | CPU: median, 95th | answer |\n|---|---|---|")
    with tempfile.TemporaryDirectory() as folder:
        clock = Clock()
        shop = Shop(open_engine(Path(folder) / "shop.sqlite"), clock, SOLVER)
        http = TestClient(make_app(shop), base_url="http://127.0.0.1")
        run = Run(shop, create_plan(shop, dict(QUIET)).revision.plan_id, clock, http)
        amps = view_run(shop, run.id).basis.expected_a

        def read() -> bytes:
            return run.post("reading", current_a=round(amps, 2), method="clamp")

        def told(name: str) -> None:
            print(f"| {name} | {cpu(read, times)} |", flush=True)

        read()
        gc.collect()
        gc.freeze()  # as the server does once it is warm
        told("no look")
        for k in range(3):
            run.looked(0.2 + 0.2 * k)
            read()
            if k != 1:
                told(f"after {k + 1} look{'s' if k else ''}")
        for _ in range(200):
            run.write(run.minutes + 1, "reading", current_a=round(amps, 2), method="clamp")
        told("after 200 readings more")
        for name, path in (
            ("causes", f"/api/runs/{run.id}/causes"), ("Today", "/api/runs"),
            ("what is believed of the circuit", f"/api/runs/{run.id}/estimate"),
        ):  # fmt: skip

            def asked(path: str = path) -> bytes:
                return http.get(path).content

            print(f"| {name} | {cpu(asked, max(times // 3, 3))} |", flush=True)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
