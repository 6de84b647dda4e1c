"""The circuit of a simulated bath against a general solver of circuits that knows nothing of it."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import root

from yellowbath.core.simulation.circuit import Flow, Wiring, solve


def by_nodes(w: Wiring) -> Flow:
    """Kirchhoff's laws at every node by a general root finder: unknown are the potentials of
    posts, bus, liquid, cell and piece, and the current out of the supply."""
    names = sorted(w.scrap_ohm)

    def currents(x: np.ndarray) -> dict[str, float]:
        posts, bus, near_scrap, near_piece, _ = x
        bath = sum(
            (bus - near_scrap) / (w.scrap_ohm[k] + w.joint_ohm[k] + w.cake_ohm[k]) for k in names
        )
        hanger = 0.0 if math.isinf(w.hanger_ohm) else near_piece / w.hanger_ohm
        touch = 0.0 if math.isinf(w.touch_ohm) else bus / w.touch_ohm
        return {"bath": bath, "hanger": hanger, "touch": touch,
                "piece": near_piece / (w.piece_ohm + w.piece_joint_ohm),
                "leads": (posts - bus) / w.leads_ohm}  # fmt: skip

    def laws(x: np.ndarray) -> list[float]:
        posts, _, near_scrap, near_piece, supply_a = x
        i = currents(x)
        line = posts - (w.volts - supply_a * w.inner_ohm)
        full = supply_a - w.ceiling_a
        return [
            supply_a - i["leads"],
            i["leads"] - i["bath"] - i["touch"],
            i["bath"] - i["piece"] - i["hanger"],
            near_scrap - near_piece - w.start_v
            - w.slope_v * math.asinh(i["bath"] / (2 * w.knee_a)) if runs else i["bath"],
            line if not limited else full,
        ]  # fmt: skip

    # under its ceiling or at it; with a cell that runs, or one that has too few volts to
    for limited, runs in ((False, True), (False, False), (True, True), (True, False)):
        guess = [w.volts, w.volts, w.volts / 2, w.volts / 4, 1.0]
        found = root(laws, guess, method="hybr", tol=1e-13)
        i = currents(found.x)
        starts = i["bath"] > -1e-9 if runs else found.x[2] - found.x[3] <= w.start_v
        if starts and (limited or found.x[4] <= w.ceiling_a * (1 + 1e-9)):
            break
    return Flow(found.x[4], found.x[0], found.x[1], i["bath"], i["piece"], i["hanger"])


def any_wiring(rng: np.random.Generator) -> Wiring:
    """A wiring with anything in it that can be: bad joints, a wet hanger, a touch, a ceiling."""
    names = [f"a{k}" for k in range(1, 2 + rng.integers(0, 4))]

    def ohms(low: float, high: float) -> float:
        return float(10 ** rng.uniform(math.log10(low), math.log10(high)))

    return Wiring(
        volts=float(rng.uniform(5, 24)),
        inner_ohm=ohms(0.01, 1),
        ceiling_a=float(rng.choice([math.inf, rng.uniform(0.3, 4)])),
        leads_ohm=ohms(0.005, 0.2),
        scrap_ohm={k: ohms(0.3, 10) for k in names},
        joint_ohm={k: ohms(0.005, 100) for k in names},
        cake_ohm={k: ohms(0.01, 5) for k in names},
        piece_ohm=ohms(0.2, 5),
        piece_joint_ohm=ohms(0.005, 300),
        hanger_ohm=float(rng.choice([math.inf, ohms(2, 40)])),
        touch_ohm=float(rng.choice([math.inf, math.inf, ohms(0.05, 2)])),
        start_v=1.23,
        slope_v=0.1,
        knee_a=ohms(1e-5, 1e-2),
    )


class Circuit(unittest.TestCase):
    def test_random_wirings_against_kirchhoff_at_every_node(self) -> None:
        rng = np.random.default_rng(16)
        touched = limited = 0
        for k in range(200):
            w = any_wiring(rng)
            ours, theirs = solve(w), by_nodes(w)
            touched += not math.isinf(w.touch_ohm)
            limited += ours.at_ceiling
            for name in ("supply_a", "supply_v", "tank_v", "bath_a", "piece_a", "hanger_a"):
                with self.subTest(case=k, figure=name, wiring=w):
                    self.assertAlmostEqual(getattr(ours, name), getattr(theirs, name), delta=2e-6)
        self.assertGreater(min(touched, limited), 20)

    def test_what_flows_out_of_each_anode_adds_up(self) -> None:
        rng = np.random.default_rng(3)
        for _ in range(50):
            flow = solve(any_wiring(rng))
            self.assertAlmostEqual(sum(flow.anode_a.values()), flow.bath_a, places=9)
            self.assertAlmostEqual(flow.piece_a + flow.hanger_a, flow.bath_a, places=9)

    def test_below_the_start_nothing_flows(self) -> None:
        w = any_wiring(np.random.default_rng(1))
        still = solve(replace(w, volts=1.0, touch_ohm=math.inf))
        self.assertEqual((still.bath_a, still.tank_v), (0.0, 1.0))


if __name__ == "__main__":
    unittest.main()
