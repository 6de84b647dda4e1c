"""Every page, light and dark, desk and phone: accessible, and no wider than its screen."""

from typing import ClassVar

from tests.browser.pages import AXE, DESK, PHONE, BrowserCase


class DemoPages(BrowserCase):
    command: ClassVar[str] = "demo"

    def addresses(self) -> dict[str, str]:
        plans = {p["read"]["document"]["name"]: p["id"] for p in self.server.get("/plans")}
        runs = {r["state"]: r["run_id"] for r in self.server.get("/runs")}
        written = self.server.get("/book")[0]["run_id"]
        return {
            "today": "/",
            "plan with a stop": f"/plans/{plans['Cast bracket']}",
            "new plan": "/plans/new",
            "running": f"/runs/{runs['running']}",
            "lifted": f"/runs/{runs['lifted']}",
            "closed": f"/runs/{written}",
            "book": "/book",
            "entry": f"/book/{written}",
            "shop": "/settings",
        }

    def test_no_serious_accessibility_fault(self) -> None:
        for scheme in ("light", "dark"):
            for size in (DESK, PHONE):
                context = self.context(size, scheme)
                for name, path in self.addresses().items():
                    with self.subTest(name, scheme=scheme, width=size["width"]):
                        page = self.page(path, context)
                        page.evaluate(AXE)
                        found = page.evaluate("axe.run().then(r => r.violations)")
                        grave = [
                            (v["id"], v["nodes"][0]["html"][:160], v["nodes"][0]["failureSummary"])
                            for v in found
                            if v["impact"] in ("serious", "critical")
                        ]
                        self.assertEqual(grave, [])
                        page.close()

    def test_nothing_is_wider_than_a_phone(self) -> None:
        context = self.context(PHONE)
        for name, path in self.addresses().items():
            with self.subTest(name):
                page = self.page(path, context)
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
                page.close()

    def test_the_rack_says_what_runs_and_what_wants_hands(self) -> None:
        page = self.page("/")
        rack = page.get_by_role("navigation", name="The rack")
        rack.get_by_role("link", name="Windlass handle, running").wait_for()
        rack.get_by_role("link", name="Boat-hook head from the mud, lifted").wait_for()
        page.get_by_text("This metal must not be on the plus side").wait_for()

    def test_by_keyboard_alone(self) -> None:
        """Tab to the first choice, arrow to the next, and the answer follows."""
        page = self.page("/plans/new")
        before = self.figure(page, "amps.gives")
        page.locator('[data-pointer="/placing/arrangement"] [data-state="checked"]').focus()
        page.keyboard.press("ArrowRight", delay=60)
        page.wait_for_function(
            f"() => document.querySelector('[data-figure=\"amps.gives\"]').dataset.value > {before}"
        )

    def test_an_address_that_is_not_there_explains_itself(self) -> None:
        page = self.page("/runs/none")
        page.get_by_text("There is no run none").wait_for()

    def test_the_bench_card_prints_on_its_own(self) -> None:
        page = self.page("/plans/new")
        page.emulate_media(media="print")
        card = page.get_by_label("Bench card")
        for words in ("Put in", "Before switching on", "Readings", "Level with everything in"):
            self.assertIn(words, card.inner_text())
        self.assertFalse(page.get_by_role("navigation", name="The rack").is_visible())
        ids = page.evaluate("[...document.querySelectorAll('[id]')].map(e => e.id)")
        self.assertEqual(len(ids), len(set(ids)), "a hidden twin would take the hatching away")
