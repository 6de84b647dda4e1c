"""Mixes with a history, and how the shop's things stand."""

import unittest
from datetime import UTC, datetime

from yellowbath.core.checks import find
from yellowbath.core.chemistry.batch import (
    Batch,
    Queued,
    Use,
    added,
    by_strip,
    decanted,
    in_turn,
    poured_out,
    to_add,
    together,
    topped_up,
    used,
    verdict,
)
from yellowbath.core.chemistry.liquid import SODA
from yellowbath.core.data import param
from yellowbath.core.kit import (
    KitAnode,
    KitChemical,
    KitEvent,
    KitMix,
    KitPump,
    Stands,
    Thing,
    stands,
    worn,
)
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.units import show

AT = datetime(2026, 3, 1, 12, 0, tzinfo=UTC)


def written(value: float, quantity: str) -> str:
    return str(show(value, quantity, "metric"))


def event(what: str, **more: object) -> KitEvent:
    return KitEvent.model_validate({"at": AT, "what": what, **more})


def stood(thing: Thing, log: list[KitEvent], used_by: str = "") -> Stands:
    return stands(thing, worn(thing.detail, log), used_by, written)


class Mixes(unittest.TestCase):
    def test_water_goes_and_soda_stays(self) -> None:
        """0.336 g of water an ampere-hour (Faraday); nothing lifted, nothing lost but water."""
        before = Batch(0.020, soda=0.1)
        after = used(before, Use(charge=100, seconds=36000, evaporated=0.001))
        self.assertAlmostEqual(before.water - after.water, 100 * 0.33609e-6 + 0.001)
        self.assertEqual(after.soda, before.soda)
        full = topped_up(after, before.water - after.water)
        self.assertAlmostEqual(full.liquid().salts[SODA], 5.0)

    def test_what_is_carried_out_is_water_and_soda_alike(self) -> None:
        after = used(Batch(0.010, soda=0.05), Use(0, 0, surface=0.5))
        self.assertAlmostEqual(after.soda / after.water, 5.0)
        self.assertAlmostEqual(0.010 - after.water, 0.5 * param("drag_out_m").value)

    def test_half_of_the_baking_soda_turns_in_its_half_life(self) -> None:
        """And leaves 63.1 % of its mass as soda (molar masses)."""
        days = param("bicarbonate_half_life_d").value
        after = used(Batch(0.020, bicarbonate=0.2), Use(0, days * 86400))
        self.assertAlmostEqual(after.bicarbonate, 0.1)
        self.assertAlmostEqual(after.soda, 0.1 * 105.988 / 168.012, places=4)

    def test_a_strip_moves_carbonate_without_making_any(self) -> None:
        mixed = Batch(0.020, soda=0.05, bicarbonate=0.1)
        read = by_strip(mixed, mixed.liquid().ph(20.0), 20.0)
        self.assertAlmostEqual(read.soda, mixed.soda, places=4)
        more = by_strip(mixed, 10.6, 20.0)
        carbon = [b.soda / 105.988 + b.bicarbonate / 84.006 for b in (mixed, more)]
        self.assertAlmostEqual(carbon[0], carbon[1])
        self.assertGreater(more.soda, mixed.soda)

    def test_halves_poured_together_add_up(self) -> None:
        one, other = Batch(0.010, soda=0.05, dirt=0.01), Batch(0.006, bicarbonate=0.06, charge=30)
        both = together(one, other)
        self.assertEqual((both.water, both.soda, both.bicarbonate), (0.016, 0.05, 0.06))
        self.assertEqual((both.dirt, both.charge), (0.01, 30))
        half = poured_out(both, 0.008)
        self.assertAlmostEqual(half.liquid().total, both.liquid().total)

    def test_what_to_add_brings_it_there(self) -> None:
        old = Batch(0.012, soda=0.04)
        water, salts = to_add(old, 0.020, 5.0)
        made = added(topped_up(old, water), SODA, salts)
        self.assertAlmostEqual(made.liquid().total, 5.0)
        self.assertAlmostEqual(made.water, 0.020)
        self.assertEqual(to_add(Batch(0.03, soda=1.0), 0.02, 5.0), (0.0, 0.0))

    def test_changed_by_dirt_and_not_by_amp_hours(self) -> None:
        self.assertEqual(verdict(Batch(0.02, soda=0.1, charge=5000)).word, "good")
        muddy = Batch(0.02, soda=0.1, dirt=0.2)
        self.assertEqual(verdict(muddy).word, "settle")
        self.assertEqual(verdict(decanted(muddy)).word, "good")
        self.assertEqual(verdict(Batch(0.02, soda=0.1, dirt=0.6)).word, "foul")
        self.assertEqual(verdict(Batch(0.02, soda=0.1, chloride=0.01)).word, "foul")
        self.assertEqual(verdict(Batch(0.0001)).word, "gone")

    def test_delicate_first_foulest_last(self) -> None:
        waiting = [Queued("scaled", 0, 3), Queued("tool", 1, 1), Queued("relic", 3, 2),
                   Queued("latch", 1, 0)]  # fmt: skip
        self.assertEqual([q.name for q in in_turn(waiting)], ["relic", "latch", "tool", "scaled"])


