"""A killed server: nothing committed is lost, and a running bath's clock goes on."""

import random
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from contextlib import closing
from datetime import UTC, datetime, timedelta
from http.client import HTTPException
from pathlib import Path
from typing import Any
from urllib.error import URLError
from uuid import uuid4

from tests.longer import PATIENCE_S, of
from tests.server import Server
from tests.shops import QUIET


def entry(kind: str, at: datetime, **detail: Any) -> dict[str, Any]:
    return {
        "client_id": uuid4().hex,
        "at": at.isoformat(),
        "detail": {"kind": kind, **detail},
    }


class Killed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.server = Server(Path(folder.name)).start()
        self.addCleanup(lambda: self.server.kill())

    def running(self, since: datetime) -> str:
        plan = self.server.post("/plans", {"document": dict(QUIET)})
        run = self.server.post("/runs", {"plan_id": plan["id"]})
        where = f"/runs/{run['id']}"
        ticked = [p["id"] for p in run["points"]]
        self.server.post(f"{where}/entries", entry("checklist", since, ticked=ticked))
        self.server.post(f"{where}/entries", entry("switch_on", since))
        return where

    def test_kill_nine_in_the_middle_of_writing_loses_nothing_that_was_answered(self) -> None:
        """Round after round on one shop: entries, plans, things; also while it starts."""
        since = datetime.now(UTC) - timedelta(minutes=4)
        where = self.running(since)
        rng = random.Random(15)
        answered: list[str] = []
        made: set[str] = set()
        for k in range(of(200, 12)):
            writer = threading.Thread(target=self.write, args=(where, since, k, answered, made))
            before, until = len(answered), time.monotonic() + PATIENCE_S
            writer.start()
            while len(answered) == before and time.monotonic() < until:
                time.sleep(0.005)
            time.sleep(rng.uniform(0.0, 0.15))
            self.server.kill()
            writer.join()
            if k % 5 == 2:
                self.killed_while_starting(rng.uniform(0.2, 1.5))
            self.server.start()
        log = [line["client_id"] for line in self.server.get(where)["log"]]
        while len(log) < len(answered) + 2:
            older = self.server.get(f"{where}/log?before={log[-1]}")["lines"]
            if not older:
                break
            log += [line["client_id"] for line in older]
        self.assertGreaterEqual(len(answered), of(200, 12), "one a round at least")
        self.assertEqual(set(answered) - set(log), set(), "what was answered is there")
        self.assertEqual(len(log), len(set(log)), "and once")
        plans = {p["id"] for p in self.server.get("/plans?most=100")["items"]}
        self.assertEqual(made - plans, set())
        with closing(sqlite3.connect(self.server.data / "shop.sqlite")) as db:
            self.assertEqual(db.execute("PRAGMA integrity_check").fetchone(), ("ok",))

    def write(
        self, where: str, since: datetime, k: int, answered: list[str], made: set[str]
    ) -> None:
        """Write until nobody answers; what was answered is noted."""
        try:
            if k % 3 == 0:
                named = {**QUIET, "name": f"Round {k}"}
                made.add(self.server.post("/plans", {"document": named})["id"])
            for n in range(10_000):
                at = since + timedelta(seconds=k, milliseconds=n + 1)
                body = entry("reading", at, current_a=2.0)
                self.server.post(f"{where}/entries", body)
                answered.append(body["client_id"])
        except (URLError, ConnectionError, HTTPException, OSError, ValueError):
            return  # ValueError: an answer that was cut off

    def killed_while_starting(self, after: float) -> None:
        args = [sys.executable, "-m", "yellowbath.cli", "serve", "--data", str(self.server.data)]
        args += ["--port", str(self.server.port)]
        quiet = subprocess.DEVNULL
        starting = subprocess.Popen(args, stdout=quiet, stderr=quiet)
        time.sleep(after)
        starting.kill()
        starting.wait()

    def test_the_clock_goes_on_while_the_server_is_down(self) -> None:
        since = datetime.now(UTC) - timedelta(minutes=4)
        where = self.running(since)
        self.server.kill()
        time.sleep(1.2)
        self.server.start()
        asked = datetime.now(UTC)
        run = self.server.get(where)
        powered = run["figures"]["run.powered"]["value_si"]
        self.assertEqual(run["state"], "running")
        self.assertGreaterEqual(powered, (asked - since).total_seconds() - 0.1)
        self.assertLessEqual(powered, (datetime.now(UTC) - since).total_seconds() + 0.1)
