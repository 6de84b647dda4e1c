"""Danger met in the real page: said first, mended by a press, and nothing typed is lost."""

import io
import sqlite3
from collections.abc import Callable
from typing import Any, ClassVar

import trimesh
from playwright.sync_api import Page, Route

from tests.browser.pages import IN_3D, PHONE, BrowserCase, expect
from tests.shops import QUIET

DRAFT = (
    "JSON.parse(Object.entries(localStorage).find(([k]) => k.includes('draft'))?.[1] ?? '{}').doc"
)
BY_HAND = {
    **QUIET, "layout": {"arrangement": "by_hand", "joint_clear": True},
    "anodes": [{"id": "a1", "x_m": -0.11}, {"id": "a2", "x_m": 0.11, "material": "stainless"}],
}  # fmt: skip


class Danger(BrowserCase):
    def run_of(self, document: Any = QUIET) -> str:
        plan = self.server.post("/plans", {"document": document})
        run: str = self.server.post("/runs", {"plan_id": plan["id"]})["id"]
        return run

    def gassing(self, run: str) -> Page:
        """A run's page on a phone, under power, gas seen from the whole piece."""
        page = self.page(f"/runs/{run}", size=PHONE)
        self.under_power(page)
        self.gas_seen(page)
        return page

    def test_a_reading_of_danger_turns_the_next_box_into_switch_off_now(self) -> None:
        run = self.run_of()
        page = self.gassing(run)
        page.get_by_role("button", name="Reading", exact=True).click()
        page.get_by_label("Amps", exact=True).fill("40")
        page.get_by_role("button", name="Write it down").click()
        box = page.get_by_role("alert").filter(has_text="Switch off now")
        box.wait_for()
        expect(box.locator("svg").first).to_be_visible()
        colour = "e => getComputedStyle(e).backgroundColor"
        stop = page.evaluate_handle(
            "() => document.body.appendChild(Object.assign(document.createElement('i'),"
            " { className: 'bg-stop' }))"
        )
        self.assertEqual(box.evaluate(colour), stop.as_element().evaluate(colour))
        # nothing else is first: the box stands over every other thing to press
        top = box.bounding_box()
        assert top
        for other in page.locator("main .btn:visible").all():
            where = other.bounding_box()
            assert where
            self.assertGreaterEqual(where["y"], top["y"])
        box.get_by_role("button", name="It is off").click()
        box.wait_for(state="detached")
        self.assertEqual(self.server.get(f"/runs/{run}")["state"], "paused")

    def test_fahrenheit_is_read_as_fahrenheit(self) -> None:
        page = self.page("/settings")
        with page.expect_response("**/api/shop"):
            page.get_by_role("radio", name="US").or_(page.get_by_role("button", name="US")).click()
        kept = self.server.get("/shop")["revision"]
        back = {"settings": {"system": "metric"}, "base_revision": kept}
        self.addCleanup(lambda: self.server.post("/shop", back, "PUT"))
        run = self.run_of()
        page = self.gassing(run)
        page.get_by_role("button", name="Reading", exact=True).click()
        page.get_by_label("Amps", exact=True).fill("3")
        page.get_by_label("Bath").fill("75")
        page.get_by_text("°F").first.wait_for()
        page.get_by_role("button", name="Write it down").click()
        page.get_by_text("75 °F").first.wait_for()
        (read,) = [x for x in self.server.get(f"/runs/{run}")["log"] if x["kind"] == "reading"]
        self.assertAlmostEqual(read["detail"]["bath_c"], (75 - 32) / 1.8, places=2)

    def test_a_mend_and_a_field_reach_every_anode(self) -> None:
        plan = self.server.post("/plans", {"document": BY_HAND})
        page = self.page(f"/plans/{plan['id']}")
        page.locator('[data-mark="scrap"][data-verdict="stop"]').wait_for()
        page.get_by_role("button", name="Use plain steel of the same size").first.click()
        page.locator('[data-mark="scrap"][data-verdict="stop"]').wait_for(state="detached")
        self.until(page, f"() => {DRAFT}?.anodes.every(a => a.material === 'plain_steel')")
        self.field(page, "/anodes/*/diameter_m").fill("15 mm")
        self.until(page, f"() => {DRAFT}.anodes.every(a => a.diameter_m === 0.015)")
        self.assertEqual(page.evaluate(f"{DRAFT}.anodes.length"), 2)

    def refusing(self, status: int, slug: str) -> Callable[[Route], None]:
        problem = {"type": f"urn:yellowbath:{slug}", "title": "Not now", "status": status,
                   "detail": "Not now."}  # fmt: skip
        return lambda route: route.fulfill(status=status, json=problem)

    def test_an_entry_is_kept_when_the_server_will_not_have_it_now(self) -> None:
        run = self.run_of()
        page = self.gassing(run)
        path = "**/api/runs/*/entries"
        page.route(
            path, self.refusing(413, "too-large")
        )  # it never will: said, and not tried again
        self.read_amps(page, "4.1")
        page.get_by_role("alert").get_by_text("Not now").first.wait_for()
        page.unroute(path)
        for status, slug in ((429, "too-many"),):
            with self.subTest(status):
                page.route(path, self.refusing(status, slug))
                self.read_amps(page, str(status / 100))
                page.get_by_text("kept on this device and not sent yet").wait_for()
                page.unroute(path)
                page.get_by_text("kept on this device").wait_for(state="detached")
                page.get_by_label("Log").get_by_text(f"Read {status / 100} A").first.wait_for()

    def test_what_is_half_typed_outlives_a_reload_and_no_bad_time_becomes_now(self) -> None:
        run = self.run_of()
        page = self.gassing(run)
        page.get_by_role("button", name="Reading", exact=True).click()
        page.get_by_label("Amps", exact=True).fill("2.9")
        page.reload()
        expect(page.get_by_label("Amps", exact=True)).to_have_value("2.9")
        page.get_by_label("Amps", exact=True).fill("250")
        page.get_by_text("pull the plug at the wall now").wait_for()
        page.get_by_role("button", name="Cancel").click()
        page.locator("[data-other-time] summary").click()
        page.locator("[data-other-time] input").fill("next week")
        before = len(self.server.get(f"/runs/{run}")["log"])
        page.get_by_role("button", name="Switched off", exact=True).click()
        page.wait_for_timeout(800)
        self.assertEqual(len(self.server.get(f"/runs/{run}")["log"]), before)
        page.locator("[data-other-time] input").fill("now")
        page.get_by_role("button", name="Switched off", exact=True).click()
        page.locator('[data-state="paused"]').wait_for()

    def test_saved_twice_at_once_it_is_one_plan(self) -> None:
        page = self.page("/plans/whole")
        self.field(page, "/pieces/0/name").fill("Saved twice")
        page.keyboard.press("Control+s")
        self.field(page, "/pieces/0/name").press_sequentially("!")
        page.keyboard.press("Control+s")
        page.wait_for_url("**/plans/*")
        page.get_by_text("Saved, revision").wait_for()
        found = self.server.get("/plans?find=saved%20twice")
        self.assertEqual(found["count"], 1)

    def test_what_cannot_be_read_is_a_row_with_its_file(self) -> None:
        kept = self.server.post("/plans", {"document": {**QUIET, "name": "Sound"}})
        with sqlite3.connect(self.server.data / "shop.sqlite") as c:
            row = c.execute("SELECT plan_id, number, base, created_at FROM plan_revisions "
                            "WHERE plan_id = ?", [kept["id"]]).fetchone()  # fmt: skip
            c.execute(
                "INSERT INTO plans (id, created_at, head, title, sought, archived, saved_at) "
                "VALUES ('later', ?, 1, '', '', 0, ?)",
                [row[3], row[3]],
            )
            c.execute(
                "INSERT INTO plan_revisions (plan_id, number, base, created_at, schema_version, "
                "document) VALUES ('later', 1, 0, ?, 99, ?)",
                [row[3], '{"schema_version": 99, "name": "From the other computer"}'],
            )
        page = self.page("/")
        line = page.locator("li", has_text="From the other computer").first
        line.wait_for()
        self.assertIn("later version", line.inner_text())
        with page.expect_download() as made:
            line.get_by_role("link").click()
        self.assertIn('"schema_version": 99', made.value.path().read_text("utf-8"))
        page.locator(f'a[href="/plans/{kept["id"]}"]').first.wait_for()


