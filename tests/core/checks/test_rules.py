"""Every check found where it applies, silent where it does not."""

import unittest
from collections.abc import Sequence
from functools import cache
from typing import Any

from yellowbath.core.checks import find
from yellowbath.core.checks.fixes.trying import changed
from yellowbath.core.checks.limits import check_rows
from yellowbath.core.checks.registry import Finding, registered, stops
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.switch_on import points

# A bath with nothing to say about it.
QUIET: dict[str, Any] = {
    "mix": {"product": "soda_anhydrous"},
    "supply": {"polarity_tested": True, "rcd": True},
    "layout": {"joint_clear": True},
    "place": {"lid": False, "flames": False, "visitors": False},
}
_SUPPLY = {"polarity_tested": True, "rcd": True}
_BATTERY = {**_SUPPLY, "kind": "battery", "battery_ah": 60}
_LAB = {**_SUPPLY, "kind": "laboratory"}
_FIXED = {**_SUPPLY, "kind": "fixed"}
_SODA = {"product": "soda_anhydrous"}
_ACID = {"product": "vinegar_salt"}
_KEPT = {"product": "soda_anhydrous", "source": "reuse", "kept_salt_kg": 0.005}
_INERT = [{"id": "a1", "material": "coated_titanium"}]
_LONG = [{"grade": "scaled"}]
_ANVIL = [{"shape": {"kind": "stepped", "height_m": 0.08, "top_height_m": 0.08}}]
_TUB = {"shape": {"kind": "box", "length_m": 0.8, "width_m": 0.5, "height_m": 0.5}}

