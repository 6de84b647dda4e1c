"""A supply on a run's line, by thumb, against the stand-in: hung on, read, and switched off by what
was chosen, with its reason in the log; a lost line said and taken up again."""

import unittest

from playwright.sync_api import Page

from tests.browser.pages import PHONE, BrowserCase, expect
from tests.instruments.peers import Clock, standing_in
from tests.shops import QUIET
from yellowbath.instruments.standin.server import Server


class OnTheLine(BrowserCase):
    def hung(self, server: Server, over_amps: str = "") -> Page:
        """From a fresh plan to a bath under power with the stand-in on its line."""
        made = self.server.post("/plans", {"document": dict(QUIET)})
        page = self.page(f"/plans/{made['id']}", size=PHONE)
        self.switched_on(page)
        self.gas_seen(page)
        page.get_by_role("button", name="Connect a supply or meter").click()
        page.get_by_label("Address and port").fill(f"127.0.0.1:{server.port}")
        page.get_by_label("It has a probe").check()
        page.get_by_role("button", name="Ask who is there").click()
        page.get_by_text("Yellow Bath Stand-in supply answers.").wait_for()
        if over_amps:
            page.get_by_label("More amps than").first.check()
            page.get_by_label("More amps than").last.fill(over_amps)
        page.get_by_role("button", name="Listen to it").click()
        return page

    def test_hung_on_by_thumb_and_switched_off_by_what_was_chosen(self) -> None:
        with standing_in(Clock()) as server:
            page = self.hung(server, over_amps="1")
            page.locator("[data-state=paused]").wait_for()
            log = page.get_by_role("region", name="Log")
            log.get_by_text("Switched off: More than 1 A").wait_for()
            self.assertFalse(server.device.bath.supply.on)
            page.locator("[data-now]").get_by_text("Amps").wait_for()
            wide = page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, PHONE["width"])

    def test_a_lost_line_is_said_and_taken_up_again(self) -> None:
        with standing_in(Clock()) as server:
            page = self.hung(server)
            page.locator("[data-line-state=linked]").wait_for()
            page.locator("[data-strips] canvas").first.wait_for()
            port = server.port
        page.locator("[data-line-state=lost]").wait_for()
        page.get_by_text("It does not answer, and the bath may run on.").wait_for()
        with standing_in(Clock(), port=port):
            page.locator("[data-line-state=linked]").wait_for()
            expect(page.locator("[data-state=running]")).to_have_count(1)


if __name__ == "__main__":
    unittest.main()
