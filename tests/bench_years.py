"""Benchmark of a shop after many years: each page's requests through a real server.

``python -m tests.bench_years [PAGES]``; part of ``make bench``. PAGES: a JSON file of another
version's requests by page, to time that version's tree by the same shop.
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Mapping, Sequence
from pathlib import Path

from tests.server import Server
from tests.years import LONG, grow

PAGES: Mapping[str, Sequence[str]] = {
    "Today": ("/runs", "/plans?standing=waiting", "/plans?standing=made&most=1", "/shop/unread"),
    "Today, found by words": ("/plans?find=ring+77",),
    "book": ("/book",),
    "book, found by words": ("/book?find=pawl+78",),
    "page of the book": ("/book/r0000100",),
    "kit": ("/kit", "/kit/queue"),
    "run page, 180 rows": ("/runs/r0000101",),
    f"run page, {LONG}": (f"/runs/{LONG}",),
    "plan page": ("/plans/p0000003",),
}


def fetched(server: Server, path: str) -> tuple[float, int]:
    """How long an answer takes [ms] and how long it is [bytes]."""
    began = time.perf_counter()
    with urllib.request.urlopen(f"{server.base}/api{path}", timeout=600) as answer:
        size = len(answer.read())
    return (time.perf_counter() - began) * 1e3, size


def main(pages: Mapping[str, Sequence[str]] = PAGES, rows: int = 1_000_000) -> None:
    with tempfile.TemporaryDirectory() as folder:
        began = time.perf_counter()
        grow(Path(folder) / "shop.sqlite", 5_000, 5_000, rows)
        size = (Path(folder) / "shop.sqlite").stat().st_size / 1e6
        print(f"5,000 plans, 5,000 runs, {rows:,} rows: {size:.0f} MB, "
              f"grown in {time.perf_counter() - began:.0f} s")  # fmt: skip
        began = time.perf_counter()
        server = Server(Path(folder)).start()
        print(f"answers after {time.perf_counter() - began:.1f} s")
        try:
            first = {n: [fetched(server, p) for p in paths] for n, paths in pages.items()}
            time.sleep(30)  # what is made ready beside the served page
            for name, paths in pages.items():
                again = [[fetched(server, p)[0] for p in paths] for _ in range(5)]
                took, size = (sum(f) for f in zip(*first[name], strict=True))
                mid = statistics.median(map(sum, again))
                longest = statistics.median(map(max, again))
                print(f"{name:28} at the start {took:6.0f} ms, then {mid:6.0f} ms in all, "
                      f"longest {longest:6.0f} ms, {size / 1e3:6.0f} kB", flush=True)  # fmt: skip
        finally:
            server.kill()


if __name__ == "__main__":
    asked = json.loads(Path(sys.argv[1]).read_text("utf-8")) if len(sys.argv) > 1 else PAGES
    main(asked)