# Each check, with a change that calls it up.
CALLED: dict[str, dict[str, Any]] = {
    "sealed_hollow": {"pieces": [{"hollow": "sealed"}]},
    "ordnance_solid": {"pieces": [{"ordnance": "fragment"}]},
    "named_explosive": {"pieces": [{"name": "Hand grenade"}]},
    "named_risky": {"pieces": [{"name": "Old fuel tank"}]},
    "kept_ph": {"mix": {**_SODA, "source": "reuse", "kept_kg": 0.05, "strip_ph": 5.0}},
    "battery_left": {"supply": {**_SUPPLY, "buffer_battery": True}},
    "ordnance_whole": {"pieces": [{"ordnance": "whole"}]},
    "ordnance_fragment": {"pieces": [{"ordnance": "fragment", "solid": True}]},
    "metal_unknown": {"pieces": [{"metal": "unknown"}]},
    "hollow_unknown": {"pieces": [{"hollow": "unknown"}]},
    "coat_unknown": {"pieces": [{"paint": "unknown"}]},
    "charger_unknown": {"supply": {**_SUPPLY, "kind": "unknown"}},
    "wood_in_path": {"tank": {"bar_carries": True}},
    "basket_dissolves": {"pieces": [{"shape": {"kind": "pile", "basket": "aluminium"}}]},
    "basket_coated": {"pieces": [{"shape": {"kind": "pile", "basket": "galvanised"}}]},
    "basket_plastic": {"pieces": [{"shape": {"kind": "pile", "basket": "plastic"}}]},
    "grease": {"pieces": [{"grease": "some"}]},
    "paint_patches": {"pieces": [{"paint": "patches"}]},
    "paint_most": {"pieces": [{"paint": "most"}]},
    "metal_light": {"pieces": [{"other_metals": ["aluminium"]}]},
    "metal_cadmium": {"pieces": [{"other_metals": ["cadmium"]}]},
    "ordnance_hollow": {"pieces": [{"ordnance": "fragment", "shape": {"kind": "tube"}}]},
    "lead_paint": {"pieces": [{"paint": "patches", "lead_paint": True}]},
    "metal_dissolves": {"pieces": [{"other_metals": ["zinc"]}]},
    "metal_copper": {"pieces": [{"other_metals": ["copper"]}]},
    "metal_chrome": {"pieces": [{"other_metals": ["chrome"]}]},
    "embrittlement": {"pieces": [{"metal": "spring"}]},
    "thin_relic": {"pieces": [{"fragility": "relic"}]},
    "hanger_hard": {"pieces": [{"hanger": "chain"}]},
    "hanger_coated": {"pieces": [{"hanger": "galvanised"}]},
    "tank_metal": {"tank": {"material": "metal"}},
    "no_fit": {"pieces": [{"shape": {"kind": "bar", "length_m": 0.5}}]},
    "pieces_meet": {"pieces": [{"id": "p1", "y_m": 0.001}, {"id": "p2", "y_m": 0.004}]},
    "scrap_outside": {
        "layout": {"arrangement": "by_hand"},
        "anodes": [{"id": "a1", "x_m": 0.127}],
    },
    "scrap_meets": {
        "layout": {"arrangement": "by_hand"},
        "anodes": [{"id": "a1", "x_m": 0.115}, {"id": "a2", "x_m": 0.118}],
    },
    "own_vessel": {"pieces": [{"shape": {"kind": "tube"}}], "tank": {"shape": {"kind": "bore"}}},
    "half_dip": {"pieces": [{"shape": {"kind": "bar", "length_m": 0.5}, "hang": "long_down"}]},
    "overflow": {"tank": {"water_m3": 0.05}},
    "near_rim": {"tank": {"water_m3": 0.0205}},
    "hole_caps": {"tank": {"hole_height_m": 0.2}},
    "hole_drowned": {"tank": {"hole_height_m": 0.1, "water_m3": 0.012}},
    "joint_wet": {"layout": {"joint_clear": False}},
    "joint_asked": {"layout": {}},
    "short": {
        "pieces": [{"shape": {"kind": "box", "length_m": 0.2, "width_m": 0.2, "height_m": 0.2}}],
        "layout": {"wall_gap_m": 0.06},
    },
    "clearance": {"layout": {"wall_gap_m": 0.11}},
    "anode_refused": {"anodes": [{"id": "a1", "material": "stainless"}]},
    "anode_unknown": {"anodes": [{"id": "a1", "material": "unknown"}]},
    "anode_painted": {"anodes": [{"id": "a1", "material": "painted"}]},
    "product_unknown": {"mix": {"product": "unknown"}},
    "mix_refused": {"mix": {"product": "lye"}},
    "salt": {"mix": {"product": "table_salt"}},
    "dose_high": {"mix": {"product": "soda_anhydrous", "concentration_kg_m3": 30}},
    "dose_low": {"mix": {"product": "soda_anhydrous", "concentration_kg_m3": 1}},
    "polarity": {"supply": {"polarity_tested": False}},
    "overload": {"supply": {**_SUPPLY, "rated_a": 2.5}},
    "overload_far": {"supply": {**_SUPPLY, "rated_a": 0.5}},
    "start_range": {"supply": {**_SUPPLY, "rated_a": 40}},
    "underload": {"supply": {**_LAB, "limit_a": 0.3}},
    "no_current": {"supply": {**_LAB, "nominal_v": 1.5}},
    "too_fierce": {"pieces": [{"fragility": "relic"}]},
    "smart_alone": {"supply": {**_SUPPLY, "kind": "smart"}},
    "battery_unknown": {"supply": {**_BATTERY, "battery_ah": None}},
    "battery_bare": {"supply": _BATTERY},
    "battery_flat": {
        "supply": {"kind": "smart", "buffer_battery": True, "rated_a": 1, "polarity_tested": True}
    },
    "battery_only": {"supply": _BATTERY},
    "lead_thin": {"supply": {**_SUPPLY, "lead_area_m2": 0.5e-6}},
    "lead_far": {"supply": {**_SUPPLY, "lead_area_m2": 0.2e-6}},
    "rcd": {"supply": {"rcd": False, "polarity_tested": True}},
    "closed_room": {"place": {"where": "closed_room"}},
    "lid": {"place": {"lid": True}},
    "flames": {"place": {"flames": True}},
    "visitors": {"place": {"visitors": True}},
    "air_asked": {"place": {"lid": None}},
    "acid_anode": {"mix": _ACID},
    "acid_relic": {"mix": _ACID, "pieces": [{"fragility": "thin"}]},
    "acid_works_on": {"mix": _ACID},
    "chloride_kept": {"mix": _KEPT},
    "chloride_relic": {"mix": _KEPT, "pieces": [{"fragility": "relic"}]},
    "chlorine_indoors": {"mix": _ACID, "anodes": _INERT},
    "chlorine_outdoors": {"mix": _ACID, "anodes": _INERT, "place": {"where": "outdoors"}},
    "undissolved": {
        "mix": {"product": "baking_soda", "concentration_kg_m3": 60, "temperature_c": 0}
    },
    "cold_mix": {"mix": {"product": "soda_anhydrous", "temperature_c": 4}},
    "freezing_air": {"place": {"air_c": -3}},
    "bake_unfinished": {
        "mix": {"product": "soda_baked", "baked_before_kg": 0.5, "baked_after_kg": 0.42}
    },
    "bicarbonate_turns": {"mix": {"product": "baking_soda"}},
    "slow_bath": {
        "mix": {"product": "soda_anhydrous", "concentration_kg_m3": 0.5},
        "pieces": [{"grade": "scaled"}],
        "layout": {"arrangement": "one_side"},
    },
    "supply_trips": {"supply": {**_FIXED, "rated_a": 1, "protection": "hiccup"}},
    "shared_supply": {"supply": {**_SUPPLY, "other_a": 2}},
    "manual_mode": {"supply": {"kind": "smart", "manual_mode": True, "polarity_tested": True}},
    "battery_short": {"supply": {**_BATTERY, "battery_ah": 5}},
    "fuse_small": {"supply": {**_BATTERY, "fuse_a": 2}},
    "fuse_big": {"supply": {**_BATTERY, "fuse_a": 60}},
    "lead_drop": {"supply": {"polarity_tested": True, "lead_length_m": 20, "lead_area_m2": 1e-6}},
    "voltage_touch": {"supply": {**_LAB, "nominal_v": 30}},
    "voltage_high": {"supply": {**_LAB, "nominal_v": 31}},
    "too_hot": {"supply": {**_FIXED, "nominal_v": 36, "rated_a": 40}, "pieces": _LONG},
    "scald": {"tank": {"limit_c": 80}, "mix": {**_SODA, "temperature_c": 55}},
    "warm_bath": {"tank": {"limit_c": 30}},
    "top_up": {
        "pieces": [{"grade": "scaled"}],
        "supply": {**_LAB, "limit_a": 0.3},
        "place": {"where": "outdoors", "humidity": 0.1, "air_c": 30},
    },
    "froth": {"supply": {**_FIXED, "nominal_v": 36, "rated_a": 40}},
    "room_small": {"place": {"where": "closed_room", "room_m3": 5}, "pieces": _LONG},
    "room_full": {"place": {"where": "closed_room", "room_m3": 3}, "pieces": _LONG},
    "opening_small": {"place": {"opening_m2": 0.0005}},
    "filter_loop": {"place": {"filter_loop": True}},
    "scrape": {"pieces": _LONG},
    "scrap_worn": {
        "mix": {"product": "table_salt"},
        "anodes": [{"id": "a1", "diameter_m": 0.003}],
        "pieces": _LONG,
    },
    "overrun": {"pieces": [{"fragility": "relic"}]},
    "left_long": {"pieces": [{"fragility": "robust"}]},
    "bar_weak": {"tank": {"bar_m": 0.003}},
    "heavy_lift": {"pieces": _ANVIL, "tank": _TUB},
    "heavy_tank": {"tank": _TUB},
    "pieces_row": {"pieces": [{"id": "p1"}, {"id": "p2"}]},
    "pile_turn": {"pieces": [{"shape": {"kind": "pile"}}]},
    "chain": {"pieces": [{"parts": ["chain"]}]},
    "seized": {"pieces": [{"parts": ["seized"]}]},
    "moving_parts": {"pieces": [{"parts": ["moving"]}]},
    "enamel": {"pieces": [{"coats": ["enamel"]}]},
    "seasoning": {"pieces": [{"coats": ["seasoning"]}]},
    "brush_instead": {"pieces": [{"grade": "light"}]},
    "drilled": {"pieces": [{"contact": "drilled", "fragility": "relic"}]},
    "duty": {"pieces": [{"duty": "steering"}]},
    "floor_only": {"anodes": [{"id": "a1", "kind": "floor", "depth_m": 0.08}]},
    "scrap_short": {"anodes": [{"id": "a1", "floor_gap_m": 0.22}]},
    "wheel_instead": {
        "pieces": [{"shape": {"kind": "bar", "length_m": 0.03, "diameter_m": 0.006}}]
    },
}


