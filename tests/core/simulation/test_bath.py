"""The simulated bath over time: against a general ODE solver, and each fault by what it shows."""

import math
import unittest

import numpy as np
from scipy.integrate import solve_ivp

from tests.core.bath.baths import KINDS, kind
from tests.core.simulation.designs import SUPPLIES, design
from yellowbath.core.chemistry.cell import thermoneutral_v
from yellowbath.core.data import param
from yellowbath.core.power.heat import WATER_HEAT, evaporation
from yellowbath.core.run.log import Asked
from yellowbath.core.run.signs import poles_told
from yellowbath.core.simulation.asked import true_answer
from yellowbath.core.simulation.bath import Scheduled, SimulatedBath
from yellowbath.core.simulation.circuit import solve
from yellowbath.core.simulation.faults import SOUND, fault, fault_ids, possible
from yellowbath.core.simulation.senses import CLAMP, look
from yellowbath.core.simulation.truth import drawn, meant


def running(supply: str = "laboratory", names: tuple[str, ...] = (), seed: int = 1,
            seconds: float = 600.0) -> SimulatedBath:  # fmt: skip
    """A bath as it is meant to be, with faults that are there from the first moment."""
    d = design(supply)
    rng = np.random.default_rng(seed)
    bath = SimulatedBath(d, meant(d), [Scheduled(0, fault(n, d, rng)) for n in names], 18.0)
    bath.switch_on()
    bath.advance(seconds)
    return bath


class OverTime(unittest.TestCase):
    def test_warmth_charge_cake_and_level_against_a_general_ode_solver(self) -> None:
        """Twelve hours of one transformer's bath, as the equations stand, by RK45 at 1e-9."""
        hours = 12.0
        bath = running("transformer", seconds=0)
        d, t = bath.design, bath.truth

        def slopes(_: float, x: np.ndarray) -> list[float]:
            temperature, charge, level = x
            probe = SimulatedBath(d, t, (), temperature)
            probe.supply.on, probe.level_m = True, level
            probe.cake_ah = {k: charge * s for k, s in d.shares.items()}
            flow = solve(probe.wiring(SOUND))
            heat = flow.bath_a * (flow.cell_v - thermoneutral_v(temperature))
            heat += d.form**2 * flow.bath_a * (flow.tank_v - flow.cell_v)
            held = WATER_HEAT * d.heat.volume * level / d.level_m
            split = flow.bath_a * 0.3361e-3 / 3600
            gone = evaporation(temperature, d.heat.around) * d.surface_m2 + split
            return [
                (heat - d.heat.loss(temperature)) / held,
                flow.bath_a / 3600,
                -gone / 998.0 / d.surface_m2,
            ]

        start = [18.0, 0.0, d.level_m]
        found = solve_ivp(slopes, (0, hours * 3600), start, rtol=1e-8, atol=1e-8)
        warm, charge, level = found.y[:, -1]
        bath.advance(hours * 3600)
        self.assertGreater(warm, 21)  # it is no flat line that is followed
        self.assertAlmostEqual(bath.temperature_c, warm, delta=0.02)
        self.assertAlmostEqual(bath.charge_ah, charge, delta=2e-3 * charge)
        self.assertAlmostEqual(bath.level_m, level, delta=1e-5)

    def test_the_same_seed_gives_the_same_bath_whatever_the_steps(self) -> None:
        one, other = running("battery", seconds=0), running("battery", seconds=0)
        one.advance(7200)
        for _ in range(720):
            other.advance(10.0)
        self.assertEqual(one.charge_ah, other.charge_ah)
        fine = running("battery", seconds=0)
        fine.advance(7200, step_s=1.0)
        self.assertAlmostEqual(fine.charge_ah, one.charge_ah, delta=1e-3 * one.charge_ah)

    def test_rust_clears_as_its_charge_is_met(self) -> None:
        """Half of the surface is clean when its typical spot has had its need: by the law."""
        bath = running(seconds=0)
        bath.doses = np.full(len(bath.doses), bath.truth.needs[0])
        self.assertAlmostEqual(bath.share_clean(), 0.95, places=6)
        bath.doses = bath.truth.needs * math.exp(-1.6448536 * bath.truth.scatter)
        self.assertAlmostEqual(bath.share_clean(), 0.5, places=6)

    def test_a_lifted_bath_carries_nothing_and_a_battery_runs_down(self) -> None:
        bath = running("battery")
        before = bath.supply.charge
        bath.advance(3600)
        self.assertAlmostEqual(before - bath.supply.charge, bath.flow.supply_a / 60, delta=2e-3)
        bath.lift()
        bath.advance(600)
        self.assertEqual(bath.flow.bath_a, 0.0)


