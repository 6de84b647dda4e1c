"""The whole job through the real interface, as a newcomer does it."""

import re

from playwright.sync_api import Locator, Page

from tests.accounts import BATHS
from tests.browser.pages import PHONE, BrowserCase, expect
from tests.shops import QUIET
from yellowbath.core.figures import evaluate

LENGTH = "/pieces/0/shape/length_m"
SAVED = re.compile(r"/api/plans(/\w+/revisions)?$")


class WholeJob(BrowserCase):
    def test_from_an_empty_shop_to_an_entry_in_the_book(self) -> None:
        page = self.page("/")
        page.get_by_role("heading", name="What have you got?").wait_for()

        # The first questions, and the plan that follows from them, in mixed units.
        page.get_by_role("radio", name="Round bar").click()
        page.locator("input[data-first=sizes]").fill("9 1/2 x 5/8 in")
        page.get_by_role("button", name="Open this plan").click()
        page.wait_for_url("**/plans/*")
        page.locator("section#tank").get_by_text("assumed").first.wait_for()
        self.field(page, "/pieces/0/name").fill("Sluice hook")
        page.get_by_role("radio", name="Mild steel").click()
        page.locator("details:has([data-pointer$=paint]) summary").first.click()
        for name in ("paint", "grease"):
            self.field(page, f"/pieces/0/{name}").get_by_role("radio", name="None").click()
        self.field(page, "/pieces/0/hollow").get_by_role("radio", name="No", exact=True).click()
        page.get_by_role("radio", name="Plain transformer charger").click()
        page.get_by_role("radio", name="Washing soda, dry grains").click()
        page.locator('[data-mark="piece"][data-verdict="clear"]').first.wait_for()

        # A stop met: explained, in the way of setting up, mended with one click.
        page.get_by_role("radio", name="Stainless").click()
        page.get_by_text("hexavalent").first.wait_for()
        page.locator('[data-mark="scrap"][data-verdict="stop"]').wait_for()
        expect(page.get_by_role("button", name="Set up this bath")).to_be_disabled()
        page.get_by_role("button", name="Use plain steel of the same size").first.click()
        page.locator('[data-mark="scrap"][data-verdict="caution"]').wait_for()

        # What nobody answered stays a question until it is.
        page.get_by_role("radiogroup", name="plus joint").get_by_role("radio", name="Yes").click()
        page.locator('[data-mark="scrap"][data-verdict="clear"]').wait_for()

        # Switched on, looked at, read.
        self.switched_on(page)
        self.gas_seen(page)
        self.read_amps(page, "2,4")
        page.get_by_label("Log").get_by_text("Read 2.4 A").wait_for()

        # A change, a stop found later, on again.
        page.get_by_role("button", name="Log a change").click()
        page.get_by_role("button", name="Scraped the scrap").click()
        page.get_by_label("Amps before").fill("2.1")
        page.get_by_label("Amps after").fill("2.6")
        page.get_by_role("button", name="Write it down").click()
        page.get_by_label("Log").get_by_text("Scraped the scrap (2.1 → 2.6 A)").wait_for()
        page.get_by_role("button", name="Found it off").click()
        page.get_by_label("What it was").fill("tripped socket")
        page.get_by_role("button", name="Write it down").click()
        page.get_by_label("Log").get_by_text("Found off: tripped socket").wait_for()
        page.get_by_role("button", name="Switched on").click()

        # Lifted, inspected twice, called clean.
        for verdict in ("80 %", "equal"):
            page.get_by_role("button", name="Lift and look").click()
            page.get_by_role("button", name="Power is off, the piece is out").click()
            if verdict == "equal":
                page.get_by_role("button", name="Equal to last time").click()
                page.get_by_text("more of the same gains nothing").wait_for()
            else:
                group = page.get_by_role("group", name="Front half")
                group.get_by_role("button", name=verdict).click()
                page.get_by_role("button", name="Write it down").click()
                page.get_by_role("button", name="Back in the bath, power off").click()
                page.get_by_role("button", name="Switched on").click()
        page.get_by_role("button", name="It is clean enough").click()

        # Finished and written down.
        page.get_by_role("button", name="Begin the finish").click()
        page.get_by_text("Bare wet iron rusts within minutes").wait_for()
        page.get_by_role("button", name="Done").click()
        page.get_by_role("button", name="Start the timer").click()
        page.get_by_text("left", exact=False).first.wait_for()
        page.get_by_role("button", name="Done").click()
        page.get_by_role("button", name="Cold wax with a cloth").click()
        page.get_by_role("button", name="Done").click()
        page.get_by_label("Minutes of hands").fill("35")
        page.get_by_label("Stamps and marks found").fill("WL in a shield")
        page.get_by_label("After, same angle").check()
        page.get_by_role("button", name="Close the run").click()
        page.get_by_role("link", name="Open its entry").click()
        for words in ("Sluice hook", "35 min", "WL in a shield", "Planned against happened",
                      "After, same angle", "found off once"):  # fmt: skip
            page.get_by_text(words).first.wait_for()

    def test_every_number_on_the_plan_opens_to_its_formula(self) -> None:
        """Each one: its formula with this plan's figures, which give the number, and a source."""
        page = self.page("/plans/whole")
        page.locator('[data-solving="false"]').wait_for()
        page.locator("[data-region]").first.wait_for()
        page.get_by_text("Every other figure").click()
        numbers = page.locator("[data-figure]")
        keys = {n.get_attribute("data-figure") for n in numbers.all()}
        self.assertGreaterEqual(len(keys), 25)
        answer = self.server.post("/plans/answer", {"document": {}, "quality": "preview"})
        answer = answer["answer"]["figures"]
        field = self.server.post("/plans/field", {"document": {}})
        answer |= {r["density"]["key"]: r["density"] for r in field["regions"]}
        answer[field["worst"]["key"]] = field["worst"]
        for key in sorted(k for k in keys if k):
            with self.subTest(key):
                number = page.locator(f'[data-figure="{key}"]').first
                number.click()
                trace = page.get_by_test_id("trace")
                trace.wait_for()
                shown = answer[key]
                at, window = trace.bounding_box(), page.viewport_size
                assert at is not None and window is not None
                self.assertGreaterEqual(min(at["x"], at["y"]), 0, "inside the window")
                self.assertLessEqual(at["x"] + at["width"], window["width"])
                self.assertLessEqual(at["y"] + at["height"], window["height"])
                text = trace.inner_text()
                self.assertIn(shown["source"], text)
                for given in shown["inputs"]:
                    self.assertIn(given["text"], text)
                again = evaluate(
                    shown["expression"], {i["symbol"]: i["value"] for i in shown["inputs"]}
                )
                value = float(number.get_attribute("data-value") or "nan")
                self.assertAlmostEqual(again / value if value else 1.0, 1.0, places=6)
                page.keyboard.press("Escape")
                trace.wait_for(state="detached")

    def test_a_tank_of_litre_marks_and_an_own_scoop(self) -> None:
        page = self.page("/plans/whole")
        before = self.figure(page, "tank.water")
        page.get_by_text("Taper, holes, jug marks").click()
        for _ in range(3):
            page.get_by_role("button", name="One more jug in").click()
        page.get_by_label("Mark 3: height").fill("37 cm")
        self.figure_until(page, "tank.water", f"Math.abs(v - {before}) > 1e-4")
        page.get_by_text("My own scoop, spoon set").click()
        self.field(page, "/mix/scoop_name").fill("jam lid")
        self.field(page, "/mix/scoop_kg").fill("18 g")
        page.get_by_text("of jam lid").first.wait_for()

    def test_one_of_three_pieces_is_finished_while_the_others_go_on(self) -> None:
        """By thumb: taken out, the others switched on again, its look, its finish and its page."""
        three = BATHS["three pieces"]
        names = ("Hook", "Hinge", "Latch")
        pieces = [{**p, "name": n} for p, n in zip(three["pieces"], names, strict=True)]
        plan = {**QUIET, **three, "pieces": pieces}
        made = self.server.post("/plans", {"document": plan})
        page = self.page(f"/plans/{made['id']}", size=PHONE)
        where = self.switched_on(page)
        self.gas_seen(page)
        hook = page.locator("[data-piece=p1]")
        hook.get_by_role("button", name="Take it out").click()
        hook.get_by_role("button", name="Power is off, Hook is out").click()
        page.get_by_role("button", name="Switched on").click()
        hook.get_by_role("button", name="All of it is clean").click()
        hook.get_by_role("button", name="It is clean enough").click()
        hook.get_by_role("button", name="Begin its finish").click()
        hook.get_by_role("heading", name="1 Rinse").wait_for()
        page.get_by_label("Log").get_by_text("Hook: began its finish").wait_for()
        for step in ("Rinse", "Dry", "Protect"):
            hook.get_by_role("heading", name=step).wait_for()
            if step == "Protect":
                hook.locator(".choice").first.click()
            hook.get_by_role("button", name="Done").click()
        hook.get_by_label("Minutes of hands").fill("12")
        hook.get_by_role("button", name="Write it into the book").click()
        hook.get_by_role("link", name="Its page in the book").click()
        page.get_by_role("heading", name="Hook", exact=True).wait_for()
        page.get_by_text("12 min").first.wait_for()
        self.assertEqual(self.server.get(where)["state"], "running")
        page.get_by_role("link", name="Book", exact=True).first.click()
        page.get_by_role("row", name="Hook").get_by_text("the others go on").wait_for()

    def test_on_a_phone_in_the_dark(self) -> None:
        """The run by thumb: targets of 44 px, nothing wider than the screen."""
        page = self.page("/plans/whole", size=PHONE, scheme="dark")
        where = self.switched_on(page)
        page.get_by_role("button", name="Only at the clip").first.click()
        page.get_by_text("no contact under the rust").wait_for()
        self.read_amps(page, "0.3")
        page.get_by_text("Far below what was expected").wait_for()
        self.assertTrue(where.startswith("/runs/"))
        large = page.locator("main .btn:visible:not(.btn-small):not(.btn-bare)")
        measure = """some => some.filter((e) => e.isConnected && e.checkVisibility())
            .map((e) => [e.innerText, e.getBoundingClientRect().height])"""
        measured = large.evaluate_all(measure)  # at once: a panel may be closing
        self.assertGreater(len(measured), 2)
        for name, height in measured:
            self.assertGreaterEqual(height, 44, name)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)


