"""The commonest acts at the bath by thumb: none takes more touches than it did on 2026-11-28."""

from collections.abc import Sequence

from playwright.sync_api import Page

from tests.browser.pages import PHONE, BrowserCase, expect
from tests.shops import QUIET

# act, what is pressed in turn (“=” is typed into the field before it), how many touches it took,
# and what the page then shows
ACTS: Sequence[tuple[str, Sequence[str], int, str]] = (
    ("gas is seen", ["From the whole piece"], 1, "[data-kind=second_look]"),
    ("amps are read", ["Reading", "Amps=2.4", "Write it down"], 3, "text=Read 2.4 A"),
    ("taken back", ["Take it back"], 1, "gone=Read 2.4 A"),
    ("a change", ["Log a change", "Turned the piece", "Write it down"], 3, "text=Turned the piece"),
    ("off", ["Switched off"], 2, "[data-state=paused]"),
    ("on again", ["Switched on"], 1, "[data-state=running]"),
    ("lifted", ["Lift and look", "Power is off, the piece is out"], 2, "[data-state=lifted]"),
    ("inspected", ["80 %", "Write it down"], 2, "[data-kind=decide]"),
    ("back in", ["Back in the bath, power off"], 1, "[data-state=paused]"),
    ("on once more", ["Switched on"], 1, "[data-state=running]"),
    ("danger", ["Danger", "Smoke"], 2, "[data-danger]"),
)


class Touches(BrowserCase):
    def test_none_takes_more_than_it_did(self) -> None:
        plan = self.server.post("/plans", {"document": dict(QUIET)})
        run = self.server.post("/runs", {"plan_id": plan["id"]})["id"]
        page = self.page(f"/runs/{run}", size=PHONE)
        self.under_power(page)
        for act, presses, before, shown in ACTS:
            with self.subTest(act):
                self.assertLessEqual(sum(map(self.press, [page] * len(presses), presses)), before)
                if shown.startswith("gone="):
                    log = page.get_by_role("region", name="Log")
                    expect(log.get_by_text(shown.removeprefix("gone="))).to_have_count(0)
                else:
                    expect(page.locator(shown).first).to_be_visible()

    def press(self, page: Page, what: str) -> int:
        """One touch: a button, or a field that is typed into."""
        label, _, text = what.partition("=")
        if text:
            page.get_by_label(label, exact=True).fill(text)
        else:
            page.get_by_role("button", name=label, exact=True).first.click()
        return 1
