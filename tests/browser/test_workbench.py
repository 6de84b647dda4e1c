"""The workbench through the real screen: moved, advised, brought in, printed."""

import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import trimesh
from playwright.sync_api import Page
from pypdf import PdfReader

from tests.browser.pages import AXE, DESK, IN_3D, PHONE, BrowserCase, Size, expect
from tests.longer import LONG
from tests.shops import QUIET

BOX: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "one_side"},
}


class Workbench(BrowserCase):
    def plan(self, document: dict[str, Any], size: Size = DESK) -> Page:
        made = self.server.post("/plans", {"document": document})
        page = self.page(f"/plans/{made['id']}", size=size)
        self.settled(page)
        return page

    def settled(self, page: Page) -> None:
        page.wait_for_selector("#stage[data-live=fine]")

    def held(self, page: Page) -> dict[str, Any]:
        """The document that the page keeps on this device."""
        text = page.evaluate("Object.entries(localStorage).find(([k]) => k.includes('draft'))[1]")
        document: dict[str, Any] = json.loads(text)["doc"]
        return document

    def read(self, page: Page, key: str) -> str:
        return page.locator(f"[data-readout={key}] dd").inner_text()

    def drag(self, page: Page, grip: str, dx: float, dy: float, view: int = 0) -> None:
        box = page.locator(f"[data-grip={grip}]").nth(view).bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(1, 9):
            page.mouse.move(x + dx * k / 8, y + dy * k / 8)
        page.mouse.up()

    def test_a_solve_is_told_stopped_and_begun_again(self) -> None:
        """On both sizes, by what is seen: nothing quick looks final, and nothing is lost by it."""
        for size in (DESK, PHONE):
            with self.subTest(size["width"]):
                made = self.server.post("/plans", {"document": BOX})
                page = self.page("/", size=size)
                page.route("**/api/plans/field", lambda _: None)  # as one that takes long
                page.goto(f"{self.server.base}/plans/{made['id']}")
                stage = page.locator("#stage")
                stage.get_by_text("Working out where the current goes").wait_for()
                sign = "e => getComputedStyle(e, '::before').content"
                gives = stage.locator("[data-readout=gives] dd")
                self.assertIn("≈", gives.evaluate(sign))
                cut = "all => all.filter(e => e.scrollWidth > e.clientWidth).map(e => e.innerText)"
                self.assertEqual(stage.locator("[data-readout] dd").evaluate_all(cut), [])
                stage.get_by_role("button", name="Stop solving").click()
                stage.get_by_text("Stopped. These are quick figures.").wait_for()
                self.assertIn("≈", gives.evaluate(sign))
                page.unroute("**/api/plans/field")
                stage.get_by_role("button", name="Work it out", exact=True).click()
                self.settled(page)
                self.assertNotIn("≈", gives.evaluate(sign))
                self.assertEqual(stage.locator("[data-readout] dd").evaluate_all(cut), [])
                expect(stage.get_by_text("Stopped.")).to_have_count(0)

    def test_a_dragged_rod_is_answered_as_the_api_says_and_undone_in_one_step(self) -> None:
        page = self.plan(BOX)
        page.locator("[data-grip=a1]").first.click()  # a press picks, and changes nothing
        page.locator("[data-inspector=anode]").wait_for()
        expect(page.get_by_role("button", name="Undo")).to_be_disabled()
        before, far = self.read(page, "gives"), page.locator('[data-region="p1.back"]')
        ratio = far.get_attribute("data-ratio")
        self.drag(page, "a1", 70, -25)
        page.wait_for_selector("#stage:not([data-live=fine])")
        self.settled(page)
        document = self.held(page)
        self.assertNotEqual(document["anodes"][0]["x_m"], 0)
        self.assertEqual(document["layout"]["arrangement"], "by_hand")
        asked = {"document": document, "quality": "preview"}
        said = self.server.post("/plans/answer", asked)["answer"]["figures"]["amps.gives"]
        self.assertEqual(self.read(page, "gives"), f"{said['text']} A")
        field = self.server.post("/plans/field", {"document": document})
        back = next(r for r in field["regions"] if r["id"] == "p1.back")
        self.assertAlmostEqual(float(far.get_attribute("data-ratio") or 0), back["ratio"], places=6)
        self.assertNotEqual(far.get_attribute("data-ratio"), ratio)
        page.get_by_role("button", name="Undo").click()
        self.settled(page)
        self.assertEqual(self.read(page, "gives"), before)
        expect(page.get_by_role("button", name="Undo")).to_be_disabled()

    def test_what_my_meter_shows_is_gone_by_and_forgotten(self) -> None:
        page = self.plan(BOX)
        before = self.read(page, "gives")
        ask = page.get_by_label("What does my meter show?")
        ask.fill("forty")
        page.get_by_role("button", name="Go by it").click()
        page.locator("#expect [role=alert]").wait_for()
        ask.fill("1.5 A")
        page.get_by_role("button", name="Go by it").click()
        page.locator("[data-meter]").wait_for()
        self.settled(page)
        self.assertIn("1.5", self.read(page, "gives"))
        self.assertEqual(self.held(page)["meter"]["read_a"], 1.5)
        page.get_by_role("button", name="Forget the reading").click()
        ask.wait_for()
        self.settled(page)
        self.assertEqual(self.read(page, "gives"), before)

    def test_changes_is_applied_by_one_press_and_gives_what_it_promised(self) -> None:
        self.advised = True
        page = self.plan(BOX)
        advice = page.locator("[data-advice]").first
        advice.wait_for()
        promised = advice.locator("[data-effect]").inner_text()
        advice.get_by_role("button", name="Do it").click()
        page.wait_for_selector("#stage:not([data-live=fine])")
        self.settled(page)
        load = promised.split("supply at ")[1].split(" %")[0]
        self.assertAlmostEqual(float(self.read(page, "load").split()[0]), float(load), delta=0.51)
        worst = min(
            float(r.get_attribute("data-ratio") or 1) for r in page.locator("[data-region]").all()
        )
        said = promised.split("→ ")[1].split(" %")[0]
        self.assertAlmostEqual(100 * worst, float(said), delta=0.51)
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("radio", name="One, on one side", checked=True).wait_for()

    @unittest.skipUnless(LONG, "a long way by the page; the API's test has the same file")
    def test_a_mesh_is_asked_its_unit_and_hung_in_the_bath(self) -> None:
        page = self.page("/plans/whole")
        body = trimesh.creation.annulus(15, 30, 120)  # millimetres, or would-be centimetres
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "bush.stl"
            body.export(file)
            page.get_by_role("radio", name="From a mesh file").click()
            page.locator("input[accept*=stl]").set_input_files(file)
            page.get_by_text("How long is it really?").wait_for()
            page.get_by_role("button", name="120 mm drawn in mm").click()
        page.get_by_text("of surface").wait_for()
        self.settled(page)
        area = self.figure(page, "piece.area")
        self.assertAlmostEqual(area, body.area * 1e-6, delta=0.01 * body.area * 1e-6)
        # a tape corrects its size; a broken file says why and takes nothing away
        self.field(page, "/pieces/0/shape/length_m").fill("240 mm")
        self.figure_until(page, "piece.area", f"v > {3.9 * area}")
        page.locator("input[accept*=stl]").set_input_files(
            {"name": "torn.stl", "mimeType": "model/stl", "buffer": b"solid x\nfacet"}
        )
        page.get_by_label("Mesh file").get_by_role("alert").wait_for()
        self.assertEqual(self.held(page)["pieces"][0]["shape"]["kind"], "mesh")

    def test_a_piece_larger_than_the_tank_is_offered_a_dip_plan(self) -> None:
        page = self.page("/plans/whole")
        page.get_by_role("radio", name="Round bar").click()
        self.field(page, "/pieces/0/shape/length_m").fill("38 cm")
        page.get_by_role("button", name="Dip it end by end").first.click()
        dips = page.get_by_label("Dip plan")
        dips.wait_for()
        words = dips.inner_text()
        for part in ("As it hangs: covers 0 mm to", "end for end", "overlap by"):
            self.assertIn(part, words)

    def test_the_cards_figures_are_the_screens(self) -> None:
        page = self.plan({**BOX, "layout": {"arrangement": "opposite"}})
        page.get_by_role("button", name="Print and export").click()
        with page.expect_download() as made:
            page.get_by_role("menuitem", name="Bench card, PDF").click()
        path = made.value.path()
        text = PdfReader(io.BytesIO(path.read_bytes())).pages[0].extract_text()
        printed = " ".join(text.split())
        for key in ("gives", "clean", "gap"):
            self.assertIn(self.read(page, key), printed)
        for key in ("tank.water", "mix.product", "tank.level"):
            shown = page.locator(f'[data-figure="{key}"]').first.inner_text()
            self.assertIn(shown, printed)
        self.assertIn("A phone cannot reach this computer yet", printed)

    def test_a_lost_connection_in_mid_drag_loses_nothing(self) -> None:
        page = self.plan(BOX)
        page.route("**/api/**", lambda route: route.abort())
        self.drag(page, "a1", 60, -20)
        page.get_by_text("What you moved is kept here").wait_for()
        moved = self.held(page)["anodes"][0]
        self.assertNotEqual(moved["x_m"], 0)
        page.unroute("**/api/**")
        self.settled(page)
        self.assertEqual(self.held(page)["anodes"][0], moved)

    def test_two_variants_side_by_side_and_one_kept(self) -> None:
        page = self.plan(BOX)
        page.get_by_role("button", name="Try a variant").click()
        page.get_by_role("radio", name="Two, on opposite sides").click()
        page.locator('[data-difference="/layout/arrangement"]').wait_for()
        page.get_by_role("button", name="Keep the one set aside").click()
        page.get_by_role("radio", name="One, on one side", checked=True).wait_for()
        expect(page.get_by_label("Compare")).to_have_count(0)

    def test_a_plan_file_goes_out_and_comes_in_and_a_later_one_is_refused(self) -> None:
        page = self.plan(BOX)
        page.get_by_role("button", name="Print and export").click()
        with page.expect_download() as made:
            page.get_by_role("menuitem", name="Plan file, JSON").click()
        document = json.loads(made.value.path().read_text("utf-8"))
        other = self.page("/plans/whole")
        for change, words in (({"schema_version": 9}, "later version"), ({"x": 1}, "not known")):
            wrong = json.dumps({**document, **change}).encode()
            other.get_by_label("Plan file").set_input_files(
                {"name": "p.json", "mimeType": "application/json", "buffer": wrong}
            )
            other.get_by_text(words).first.wait_for()
        other.get_by_label("Plan file").set_input_files(
            {"name": "p.json", "mimeType": "application/json",
             "buffer": json.dumps(document).encode()}
        )  # fmt: skip
        other.get_by_role("radio", name="One, on one side", checked=True).wait_for()
        other.get_by_role("heading", name="Gate latch").wait_for()

    def test_with_a_finger_on_a_phone(self) -> None:
        """One view at a time, nothing wider than the screen, no serious fault with all unfolded."""
        page = self.plan(BOX, PHONE)
        self.drag(page, "a1", 40, -15)
        page.wait_for_selector("#stage:not([data-live=fine])")
        self.settled(page)
        page.get_by_role("button", name="Side", exact=True).click()
        self.drag(page, "tide", 0, 20)
        self.settled(page)
        self.assertLess(self.held(page)["tank"]["level_m"], 0.25)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        page.get_by_text("Of the current").first.wait_for()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.evaluate(AXE)
        found = page.evaluate("axe.run().then(r => r.violations)")
        grave = [
            (v["id"], v["nodes"][0]["html"][:200])
            for v in found
            if v["impact"] in ("serious", "critical")
        ]
        self.assertEqual(grave, [])