# as over a poor connection: what is saved is answered late enough to type on
SLOWLY = """const quick = window.fetch;
window.fetch = async (...args) => {
  const asked = args[0] instanceof Request ? args[0] : new Request(...args);
  const answer = await quick(...args);
  if (asked.method === "POST" && /api.plans(.\\w+.revisions)?$/.test(asked.url))
    await new Promise((done) => setTimeout(done, 900));
  return answer;
};"""


class Typing(BrowserCase):
    def test_a_half_typed_plan_is_kept(self) -> None:
        context = self.context()
        page = self.page("/plans/whole", context)
        self.field(page, "/pieces/0/name").fill("Half a plan")
        self.field(page, LENGTH).fill("8 i")
        page.get_by_text("cannot be read as a length").wait_for()
        page.get_by_text("its last good value is used here").wait_for()
        page.reload()
        page.get_by_text("cannot be read as a length").wait_for()
        expect(self.field(page, LENGTH)).to_have_value("8 i")
        expect(self.field(page, "/pieces/0/name")).to_have_value("Half a plan")

    def test_what_is_typed_while_it_is_being_saved_stays(self) -> None:
        """The first save, which moves the page to the plan's own address, and one after it."""
        page = self.page("/plans/whole", self.context())
        page.add_init_script(SLOWLY)
        page.reload()
        name = self.field(page, "/pieces/0/name")
        unnamed = name.input_value()
        for saved, typed in (("Latch", ", left"), ("Latch, right", " and rear")):
            name.fill(saved)
            with page.expect_response(lambda r: r.status in (200, 201) and SAVED.search(r.url)):
                page.get_by_role("button", name="Save plan").click()
            # the server has it, the page does not know yet: letters before, while and after it does
            name.press("End")
            page.keyboard.type(typed, delay=1800 / len(typed))
            expect(name).to_have_value(saved + typed)
            page.get_by_role("button", name="Save plan").wait_for()
            where = page.url.removeprefix(self.server.base)
            kept = self.server.get(where)["read"]["document"]["pieces"][0]["name"]
            self.assertEqual(kept, saved)
        undo = page.get_by_role("button", name="Undo")
        while undo.is_enabled():
            undo.click()
        expect(name).to_have_value(unnamed)  # the way back leads past both saves

    def test_undo_and_redo(self) -> None:
        page = self.page("/plans/whole")
        self.field(page, LENGTH).fill("300 mm")
        page.get_by_role("radio", name="Cast iron").first.click()
        page.get_by_role("button", name="Undo").click()
        self.assertEqual(
            page.get_by_role("radio", name="Mild steel").get_attribute("data-state"), "checked"
        )
        for keys, text in (("Control+z", "200 mm"), ("Control+Shift+z", "300 mm")):
            page.keyboard.press(keys)
            self.until(
                page,
                f"() => document.querySelector('[data-pointer=\"{LENGTH}\"]')?.value === '{text}'",
            )

    def test_other_units_keep_the_sizes(self) -> None:
        page = self.page("/plans/whole")
        self.field(page, LENGTH).fill("254")
        page.wait_for_timeout(400)
        page.get_by_label("Units").select_option("us")
        self.until(
            page, f"() => document.querySelector('[data-pointer=\"{LENGTH}\"]')?.value === '10 in'"
        )

    def test_two_tabs_do_not_overwrite_each_other(self) -> None:
        plan = self.server.post("/plans", {"document": {"pieces": [{"name": "Shared"}]}})
        one, two = (self.page(f"/plans/{plan['id']}") for _ in range(2))
        for tab, grade in ((one, "Crust and pits"), (two, "Flaking layers")):
            tab.get_by_role("radio", name=grade).click()
            tab.get_by_role("button", name="Save plan").click()
            if tab is one:
                tab.get_by_role("button", name="Saved").wait_for()
        two.get_by_text("The same was changed elsewhere meanwhile").wait_for()
        two.get_by_role("radio", name="Elsewhere: Crust and pits").wait_for()
        two.get_by_role("radio", name="Yours: Flaking layers").check()
        two.get_by_role("button", name="Save with these").click()
        two.get_by_role("button", name="Saved").wait_for()
        newest = self.server.get(f"/plans/{plan['id']}")
        self.assertEqual(newest["revision"], 3)
        self.assertEqual(newest["read"]["document"]["pieces"][0]["grade"], "scaled")
        old = self.server.get(f"/plans/{plan['id']}?revision=2")
        self.assertEqual(old["read"]["document"]["pieces"][0]["grade"], "heavy")
        # other fields go together by themselves, each tab's draft is its own, and it is told
        self.field(one, "/pieces/0/shape/length_m").fill("33 cm")
        self.metal(two, "Cast iron").click()
        two.get_by_role("button", name="Save plan").click()
        two.get_by_role("button", name="Saved").wait_for()
        expect(self.field(one, "/pieces/0/shape/length_m")).to_have_value("33 cm")
        one.get_by_text("4 was saved since").wait_for()
        one.get_by_role("button", name="Save plan").click()
        told = one.locator("[data-brought]")
        told.get_by_text("Cast iron").wait_for()
        self.assertIn("flaking layers", told.inner_text())
        piece = self.server.get(f"/plans/{plan['id']}")["read"]["document"]["pieces"][0]
        self.assertEqual((piece["metal"], piece["grade"]), ("cast", "scaled"))
        self.assertAlmostEqual(piece["shape"]["length_m"], 0.33)
        one.get_by_role("button", name="Undo").click()
        self.metal(one, "Cast iron", checked=False).wait_for()

    def metal(self, page: Page, name: str, **more: bool) -> Locator:
        group = page.get_by_role("radiogroup", name="Metal", exact=True)
        return group.get_by_role("radio", name=name, **more)


