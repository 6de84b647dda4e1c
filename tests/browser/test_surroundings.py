"""Kit, tables and the numbers behind the bath, through the real screen."""

from typing import ClassVar

from tests.browser.pages import BrowserCase


class Behind(BrowserCase):
    command: ClassVar[str] = "demo"

    def test_a_thing_hung_up_in_the_kit_is_taken_up_by_a_plan(self) -> None:
        page = self.page("/kit")
        tanks = page.locator("section", has=page.get_by_role("heading", name="Tanks"))
        tanks.get_by_role("button", name="Add", exact=True).click()
        form = page.get_by_role("form", name="Add to the kit")
        form.get_by_label("What do you call it?").fill("Green tub")
        form.get_by_role("radio", name="Box, crate, tub").click()
        long = form.locator('[data-pointer="/tank/shape/length_m"]')
        long.fill("red")
        form.get_by_text("cannot be read as a length").wait_for()
        long.fill("24 in")
        form.get_by_text("cannot be read as a length").wait_for(state="detached")
        form.get_by_role("button", name="Add to the kit").click()
        page.locator('[data-thing="Green tub"]').wait_for()
        self.assertEqual(
            page.locator('[data-thing="Long tub"]').get_by_text("in use", exact=True).count(), 1
        )
        page = self.page("/plans/whole")
        page.locator('[data-from-kit="tank"]').get_by_role("button", name="Green tub").click()
        field = page.locator('[data-pointer="/tank/shape/length_m"]')
        self.until(
            page, "e => e.value === '610 mm' || e.value === '609.6 mm'", arg=field.element_handle()
        )
        kept = page.evaluate(
            "JSON.parse(Object.entries(localStorage).find(([k]) => k.includes('draft'))[1]).doc.kit"
        )
        self.assertEqual([k["role"] for k in kept], ["tank"])

    def test_what_is_put_away_comes_back_and_a_failure_is_said(self) -> None:
        page = self.page("/kit")
        row = page.locator('[data-thing="Red pair"]')
        row.get_by_role("button", name="Archive").click()
        row.wait_for(state="detached")
        page.get_by_role("button", name="Bring it back").click()
        row.wait_for()
        page.route("**/api/kit/*", lambda route: route.abort())
        row.get_by_role("button", name="Archive").click()
        row.get_by_text("The shop's computer does not answer.").wait_for()

    def test_the_dose_curve_is_drawn_and_taken(self) -> None:
        page = self.page("/plans/whole")
        page.get_by_role("radio", name="Washing soda, dry grains").click()
        before = self.figure(page, "amps.gives")
        page.get_by_role("button", name="How much soda is of use here?").click()
        curve = page.locator("[data-dose-curve]")
        curve.locator("svg").wait_for()
        told = curve.locator("figcaption b").inner_text()
        curve.get_by_role("button", name="Take it").click()
        self.until(
            page,
            "told => document.querySelector("
            "'[data-pointer=\"/mix/concentration_kg_m3\"]').value === told",
            arg=told,
        )
        self.figure_until(page, "amps.gives", f"Math.abs(v - {before}) > 0.02 * {before}")

    def test_which_tank_names_the_smallest_and_those_owned(self) -> None:
        page = self.page("/plans/whole")
        page.get_by_role("button", name="Which tank will do?").click()
        found = page.locator("[data-which-tank]")
        found.get_by_text("Smallest that will do:").wait_for()
        row = found.locator("li", has_text="Crate")
        row.get_by_role("button", name="Take it").click()
        kind = page.locator('[data-pointer="/tank/shape/kind"] [data-state="checked"]')
        kind.get_by_text("Box, crate, tub").wait_for()

    def test_tables_are_searched_and_sizes_turned(self) -> None:
        page = self.page("/tables")
        box = page.get_by_role("searchbox")
        box.fill("14 AWG")
        page.locator("[data-converted]").get_by_text("2.081 mm²").wait_for()
        box.fill("stainless")
        page.get_by_role("heading", name="Where people differ").wait_for()
        page.get_by_role("heading", name="What is checked").wait_for()
        page.get_by_role("heading", name="Spoons and cups").wait_for(state="detached")
        box.fill("walrus")
        page.get_by_text("Nothing here holds all of “walrus”").wait_for()

    def test_a_school_with_the_wrong_anode_is_refused_and_mended_by_a_press(self) -> None:
        page = self.page("/plans/whole")
        page.get_by_role("radio", name="Salt and vinegar (advanced)").click()
        page.get_by_text("Acid mix with an anode that dissolves").first.wait_for()
        page.get_by_role("button", name="Use washing soda").first.click()
        page.get_by_text("Acid mix with an anode that dissolves").first.wait_for(state="detached")
