"""The order of mends and asks against every other order, and a worked example."""

import itertools
import unittest

import numpy as np

from yellowbath.core.causes import troubleshoot as shoot


def minutes_of(order: tuple[int, ...], p: np.ndarray, m: np.ndarray, call: float) -> float:
    """Expected minutes of one order, added up step by step."""
    total, left = 0.0, 1.0
    for k in order:
        total += left * m[k]
        left -= p[k]
    return total + left * call


class Orders(unittest.TestCase):
    def test_chance_over_cost_is_the_best_of_all_orders(self) -> None:
        """One cause at work (Heckerman, Breese, Rommelse 1995): every order is tried, 60 times."""
        rng = np.random.default_rng(8)
        for _ in range(60):
            p = rng.dirichlet(np.ones(6))[:5]
            m = rng.uniform(0.5, 30.0, 5)
            costs = {o: minutes_of(o, p, m, 100.0) for o in itertools.permutations(range(5))}
            ours = shoot.expected_minutes(p, m, 100.0)
            self.assertAlmostEqual(ours, min(costs.values()), places=9)
            self.assertAlmostEqual(costs[tuple(shoot.order(p, m))], ours, places=9)

    def test_a_worked_example(self) -> None:
        """Three parts, by hand: A 0.5 at 10, B 0.3 at 2, C 0.2 at 4. By chance over cost B (0.15),
        then A and C (0.05 each): 2 + 0.7 x 10 + 0.2 x 4 = 9.8. A look at 1 that tells B from the
        others for sure: 1 + 0.3 x 2 + 0.7 x (10 + 2/7 x 4) = 9.4, so it is looked first."""
        p, m = np.array([0.5, 0.3, 0.2]), np.array([10.0, 2.0, 4.0])
        self.assertAlmostEqual(shoot.expected_minutes(p, m, 1000.0), 9.8)
        look = np.array([[1.0, 0.0], [0.0, 1.0], [1.0, 0.0]])
        asked = shoot.minutes_if_asked(p, m, 1000.0, look, 1.0, np.array([1.0, 0.0]))
        self.assertAlmostEqual(asked, 9.4)
        useless = np.full((3, 2), 0.5)
        asked = shoot.minutes_if_asked(p, m, 1000.0, useless, 1.0, np.array([0.5, 0.5]))
        self.assertAlmostEqual(asked, 10.8, msg="what tells nothing costs its minutes")

    def test_what_is_learned_is_the_entropy_that_goes(self) -> None:
        p = np.array([0.5, 0.5])
        self.assertAlmostEqual(shoot.told(p, np.eye(2)), np.log(2))
        self.assertAlmostEqual(shoot.told(p, np.full((2, 2), 0.5)), 0.0)
