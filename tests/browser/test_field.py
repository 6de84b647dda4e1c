"""The field on the page: the same as the command's, placed by search, undone."""

import json
import tempfile
from pathlib import Path

from tests.browser.pages import BrowserCase
from tests.workflows.test_field import as_case, plate
from yellowbath.workflows.plans.cases import solve_file


class FieldOnThePage(BrowserCase):
    def far_face(self, arrangement: str) -> float:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "case.json"
            file.write_text(json.dumps(as_case(arrangement)))
            patches = solve_file(file, preview=True)["case"]["patches"]
        return float(patches["+y"]["ratio_to_mean"])

    def test_one_rod_from_one_side_to_both_and_then_placed_by_search(self) -> None:
        """The far face's share on the page is the command's, before and after the move."""
        made = self.server.post("/plans", {"document": plate("one_side")})
        page = self.page(f"/plans/{made['id']}")
        back = page.locator('[data-region="p1.back"]')
        back.wait_for()
        shown = float(back.get_attribute("data-ratio") or "nan")
        self.assertAlmostEqual(shown, self.far_face("one_side"), delta=0.01)

        page.get_by_role("radio", name="Two, on opposite sides").click()
        self.until(
            page,
            "was => (document.querySelector('[data-region=\"p1.back\"]')"
            "?.dataset.ratio ?? was) != was",
            arg=back.get_attribute("data-ratio"),
        )
        page.locator('section[aria-busy="false"] [data-region="p1.back"]').wait_for()
        both = float(back.get_attribute("data-ratio") or "nan")
        self.assertAlmostEqual(both, self.far_face("opposite"), delta=0.01)
        self.assertGreater(both, 1.5 * shown)

        page.get_by_role("button", name="Place it for me").click()
        use = page.get_by_role("button", name="Use this layout")
        use.wait_for()
        use.click()
        page.get_by_role("radio", name="One by one", checked=True).wait_for()
        page.get_by_label("Right of the middle").nth(1).wait_for()
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("radio", name="Two, on opposite sides", checked=True).wait_for()
