"""Fair turns: nobody starves, the newest of each first, and no longer a row than can be served."""

from __future__ import annotations

import threading
import time
import unittest

from tests.longer import PATIENCE_S
from yellowbath.core.errors import CrowdedError, SupersededError
from yellowbath.workflows.shop.turns import Turns


class Fair(unittest.TestCase):
    def served(self, turns: Turns, row: list[str]) -> list[str]:
        """Who was served in what order, all having come while the place was taken."""
        order: list[str] = []
        threads = []

        def wait(name: str) -> None:
            with turns.turn(name[0]):
                order.append(name)

        with turns.turn("?"):
            for k, name in enumerate(row):
                threads.append(threading.Thread(target=wait, args=(name,)))
                threads[-1].start()
                until = time.monotonic() + PATIENCE_S
                while turns.waiting < k + 1 and time.monotonic() < until:
                    time.sleep(0.001)
        for t in threads:
            t.join()
        return order

    def test_one_who_asks_much_waits_no_less_than_the_others(self) -> None:
        order = self.served(Turns(20), ["a1", "a2", "a3", "a4", "b1", "c1", "c2"])
        self.assertEqual(order[0], "a4", "the newest of whoever came first")
        self.assertEqual(set(order[:3]), {"a4", "b1", "c2"})
        self.assertEqual(order[3:], ["a3", "c1", "a2", "a1"])

    def test_the_row_has_an_end(self) -> None:
        turns = Turns(3)
        with turns.turn("a"):
            held = [threading.Thread(target=lambda: self.pass_by(turns)) for _ in range(3)]
            for t in held:
                t.start()
            while turns.waiting < 3:
                time.sleep(0.001)
            with self.assertRaises(CrowdedError) as caught, turns.turn("b"):
                self.fail("served")
            self.assertTrue(caught.exception.remedy)
        for t in held:
            t.join()
        with turns.turn("b"):  # and goes on once they are served
            self.assertEqual(turns.waiting, 0)

    def pass_by(self, turns: Turns) -> None:
        with turns.turn("x"):
            pass

    def test_who_is_wanted_no_more_leaves_the_row_at_once(self) -> None:
        turns = Turns(3)

        def no_more() -> None:
            raise SupersededError("newer")

        with turns.turn("a"):
            with self.assertRaises(SupersededError), turns.turn("b", no_more):
                self.fail("served")
            self.assertEqual(turns.waiting, 0)

    def test_what_fails_in_its_turn_gives_it_up(self) -> None:
        turns = Turns(3, places=2)
        for _ in range(3):
            with self.assertRaises(ValueError), turns.turn("a"):
                raise ValueError
        with turns.turn("a"), turns.turn("b"):
            pass
