"""One bath, one account: whatever is entered, no two surfaces say otherwise of it."""

from tests.accounts import BATHS, AccountCase, against
from tests.longer import of


class Account(AccountCase):
    def test_no_two_surfaces_say_otherwise_of_a_random_run(self) -> None:
        kinds = set()
        for seed in range(of(500, 20)):
            for told in self.random_run(seed):
                kinds.add(told.run.state)
                with self.subTest(seed, state=told.run.state, log=len(told.run.log)):
                    self.assertEqual(against(told), [])
        self.assertGreaterEqual(len(kinds), 5, "the runs come to every kind of state")

    def test_what_rusts_in_the_hand_comes_before_a_question_of_the_bath(self) -> None:
        run_id = self.running(**BATHS["three pieces"])
        for minutes, kind, said in (
            (61, "switch_off", {}), (62, "lift", {"piece": "p1"}), (63, "switch_on", {}),
            (64, "look", {"bubbles": "whole"}), (65, "clean", {"piece": "p1"}),
        ):  # fmt: skip
            view = self.write(run_id, minutes, kind, **said)
        self.assertEqual(next((a.kind, a.piece) for a in view.actions), ("finish_start", "p1"))
        self.assertIn("crust", [a.kind for a in view.actions])

    def test_the_judge_sees_what_is_said_twice_otherwise(self) -> None:
        told = next(self.random_run(3))
        item = told.item
        assert item is not None
        item.share_clean += 0.2
        self.assertIn("rack and run: share", against(told))