class Solid(BrowserCase):
    args = IN_3D

    def test_the_tank_is_drawn_when_something_changes_and_not_in_a_loop(self) -> None:
        made = self.server.post("/plans", {"document": BOX})
        page = self.page(f"/plans/{made['id']}")
        page.wait_for_selector("[data-solid=ready]")
        page.wait_for_selector("#stage[data-live=fine]")
        page.wait_for_timeout(1500)
        drawn = "Number(document.querySelector('[data-solid] canvas')?.dataset.drawn)"
        before = page.evaluate(drawn)
        self.assertGreater(before, 0)
        page.wait_for_timeout(700)
        self.assertEqual(page.evaluate(drawn), before)
        page.get_by_role("button", name="Back", exact=True).click()
        self.until(page, f"{drawn} > {before}")
        # a probe reads the spot under the pointer
        page.get_by_role("button", name="Front", exact=True).click()
        box = page.locator("[data-solid] canvas").bounding_box()
        assert box is not None
        for down in range(30, 75, 5):
            page.mouse.move(box["x"] + box["width"] * 0.44, box["y"] + box["height"] * down / 100)
            page.wait_for_timeout(120)
            if page.locator("[data-solid] p.sign").count():
                break
        self.assertRegex(page.locator("[data-solid] p.sign").inner_text(), r"\d A/dm²")
        # a press picks the face, and its rust is graded by itself
        page.mouse.down()
        page.mouse.up()
        row = page.locator("[data-inspector=piece] [data-faces] tbody tr")
        expect(row).to_have_count(1)
        face = row.get_by_role("rowheader").inner_text()
        row.get_by_role("combobox").select_option("scaled")
        draft = "Object.entries(localStorage).find(([k]) => k.includes('draft'))?.[1]"
        self.until(page, f"() => {draft}?.includes('scaled')")
        regions = json.loads(page.evaluate(draft))["doc"]["pieces"][0]["regions"]
        self.assertEqual([r["name"] for r in regions if r["grade"] == "scaled"], [face])
