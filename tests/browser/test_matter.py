"""What is the matter, by thumb: on a bath that is listened to and gets a fault in the middle, in
the guide without a run, and on a practice bath; and a time in one's own words."""

import re
import unittest

import numpy as np
from playwright.sync_api import Page

from tests.browser.pages import PHONE, BrowserCase, expect
from tests.instruments.peers import Clock, standing_in
from tests.shops import QUIET
from yellowbath.core.simulation.faults import fault


class Matter(BrowserCase):
    def test_a_fault_in_the_middle_of_a_bath_that_is_listened_to(self) -> None:
        """Hung on, running; a joint goes; it is seen, asked, switched off, mended, on again."""
        clock = Clock()
        with standing_in(clock, plan=QUIET) as server:
            bath = server.device.bath
            made = self.server.post("/plans", {"document": dict(QUIET)})
            page = self.page(f"/plans/{made['id']}", size=PHONE)
            self.switched_on(page)
            self.gas_seen(page)
            page.get_by_role("button", name="Connect a supply or meter").click()
            page.get_by_label("Address and port").fill(f"127.0.0.1:{server.port}")
            page.get_by_role("button", name="Ask who is there").click()
            page.get_by_role("button", name="Listen to it").click()
            log = page.get_by_role("region", name="Log")
            log.get_by_text("Off the line:").first.wait_for()
            expect(page.locator("[data-causes]")).to_have_count(0)
            # the joint of all the scrap goes
            bath.with_fault(fault("contact_scrap", bath.design, np.random.default_rng(10)), 0.0)
            clock.now += 30
            page.locator("[data-causes]").wait_for()
            page.locator("[data-suspect=contact_scrap]").wait_for()
            # it says when it happened, and the reading stays in reach
            page.get_by_role("heading", name="Amps fell").wait_for()
            page.get_by_text("Between").first.wait_for()
            page.evaluate("scrollTo(0, 0)")
            for seen in ("[data-read]", "[data-always]"):
                expect(page.locator(seen)).to_be_in_viewport()
            # a few questions, answered as it is, and then it is mended, power off first
            self.answered(page, {
                "joint_piece": "little", "level": "yes", "joint_scrap": "much", "scrap": "thin",
                "leads": "right", "tank_v": "right", "mark": "at", "two_levels": "more",
            })  # fmt: skip
            page.locator("[data-mend=contact_scrap]").wait_for()
            expect(page.get_by_text("Earlier: read 0")).to_have_count(0)
            page.get_by_role("button", name="Switched off").click()
            page.locator("[data-state=paused]").wait_for()
            bath.mended("contact_scrap")
            clock.now += 30
            self.it_was(page, "contact_scrap")
            log.get_by_text("Mended, and it was that: no good contact at a scrap").wait_for()
            page.get_by_role("button", name="Switched on").click()
            page.locator("[data-state=running]").wait_for()
            page.locator("[data-causes]").wait_for(state="detached")
            wide = page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, PHONE["width"])

    def answered(self, page: Page, bath: dict[str, str]) -> None:
        """Whatever is asked next, until something is to be mended."""
        for _ in bath:
            page.locator("[data-ask], [data-mend]").first.wait_for()
            asks = page.locator("[data-ask]")
            if not asks.count():
                return
            what = asks.first.get_attribute("data-ask") or ""
            page.locator(f"[data-ask={what}] [data-outcome={bath[what]}]").click()
            page.locator(f"[data-ask={what}]").wait_for(state="detached")

    def test_the_guide_answers_without_a_run(self) -> None:
        before_runs = len(self.server.get("/runs"))
        page = self.page("/guide", size=PHONE)
        page.get_by_role("button", name="Bubbles only at the clip").click()
        page.locator("[data-suspect=contact_piece]").wait_for()
        before = page.locator("[data-ask]").get_attribute("data-ask")
        page.locator("[data-ask]").get_by_role("button").first.click()
        self.until(page, f"() => document.querySelector('[data-ask]')?.dataset.ask !== '{before}'")
        page.get_by_role("button", name="Begin again").click()
        page.locator(f"[data-ask={before}]").wait_for()
        for question in ("It went dark", "The gas does not stop", "The water is clear"):
            page.get_by_role("button", name=re.compile(question)).click()
            page.locator("[data-guide] h2").get_by_text(question).wait_for()
        self.assertEqual(len(self.server.get("/runs")), before_runs, "nothing is written down")

    def test_when_it_was_in_ones_own_words_and_taken_back(self) -> None:
        made = self.server.post("/plans", {"document": dict(QUIET)})
        page = self.page(f"/plans/{made['id']}", size=PHONE)
        self.switched_on(page)
        page.get_by_role("button", name="Remark").click()
        page.get_by_label("What you want to remember").fill("The hook wobbles")
        page.get_by_label("When").fill("half past")
        page.get_by_text("could not read that").wait_for()
        expect(page.get_by_role("button", name="Write it down")).to_be_disabled()
        page.get_by_role("button", name="10 min ago", exact=True).click()
        page.get_by_role("button", name="Write it down").click()
        taken = page.locator("[data-taken]")
        taken.get_by_text("Written down: The hook wobbles").wait_for()
        taken.get_by_role("button", name="Take it back").click()
        page.get_by_role("region", name="Log").get_by_text("hook wobbles").wait_for(
            state="detached"
        )


class Practised(BrowserCase):
    def test_the_first_five_minutes_from_the_empty_shop(self) -> None:
        """By thumb to the debrief; and nothing of it is in the shop afterwards."""
        page = self.page("/", size=PHONE)
        page.get_by_role("link", name="Five minutes on a practice bath first").click()
        page.get_by_role("button", name="Begin", exact=True).first.click()
        page.wait_for_url("**/runs/*")
        page.get_by_text("Nothing of it goes into your book").wait_for()
        self.under_power(page)
        self.look(page, "gas")
        page.locator("[data-causes]").wait_for()
        self.look(page, "joint_piece")
        page.get_by_text("0.5 V or more").first.wait_for()
        page.get_by_role("button", name="Switched off").click()
        page.locator("[data-state=paused]").wait_for()
        page.get_by_role("button", name="Mend something").click()
        page.locator("[data-thing=contact_piece]").click()
        page.locator("[data-met]").get_by_text("Done: No good contact").wait_for()
        self.it_was(page, "contact_piece")
        page.locator("[data-causes]").wait_for(state="detached")
        page.get_by_role("button", name="Switched on").click()
        self.look(page, "gas")
        page.locator("[data-met]").get_by_text("From the whole piece").wait_for()
        page.get_by_role("link", name="See what it was").click()
        page.locator("[data-debrief=contact_piece]").wait_for()
        page.get_by_text("You named it.").wait_for()
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, PHONE["width"])
        page.get_by_role("button", name="Another card").click()
        page.wait_for_url("**/practice")
        page.locator("[data-practice]").wait_for(state="detached")
        for where in ("/runs", "/plans?most=5", "/book"):
            found = self.server.get(where)
            self.assertEqual(found if isinstance(found, list) else found["items"], [], where)

    def look(self, page: Page, what: str) -> None:
        """Something looked at in the practice's bar, and its answer there."""
        page.get_by_role("button", name="Look and read").click()
        page.locator(f"[data-thing={what}]").click()
        page.locator("[data-met] strong").wait_for()
        page.locator(f"[data-thing={what}]").wait_for(state="detached")


if __name__ == "__main__":
    unittest.main()
