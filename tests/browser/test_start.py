"""The first questions in a real browser: by thumb alone and by keyboard alone, counted."""

from playwright.sync_api import Locator, Page

from tests.browser.pages import PATIENCE, PHONE, BrowserCase, expect

FIRST = (
    ("kind", "Plate or flat"), ("metal", "Mild steel"), ("grease", "None"),
    ("paint", "None"), ("grade", "Orange all over"), ("aim", "Black film left"),
    ("vessel", "Storage box"), ("feeds", "Plain transformer charger"),
)  # fmt: skip
TYPED = (("sizes", "250 x 40 x 8"), ("holds", "45 L"), ("label", "12 V 6 A"))


def choice(page: Page, name: str, words: str) -> Locator:
    """One of the choices of a question, by its words."""
    group = page.locator(f"[data-first={name}], [data-pointer={name}]")
    return group.get_by_role("radio", name=words, exact=True)


class Thumb(BrowserCase):
    """A phone of 390 by 844 that is touched: every tap and every typed field counts as one."""

    touches = 0

    def tap(self, what: Locator) -> None:
        what.tap()
        self.touches += 1

    def fill(self, what: Locator, text: str) -> None:
        what.fill(text)
        self.touches += 1

    def test_from_an_empty_shop_to_switched_on(self) -> None:
        context = self.browser.new_context(
            viewport=PHONE, has_touch=True, is_mobile=True,  # type: ignore[arg-type]
            locale="en-GB",
        )  # fmt: skip
        context.set_default_timeout(PATIENCE)
        self.addCleanup(context.close)
        page = self.page("/", context)
        for name, words in FIRST:
            self.tap(choice(page, name, words))
        for name, text in TYPED:
            self.fill(page.locator(f"input[data-first={name}]"), text)
        answer = page.locator("[data-answer]")
        answer.get_by_text("Expect").wait_for()
        answer.locator("[data-part=put_in]").get_by_text("in").first.wait_for()
        self.assertLessEqual(self.touches, 12, "everything that is asked, answered")
        expect(answer.locator("[data-question]")).to_have_count(0)
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, PHONE["width"])
        # on to a bath under power, by thumb alone
        self.tap(answer.get_by_role("button", name="Open this plan"))
        page.wait_for_url("**/plans/*")
        page.locator("[data-solving=false]").first.wait_for()
        self.tap(page.get_by_role("button", name="Set up this bath"))
        page.wait_for_url("**/runs/*")
        steps = page.locator("[data-step]")
        steps.first.wait_for()
        for k in range(steps.count()):
            self.tap(steps.nth(k).get_by_role("button"))
        expect(page.locator("[data-step] [aria-pressed=false]")).to_have_count(0)
        page.reload()
        page.locator("[data-step] [aria-pressed=true]").first.wait_for()
        boxes = page.get_by_label("Switch-on list").get_by_role("checkbox")
        for k in range(boxes.count()):
            self.tap(boxes.nth(k))
        for button in ("All checked", "Switched on", "From the whole piece"):
            self.tap(page.get_by_role("button", name=button))
        page.locator("[data-state=running]").wait_for()

    def test_the_letters_in_the_picture_are_those_of_the_question(self) -> None:
        page = self.page("/plans/new", size=PHONE)
        kinds = page.locator("[data-first=kind]").get_by_role("radio")
        for k in range(kinds.count()):
            with page.expect_response("**/api/plans/begin"):
                kinds.nth(k).click()
            page.wait_for_timeout(150)
            shape = kinds.nth(k).get_attribute("value")
            with self.subTest(shape):
                # the answer to the last press: the question and the picture speak of one shape
                self.until(
                    page,
                    """() => { const asked = document.querySelector("[data-question]")
                      ?.textContent.toLowerCase() ?? "";
                      const all = [...document.querySelectorAll("[data-letter]")];
                      return all.length && all.every((e) =>
                        asked.includes(e.textContent.toLowerCase().replace(": ", " "))); }""",
                )
                lettered = page.locator("[data-letter]").all_inner_texts()
                asked = page.locator("[data-question]").inner_text().lower()
                for text in lettered:
                    letter, name = text.lower().split(": ", 1)
                    self.assertIn(f"{letter} {name}", asked)
                drawn = page.locator("figure svg text").all_text_contents()
                self.assertEqual(sorted(drawn), [t[0] for t in lettered])

    def test_the_small_things_are_large_enough_for_a_thumb(self) -> None:
        page = self.page("/plans/new", size=PHONE)
        small = page.evaluate(
            """() => [...document.querySelectorAll('main button, main input, main select')]
            .map(e => [e.textContent || e.dataset.first, e.getBoundingClientRect().height])
            .filter(([, h]) => h > 0 && h < 36)"""
        )
        self.assertEqual(small, [])


