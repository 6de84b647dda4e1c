"""A day's work at the demo shop: two desks and a phone whose network comes and goes, and faults of
every kind in between. What stands in the log, the book and the drafts afterwards is what was typed.
"""

from __future__ import annotations

import random
import re
import time
import unittest
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import ClassVar

from playwright.sync_api import Page, Route

from tests.browser.pages import PHONE, BrowserCase, expect
from tests.longer import LONG

NAME = "/pieces/0/name"
FAULTS = (
    "killed", "offline", "500", "502", "503", "507", "lost", "slow", "reload", "twice",
)  # fmt: skip
_WRITES = re.compile(r"/api/(plans(/\w+/revisions)?|runs(/\w+/entries)?)$")


@unittest.skipUnless(LONG, "a day takes its time: part of make bench")
class Day(BrowserCase):
    command: ClassVar[str] = "demo"

    def setUp(self) -> None:
        self.rng = random.Random(20)
        kinds = [*FAULTS, *FAULTS]
        self.rng.shuffle(kinds)
        self.faults = kinds
        self.struck: list[str] = []
        self.typed: list[tuple[str, str]] = []

    def test_what_was_typed_is_what_is_there(self) -> None:
        one, two = self.page("/plans/whole"), self.page("/")
        phone = self.page("/", size=PHONE)
        self.field(one, NAME).fill("Sluice rack tooth")
        where = self.switched_on(one)
        plan = self.server.get(where)["plan_id"]
        self.gas_seen(one)
        for page in (two, phone):
            page.goto(self.server.base + where)
            page.get_by_role("button", name="Reading", exact=True).wait_for()
        # readings from three devices in turn
        for k in range(9):
            self.do((one, two, phone)[k % 3], self.reading(f"2.{k + 1}"))
        self.do(two, self.change("scraped all four"))
        # both desks change the plan, each another field of it
        one.goto(f"{self.server.base}/plans/{plan}")
        two.goto(f"{self.server.base}/plans/{plan}")
        for page in (one, two):
            self.field(page, "/pieces/0/shape/length_m").wait_for()
        self.do(one, self.planned(NAME, "Sluice rack tooth, left"))
        self.do(two, self.planned("/pieces/0/shape/length_m", "190 mm"))
        self.do(one, self.planned("/pieces/0/shape/width_m", "52 mm"))
        # the phone ends the run while the desks leave a draft each
        self.do(one, self.left(NAME, "Draft of one"))
        self.do(two, self.left(NAME, "Draft of two"))
        for k in range(3):
            self.do(phone, self.reading(f"1.{k + 1}"))
        self.do(phone, self.pressed("Lift and look", "Power is off, the piece is out"))
        self.check(where, plan, phone)
        for page, text in ((one, "Draft of one"), (two, "Draft of two")):
            page.reload()
            self.field(page, NAME).wait_for()
            expect(self.field(page, NAME)).to_have_value(text)
        self.finish(phone, where)
        self.assertEqual(len(self.struck), 20, self.struck)

    def check(self, where: str, plan: str, phone: Page) -> None:
        run = self.server.get(where)
        read = [str(e["detail"]["current_a"]) for e in run["log"] if e["kind"] == "reading"]
        self.assertEqual(sorted(read), sorted(t for kind, t in self.typed if kind == "reading"))
        notes = [e["detail"]["note"] for e in run["log"] if e["kind"] == "change"]
        self.assertEqual(notes, [t for kind, t in self.typed if kind == "change"])
        self.assertEqual([e["kind"] for e in run["log"]].count("lift"), 1)
        kept = self.server.get(f"/plans/{plan}")["read"]
        for pointer, text in (t for t in self.typed if t[0].startswith("/")):
            if pointer == NAME:
                self.assertEqual(kept["document"]["pieces"][0]["name"], text)
            else:
                self.assertEqual(kept["shown"][pointer], text)
        self.assertEqual(phone.evaluate("localStorage.getItem('yb.outbox')"), "[]")

    def finish(self, phone: Page, where: str) -> None:
        """Looked at, called clean and written into the book."""
        steps = [{"kind": "finish_step", "step": s["id"], "mark": "skipped", "choice": ""}
                 for s in self.server.get(where)["steps"]]  # fmt: skip
        for k, detail in enumerate(({"kind": "clean"}, {"kind": "finish_start"}, *steps)):
            at = self.server.get(where)["now"]
            body = {"client_id": f"the day, {k}", "at": at, "detail": detail}
            self.server.post(f"{where}/entries", body)
        phone.goto(self.server.base + where)
        phone.get_by_label("What to remember").fill("Teeth bright; the left one is cracked.")
        self.do(phone, lambda page, press: press(
            page.get_by_role("button", name="Close the run").click))  # fmt: skip
        run_id = where.rpartition("/")[2]
        entry = self.server.get(f"/book/{run_id}")["entry"]
        self.assertEqual(entry["remarks"], "Teeth bright; the left one is cracked.")
        self.assertEqual([r["run_id"] for r in self.server.get("/book")["items"]].count(run_id), 1)

    # --- What hands do ------------------------------------------------------------------------

    def reading(self, amps: str) -> Callable[[Page, Callable[[Callable[[], None]], None]], None]:
        def work(page: Page, press: Callable[[Callable[[], None]], None]) -> None:
            page.get_by_role("button", name="Reading", exact=True).click()
            page.get_by_label("Amps", exact=True).fill(amps)
            press(page.get_by_role("button", name="Write it down").click)
            self.typed.append(("reading", amps))

        return work

    def change(self, note: str) -> Callable[[Page, Callable[[Callable[[], None]], None]], None]:
        def work(page: Page, press: Callable[[Callable[[], None]], None]) -> None:
            page.get_by_role("button", name="Log a change").click()
            page.get_by_role("radio", name="Scraped").or_(
                page.get_by_role("button", name="Scraped")
            ).first.click()
            page.get_by_label("Note").fill(note)
            press(page.get_by_role("button", name="Write it down").click)
            self.typed.append(("change", note))

        return work

    def pressed(
        self, first: str, then: str
    ) -> Callable[[Page, Callable[[Callable[[], None]], None]], None]:
        def work(page: Page, press: Callable[[Callable[[], None]], None]) -> None:
            page.get_by_role("button", name=first).click()
            press(page.get_by_role("button", name=then).click)

        return work

    def planned(
        self, at: str, text: str
    ) -> Callable[[Page, Callable[[Callable[[], None]], None]], None]:
        """Typed into a field of the plan and saved, once more where that did not work."""

        def work(page: Page, press: Callable[[Callable[[], None]], None]) -> None:
            self.field(page, at).fill(text)
            page.wait_for_timeout(300)
            press(page.get_by_role("button", name=re.compile("^Save")).click)
            self.typed.append((at, text))

        return work

    def left(
        self, at: str, text: str
    ) -> Callable[[Page, Callable[[Callable[[], None]], None]], None]:
        """Typed and not saved."""

        def work(page: Page, press: Callable[[Callable[[], None]], None]) -> None:
            self.field(page, at).fill(text)
            page.wait_for_timeout(300)

        return work

    # --- What goes wrong ----------------------------------------------------------------------

    def do(
        self, page: Page, work: Callable[[Page, Callable[[Callable[[], None]], None]], None]
    ) -> None:
        """Do something with the next fault in it, and then what a person does once it is over."""
        kind = self.faults.pop() if self.faults else ""
        self.struck += [kind] if kind else []
        with self.subTest(kind, at=page.url), self.fault(page, kind):
            work(page, lambda click: self.press(click, twice=kind == "twice"))
            page.wait_for_timeout(400)
        if kind == "reload":
            page.reload()
            page.locator("main").get_by_role("heading").first.wait_for()
        self.again(page)

    def press(self, click: Callable[[], None], twice: bool) -> None:
        click()
        if twice:
            try:
                click(timeout=300)  # type: ignore[call-arg]
            except Exception:
                return  # it was gone, or could not be pressed twice

    def again(self, page: Page) -> None:
        """What was not taken is sent again; what is not saved is saved."""
        page.evaluate("window.dispatchEvent(new Event('online'))")
        page.wait_for_timeout(500)
        while page.get_by_role("button", name="Send it again").count():
            page.get_by_role("button", name="Send it again").first.click()
            page.wait_for_timeout(400)
        self.until(page, "() => (localStorage.getItem('yb.outbox') ?? '[]') === '[]'")
        draft = self.typed and self.typed[-1][0].startswith("/") and "/plans/" in page.url
        save = page.get_by_role("button", name="Save plan")
        if draft and save.count() and "Draft" not in self.field(page, NAME).input_value():
            save.click()
            page.get_by_role("button", name="Saved").wait_for()

    @contextmanager
    def fault(self, page: Page, kind: str) -> Iterator[None]:
        lost: list[str] = []

        def answer(route: Route) -> None:
            if route.request.method not in ("POST", "PUT"):
                route.fallback()
            elif kind in ("500", "502"):
                route.fulfill(status=int(kind), content_type="text/html", body="<h1>Oh</h1>")
            elif kind in ("503", "507"):
                route.fulfill(status=int(kind), json={"title": "Not now", "detail": "Not now."})
            elif kind == "lost" and not lost:
                lost.append("once")
                route.fetch()
                route.abort()
            elif kind == "slow":
                time.sleep(0.5)
                route.continue_()
            else:
                route.fallback()

        if kind == "killed":
            self.server.kill()
        page.context.set_offline(kind == "offline")
        page.route(_WRITES, answer)
        yield
        page.unroute_all(behavior="wait")
        page.context.set_offline(False)
        if kind == "killed":
            self.server.start()