class Door(BrowserCase):
    passcode: ClassVar[str] = "rust never sleeps"

    def test_a_device_is_asked_once_and_what_it_kept_is_sent_afterwards(self) -> None:
        context = self.context(PHONE)
        page = self.page("/", context)
        code = page.get_by_label("Passcode")
        code.fill("wrong")
        page.get_by_role("button", name="Come in").click()
        page.get_by_role("alert").wait_for()
        self.let_in(page)
        page.goto(f"{self.server.base}/plans/whole")
        for pointer in ("/layout/joint_clear", "/supply/polarity_tested", "/supply/rcd"):
            page.locator(f'[data-pointer="{pointer}"]').get_by_role("radio", name="Yes").click()
        self.switched_on(page)
        self.gas_seen(page)
        # locked in the middle of a reading: what was typed is there afterwards
        page.get_by_role("button", name="Reading", exact=True).click()
        page.get_by_label("Amps", exact=True).fill("2.9")
        context.clear_cookies()
        self.let_in(page)
        expect(page.get_by_label("Amps", exact=True)).to_have_value("2.9")
        # locked as it is sent: it is kept, and sent afterwards
        context.clear_cookies()
        page.get_by_role("button", name="Write it down").click()
        page.get_by_role("status").get_by_text("1 entry is kept on this device").wait_for()
        self.let_in(page)
        page.get_by_label("Log").get_by_text("Read 2.9 A").wait_for()

    def let_in(self, page: Page) -> None:
        page.get_by_label("Passcode").wait_for()
        page.get_by_label("Passcode").fill(self.passcode)
        page.get_by_role("button", name="Come in").click()
        page.get_by_label("Passcode").wait_for(state="detached")


class Files(BrowserCase):
    args = IN_3D

    def test_a_file_being_read_can_be_stopped_and_the_next_is_read(self) -> None:
        said: list[str] = []
        page = self.page("/plans/whole")
        page.on("console", lambda m: said.append(m.text) if m.type == "error" else None)
        page.get_by_role("radio", name="From a mesh file").click()
        heavy = trimesh.creation.cone(radius=0.05, height=0.12, sections=95_000)
        files = page.locator("input[accept*=stl]")
        files.set_input_files({"name": "cone.glb", "mimeType": "model/gltf-binary",
                               "buffer": heavy.export(file_type="glb")})  # fmt: skip
        page.get_by_role("button", name="Stop", exact=True).click()
        page.get_by_role("button", name="Stop", exact=True).wait_for(state="detached")
        light = io.BytesIO(trimesh.creation.box((0.1, 0.05, 0.02)).export(file_type="glb"))
        files.set_input_files({"name": "block.glb", "mimeType": "model/gltf-binary",
                               "buffer": light.getvalue()})  # fmt: skip
        self.until(page, f"() => {DRAFT}?.pieces[0].shape.file === 'block.glb'")  # fmt: skip
        page.wait_for_selector("[data-solid=ready]")
        self.assertEqual(said, [], "the content security policy lets the page's own work pass")