class ServerAway(BrowserCase):
    def test_readings_typed_while_it_is_away_are_kept_and_sent_once(self) -> None:
        page = self.page("/plans/whole")
        where = self.switched_on(page)
        self.gas_seen(page)
        self.server.kill()
        for amps in ("2.1", "2.2"):
            self.read_amps(page, amps)
        page.get_by_text("Kept on this device and not sent yet: 2.").wait_for()
        self.server.start()
        page.evaluate("window.dispatchEvent(new Event('online'))")
        page.get_by_text("kept on this device and not sent").wait_for(state="detached")
        log = self.server.get(where)["log"]
        amps_read = [e["detail"]["current_a"] for e in log if e["kind"] == "reading"]
        self.assertEqual(sorted(amps_read), [2.1, 2.2])

    def test_a_lost_answer_is_not_a_second_reading(self) -> None:
        """The server took it, the answer was cut off: the replay is kept once."""
        page = self.page("/plans/whole")
        where = self.switched_on(page)
        self.gas_seen(page)
        lost: list[str] = []

        def lose(route: object) -> None:
            if lost:
                route.continue_()  # type: ignore[attr-defined]
                return
            lost.append("once")
            route.fetch()  # type: ignore[attr-defined]
            route.abort()  # type: ignore[attr-defined]

        page.route("**/entries", lose)
        self.read_amps(page, "2.5")
        page.get_by_text("kept on this device").first.wait_for()
        page.evaluate("window.dispatchEvent(new Event('online'))")
        page.get_by_text("kept on this device and not sent").wait_for(state="detached")
        log = self.server.get(where)["log"]
        self.assertEqual([e["kind"] for e in log].count("reading"), 1)

    def test_what_breaks_is_told_apart_and_holds_up_nothing(self) -> None:
        """Answers that are none: a fault of ours, "not now", and a door's page with no problem."""
        page = self.page("/plans/whole")
        where = self.switched_on(page)
        page.route("**/entries", lambda r: r.fulfill(status=500, body="<h1>Oh no</h1>"))
        self.read_amps(page, "2.1")
        page.get_by_text("Something broke over this").wait_for()
        page.unroute("**/entries")
        self.read_amps(page, "2.5")
        page.get_by_label("Log").get_by_text("2.5 A").first.wait_for()
        page.get_by_role("button", name="Send it again").click()
        page.get_by_label("Log").get_by_text("2.1 A").first.wait_for()
        page.get_by_text("Something broke over this").wait_for(state="detached")
        busy = {"title": "Something else holds the shop's file for the moment."}
        page.route("**/entries", lambda r: r.fulfill(status=503, json=busy))
        self.read_amps(page, "2.7")
        page.get_by_text("kept on this device and not sent").wait_for()
        page.unroute("**/entries")
        page.get_by_label("Log").get_by_text("2.7 A").first.wait_for()
        kinds = [e["kind"] for e in self.server.get(where)["log"]]
        self.assertEqual(kinds.count("reading"), 3)

    def test_what_the_server_refuses_stays_with_the_reason(self) -> None:
        page = self.page("/plans/whole")
        where = self.switched_on(page)
        run = where.removeprefix("/runs/")
        page.evaluate(
            """run => localStorage.setItem('yb.outbox', JSON.stringify([{runId: run, entry: {
            client_id: 'refused-one', at: new Date().toISOString(),
            detail: {kind: 'clean'}}}]))""",
            run,
        )
        page.reload()
        page.get_by_text("You cannot call it clean now: under power").wait_for()
        self.read_amps(page, "2.5")  # what is refused holds up nothing behind it
        page.get_by_label("Log").get_by_text("2.5 A").first.wait_for()
        page.get_by_role("button", name="Put aside").click()
        page.get_by_text("You cannot call it clean").wait_for(state="hidden")
        page.get_by_text("Put aside on this device: 1").click()
        page.get_by_text("You cannot call it clean").wait_for()
        page.get_by_role("button", name="Throw away").click()
        page.get_by_text("You cannot call it clean").wait_for(state="detached")
