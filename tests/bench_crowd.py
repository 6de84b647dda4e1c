"""Benchmark of a crowd and of memory: many hands at once, then an evening's plans and runs.

``python -m tests.bench_crowd [CLIENTS PLANS RUNS]``; part of ``make bench``. Loopback only, one
server process; how long a hand waits for its live answer, and what the server holds.
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any
from urllib.error import HTTPError

import numpy as np

from tests.random_plans import KINDS, random_plan
from tests.server import Server
from tests.shops import QUIET

_HANDS_S = 12.0


def resident(server: Server) -> float:
    """What the server holds in memory now [MB]."""
    assert server.pid is not None
    status = Path(f"/proc/{server.pid}/status").read_text("utf-8")
    return next(int(x.split()[1]) for x in status.splitlines() if x.startswith("VmRSS")) / 1024


def asked(server: Server, path: str, body: Any) -> int:
    """The status of an answer that is read to its end."""
    request = urllib.request.Request(
        f"{server.base}/api{path}", data=json.dumps(body).encode(),
        headers={"content-type": "application/json"},
    )  # fmt: skip
    try:
        with urllib.request.urlopen(request, timeout=120) as answer:
            answer.read()
            return int(answer.status)
    except HTTPError as error:
        return error.code


class Hand:
    """Somebody who moves a rod and asks again as soon as there is an answer; a greedy one asks five
    times at once."""

    def __init__(self, name: int, greedy: bool) -> None:
        self.name, self.greedy = f"hand{name}", greedy
        self.waits: list[float] = []
        self.turned_away = 0
        self.turn = 0

    def work(self, server: Server, until: float) -> None:
        while time.perf_counter() < until:
            self.turn += 1
            x = 0.02 + 0.0001 * ((self.turn * 7 + hash(self.name)) % 900)
            rods = [{"id": "a1", "x_m": x, "y_m": -0.1}, {"id": "a2", "x_m": -x, "y_m": 0.1}]
            document = {**QUIET, "layout": {"arrangement": "by_hand", "joint_clear": True},
                        "anodes": rods}  # fmt: skip
            row = f"live{threading.get_ident() if self.greedy else ''} {self.name}"
            body = {"document": document, "drag": {"by": row, "turn": self.turn}, "brief": True}
            began = time.perf_counter()
            if asked(server, "/plans/live", body) == 200:
                self.waits.append(time.perf_counter() - began)
            else:
                self.turned_away += 1


def crowd(server: Server, clients: int) -> None:
    """How long hands wait when so many move things at once."""
    hands = [Hand(k, greedy=k == 0) for k in range(clients)]
    until = time.perf_counter() + _HANDS_S
    threads = [threading.Thread(target=h.work, args=(server, until))
               for h in hands for _ in range(5 if h.greedy else 1)]  # fmt: skip
    for t in threads:
        t.start()
    looked = []
    while time.perf_counter() < until - 1:
        began = time.perf_counter()
        server.get("/shop")
        looked.append(time.perf_counter() - began)
        time.sleep(0.5)
    for t in threads:
        t.join()
    waits = sorted(w for h in hands for w in h.waits)
    each = [len(h.waits) for h in hands]
    late = waits[int(0.95 * len(waits))]
    print(f"{clients:3} hands: {len(waits) / _HANDS_S:5.1f} answers a second, waited "
          f"{statistics.median(waits) * 1e3:5.0f} ms, 95th {late * 1e3:5.0f}, "
          f"longest {waits[-1] * 1e3:5.0f}; by hand {min(each)} to {max(each[1:] or each)}, "
          f"greedy {each[0]}; turned away {sum(h.turned_away for h in hands)}; "
          f"settings meanwhile {statistics.median(looked) * 1e3:.0f} ms", flush=True)  # fmt: skip


def evening(server: Server, plans: int, runs: int) -> None:
    """Different plans solved one after another, then runs begun: what the server holds."""
    rng = np.random.default_rng(15)
    most = 0.0
    for k in range(plans):
        document = {**QUIET, **random_plan(rng, KINDS[k % len(KINDS)])}
        asked(server, "/plans/field", {"document": document, "quality": "preview"})
        if k % 3 == 0:
            asked(server, "/plans/field", {"document": document, "quality": "fine"})
        most = max(most, resident(server))
        if k % 50 == 49:
            print(f"{k + 1:4} plans: {resident(server):4.0f} MB, most {most:4.0f}", flush=True)
    for _ in range(runs):
        while True:
            document = {**QUIET, **random_plan(rng, "plain"), "layout": {
                "arrangement": "by_hand", "joint_clear": True}}  # fmt: skip
            plan = server.post("/plans", {"document": document})
            if asked(server, "/runs", {"plan_id": plan["id"]}) == 201:
                break
        server.get("/runs")
        most = max(most, resident(server))
    print(f"{runs:4} runs: {resident(server):4.0f} MB, most {most:4.0f}", flush=True)


def main(clients: int = 50, plans: int = 300, runs: int = 50) -> None:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start()
        try:
            until = time.monotonic() + 60
            while server.get("/plans/solver")["getting_ready_s"] is not None or (
                not server.get("/plans/solver")["solved"] and time.monotonic() < until
            ):
                time.sleep(0.2)
            time.sleep(2)
            print(f"after warm-up {resident(server):4.0f} MB", flush=True)
            for some in (1, 10, clients):
                crowd(server, some)
            evening(server, plans, runs)
        finally:
            server.kill()


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
