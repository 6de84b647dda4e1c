"""The same figures on plan, Today, set-up, card and run."""

from dataclasses import replace
from typing import Any

from tests.core.plan.test_begin import Solids
from tests.shops import QUIET, ShopCase
from tests.solving import SOLVER
from yellowbath.api.views.listed import listed_out
from yellowbath.api.views.plan import read_out
from yellowbath.api.views.run import run_out
from yellowbath.core.plan.start.begin import First
from yellowbath.core.run.switch_on import points
from yellowbath.core.tell.bench import set_up
from yellowbath.core.tell.oneline import one_line
from yellowbath.core.units import show
from yellowbath.sheets.card import Reach, card
from yellowbath.workflows.plans.field import answer_solved, by_now, settled_answer
from yellowbath.workflows.plans.plans import begun, create_plan, keep_solved, list_plans
from yellowbath.workflows.runs.runs import start_run, view_run
from yellowbath.workflows.shop.solver import Solver


def known(kind: str) -> dict[str, Any]:
    """A plan from the first questions, everything known."""
    sizes = " x ".join(f"{1000 * v:g}" for v in Solids.usual(kind))
    made, _ = begun(First(
        kind=kind, sizes=sizes, weighs="2 kg" if kind == "weighed" else "", metal="mild",
        hollow="none", grease="none", paint="none", feeds="transformer", label="12 V 6 A",
        product="soda_anhydrous", dose="a heaped tablespoon per gallon",
    ))  # fmt: skip
    assert made.plan is not None
    return made.plan.model_dump(mode="json")


class Surfaces(ShopCase):
    def test_five_surfaces_say_the_same(self) -> None:
        """Water, what goes in, amps and hours, as texts; the plan solved as its page has it."""
        for document in (dict(QUIET), known("angle"), known("weighed")):
            with self.subTest(document["pieces"][0].get("shape", "")):
                saved = create_plan(self.shop, document)
                solved = answer_solved(SOLVER, saved.revision.document, "fine")
                assert solved.answer is not None
                page = read_out(solved).answer
                assert page is not None and page.bench is not None
                line = {p.part: p.text for p in page.line}
                keep_solved(self.shop, saved.revision.plan_id, solved)
                [today] = [listed_out(p) for p in list_plans(self.shop)
                           if p.plan_id == saved.revision.plan_id]  # fmt: skip
                run = run_out(start_run(self.shop, saved.revision.plan_id))
                steps = " ".join(t for s in run.planned.set_up for t in (s.title, *s.lines))
                plan = solved.read.plan
                listed = points(plan, solved.findings)
                paper = card(plan, solved.answer, listed, solved.findings, Reach("", ""))
                much = line["put_in"].split(" (")[0]
                amps, window = line["amps"].split(" (")
                for surface in (steps, paper):
                    for text in (much, amps.removesuffix(" A"), line["clean"]):
                        self.assertIn(text, surface)
                gives = page.figures["amps.gives"]
                self.assertEqual(
                    (run.planned.gives.text, run.planned.gives.low, run.planned.gives.high),
                    (gives.text, gives.low, gives.high),
                )
                self.assertEqual(run.planned.rated_a, page.rated_a)
                self.assertEqual(run.planned.set_up, page.bench.steps)
                self.assertEqual(today.clean, line["clean"])
                self.assertEqual(today.gives.split(" to ")[0], window.split(" to ")[0])
                water = f"{page.figures['tank.water'].text} {page.figures['tank.water'].unit}"
                for surface in (line["put_in"], steps, paper):
                    self.assertIn(water, surface)

    def test_until_it_is_solved_a_list_marks_its_estimate_and_a_run_waits_for_its_field(
        self,
    ) -> None:
        """With a solver that holds nothing: what is begun, printed or saved by then is settled."""
        solver = Solver()
        shop = replace(self.shop, solver=solver)
        saved = create_plan(shop, {**QUIET, "notes": "cold"})
        document = saved.revision.document
        self.assertTrue(listed_out(list_plans(shop).rows[0]).quick)
        self.assertIsNone(by_now(solver, document))
        view = start_run(shop, saved.revision.plan_id)
        told = by_now(solver, document)
        assert told is not None and told.answer is not None
        self.assertEqual(view.answer.gives.value, told.answer.gives.value)
        keep_solved(shop, saved.revision.plan_id, told)
        self.assertFalse(listed_out(list_plans(shop).rows[0]).quick)
        printed = settled_answer(solver, document).answer
        assert printed is not None
        self.assertEqual(printed.gives.value, told.answer.gives.value)

    def test_what_was_solved_is_told_of_the_newest_revision_only(self) -> None:
        saved = create_plan(self.shop, dict(QUIET))
        plan_id = saved.revision.plan_id
        before = list_plans(self.shop).rows[0].summary
        other = {**saved.revision.document, "notes": "another"}
        keep_solved(self.shop, plan_id, answer_solved(SOLVER, other, "preview"))
        keep_solved(self.shop, "none", answer_solved(SOLVER, other, "preview"))
        self.assertEqual(list_plans(self.shop).rows[0].summary, before)
        keep_solved(self.shop, plan_id, answer_solved(SOLVER, saved.revision.document, "preview"))
        self.assertNotEqual(list_plans(self.shop).rows[0].summary, before)

    def test_the_first_lift_on_the_plan_is_the_run_s(self) -> None:
        """Also of a frail piece, which is lifted long before its window."""
        texts = set()
        for fragility in ("sound", "relic"):
            run_id = self.running(pieces=[{**QUIET["pieces"][0], "fragility": fragility}])
            self.clock.to(1)
            view = view_run(self.shop, run_id)
            [lift] = [a for a in view.actions if a.kind == "lift"]
            assert lift.at is not None and view.run.powered_since is not None
            wait = (lift.at - view.run.powered_since).total_seconds()
            [look] = [s.text for s in one_line(view.plan, view.answer, ()) if s.part == "look"]
            after = show(wait, "time", view.plan.system, 1)
            self.assertEqual(look, f"after 35 min, lift after {after}")
            [last] = [s for s in set_up(view.plan, view.answer) if s.id == "look"]
            self.assertIn(look.split("lift after ")[1], last.title)
            texts.add(look)
        self.assertEqual(len(texts), 2)
