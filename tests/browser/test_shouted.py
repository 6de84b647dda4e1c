"""What must be done is read without scrolling, whatever form is open: a supply that does not obey,
a trip, a lost line, a short by hand, a stainless rod that was added; desk and phone, light and
dark."""

from datetime import UTC, datetime
from itertools import product
from typing import Any
from unittest import mock
from uuid import uuid4

from playwright.sync_api import Page

from tests.browser.pages import DESK, PHONE, BrowserCase, expect
from tests.instruments.peers import standing_in
from tests.shops import QUIET

# contrast of every text in the card and the bar; WCAG 2.2, relative luminance and contrast ratio
CONTRAST = """() => {
  const canvas = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  const rgba = (css) => {
    canvas.clearRect(0, 0, 1, 1); canvas.fillStyle = css; canvas.fillRect(0, 0, 1, 1);
    return [...canvas.getImageData(0, 0, 1, 1).data];
  };
  const lit = ([r, g, b]) => {
    const [x, y, z] = [r, g, b].map((v) => v / 255)
      .map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4));
    return 0.2126 * x + 0.7152 * y + 0.0722 * z;
  };
  const ground = (e) => {
    for (let at = e; at; at = at.parentElement) {
      const c = rgba(getComputedStyle(at).backgroundColor);
      if (c[3] === 255) return c;
    }
    return [255, 255, 255];
  };
  const all = document.querySelectorAll("[data-testid=next-action] *, [data-always] *");
  return [...all].filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.data.trim()))
    .filter((e) => e.checkVisibility() && !e.closest(".sr-only"))
    .map((e) => {
      const [a, b] = [lit(rgba(getComputedStyle(e).color)), lit(ground(e))];
      return [e.textContent.slice(0, 40), (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)];
    });
}"""


class Shouted(BrowserCase):
    def enter(self, kind: str, **detail: Any) -> Any:
        body = {"client_id": uuid4().hex, "at": datetime.now(UTC).isoformat(),
                "detail": {"kind": kind, **detail}}  # fmt: skip
        return self.server.post(f"/runs/{self.run_id}/entries", body)

    def link(self, port: int, **locks: Any) -> None:
        body = {"address": f"127.0.0.1:{port}", "probe": True, "interlocks": locks}
        self.server.post(f"/runs/{self.run_id}/link", body, "PUT")

    def setUp(self) -> None:
        plan = self.server.post("/plans", {"document": {**QUIET, "name": "Gate latch"}})
        run = self.server.post("/runs", {"plan_id": plan["id"]})
        self.run_id = run["id"]
        self.addCleanup(lambda: self.enter("abandon"))  # or it is shouted of in the next test
        self.enter("checklist", ticked=[p["id"] for p in run["points"]])
        self.enter("switch_on")
        self.enter("look", bubbles="whole")
        self.run_page = self.page(f"/runs/{self.run_id}", size=PHONE)
        self.run_page.get_by_role("button", name="Reading", exact=True).click()
        self.run_page.get_by_label("Amps", exact=True).fill("2.4")

    def reads(self, words: str, again: bool = False) -> None:
        """In every size and light the page says it first and whole, over the form that is open,
        with both presses in reach."""
        page = self.run_page
        if again:
            page.reload()
        page.locator("[data-testid=next-action][data-danger]", has_text=words).wait_for()
        for size, scheme in product((DESK, PHONE), ("dark", "light")):
            page.set_viewport_size(size)  # type: ignore[arg-type]
            page.emulate_media(color_scheme=scheme)  # type: ignore[arg-type]
            page.wait_for_timeout(200)
            with self.subTest(words, width=size["width"], scheme=scheme):
                self.seen_whole(page, words)
                self.stands_out(page, words)

    def seen_whole(self, page: Page, words: str) -> None:
        expect(page.get_by_label("Amps", exact=True)).to_be_visible()  # the form is open
        size = page.viewport_size
        box = page.locator("[data-testid=next-action]").bounding_box()
        bar = page.locator("[data-always]").bounding_box()
        assert size and box and bar
        self.assertGreaterEqual(box["y"], 0, words)
        self.assertLessEqual(box["y"] + box["height"], bar["y"], f"{words}: over the bar")
        self.assertLessEqual(bar["y"] + bar["height"], size["height"])
        for button in page.locator("[data-always] > div > div > button").all():
            where = button.bounding_box()
            assert where
            self.assertGreaterEqual(where["height"], 44)
        self.until(page, "words => document.title.includes(words)", arg=words)

    def stands_out(self, page: Page, words: str) -> None:
        """Letters against their ground as WCAG 2.2 reckons contrast, 4.5 to 1 and more."""
        found = page.evaluate(CONTRAST)
        self.assertGreater(len(found), 0)
        for text, ratio in found:
            self.assertGreaterEqual(ratio, 4.5, f"{words}: {text}")

    def test_what_must_be_done_is_read_without_scrolling(self) -> None:
        with standing_in() as supply:
            bath = supply.device.bath
            with mock.patch.object(bath, "switch_off", lambda: None):
                self.link(supply.port, over_amps_a=1.0)
                self.reads("Pull the plug at the wall")
            self.reads("It was switched off by itself")
            self.assertEqual(self.server.get(f"/runs/{self.run_id}")["state"], "paused")
            self.link(supply.port, over_amps_a=None, touch=True)
            bath.switch_on()
            self.enter("switch_on")
            self.run_page.locator("[data-danger]").wait_for(state="detached")
        self.reads("Nothing guards this bath")
        typed = self.run_page.get_by_label("Amps", exact=True)
        expect(typed).to_have_value("2.4")  # half typed, and still there

    def test_what_is_told_by_hand_is_read_as_soon(self) -> None:
        self.enter("reading", current_a=5.0, supply_v=0.4)
        self.reads("Switch off now", again=True)
        self.enter("switch_off")
        self.enter("switch_on")
        self.enter("change", what="added_anode", goes_in={"material": "stainless"})
        self.reads("Switch off now", again=True)
        phone = self.run_page
        phone.get_by_role("button", name="Danger", exact=True).click()
        phone.get_by_role("button", name="Smoke").click()
        phone.get_by_text("Written down").wait_for()
        self.assertIn("Smoke", self.server.get(f"/runs/{self.run_id}")["actions"][0]["why"])
        phone.get_by_role("button", name="Switched off", exact=True).click()
        phone.locator('[data-state="paused"]').wait_for()

    def test_a_plan_changed_under_its_bath_is_asked_about_once(self) -> None:
        run = self.server.get(f"/runs/{self.run_id}")
        page = self.page(f"/plans/{run['plan_id']}")
        self.field(page, "/supply/nominal_v").fill("36 V")
        page.get_by_role("button", name="Save plan").click()
        asked = page.locator("[data-in-bath]")
        asked.wait_for()
        asked.get_by_role("button", name="So in the bath now").click()
        asked.wait_for(state="detached")
        self.reads("Switch off now", again=True)
