"""A killed server: nothing committed is lost, and a running bath's clock goes on."""

import resource
import tempfile
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from urllib.error import URLError
from uuid import uuid4

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
        since = datetime.now(UTC) - timedelta(hours=2)
        where = self.running(since)
        answered: list[str] = []

        def write() -> None:
            for k in range(10_000):
                body = entry("reading", since + timedelta(seconds=k + 1), current_a=2.0)
                try:
                    self.server.post(f"{where}/entries", body)
                except (URLError, ConnectionError, OSError):
                    return
                answered.append(body["client_id"])

        writer = threading.Thread(target=write)
        writer.start()
        until = time.monotonic() + 20
        while len(answered) < 12 and time.monotonic() < until:
            time.sleep(0.01)
        self.server.kill()
        writer.join()
        self.server.start()
        kept = {line["client_id"] for line in self.server.get(where)["log"]}
        self.assertGreaterEqual(len(answered), 12)
        self.assertEqual(set(answered) - kept, set())

    def test_the_clock_goes_on_while_the_server_is_down(self) -> None:
        since = datetime.now(UTC) - timedelta(hours=2)
        where = self.running(since)
        self.server.kill()
        time.sleep(1.2)
        self.server.start()
        run = self.server.get(where)
        powered = run["figures"]["run.powered"]["value_si"]
        expected = (datetime.now(UTC) - since).total_seconds()
        self.assertEqual(run["state"], "running")
        self.assertAlmostEqual(powered, expected, delta=2.0)

    def test_a_second_start_takes_less_than_five_seconds_of_a_processor(self) -> None:
        """Counted in the server's own time, which what runs beside it does not lengthen."""
        self.server.kill()
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        self.server.start()
        self.server.kill()
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        self.assertLess(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime, 5.0)