def findings(**document: Any) -> Sequence[Finding]:
    plan = read_plan({**QUIET, **document}).plan
    return find(plan, answer(plan))


def ids(**document: Any) -> set[str]:
    return {f.id for f in findings(**document)}


@cache
def called(check_id: str) -> Sequence[Finding]:
    """What is found where a check is called up by its case."""
    return findings(**CALLED[check_id])


class Registry(unittest.TestCase):
    def test_a_sound_bath_is_left_alone(self) -> None:
        self.assertEqual(findings(), [])

    def test_each_check_is_called_up_by_its_case_and_the_list_is_whole(self) -> None:
        whole = {*CALLED, "field_doubted"}  # called up by a solved field only: test_watch
        self.assertEqual(set(registered()), whole)
        self.assertEqual(set(check_rows()), whole)
        for check_id in CALLED:
            with self.subTest(check_id):
                self.assertIn(check_id, {f.id for f in called(check_id)})

    def test_every_finding_says_what_why_and_how_to_mend(self) -> None:
        for check_id in CALLED:
            for f in called(check_id):
                with self.subTest(check_id, found=f.id):
                    for words in (f.title, f.evidence, f.reason, f.fix, f.source):
                        self.assertTrue(words)
                        self.assertNotIn("{", words)

    def test_what_is_ticked_on_the_list_says_what_is_so(self) -> None:
        """Nobody ticks a question, nor that something is not known."""
        for check_id, change in CALLED.items():
            plan = read_plan({**QUIET, **change}).plan
            for point in points(plan, called(check_id)):
                with self.subTest(check_id, point=point.text):
                    self.assertNotRegex(point.text, r"\?|^[^.:]*not known|[Dd]o not trust|\{")

    def test_every_row_says_what_calls_it_up(self) -> None:
        for check_id, row in check_rows().items():
            self.assertTrue(row.get("when"), check_id)

    def test_stops_come_first(self) -> None:
        found = findings(
            pieces=[{"grease": "some", "hollow": "sealed"}],
            place={"lid": True, "where": "closed_room"},
        )
        order = [f.severity for f in found]
        self.assertEqual(order, sorted(order, key=["stop", "caution", "note"].index))
        self.assertEqual({f.id for f in stops(found)}, {"sealed_hollow", "lid"})


