"""The places stay whole and where they are, whatever runs and however large the letters."""

import json
from typing import Any

from playwright.sync_api import Page, Route

from tests.browser.pages import BrowserCase, expect
from tests.shops import QUIET

WIDTHS = (320, 390, 1280)
BATHS = (0, 1, 2, 12, 60)
CUT = """() => [...document.querySelectorAll("[data-frame] a, [data-frame] button")]
  .filter((e) => e.checkVisibility() && !e.closest(".sr-only"))
  .map((e) => {
    const r = e.getBoundingClientRect();
    const inside = r.left >= -0.5 && r.right <= innerWidth + 0.5 && r.bottom <= innerHeight + 0.5;
    const words = [...e.querySelectorAll("[data-place]")];
    const whole = words.every((w) => w.scrollWidth <= w.clientWidth + 1);
    return [e.textContent, inside && whole, Math.round(r.left), Math.round(r.height)];
  })"""


class Frame(BrowserCase):
    many = 0

    def racked(self, page: Page) -> None:
        """As if so ``many`` baths stood on the rack."""
        states = ("planned", "running", "paused", "lifted")

        def answer(route: Route) -> None:
            rows = [{**self.row, "run_id": f"r{k}", "name": f"Hinge strap {k}",
                     "state": states[k % 4]} for k in range(self.many)]  # fmt: skip
            route.fulfill(body=json.dumps(rows), content_type="application/json")

        page.route("**/api/runs", answer)

    def setUp(self) -> None:
        plan = self.server.post("/plans", {"document": {**QUIET, "name": "Hinge strap"}})
        self.server.post("/runs", {"plan_id": plan["id"]})
        self.row = self.server.get("/runs")[0]

    def looked(self, page: Page, where: str) -> dict[str, tuple[int, int]]:
        found: list[Any] = page.evaluate(CUT)
        for text, whole, _, _ in found:
            self.assertTrue(whole, f"{where}: {text} is cut off")
        return {text: (left, height) for text, _, left, height in found}

    def test_the_places_are_whole_and_never_move(self) -> None:
        for letters in ("100%", "200%"):
            stood: dict[int, dict[str, int]] = {}
            page = self.page("/settings")
            self.racked(page)
            for many in BATHS:
                self.many = many
                page.set_viewport_size({"width": 1280, "height": 800})
                page.goto(self.server.base)
                page.locator("[data-frame]").wait_for()
                page.evaluate(f"document.documentElement.style.fontSize = '{letters}'")
                if many:
                    page.get_by_role("navigation", name="The rack").get_by_role(
                        "link"
                    ).first.wait_for()
                for width in WIDTHS:
                    page.set_viewport_size({"width": width, "height": 800})
                    page.wait_for_timeout(150)
                    where = f"{letters}, {many} baths, {width} px"
                    with self.subTest(where):
                        seen = self.looked(page, where)
                        places = {t: left for t, (left, _) in seen.items() if t in PLACES}
                        self.assertEqual(len(places), 5 if width < 640 else 6, where)
                        first = stood.setdefault(width, places)
                        self.assertEqual(places, first, f"{where}: they moved")
                        wide = page.evaluate("document.documentElement.scrollWidth")
                        self.assertLessEqual(wide, width, where)
                        for text, (_, height) in seen.items():
                            self.assertGreaterEqual(height, 44, f"{where}: {text}")
            page.close()

    def test_what_is_under_more_is_two_touches_away(self) -> None:
        page = self.page("/", size={"width": 320, "height": 640})
        page.get_by_role("button", name="More").click()
        page.get_by_role("link", name="Trouble").click()
        page.wait_for_url("**/guide")
        expect(page.locator("[data-more]")).to_be_hidden()


PLACES = ("Today", "New", "New plan", "Book", "Kit", "Tables", "Trouble", "Shop", "More")
