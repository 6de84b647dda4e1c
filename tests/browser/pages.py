"""A real browser before a real server."""

from __future__ import annotations

import shutil
import sys
import tempfile
import unittest
from contextlib import suppress
from pathlib import Path
from typing import Any, ClassVar, Literal

from playwright.sync_api import (
    Browser,
    BrowserContext,
    Error,
    Page,
    Playwright,
    sync_playwright,
)
from playwright.sync_api import expect as expect

from tests.longer import PATIENCE_S
from tests.server import Server

ROOT = Path(__file__).parents[2]
AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")
DESK = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}
PATIENCE = 1000 * PATIENCE_S  # ms
Size = dict[str, int]
Scheme = Literal["light", "dark"]
expect.set_options(timeout=PATIENCE)
# no 3-D, which without a graphics card takes a third of a class's time, but where it is tested
FLAT = ("--no-sandbox", "--disable-gpu", "--disable-software-rasterizer")
IN_3D = (
    "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
)  # fmt: skip


# what would help is solved once a bath rests, in six seconds of a processor: here it is never
# answered, as on a slow server, unless a test asks for it
UNADVISED = """const asking = window.fetch;
window.fetch = (...args) =>
  String(args[0].url ?? args[0]).endsWith("/api/plans/changes")
    ? new Promise(() => {}) : asking(...args);"""


def chromium() -> str | None:
    """Where Debian's Chromium is; the one without a window of its own takes a third for a page."""
    return shutil.which("chromium-headless-shell") or shutil.which("chromium")


class BrowserCase(unittest.TestCase):
    """One browser and one server a class; a fresh context a test."""

    command: ClassVar[str] = "serve"
    passcode: ClassVar[str] = ""
    advised = False
    args: ClassVar[tuple[str, ...]] = FLAT
    server: ClassVar[Server]
    browser: ClassVar[Browser]
    playwright: ClassVar[Playwright]

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.server = Server(Path(folder.name) / "shop", cls.command, cls.passcode).start()
        cls.addClassCleanup(lambda: cls.server.kill())
        cls.playwright = sync_playwright().start()
        cls.addClassCleanup(cls.playwright.stop)
        cls.browser = cls.playwright.chromium.launch(
            executable_path=chromium(), args=list(cls.args)
        )
        cls.addClassCleanup(cls.browser.close)

    def tearDown(self) -> None:
        """What page and server were at stands beside a failure."""
        result = self._outcome.result  # type: ignore[attr-defined]
        if all(test is not self for test, _ in (*result.errors, *result.failures)):
            return
        for page in (p for c in self.browser.contexts for p in c.pages):
            with suppress(Error):
                text = page.locator("body").inner_text(timeout=2_000)
                print(f"{self.id()} at {page.url}:\n{text[:3000]}", file=sys.stderr)
        print(f"its server:\n{self.server.doing()}", file=sys.stderr)

    def context(self, size: Size = DESK, scheme: Scheme = "light") -> BrowserContext:
        made = self.browser.new_context(
            viewport=size,  # type: ignore[arg-type]
            color_scheme=scheme,
            locale="en-GB",
            timezone_id="Europe/London",
        )
        made.set_default_timeout(PATIENCE)
        if not self.advised:
            made.add_init_script(UNADVISED)
        self.addCleanup(made.close)
        return made

    def page(
        self, path: str, context: BrowserContext | None = None, size: Size = DESK,
        scheme: Scheme = "light",
    ) -> Page:  # fmt: skip
        """A page that fails the test when a script on it fails."""
        page = (context or self.context(size, scheme)).new_page()
        faults: list[str] = []

        def fault(error: Error) -> None:
            faults.append(str(error))

        page.on("pageerror", fault)
        self.addCleanup(lambda: self.assertEqual(faults, []))
        self.addCleanup(page.remove_listener, "pageerror", fault)
        self.go(page, path)
        return page

    def go(self, page: Page, path: str) -> None:
        """To another of its pages, until that stands."""
        page.goto(self.server.base + path)
        # not for a quiet network: changes and a solver that gets ready go on talking
        page.locator("main").get_by_role("heading").first.wait_for()
        page.wait_for_timeout(300)

    def it_was(self, page: Page, cause: str) -> None:
        """A suspect's fold opened, and pressed that it was that; what comes above it may push it
        away under the thumb, so that it is opened again."""
        suspect = page.locator(f"[data-suspect={cause}]").first
        was = suspect.get_by_role("button", name="Mended: it was that")
        for _ in range(5):
            if suspect.locator("details:not([open])").count():
                suspect.locator("summary").click()
            with suppress(Error):
                was.click(timeout=PATIENCE / 20)
                return
        self.fail(f"{cause} could not be opened")

    def field(self, page: Page, pointer: str) -> Any:
        return page.locator(f'[data-pointer="{pointer}"]')

    def figure(self, page: Page, key: str) -> float:
        """The SI value of the first shown figure of this key."""
        value = page.locator(f'[data-figure="{key}"]').first.get_attribute("data-value")
        assert value is not None
        return float(value)

    def figure_until(self, page: Page, key: str, test: str) -> None:
        """Wait until a figure's SI value ``v`` is as a test in JavaScript says; while it is worked
        out it may be gone."""
        value = f"document.querySelector('[data-figure=\"{key}\"]')?.dataset.value"
        self.until(page, f"() => {{ const v = Number({value} ?? NaN); return {test}; }}")

    def until(self, page: Page, test: str, arg: Any = None) -> None:
        """Wait until a test in JavaScript holds, asked ten times a second: with every frame, as it
        would be asked else, it costs more than what is waited for."""
        page.wait_for_function(test, arg=arg, polling=100)

    def switched_on(self, page: Page) -> str:
        """From a plan's page to a bath under power; the run's address."""
        page.get_by_role("button", name="Set up this bath").click()
        page.wait_for_url("**/runs/*")  # its field is solved first
        self.under_power(page)
        return page.url.removeprefix(self.server.base)

    def under_power(self, page: Page) -> None:
        """From a run's switch-on list to the first look."""
        page.get_by_role("button", name="still open").wait_for()
        for box in page.get_by_label("Switch-on list").get_by_role("checkbox").all():
            box.check()
        page.get_by_role("button", name="All checked").click()
        page.get_by_role("button", name="Switched on").click()
        page.get_by_role("button", name="From the whole piece").wait_for()

    def gas_seen(self, page: Page) -> None:
        """The first look, over before the next press: what was asked makes room as it goes."""
        page.get_by_role("button", name="From the whole piece").click()
        page.locator("[data-kind=second_look]").wait_for()

    def read_amps(self, page: Page, amps: str) -> None:
        page.get_by_role("button", name="Reading", exact=True).click()
        page.get_by_label("Amps", exact=True).fill(amps)
        page.get_by_role("button", name="Write it down").click()