_NEVER = (
    "stainless", "chromed", "galvanised", "copper", "brass", "lead", "aluminium", "titanium",
)  # fmt: skip


class TheDangerousOnes(unittest.TestCase):
    def test_metals_refused_on_the_plus_side(self) -> None:
        for metal in _NEVER:
            with self.subTest(metal):
                found = findings(anodes=[{"id": "a1", "material": metal}])
                refused = next(f for f in found if f.id == "anode_refused")
                self.assertEqual(refused.severity, "stop")
                self.assertIn("dm²", refused.fix)
                self.assertEqual(refused.changes[0].sets[0][1], "plain_steel")
        for metal in ("plain_steel", "cast_iron", "graphite", "coated_titanium"):
            self.assertNotIn("anode_refused", ids(anodes=[{"id": "a1", "material": metal}]))

    def test_salt_only_with_an_inert_anode_outdoors_and_no_relic(self) -> None:
        salt = {"mix": {"product": "table_salt"}}
        graphite = {"anodes": [{"id": "a1", "material": "graphite"}]}
        outdoors = {"place": {"where": "outdoors"}}
        relic = {"pieces": [{"fragility": "relic"}]}
        self.assertNotIn("salt", ids(**salt, **graphite, **outdoors))
        for combination in (
            {**salt},
            {**salt, **graphite},
            {**salt, **outdoors},
            {**salt, **graphite, **outdoors, **relic},
        ):
            self.assertIn("salt", ids(**combination))

    def test_the_acid_school_only_inert_outdoors_and_no_relic(self) -> None:
        way = {"mix": _ACID, "anodes": _INERT, "place": {"where": "outdoors"}}
        self.assertEqual(stops(findings(**way)), [])
        for change, stop in (
            ({"anodes": [{"id": "a1"}]}, "acid_anode"),
            ({"place": {"where": "open_door"}}, "chlorine_indoors"),
            ({"pieces": [{"fragility": "relic"}]}, "acid_relic"),
        ):
            self.assertIn(stop, {f.id for f in stops(findings(**{**way, **change}))})

    def test_a_battery_wants_both_fuse_and_switch(self) -> None:
        for extra, missing in (
            ({}, "a fuse and a switch"),
            ({"fuse_a": 10}, "a switch"),
            ({"line_switch": True}, "a fuse"),
        ):
            found = findings(supply={**_BATTERY, **extra})
            bare = next(f for f in found if f.id == "battery_bare")
            self.assertIn(f"without {missing}.", bare.evidence)
        fitted = {**_BATTERY, "fuse_a": 10, "line_switch": True}
        self.assertNotIn("battery_bare", ids(supply=fitted))

    def test_the_dose_offered_brings_the_load_down_and_the_density_up(self) -> None:
        """Recomputed whole: within a tenth of 80 % of the rating, and over the band's edge."""
        over = {"supply": {**_SUPPLY, "rated_a": 2.5}}
        under = {"mix": {"product": "soda_anhydrous", "concentration_kg_m3": 0.6}}
        for document, check_id in ((over, "overload"), (under, "underload")):
            found = next(f for f in findings(**document) if f.id == check_id)
            change = next(c for c in found.changes if c.label.startswith("Dose"))
            plan = changed(read_plan({**QUIET, **document}).plan, change.sets)
            assert plan
            made = answer(plan)
            if check_id == "overload":
                self.assertAlmostEqual(made.load.value, 0.8, delta=0.08)
            else:
                self.assertGreater(made.density.value, made.band.low)

    def test_evidence_is_in_the_persons_units(self) -> None:
        found = findings(system="us", layout={"wall_gap_m": 0.11})
        self.assertIn(" in", next(f for f in found if f.id == "clearance").evidence)

    def test_the_limit_offered_for_a_relic_gets_there(self) -> None:
        relic = {"pieces": [{"fragility": "relic"}]}
        fierce = next(f for f in findings(**relic) if f.id == "too_fierce")
        limit = float(fierce.fix.split("About ")[1].split(" A")[0])
        gentle = {**_LAB, "limit_a": limit * 0.99}
        self.assertNotIn("too_fierce", ids(**relic, supply=gentle))
