"""Searches over the API, told line by line; drags that a newer one takes the place of."""

import json
import threading
from itertools import product
from typing import Any

from tests.api.test_api import ApiCase
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.errors import NoAnswerError, SupersededError
from yellowbath.core.plan.placement.floors import floor_plates, laid
from yellowbath.workflows.plans import search
from yellowbath.workflows.plans.field import answer_plan, field_of, solve_answered

ANVIL = {
    **QUIET,
    "pieces": [{"shape": {"kind": "stepped"}}],
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "one_side"},
}


class Searches(ApiCase):
    def lines(self, path: str, document: dict[str, Any]) -> list[dict[str, Any]]:
        answer = self.http.post(f"/api{path}", json={"document": document})
        self.assertEqual(answer.status_code, 200, answer.text)
        return [json.loads(line) for line in answer.text.splitlines()]

    def test_placing_tells_how_far_it_is_and_what_it_found(self) -> None:
        told = self.lines("/plans/placement", ANVIL)
        self.assertEqual([x["done"] for x in told], sorted(x["done"] for x in told))
        found = told[-1]["placed"]
        self.assertTrue(found["better"])
        self.assertLess(found["after"]["time"]["value_si"], found["before"]["time"]["value_si"])
        # taken over, the plan answers with the figures that were promised
        document = {**ANVIL, "anodes": found["anodes"], "layout": {"arrangement": "by_hand"}}
        answer = self.post("/plans/answer", {"document": document, "quality": "preview"}, 200)
        self.assertEqual(
            answer["answer"]["figures"]["amps.gives"]["value_si"],
            found["after"]["gives"]["value_si"],
        )

    def test_a_plate_on_the_floor_is_placed(self) -> None:
        """Against nine places spread over the floor, each solved in full: none is better by more
        than what counts as one place."""
        plate = {"id": "a1", "kind": "floor", "width_m": 0.08, "depth_m": 0.15, "x_m": 0.1}
        document = {**ANVIL, "anodes": [plate], "layout": {"arrangement": "by_hand"},
                    "pieces": [{"hang": "flat", "x_m": -0.06}]}  # fmt: skip
        found = list(search.find_placement(SOLVER, document))[-1]
        assert isinstance(found, search.Placed)
        self.assertTrue(found.better)
        least = min(
            search._cost(solve_answered(SOLVER, answer_plan(laid(plan, floor_plates(plan)[0], at)),
                                        "preview"))
            for plan in [found.before.plan] for at in product((-0.1, 0.0, 0.1), (-0.07, 0.0, 0.07))
        )  # fmt: skip
        self.assertLess(search._cost(found.after), least + 2 * search._WORTH)

    def test_a_turn_plan_adds_up(self) -> None:
        found = self.lines("/plans/turns", ANVIL)[-1]["turns"]
        self.assertAlmostEqual(sum(p["share"] for p in found["poses"]), 1, places=9)
        parts = sum(p["time"]["value_si"] for p in found["poses"])
        self.assertAlmostEqual(parts / found["time"]["value_si"], 1, places=9)
        self.assertLessEqual(found["time"]["value_si"], found["alone"]["value_si"])

    def test_what_cannot_be_searched_is_a_problem_and_no_stream(self) -> None:
        fixed = {**QUIET, "anodes": [{"id": "a1", "kind": "ring", "floor_gap_m": 0.1}]}
        problem = self.post("/plans/placement", {"document": fixed}, 422)
        self.assertIn("one place only", problem["title"])

    def test_whoever_stops_asking_has_cancelled(self) -> None:
        going = search.find_placement(SOLVER, ANVIL)
        step = next(going)
        self.assertIsInstance(step, search.SearchStep)
        going.close()
        with self.assertRaises(StopIteration):
            next(going)


class Drags(ApiCase):
    def test_a_newer_drag_takes_the_place_of_an_older(self) -> None:
        old = SOLVER.drag("row", 1)
        old.check()
        SOLVER.drag("row", 2)
        SOLVER.drag("another", 1).check()
        with self.assertRaises(SupersededError):
            field_of(SOLVER, {**ANVIL, "pieces": [{"shape": {"kind": "box"}}]}, "preview", old)
        body = {"document": {**ANVIL, "name": "x"}, "drag": {"by": "row", "turn": 0}}
        body["document"]["tank"] = {"shape": {"kind": "box", "length_m": 0.47}}
        problem = self.post("/plans/field", body, 409)
        self.assertTrue(problem["type"].endswith("superseded"))

    def test_a_queue_of_drags_solves_the_last(self) -> None:
        """Ten requests at once: those still waiting when a newer comes in are not solved."""
        outcome: list[str] = []

        def ask(turn: int) -> None:
            tank = {"shape": {"kind": "box", "length_m": 0.40 + 0.002 * turn}}
            try:
                field_of(SOLVER, {**ANVIL, "tank": tank}, "preview", SOLVER.drag("finger", turn))
                outcome.append(f"solved {turn}")
            except SupersededError:
                outcome.append("dropped")
            except NoAnswerError:
                outcome.append("failed")

        threads = [threading.Thread(target=ask, args=(k,)) for k in range(10)]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        self.assertIn("solved 9", outcome)
        self.assertGreaterEqual(outcome.count("dropped"), 5)

    def test_the_solver_says_whether_it_is_ready(self) -> None:
        self.assertIsNone(self.get("/plans/solver")["getting_ready_s"])
