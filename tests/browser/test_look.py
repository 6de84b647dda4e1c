"""Every page, light and dark, desk and phone: accessible, and no wider than its screen."""

from typing import ClassVar

from playwright.sync_api import Page

from tests.browser.pages import AXE, DESK, PHONE, BrowserCase, expect
from tests.longer import of


class DemoPages(BrowserCase):
    command: ClassVar[str] = "demo"

    def addresses(self) -> dict[str, str]:
        plans = {p["title"]: p["id"] for p in self.server.get("/plans")["items"]}
        runs = {r["state"]: r["run_id"] for r in self.server.get("/runs")}
        written = self.server.get("/book")["items"][0]["run_id"]
        return {
            "today": "/",
            "plan with a stop": f"/plans/{plans['Cast bracket']}",
            "first questions": "/plans/new",
            "whole plan": "/plans/whole",
            "running": f"/runs/{runs['running']}",
            "lifted": f"/runs/{runs['lifted']}",
            "closed": f"/runs/{written}",
            "book": "/book",
            "entry": f"/book/{written}",
            "kit": "/kit",
            "tables": "/tables",
            "shop": "/settings",
        }

    def test_accessible_and_no_wider_than_the_screen(self) -> None:
        """One loading of each page serves both sizes; every other page is looked at on the desk in
        the light, the rest on the phone in the dark, and in the longer form each in all four."""
        page = self.page("/")
        for k, (name, path) in enumerate(self.addresses().items()):
            page.emulate_media(color_scheme="light")
            page.set_viewport_size(DESK)  # type: ignore[arg-type]
            self.go(page, path)
            page.evaluate(AXE)
            for size, schemes in ((DESK, ("light", "dark")), (PHONE, ("dark", "light"))):
                page.set_viewport_size(size)  # type: ignore[arg-type]
                page.wait_for_timeout(200)
                with self.subTest(name, width=size["width"]):
                    wide = page.evaluate("document.documentElement.scrollWidth")
                    self.assertLessEqual(wide, size["width"])
                looked = schemes[:1] if (size is DESK) == (k % 2 == 0) else ()
                for scheme in of(schemes, looked):
                    page.emulate_media(color_scheme=scheme)  # type: ignore[arg-type]
                    with self.subTest(name, scheme=scheme, width=size["width"]):
                        # once more where it is in the middle of changing its colours
                        self.assertEqual(self.grave(page) and self.grave(page), [])

    def grave(self, page: Page) -> list[tuple[str, ...]]:
        """What axe finds of level serious or above."""
        return [
            (v["id"], v["nodes"][0]["html"][:160], v["nodes"][0]["failureSummary"])
            for v in page.evaluate("axe.run({resultTypes: ['violations']}).then(r => r.violations)")
            if v["impact"] in ("serious", "critical")
        ]

    def test_the_rack_says_what_runs_and_what_wants_hands(self) -> None:
        page = self.page("/")
        rack = page.get_by_role("navigation", name="The rack")
        rack.get_by_role("link", name="Windlass handle, running").wait_for()
        rack.get_by_role("link", name="Boat-hook head from the mud, lifted").wait_for()
        page.get_by_text("This metal must not be on the plus side").wait_for()

    def test_by_keyboard_alone(self) -> None:
        """Tab to the first choice, arrow to the next, and the answer follows."""
        page = self.page("/plans/whole")
        before = self.figure(page, "amps.gives")
        page.locator('[data-pointer="/layout/arrangement"] [data-state="checked"]').focus()
        page.keyboard.press("ArrowRight", delay=60)
        self.figure_until(page, "amps.gives", f"v > {before}")

    def test_an_address_that_is_not_there_explains_itself(self) -> None:
        page = self.page("/runs/none")
        page.get_by_text("There is no run none").wait_for()

    def test_the_bench_card_prints_on_its_own(self) -> None:
        page = self.page("/plans/whole")
        page.emulate_media(media="print")
        card = page.get_by_label("Bench card")
        for words in ("Put in", "Before switching on", "Readings", "If the amps are not that"):
            self.assertIn(words, card.inner_text())
        expect(page.get_by_role("navigation", name="The rack")).to_be_hidden()
        ids = page.evaluate("[...document.querySelectorAll('[id]')].map(e => e.id)")
        self.assertEqual(len(ids), len(set(ids)), "a hidden twin would take the hatching away")
