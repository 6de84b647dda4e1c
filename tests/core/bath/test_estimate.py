"""The particles against a grid on a small case, and against simulated baths."""

import math
import unittest
from dataclasses import fields

import numpy as np

from tests.core.bath.baths import kind
from yellowbath.core.bath.circuit import Wires, flows
from yellowbath.core.bath.draws import law, sound, unknown
from yellowbath.core.bath.estimate import COUNT, CircuitCloud, estimate
from yellowbath.core.bath.observation import read_at
from yellowbath.core.particles import annealed
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.senses import CLAMP
from yellowbath.core.simulation.truth import drawn as truth_of

LOOP = kind(0)[1]


class Grid(unittest.TestCase):
    def test_conductivity_and_warmth_as_a_grid_has_them(self) -> None:
        """Only the conductivity is left unknown, by holding all else at its middle: the middle and
        the edges of the amps after a reading, against 2,001 points of a grid."""
        cloud = CircuitCloud(LOOP, [])
        wires = cloud.wires(0.0, 18.0)
        middle = {f.name: np.median(getattr(wires, f.name), axis=0) for f in fields(Wires)}
        sigma = unknown("kappa")
        z = np.linspace(-4, 4, 2001)
        kappa = np.exp(sigma * z)

        def held(factor: np.ndarray) -> Wires:
            n = len(factor)
            made = {k: np.repeat(np.asarray(v)[None], n, axis=0) for k, v in middle.items()}
            w = Wires(**made)
            w.scrap, w.piece = w.scrap / factor[:, None], w.piece / factor
            w.hanger_s = w.hanger_s * factor
            return w

        amps = flows(held(kappa)).supply_a
        read = float(np.interp(0.8, z, amps))
        weight = np.exp(-0.5 * z**2 - 0.5 * (np.log(amps / read) / math.hypot(0.03, 0.03)) ** 2)
        weight /= weight.sum()
        # the same prior and law by particles, annealed as the cloud's are

        def told(scores: np.ndarray) -> np.ndarray:
            own = flows(held(np.exp(sigma * scores[:, 0]))).supply_a
            return np.asarray(-0.5 * (np.log(own / read) / math.hypot(0.03, 0.03)) ** 2)

        start = np.random.default_rng(2).standard_normal((4 * COUNT, 3))
        drawn = annealed(start, told)
        particles = cloud.spread(flows(held(np.exp(sigma * drawn[:, 0]))).supply_a)
        for q, found in zip((0.1, 0.5, 0.9), particles, strict=True):
            grid = float(np.interp(q, np.cumsum(weight), amps))
            self.assertAlmostEqual(found / grid, 1.0, delta=0.006)
        # what nothing was told of stays as it was
        self.assertAlmostEqual(float(drawn[:, 1].std()), 1.0, delta=0.08)

    def test_readings_weigh_as_their_errors_do(self) -> None:
        """A clamp narrows the amps to three times its error at most, a needle less."""
        before = CircuitCloud(LOOP, []).amps(0.0, 18.0)
        spreads = []
        for error in (0.03, 0.15):
            low, mid, high = CircuitCloud(LOOP, read_at(0.0, 18.0, error, amps=before[1])).amps(
                0.0, 18.0
            )
            spreads.append((high - low) / mid)
        self.assertLess(spreads[0], 0.13)
        self.assertLess(spreads[0], spreads[1])
        self.assertLess(spreads[1], (before[2] - before[0]) / before[1])


class Simulated(unittest.TestCase):
    def test_amps_ahead_lie_in_their_band(self) -> None:
        """Sound baths read once with a clamp: their amps three hours on, by the bath's own
        charge and warmth, lie within 10 to 90 % about as often as that says."""
        within, count, width = 0, 80, []
        rng = np.random.default_rng(31)
        for _ in range(count):
            design, loop = kind(int(rng.integers(0, 8)))
            bath = SimulatedBath(design, truth_of(design, rng), start_c=loop.temperature_c)
            bath.switch_on()
            bath.advance(900, 60.0)
            read = CLAMP.read(bath, rng)
            seen = read_at(bath.charge_ah, read.bath_c, amps=read.current_a)
            bath.advance(3 * 3600, 60.0)
            low, mid, high = CircuitCloud(loop, seen).amps(bath.charge_ah, bath.temperature_c)
            within += low <= bath.flow.supply_a <= high
            width.append((high - low) / mid)
        self.assertGreaterEqual(within / count, 0.70)
        self.assertLess(float(np.median(width)), 0.25)

    def test_more_ohms_at_a_joint_are_placed_by_volts_and_not_by_amps(self) -> None:
        """0.6 ohm at the piece: amps alone leave it among the others."""
        wires = sound(LOOP, 0.0, 18.0).wires
        for f in fields(Wires):
            setattr(wires, f.name, np.median(getattr(wires, f.name), axis=0)[None])
        wires.piece_joint = wires.piece_joint + 0.6
        f = flows(wires)
        amps, tank = float(f.supply_a[0]), float(f.tank_v[0])
        by_amps = estimate(CircuitCloud(LOOP, read_at(0.0, 18.0, amps=amps)), 0.0, 18.0)
        joint = float(f.piece_joint_v[0])
        seen = read_at(0.0, 18.0, amps=amps, tank_v=tank, joint_v=joint)
        by_volts = estimate(CircuitCloud(LOOP, seen), 0.0, 18.0)
        told = [next(p for p in e.parts if p.id == "joint_piece") for e in (by_amps, by_volts)]
        self.assertFalse(told[0].told)
        self.assertTrue(told[1].told)
        self.assertAlmostEqual(told[1].ohm[1], 0.65, delta=0.15)

    def test_what_no_sound_bath_reads_does_not_fit(self) -> None:
        seen = read_at(1.0, 18.0, amps=LOOP.meant_a / 30)
        self.assertFalse(estimate(CircuitCloud(LOOP, seen), 1.0, 18.0).fits)
        self.assertTrue(
            estimate(CircuitCloud(LOOP, read_at(1.0, 18.0, amps=LOOP.meant_a)), 1.0, 18.0).fits
        )

    def test_changes_move_the_amps_the_right_way(self) -> None:
        """After a day: scraping and soda more, a new clip about the same where it was sound."""
        charge = 30.0
        cloud = CircuitCloud(LOOP, read_at(charge, 18.0, amps=0.75 * LOOP.meant_a))
        now = cloud.amps(charge, 18.0)[1]
        scraped, soda, clip = (
            cloud.after(c, charge, 18.0)[1] for c in ("scraped", "soda_added", "clip_moved")
        )
        self.assertGreater(scraped, 1.1 * now)
        self.assertGreater(soda, 1.03 * now)
        self.assertLess(abs(math.log(clip / now)), 0.25)
        self.assertGreater(law("amps"), 0)
