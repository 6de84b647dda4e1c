"""The circuits of the draws against Kirchhoff's laws and a general root finder."""

import unittest
from dataclasses import fields, replace

import numpy as np
from scipy.optimize import root

from yellowbath.core.bath.circuit import Wires, flows
from yellowbath.core.bath.loop import slope_v

COUNT, ANODES = 200, 3


def wires(rng: np.random.Generator) -> Wires:
    """Wirings at random: touches in a third, ceilings in half, dead joints in a few."""

    def about(middle: float, sigma: float, *shape: int) -> np.ndarray:
        made: np.ndarray = middle * np.exp(sigma * rng.standard_normal(shape or (COUNT,)))
        return made

    return Wires(
        volts=about(12.0, 0.4),
        inner=about(0.2, 1.0),
        ceiling=np.where(rng.random(COUNT) < 0.5, np.inf, about(4.0, 0.6)),
        leads=about(0.05, 0.5),
        scrap=about(4.0, 0.8, COUNT, ANODES),
        joints=about(0.05, 1.5, COUNT, ANODES),
        cake=about(1.0, 1.0, COUNT, ANODES),
        piece=about(1.5, 0.6),
        piece_joint=about(0.1, 2.0),
        hanger_s=np.where(rng.random(COUNT) < 0.5, 0.0, about(0.1, 0.8)),
        touch_s=np.where(rng.random(COUNT) < 0.66, 0.0, about(20.0, 1.0)),
        start=about(1.3, 0.1),
        knee=about(0.02, 0.5),
    )


class Circuits(unittest.TestCase):
    def test_currents_and_volts_are_those_of_a_general_solver(self) -> None:
        """One wiring at a time: volts at the tank from scipy, started from a guess; some with a
        touch, and by the shorter way of circuits without any."""
        many = wires(np.random.default_rng(4))
        self.held(many)
        self.held(replace(many, touch_s=np.zeros(COUNT)))

    def held(self, many: Wires) -> None:
        found = flows(many)
        for k in range(COUNT):
            w = {f.name: getattr(many, f.name)[k] for f in fields(Wires)}
            scrap = float((1 / (w["scrap"] + w["joints"] + w["cake"])).sum())
            piece = 1 / (w["piece"] + w["piece_joint"]) + w["hanger_s"]
            bath_ohm = 1 / scrap + 1 / piece

            def off(x: np.ndarray, w: dict[str, float] = w, ohm: float = bath_ohm) -> list[float]:
                bath, tank = np.exp(x[0]), x[1]
                cell = w["start"] + slope_v() * np.arcsinh(bath / (2 * w["knee"]))
                comes = min((w["volts"] - tank) / (w["inner"] + w["leads"]), w["ceiling"])
                return [cell + bath * ohm - tank, comes - bath - tank * w["touch_s"]]

            if found.bath_a[k] < 1e-3:
                continue  # next to nothing: the touch alone
            near = [np.log(found.bath_a[k] * 1.1), found.tank_v[k] * 0.95]
            solved = root(off, near, tol=1e-12)
            self.assertTrue(solved.success or max(map(abs, off(solved.x))) < 1e-6, k)
            self.assertAlmostEqual(float(np.exp(solved.x[0])) / found.bath_a[k], 1.0, places=4)
            self.assertAlmostEqual(float(solved.x[1]), found.tank_v[k], places=3)

    def test_what_goes_in_comes_out(self) -> None:
        found = flows(wires(np.random.default_rng(5)))
        for total in (found.anode_a.sum(axis=1), found.piece_a + found.hanger_a):
            np.testing.assert_allclose(total, found.bath_a, rtol=1e-9, atol=1e-12)
        self.assertTrue((found.supply_a >= found.bath_a - 1e-9).all())
