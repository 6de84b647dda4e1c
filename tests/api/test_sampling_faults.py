"""kill -9 in the middle of sampling: nothing acknowledged is lost, the gap is shown, the line is
taken up again."""

import tempfile
import time
import unittest
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from http.client import HTTPException
from pathlib import Path
from typing import Any
from unittest import mock
from urllib.error import URLError

from tests.api.test_faults import entry
from tests.instruments.peers import standing_in
from tests.longer import PATIENCE_S
from tests.server import Server
from tests.shops import QUIET


class KilledWhileSampling(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.server = Server(Path(folder.name)).start()
        self.addCleanup(lambda: self.server.kill())

    def running(self) -> str:
        since = datetime.now(UTC) - timedelta(minutes=2)
        plan = self.server.post("/plans", {"document": dict(QUIET)})
        run = self.server.post("/runs", {"plan_id": plan["id"]})
        where = f"/runs/{run['id']}"
        ticked = [p["id"] for p in run["points"]]
        self.server.post(f"{where}/entries", entry("checklist", since, ticked=ticked))
        self.server.post(f"{where}/entries", entry("switch_on", since))
        return where

    def until(self, test: Any, seconds: float = PATIENCE_S) -> None:
        end = time.monotonic() + seconds
        while not test():
            self.assertLess(time.monotonic(), end)
            time.sleep(0.2)

    def amps(self, where: str) -> tuple[list[int], list[float | None]]:
        drawn = self.server.get(f"{where}/samples?points=4000")
        found = [s for s in drawn["series"] if s["key"] == "amps"]  # none before the first sample
        return (found[0]["at_ms"], found[0]["values"]) if found else ([], [])

    def test_the_line_is_taken_up_again_and_the_gap_stays_a_gap(self) -> None:
        where = self.running()
        with standing_in() as supply:
            link = {"address": f"127.0.0.1:{supply.port}"}
            self.server.post(f"{where}/link", link, "PUT")
            self.until(lambda: len(self.amps(where)[0]) >= 4)
            before = self.amps(where)
            self.server.kill()
            time.sleep(6.5)
            self.server.start()
            self.until(lambda: self.server.get(f"{where}/link")["state"] == "linked")
            self.until(lambda: len(self.amps(where)[0]) >= len(before[0]) + 3)
            at, values = self.amps(where)
            self.assertEqual((at[: len(before[0])], values[: len(before[0])]), before)
            self.assertEqual(values.count(None), 1)

    def test_killed_in_the_middle_of_a_trip_the_reason_is_in_the_log(self) -> None:
        """As it tells the supply to switch off: once after the supply has done so, once before."""
        for obeys in (True, False):
            with self.subTest(obeys=obeys), standing_in() as supply:
                where, bath = self.running(), supply.device.bath
                switch_off = bath.switch_off

                def killed(off: Callable[[], None] = switch_off, obeys: bool = obeys) -> None:
                    if obeys:
                        off()
                    self.server.kill()

                link = {"address": f"127.0.0.1:{supply.port}", "interlocks": {"over_amps_a": 1.0}}
                with mock.patch.object(bath, "switch_off", killed):
                    self.server.post(f"{where}/link", link, "PUT")
                    self.until(lambda: self.server.pid is None)
                self.server.start()
                self.until(lambda w=where: self.server.get(w)["state"] == "paused")  # type: ignore[misc]
                log = self.server.get(where)["log"]
                (off,) = [x for x in log if x["kind"] == "switch_off"]
                self.assertEqual(off["detail"]["by"], "over_amps")
                self.assertIn("More than 1 A", off["detail"]["reason"])
                self.assertFalse(bath.supply.on)
                self.server.post(f"{where}/entries", entry("abandon", datetime.now(UTC)))

    def test_what_was_acknowledged_is_there_after_a_kill(self) -> None:
        """A logger that sends as fast as it can, and sends again what was not answered."""
        where = self.running()
        token = self.server.post(f"{where}/link/token", {})["token"]
        start = datetime.now(UTC) - timedelta(seconds=100)
        sent: list[str] = []
        for k in range(60):
            at = (start + timedelta(seconds=k)).isoformat()
            if k == 30:
                self.server.kill()
                self.server.start()
            body = {"samples": [{"at": at, "amps": 2.0 + k / 100}]}
            with suppress(URLError, ConnectionError, HTTPException, OSError):
                self.server.post(f"{where}/samples", body, token=token)
                sent.append(at)
        at_ms, _ = self.amps(where)
        wanted = {round(datetime.fromisoformat(at).timestamp() * 1000) for at in sent}
        self.assertEqual(len(sent), 60)
        self.assertEqual(wanted - set(at_ms), set())


if __name__ == "__main__":
    unittest.main()
