"""Benchmark of the server's own work under a hand: CPU of the server process a move.

``python -m tests.bench_hand``; part of ``make bench``. A real server on loopback and nobody else at
it; a rod or a piece is put to forty places, after six that are not timed.
"""

from __future__ import annotations

import math
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.server import Server
from tests.shops import QUIET

BOX = {**QUIET, "tank": {"shape": {"kind": "box"}}, "layout": {"arrangement": "by_hand"}}
MOVES = 40
SIZES = {"wheel": {"diameter_m": 0.17}}  # room to be moved about in a bucket


def spent(server: Server) -> float:
    """CPU of all threads of the server so far [s]."""
    tasks = Path(f"/proc/{server.pid}/task").glob("*/schedstat")
    return sum(int(t.read_text("ascii").split()[0]) for t in tasks) * 1e-9


def rods(x: float, y: float) -> list[dict[str, Any]]:
    return [{"id": "a1", "x_m": x, "y_m": y - 0.12}, {"id": "a2", "x_m": 0.0, "y_m": 0.12}]


def rod_at(x: float, y: float) -> dict[str, Any]:
    return {**BOX, "anodes": rods(x, y)}


def piece_at(kind: str, tank: str) -> Callable[[float, float], dict[str, Any]]:
    def at(x: float, y: float) -> dict[str, Any]:
        piece = {"shape": {"kind": kind, **SIZES.get(kind, {})}, "x_m": x, "y_m": y}
        base = {**BOX, "anodes": rods(0.0, 0.0)} if tank == "box" else dict(QUIET)
        return {**base, "pieces": [piece]}

    return at


CASES = {
    "rod in a box": rod_at,
    **{f"{k} in a {t}": piece_at(k, t)
       for t in ("box", "bucket") for k in ("plate", "tube", "wheel")},
}  # fmt: skip


def prepared(server: Server, document: dict[str, Any]) -> Any:
    """The field at rest, as a page has it before a hand takes anything."""
    while True:
        made = server.post("/plans/live", {"document": document, "ready": True})
        if made["field"] is not None:
            return made["field"]
        time.sleep(0.2)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start()
        try:
            for name, at in CASES.items():
                taken = []
                field = prepared(server, at(0.0, 0.0))
                known = field["shown"]["mesh"]
                for k in range(-6, MOVES):
                    turn = 2 * math.pi * k / MOVES
                    document = at(0.012 * math.cos(turn) + 1e-4 * k, 0.008 * math.sin(turn))
                    began = spent(server)
                    made = server.post(
                        "/plans/live", {"document": document, "mesh": known, "brief": True}
                    )
                    if k >= 0:
                        taken.append(1e3 * (spent(server) - began))
                    field = made["field"]
                    assert field is not None, "there is no field to be timed"
                ranked = sorted(taken)
                late = ranked[int(0.95 * len(ranked))]
                print(f"{name:20} median {statistics.median(taken):5.1f} ms CPU, 95th {late:5.1f}; "
                      f"{field['facets']} facets", flush=True)  # fmt: skip
        finally:
            server.kill()


if __name__ == "__main__":
    main()