class Keys(BrowserCase):
    def test_by_keyboard_alone_from_an_empty_shop_to_switched_on(self) -> None:
        page = self.page("/")
        for name, words in FIRST:
            self.tab_to(page, name)
            self.arrow_to(page, words)
        for name, text in TYPED:
            self.tab_to(page, name)
            page.keyboard.type(text)
        self.tab_to(page, "Open this plan")
        self.until(page, "!document.activeElement.disabled")
        page.keyboard.press("Enter")
        page.wait_for_url("**/plans/*")
        page.wait_for_selector("#stage[data-live=fine]")
        self.tab_to(page, "a1")  # the rod in the drawing: ten millimetres to the right
        before = page.evaluate("document.activeElement.ariaLabel")
        page.keyboard.press("Shift+ArrowRight")
        self.until(page, f"document.activeElement.ariaLabel !== {before!r}")
        page.wait_for_selector("#stage[data-live=fine]")
        self.tab_to(page, "Set up this bath")
        page.keyboard.press("Enter")
        page.wait_for_url("**/runs/*")
        boxes = page.get_by_label("Switch-on list").get_by_role("checkbox")
        boxes.first.wait_for()
        for k in range(boxes.count()):
            self.tab_to(page, boxes.nth(k).evaluate("b => b.parentElement.textContent"))
            page.keyboard.press("Space")
        for name in ("All checked", "Switched on"):
            self.tab_to(page, name)
            page.keyboard.press("Enter")
            page.wait_for_timeout(300)
        page.locator("[data-state=running]").wait_for()

    def tab_to(self, page: Page, words: str, most: int = 200) -> None:
        """Tab until the focus is in what says so."""
        for _ in range(most):
            page.keyboard.press("Tab")
            name = page.evaluate(
                """() => { const e = document.activeElement, at = e.closest('[data-first]')
                  ?? e.closest('[data-pointer]'); return [e.ariaLabel, e.textContent,
                  e.dataset.grip, at?.dataset.first, at?.dataset.pointer,
                  e.type === 'checkbox' ? e.parentElement.textContent : ''].join(' | ') }"""
            )
            if words in [part.strip() for part in name.split(" | ")] or (
                len(words) > 12 and words in name
            ):
                return
        self.fail(f"Tab never came to {words}")

    def arrow_to(self, page: Page, words: str, most: int = 30) -> None:
        """Arrow keys until a choice with these words is picked."""
        page.keyboard.press("Space")
        for _ in range(most):
            if page.evaluate("document.activeElement.textContent.trim()") == words:
                return
            page.keyboard.press("ArrowRight", delay=30)
        self.fail(f"no arrow came to {words}")


class Words(BrowserCase):
    def test_nonsense_is_answered_in_words_and_nothing_typed_is_lost(self) -> None:
        page = self.page("/plans/new")
        choice(page, "kind", "Plate or flat").click()
        page.locator("input[data-first=sizes]").fill("12 parsecs")
        page.get_by_text("cannot be read as a size").wait_for()
        page.locator("input[data-first=sizes]").fill("600 x 40 x 8")
        choice(page, "vessel", "Bucket").click()
        page.locator("input[data-first=holds]").fill("10 L")
        page.locator("[data-question]").get_by_text("Too tight").wait_for()
        page.reload()
        expect(page.locator("input[data-first=holds]")).to_have_value("10 L")
        page.get_by_role("button", name="Start over").click()
        expect(page.locator("input[data-first=holds]")).to_have_value("")

    def test_a_charger_named_here_is_in_the_kit_with_one_press(self) -> None:
        page = self.page("/plans/new")
        choice(page, "kind", "Plate or flat").click()
        page.locator("input[data-first=sizes]").fill("250 x 40 x 8")
        choice(page, "feeds", "Laboratory supply").click()
        page.locator("input[data-first=label]").fill("12 V 5 A")
        page.get_by_role("button", name="Keep it in the kit").click()
        page.get_by_role("button", name="It is in the kit").wait_for()
        found = [t["read"]["thing"]["detail"]["supply"] for t in self.server.get("/kit")["items"]]
        self.assertEqual([(s["kind"], s["rated_a"]) for s in found], [("laboratory", 5.0)])
