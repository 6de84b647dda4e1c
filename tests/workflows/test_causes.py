"""What is the matter with a run of the shop, what it mended tells the next one, and the guide."""

from tests.shops import QUIET, ShopCase
from tests.solving import SOLVER
from yellowbath.core.bath.loop import Loop
from yellowbath.core.causes.judge import nothing_fits
from yellowbath.core.errors import InputError, NotFoundError
from yellowbath.core.tell.doubts import entry_words
from yellowbath.store.engine import reading
from yellowbath.store.runs import mended
from yellowbath.workflows.plans.field import field_of
from yellowbath.workflows.runs.causes import CausesSeen as Seen
from yellowbath.workflows.runs.causes import causes_of_run, guide
from yellowbath.workflows.runs.estimate import believed
from yellowbath.workflows.runs.runs import view_run


class OfARun(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.run_id = self.running()

    def top(self) -> str:
        return causes_of_run(self.shop, self.run_id, "know").doubts.judged.suspects[0].id

    def test_what_does_not_fit_is_the_next_thing(self) -> None:
        self.write(self.run_id, 5, "look", bubbles="whole")
        fits = view_run(self.shop, self.run_id)
        self.assertFalse(fits.doubted)
        self.write(self.run_id, 9, "look", bubbles="clip_only")
        view = view_run(self.shop, self.run_id)
        self.assertTrue(view.doubted)
        self.assertEqual(view.actions[0].kind, "ask")
        self.assertIn("clip", view.actions[0].title)
        self.assertEqual(self.top(), "contact_piece")
        told = causes_of_run(self.shop, self.run_id, "mend").doubts.told
        self.assertIn("Gas only at the clip", told)

    def test_danger_stays_before_it(self) -> None:
        self.write(self.run_id, 9, "look", bubbles="clip_only", signs=["smoke"])
        view = view_run(self.shop, self.run_id)
        self.assertEqual(view.actions[0].kind, "switch_off_now")

    def test_what_it_was_is_kept_and_taken_back(self) -> None:
        self.write(self.run_id, 9, "look", bubbles="none")
        view = self.write(self.run_id, 12, "mended", cause="fuse", helped=True)
        fuse = view.lines[0].client_id
        self.write(self.run_id, 13, "mended", cause="caked", helped=False)
        with reading(self.shop.engine) as c:
            self.assertEqual(mended(c), {"fuse": 1})
        self.write(self.run_id, 14, "void", target=fuse)
        with reading(self.shop.engine) as c:
            self.assertEqual(mended(c), {})

    def test_when_all_was_tried_that_is_said_and_what_it_was_is_written_down(self) -> None:
        """Whatever is offered is done in vain: each at most twice, and then it fits nothing; what
        it turns out to have been is in the log, in words, and ends the doubt."""
        self.write(self.run_id, 9, "look", bubbles="none")
        self.write(self.run_id, 10, "reading", current_a=0.1)
        done: list[str] = []
        for minute in range(11, 90):
            judged = causes_of_run(self.shop, self.run_id, "mend").doubts.judged
            if judged.ask is not None:
                what = judged.ask
                self.write(self.run_id, minute, "asked", ask=what.id, outcome=what.outcomes[0])
                continue
            if not judged.mend:
                break
            done.append(judged.mend)
            self.write(self.run_id, minute, "mended", cause=judged.mend, helped=False)
        self.assertTrue(nothing_fits(judged))
        self.assertLessEqual(max(done.count(c) for c in done), 2)
        view = self.write(
            self.run_id, 91, "mended", cause="unknown", helped=True, note="a mouse in the box"
        )
        self.assertFalse(view.doubted)
        loop = Loop.of(view.plan, view.answer)
        told = entry_words(view.lines[0].detail, loop, "metric")
        self.assertIn("Something that is not in this list".lower(), told.lower())
        self.assertIn("a mouse in the box", told)

    def test_a_bath_that_does_as_it_should_again_is_asked_what_it_was(self) -> None:
        """Only where hands did something; by what was known until then, and until it is named."""
        right = believed(self.shop, self.run_id).found.planned[1]
        self.write(self.run_id, 8, "look", bubbles="clip_only")
        view = self.write(self.run_id, 9, "look", bubbles="whole")
        self.assertFalse(view.unnamed, "nobody did anything")
        self.write(self.run_id, 10, "look", bubbles="clip_only")
        self.assertFalse(self.write(self.run_id, 12, "change", what="clip_moved").unnamed)
        view = self.write(self.run_id, 13, "reading", current_a=round(right, 2))
        self.assertEqual((view.doubted, view.unnamed), (False, True))
        self.assertEqual(self.top(), "contact_piece")
        again = self.write(self.run_id, 14, "look", bubbles="clip_only")
        self.assertEqual((again.doubted, again.unnamed), (True, False))
        self.write(self.run_id, 15, "mended", cause="contact_piece", helped=False)
        view = self.write(self.run_id, 16, "look", bubbles="whole")
        self.assertTrue(view.unnamed)
        self.assertEqual(self.top(), "contact_piece", "done, not believed, and yet it was that")
        self.write(self.run_id, 18, "look", bubbles="none")
        self.write(self.run_id, 19, "switch_off")
        self.write(self.run_id, 21, "switch_on")
        view = self.write(self.run_id, 22, "look", bubbles="whole")
        self.assertTrue(view.unnamed, "off, and hands in that said nothing")
        named = self.write(self.run_id, 23, "mended", cause="contact_piece", helped=True)
        self.assertFalse(named.unnamed)

    def test_what_cannot_be_asked_is_not_written_down(self) -> None:
        with self.assertRaises(InputError):
            self.write(self.run_id, 9, "asked", ask="moon", outcome="full")
        with self.assertRaises(InputError):
            self.write(self.run_id, 9, "mended", cause="gremlin")

    def test_amps_to_expect_narrow_by_what_was_read(self) -> None:
        before = believed(self.shop, self.run_id).found
        self.assertEqual(before.amps, before.planned)
        middle = before.planned[1]
        self.write(self.run_id, 9, "reading", current_a=round(0.9 * middle, 2))
        after = believed(self.shop, self.run_id)
        low, mid, high = after.found.amps
        self.assertLess(high - low, 0.6 * (before.amps[2] - before.amps[0]))
        self.assertAlmostEqual(mid / middle, 0.9, delta=0.04)
        self.assertGreaterEqual(after.after["soda_added"][1], mid)


class Posed(ShopCase):
    def test_a_turn_is_told_beforehand_by_the_field_solved_for_it(self) -> None:
        """A piece tilted, off the middle: turned round it resists otherwise; and the amps told go
        the way of a plan in which it hangs so."""
        bent = {"shape": {"kind": "plate", "length_m": 0.12, "width_m": 0.05}, "x_m": 0.02,
                "turn_deg": 60.0, "tilt_deg": 25.0}  # fmt: skip
        run_id = self.running(pieces=[bent], layout={"arrangement": "one_side",
                                                     "joint_clear": True})  # fmt: skip
        found = believed(self.shop, run_id)
        model = view_run(self.shop, run_id).model
        assert model is not None
        summary = model.summary
        other = field_of(
            SOLVER, {**QUIET, "pieces": [{**bent, "turn_deg": -120.0}],
                     "layout": {"arrangement": "one_side", "joint_clear": True}}, "preview",
        ).answer  # fmt: skip
        over = other.resistance.value / summary.resistance_ohm
        self.assertAlmostEqual(summary.turned_ohm(1, 0) / over, 1.0, delta=0.002)
        self.assertGreater(abs(over - 1), 5e-4, "else there is nothing to tell")
        told = found.after["turned"][1] / found.found.amps[1]
        self.assertEqual(told > 1, over < 1, "more ohms, fewer amps")


class WithoutARun(ShopCase):
    def test_the_guide_takes_a_plan_or_the_usual_bath(self) -> None:
        plan = self.plan().revision
        for document, plan_id in ((None, ""), (dict(QUIET), ""), (None, plan.plan_id)):
            told = guide(
                self.shop, document, plan_id, [Seen("gas", "clip_only"), Seen("amps", value=0.5)],
                [], 2.0, "mend",
            )  # fmt: skip
            self.assertEqual(told.doubts.judged.suspects[0].id, "contact_piece")
        with self.assertRaises(NotFoundError):
            guide(self.shop, None, "none", [], [], 2.0, "mend")

    def test_what_is_first_asked_for_a_question_is_asked_first(self) -> None:
        told = guide(self.shop, None, "", [], [], 2.0, "mend", first="crust").doubts.judged
        assert told.ask is not None
        self.assertIn(told.ask.id, ("crust", "leads", "poles"))

    def test_what_is_no_answer_is_refused(self) -> None:
        for seen, tried in (
            ([Seen("gas", "purple")], []), ([Seen("moon", "full")], []),
            ([Seen("gas", value=3.0)], []), ([Seen("amps", value=-1.0)], []), ([], ["gremlin"]),
        ):  # fmt: skip
            with self.assertRaises(InputError):
                guide(self.shop, None, "", seen, tried, 2.0, "mend")