def shows(name: str, supply: str, seed: int) -> dict[str, float | str]:
    """A fault as ratios to the sound bath, with what is seen."""
    sound, ill = running(supply), running(supply, (name,), seed)
    seen, read = look(ill), CLAMP.read(ill, np.random.default_rng(seed))
    return {
        "amps": ill.flow.supply_a / sound.flow.supply_a,
        "piece": ill.flow.piece_a / sound.flow.piece_a,
        "tank": ill.flow.tank_v / sound.flow.tank_v,
        "read": read.current_a / sound.flow.supply_a,
        "gas": seen.gas, "sound": seen.sound, "lamp": seen.lamp, "crust": seen.crust,
    }  # fmt: skip


class Faults(unittest.TestCase):
    def test_each_shows_what_the_trade_says_of_it(self) -> None:
        """Common practice, no source: fault, supply, and what holds of it whatever its size."""
        table = {
            ("contact_piece", "laboratory"): lambda s: s["amps"] < 0.85 and s["tank"] > 0.98,
            ("contact_scrap", "laboratory"): lambda s: s["amps"] < 0.95 and s["tank"] > 0.98,
            ("bad_lead", "laboratory"): lambda s: s["amps"] < 0.9 and s["tank"] < 0.9,
            ("insulated", "laboratory"): lambda s: s["amps"] < 0.45 and s["tank"] > 0.98,
            ("asleep", "hiccup"): lambda s: s["lamp"] == "blinking" and s["sound"] == "ticking",
            ("asleep", "smart"): lambda s: s["amps"] == 0,
            ("fuse", "fused"): lambda s: s["amps"] == 0 and s["tank"] == 0 and s["gas"] == "none",
            ("flat", "battery"): lambda s: s["amps"] < 0.75 and s["tank"] < 0.8,
            ("sag", "transformer"): lambda s: s["amps"] < 0.75 and s["tank"] < 0.8,
            ("wrong_range", "transformer"): lambda s: s["amps"] < 0.75 and s["tank"] < 0.9,
            ("thin", "laboratory"): lambda s: s["amps"] < 0.6 and s["tank"] > 0.98,
            ("wrong_soda", "laboratory"): lambda s: 0.25 < s["amps"] < 0.65,
            ("cold", "laboratory"): lambda s: 0.55 < s["amps"] < 0.9,
            ("caked", "laboratory"): lambda s: s["amps"] < 0.7 and s["tank"] > 0.98,
            ("one_clean", "laboratory"): lambda s: 0.4 < s["amps"] < 0.85,
            ("scrap_out", "laboratory"): lambda s: s["amps"] < 0.9,
            ("touch", "laboratory"): lambda s: s["amps"] > 1.7 and s["tank"] < 0.15,
            ("reversed", "laboratory"): lambda s: s["crust"] == "piece",
            ("overload", "laboratory"): lambda s: s["amps"] > 1.5,
            ("blind", "laboratory"): lambda s: s["gas"] == "one_side" and s["amps"] > 0.99,
            ("pits", "laboratory"): lambda s: s["amps"] > 0.99,
            ("thin_lead", "laboratory"): lambda s: s["amps"] < 0.99 and s["tank"] < 0.99,
            ("fan", "laboratory"): lambda s: s["amps"] < 0.9 and s["tank"] < 0.9,
            ("dry_piece", "laboratory"): lambda s: s["amps"] < 0.9 and s["tank"] > 0.98,
            ("low_level", "laboratory"): lambda s: s["amps"] < 0.8 and s["tank"] > 0.98,
            ("meter", "laboratory"): lambda s: s["amps"] > 0.99 and s["read"] < 0.9,
        }
        self.assertEqual({n for n, _ in table} | {"far_piece", "near_piece"}, set(fault_ids()))
        for (name, supply), holds in table.items():
            for seed in range(8):
                shown = shows(name, supply, seed)
                self.assertTrue(holds(shown), (name, supply, seed, shown))

    def test_no_supply_gets_a_fault_it_cannot_have(self) -> None:
        for supply in SUPPLIES:
            have = possible(design(supply))
            self.assertEqual("flat" in have, supply == "battery", supply)
            self.assertEqual("fuse" in have, supply in ("battery", "fused"), supply)
            self.assertNotIn("far_piece", have)  # of one piece alone

    def test_a_fault_comes_at_its_time_and_goes_when_it_is_mended(self) -> None:
        d = design()
        found = fault("caked", d, np.random.default_rng(2))
        bath = SimulatedBath(d, meant(d), [Scheduled(1000.0, found)], 18.0)
        bath.switch_on()
        bath.advance(999)
        before = bath.flow.supply_a
        bath.advance(2)
        self.assertLess(bath.flow.supply_a, 0.75 * before)
        bath.scrape()
        self.assertAlmostEqual(bath.settle().supply_a / before, 1.0, delta=0.02)

    def test_a_weak_fuse_goes_and_a_strong_one_holds(self) -> None:
        """Blade fuses carry 110 % for good and go at 135 % within half an hour (as the law has
        it)."""
        for share, goes in ((0.9, False), (1.6, True)):
            bath = running("fused", seconds=0)
            amps = share * bath.design.supply.rated_a * param("trips_fuse").value
            for _ in range(360):
                bath.supply.step(bath.design.supply, amps, "", 10.0)
            self.assertEqual(bath.supply.blown, goes, share)

    def test_random_truths_keep_their_plans_middle(self) -> None:
        """Half of a thousand baths draw more than the plan says, half less."""
        d, rng = design(), np.random.default_rng(5)
        amps = []
        for _ in range(400):
            bath = SimulatedBath(d, drawn(d, rng), (), 18.0)
            bath.switch_on()
            amps.append(bath.flow.supply_a / d.meant_a)
        self.assertAlmostEqual(float(np.median(amps)), 1.0, delta=0.06)
        self.assertGreater(np.quantile(amps, 0.9) - np.quantile(amps, 0.1), 0.25)


class Swapped(unittest.TestCase):
    def test_thirty_are_known_by_their_crust_or_a_sign(self) -> None:
        """Of every kind of bath, looked at after an hour and again where nothing shows yet; a
        voltmeter tells at once. Eyes that err are the diagnosis's own."""
        rng, by_crust, by_sign = np.random.default_rng(8), 0, 0
        for k in range(30):
            d, loop = kind(k % len(KINDS))
            swap = Scheduled(0, fault("reversed", d, rng))
            bath = SimulatedBath(d, drawn(d, rng), [swap], start_c=18.0)
            bath.switch_on()
            bath.advance(60.0)
            by_sign += true_answer("poles", bath, loop, rng) == "swapped"
            for _ in range(8):
                bath.advance(3600.0, 600.0)
                if true_answer("crust", bath, loop, rng) != "nowhere":
                    break
            seen = Asked(ask="crust", outcome=true_answer("crust", bath, loop, rng))
            by_crust += poles_told(seen, "") == "swapped"
        self.assertEqual((by_sign, by_crust), (30, 30))
