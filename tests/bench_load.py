"""What a phone waits for: the page cold and again, a processor slowed four-fold on a slow link.

``python -m tests.bench_load [TIMES]``: an empty shop's first questions, Today and a running bath;
Chromium's own throttling (1.6 Mbit/s, 150 ms), bytes over the wire by its own count, medians.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Browser, CDPSession, Page, sync_playwright

from tests.browser.pages import PHONE, chromium
from tests.server import Server

SLOWER = 4
LINK = {
    "offline": False, "latency": 150,
    "downloadThroughput": 1.6e6 / 8, "uploadThroughput": 0.75e6 / 8,
}  # fmt: skip
# when what is waited for stands and can be pressed
READY = """(what) => { const seen = document.querySelector(what);
  return seen && !seen.disabled ? performance.now() : 0; }"""


@dataclass
class Load:
    """Until it could be used [s], bytes over the wire by then and in all [kB], requests."""

    usable: float
    kilobytes: float
    at_rest: float
    requests: int


class Wire:
    """What comes over the wire, by the browser's own count."""

    def __init__(self, page: Page) -> None:
        self.bytes = self.count = 0
        self.cdp: CDPSession = page.context.new_cdp_session(page)
        self.cdp.send("Network.enable")
        self.cdp.on("Network.loadingFinished", self._came)
        self.cdp.send("Network.emulateNetworkConditions", LINK)
        self.cdp.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})

    def _came(self, told: dict[str, float]) -> None:
        self.bytes += int(told["encodedDataLength"])
        self.count += 1


def load(page: Page, wire: Wire, url: str, what: str, rest_ms: int = 9_000) -> Load:
    """One load of a page, until what is waited for can be used."""
    wire.bytes = wire.count = 0
    page.goto(url, wait_until="commit")
    at = page.wait_for_function(READY, arg=what, timeout=60_000, polling=30).json_value()
    by_then = wire.bytes
    page.wait_for_timeout(rest_ms)
    return Load(at / 1e3, by_then / 1e3, wire.bytes / 1e3, wire.count)


def told(name: str, loads: list[Load]) -> None:
    usable = [x.usable for x in loads]
    print(
        f"| {name} | {statistics.median(usable):.2f} s ({min(usable):.2f} to {max(usable):.2f}) "
        f"| {statistics.median(x.kilobytes for x in loads):.0f} kB "
        f"| {statistics.median(x.at_rest for x in loads):.0f} kB | {loads[-1].requests} |",
        flush=True,
    )


def both(browser: Browser, url: str, what: str, name: str, times: int) -> None:
    """Cold and again, each time in a browser's fresh profile."""
    cold, again = [], []
    for _ in range(times):
        context = browser.new_context(viewport=PHONE, locale="en-GB")
        page = context.new_page()
        wire = Wire(page)
        cold.append(load(page, wire, url, what))
        again.append(load(page, wire, url, what, 2_000))
        context.close()
    told(f"{name}, cold", cold)
    told(f"{name}, again", again)


def main(times: int = 5) -> None:
    print("| page | usable | wire by then | in all | requests |\n|---|---|---|---|---|")
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=chromium(), args=["--no-sandbox", "--disable-gpu"]
        )
        for command, path, what, name in (
            ("serve", "/", "main input", "first questions, an empty shop"),
            ("demo", "/", "main a[href^='/runs/']", "Today, the demo shop"),
            ("demo", "run", "[data-testid=next-action]", "a running bath"),
        ):
            server = Server(Path(folder) / command, command).start()
            try:
                if path == "run":
                    path = f"/runs/{server.get('/runs')[0]['run_id']}"
                both(browser, server.base + path, what, name, times)
            finally:
                server.kill()
        browser.close()


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
