"""The solver as a thing of its own: bounded, shared by threads, the newest of a row only."""

import unittest
from concurrent.futures import ThreadPoolExecutor
from unittest.mock import patch

from tests.shops import QUIET
from yellowbath.core.errors import SupersededError
from yellowbath.core.field.model import QUALITIES, STEP
from yellowbath.core.field.solver import system
from yellowbath.workflows.plans.field import field_of, live, warm_up
from yellowbath.workflows.shop.solver import OnMesh, Solver


def plate(length: float) -> dict[str, object]:
    shape = {"kind": "plate", "length_m": length, "width_m": 0.05, "thickness_m": 0.005}
    return {**QUIET, "pieces": [{"shape": shape}]}


class Keeping(unittest.TestCase):
    def test_it_keeps_what_was_solved_within_its_bound(self) -> None:
        solver = Solver(cache_mb=8)
        for k in range(12):
            field_of(solver, plate(round(0.1 + 0.01 * k, 2)), "preview")
        state = solver.state()
        self.assertEqual((state.found, state.solved), (0, 12))
        self.assertLessEqual(state.held_bytes, state.most_bytes * 1.05)
        self.assertLess(state.fields, 12)
        field_of(solver, plate(0.21), "preview")
        self.assertEqual(solver.state().found, 1)

    def test_what_it_keeps_changes_no_figure(self) -> None:
        small, large = Solver(cache_mb=0), Solver()
        for solver in (small, large, large):
            made = field_of(solver, plate(0.2), "preview").answer
            again = field_of(Solver(), plate(0.2), "preview").answer
            self.assertEqual(made.gives.value, again.gives.value)
        self.assertEqual(small.state().fields, 1, "the newest is always kept")

    def test_threads_that_ask_the_same_get_the_same_solve(self) -> None:
        solver = Solver()
        with ThreadPoolExecutor(6) as pool:
            made = list(
                pool.map(lambda _: field_of(solver, plate(0.15), "preview").field, range(6))
            )
        self.assertEqual(len({id(f) for f in made}), 1)
        self.assertEqual(solver.state().solved, 1)


class Ladder(unittest.TestCase):
    def test_a_finer_solve_begins_where_the_coarser_ended(self) -> None:
        """Each quality's coarse mesh is the fine one of the quality before: it is kept by then."""
        for one in ("preview", "fine"):
            then = QUALITIES[QUALITIES[one].then]
            self.assertEqual(round(then.facets / STEP**2), QUALITIES[one].facets)
        solver = Solver()
        field_of(solver, plate(0.2), "preview")
        with patch.object(system, "lu_factor", wraps=system.lu_factor) as made:
            field_of(solver, plate(0.2), "fine")
        self.assertEqual(made.call_count, 1)


class Turns(unittest.TestCase):
    def test_only_the_newest_of_a_row_is_solved(self) -> None:
        solver = Solver()
        warm_up(solver)
        old, new = solver.drag("tab", 1), solver.drag("tab", 2)
        self.assertIsNotNone(live(solver, plate(0.2), new).field)
        with self.assertRaises(SupersededError):
            live(solver, plate(0.2), old)
        solver.drag("other tab", 1).check()

    def test_rows_are_forgotten_in_time(self) -> None:
        solver = Solver()
        first = solver.drag("first", 1)
        for k in range(500):
            solver.drag(f"row {k}", 1)
        first.check()
        self.assertEqual(solver.newest("first", 1), 1)

    def test_each_mesh_of_a_row_is_told_and_a_stop_ends_it_before_the_next(self) -> None:
        solver, told = Solver(), list[OnMesh | None]()
        tell = solver.tell

        def telling(by: str, doing: OnMesh | None) -> None:
            tell(by, doing)
            told.append(solver.doing(by))
            if doing and doing.what == "turned":
                solver.stop("map tab")

        with patch.object(solver, "tell", telling):
            field_of(solver, plate(0.2), "preview", solver.drag("map tab", 1))
            self.assertEqual(told, [OnMesh(1, 2, "first"), OnMesh(2, 2, "first"), None])
            told.clear()
            # scrap on one side only: what looks away is solved turned round as well
            broad = {"kind": "plate", "length_m": 0.25, "width_m": 0.16, "thickness_m": 0.005}
            layout = {"arrangement": "one_side"}
            one_sided = {**QUIET, "pieces": [{"shape": broad}], "layout": layout}
            with self.assertRaises(SupersededError):
                field_of(solver, one_sided, "fine", solver.drag("map tab", 2))
        self.assertEqual([d.mesh for d in told if d], [1, 2, 3])
        self.assertEqual(told[-1], OnMesh(3, 4, "turned"))
        self.assertIsNone(solver.doing("map tab"))
        solver.drag("map tab", 3).check()

    def test_it_tells_that_it_is_getting_ready(self) -> None:
        solver = Solver()
        self.assertEqual((solver.is_warm, solver.warming_s), (False, None))
        self.assertIsNone(live(solver, plate(0.2)).field, "by the closed form until then")
        with solver.warming():
            self.assertIsNotNone(solver.warming_s)
        self.assertEqual((solver.is_warm, solver.warming_s), (True, None))