class Things(unittest.TestCase):
    def test_scrap_is_to_scrape_then_free_then_worn(self) -> None:
        rods = Thing(name="Rods", detail=KitAnode(new_kg=1.0))
        heavy = event("used", charge_ah=100.0)
        self.assertEqual(stood(rods, [heavy]).word, "to scrape")
        self.assertEqual(stood(rods, [heavy, event("scraped")]).word, "free")
        self.assertEqual(
            stood(rods, [event("weighed", amount=0.4)]).word,
            "worn",
        )
        # 5 % of the charge takes iron at 1.042 g an ampere-hour (Faraday; the share is judged)
        used_up = stood(rods, [event("used", charge_ah=10000.0)])
        self.assertAlmostEqual(used_up.left_kg or 0, 1.0 - 10000 * 0.05 * 1.0418e-3)

    def test_an_inert_anode_loses_nothing_by_the_charge(self) -> None:
        anode = {"id": "a1", "material": "graphite"}
        coal = Thing(name="Rod", detail=KitAnode.model_validate({"new_kg": 0.4, "anode": anode}))
        self.assertEqual(
            stood(coal, [event("used", charge_ah=9e3)]).left_kg,
            0.4,
        )

    def test_a_pump_is_back_flushed_after_its_hours(self) -> None:
        pump = Thing(name="Pump", detail=KitPump(hourly_m3=0.4, flush_s=8 * 3600))
        log = [event("used", seconds=5 * 3600), event("used", seconds=3 * 3600)]
        self.assertEqual(stood(pump, log[:1]).word, "free")
        self.assertEqual(stood(pump, log).word, "to back-flush")
        self.assertEqual(stood(pump, [*log, event("flushed")]).word, "free")
        plan = read_plan({"place": {"filter_loop": True, "pump_m3": 0.4}}).plan
        worked = answer(plan)
        told = next(f.evidence for f in find(plan, worked) if f.id == "filter_loop")
        hours = worked.fill.water.value / 0.4
        self.assertIn(f"all of it in {show(hours * 3600, 'time')}", told)

    def test_in_use_wins_and_says_where(self) -> None:
        made = stands(
            Thing(name="Rods", detail=KitAnode()), worn(KitAnode(), []), "Gate latch", written
        )
        self.assertEqual((made.word, made.why), ("in use", "In the bath of Gate latch."))

    def test_a_shelf_runs_low_and_out(self) -> None:
        soda = Thing(name="Soda", detail=KitChemical(left_kg=1.0, low_kg=0.3))
        log = [event("used", amount=0.8)]
        self.assertEqual(stood(soda, log).word, "running low")
        log.append(event("restocked", amount=1.0))
        self.assertEqual(stood(soda, log).word, "free")
        log.append(event("used", amount=5.0))
        self.assertEqual(stood(soda, log).word, "gone")

    def test_a_mix_says_what_is_in_it(self) -> None:
        mix = Thing(name="Mix", detail=KitMix(product="baking_soda", water_m3=0.02, salts_kg=0.1))
        made = stands(
            mix, worn(mix.detail, [event("used", charge_ah=20.0, seconds=36000)]), "", written
        )
        self.assertEqual(made.word, "free")
        self.assertTrue(any("baking soda" in line for line in made.lines))
        self.assertTrue(any("pH 8" in line or "pH 9" in line for line in made.lines))
