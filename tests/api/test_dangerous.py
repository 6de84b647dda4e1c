"""A hundred and twenty attempts at switching on a bath that can hurt, through the API: none passes.

Written from the craft's own list of dangers: metals that poison, salt and acid, ordnance and
hollows, chargers that refuse or burn, thin leads, high volts, gas under a lid, things that touch.
"""

from collections.abc import Iterator
from typing import Any

from tests.api.test_api import ApiCase
from tests.longer import some
from tests.shops import QUIET

Document = dict[str, Any]
METALS = (
    "stainless", "chromed", "galvanised", "copper", "brass", "lead", "aluminium", "titanium",
)  # fmt: skip
OUT = {"where": "outdoors", "lid": False, "flames": False, "visitors": False}
INERT = [{"id": "a1", "material": "coated_titanium"}, {"id": "a2", "material": "graphite"}]
ONE_STEEL = [{"id": "a1", "material": "coated_titanium"}, {"id": "a2"}]
SUPPLY = {"polarity_tested": True, "rcd": True}
BATTERY = {**SUPPLY, "kind": "battery", "battery_ah": 60, "fuse_a": 10, "line_switch": True}
BUFFER = {**BATTERY, "kind": "smart", "buffer_battery": True}
SOUND: Document = {"id": "p1", "name": "Sound one", "y_m": -0.03}
SODA = {"product": "soda_anhydrous"}


def second(**piece: Any) -> list[Document]:
    """A sound piece and another, in that order: the second is as dangerous as the first."""
    return [SOUND, {"id": "p2", "name": "The other", "y_m": 0.03, **piece}]


def metals() -> Iterator[tuple[str, Document]]:
    for m in METALS:
        yield f"{m} all of it", {"anodes": [{"id": "a1", "material": m}]}
        yield f"{m} the second rod", {"anodes": [{"id": "a1"}, {"id": "a2", "material": m}]}
        by_hand = [{"id": "a1", "x_m": -0.1}, {"id": "a2", "x_m": 0.1},
                   {"id": "a3", "y_m": 0.1, "material": m}]  # fmt: skip
        placing = {"arrangement": "by_hand", "joint_clear": True}
        yield f"{m} the third by hand", {"anodes": by_hand, "layout": placing}


def mixes() -> Iterator[tuple[str, Document]]:
    for school in ("table_salt", "vinegar_salt"):
        mix = {"product": school}
        yield f"{school} with steel", {"mix": mix, "place": OUT}
        yield f"{school} with one of steel", {"mix": mix, "place": OUT, "anodes": ONE_STEEL}
        for where in ("open_door", "closed_room"):
            yield f"{school} {where}", {
                "mix": mix, "anodes": INERT, "place": {**OUT, "where": where},
            }  # fmt: skip
        for fragility in ("relic", "thin"):
            frail = {"mix": mix, "place": OUT, "anodes": INERT}
            yield f"{school} {fragility}", {**frail, "pieces": [{"fragility": fragility}]}
            yield f"{school} second {fragility}", {**frail, "pieces": second(fragility=fragility)}
    kept = {**SODA, "source": "reuse", "kept_kg": 0.08, "kept_salt_kg": 0.005}
    yield "salt got in, relic", {"mix": kept, "pieces": [{"fragility": "relic"}]}
    yield "salt got in, second thin", {"mix": kept, "pieces": second(fragility="thin")}
    yield "salt got in, inert indoors", {"mix": kept, "anodes": INERT}
    yield "salt got in, one inert indoors", {"mix": kept, "anodes": ONE_STEEL}
    yield "much salt got in", {"mix": {**kept, "kept_salt_kg": 0.2}}


def pieces() -> Iterator[tuple[str, Document]]:
    for kind in ("plate", "bar", "tube", "box"):
        whole = {"shape": {"kind": kind, "length_m": 0.1}, "ordnance": "whole"}
        yield f"whole ordnance, {kind}", {"pieces": [whole]}
    yield "whole ordnance, the second", {"pieces": second(ordnance="whole")}
    tube = {"ordnance": "fragment", "shape": {"kind": "tube", "length_m": 0.1}}
    yield "a fragment that is a tube", {"pieces": [tube]}
    for hollow in ("vented", "sealed"):
        yield f"a fragment, {hollow}", {"pieces": [{"ordnance": "fragment", "hollow": hollow}]}
    yield "a sealed hollow", {"pieces": [{"hollow": "sealed"}]}
    yield "a sealed hollow, the second", {"pieces": second(hollow="sealed")}
    for metal in ("aluminium", "magnesium", "cadmium"):
        yield f"{metal} on it", {"pieces": [{"other_metals": [metal]}]}
        yield f"{metal} after brass", {"pieces": [{"other_metals": ["copper", metal]}]}
        yield f"{metal} on the second", {"pieces": second(other_metals=[metal])}


def tanks() -> Iterator[tuple[str, Document]]:
    yield "a tank of metal", {"tank": {"material": "metal"}}
    yield "it runs over", {"tank": {"water_m3": 0.05}}
    yield "over a hole", {"tank": {"hole_height_m": 0.1, "water_m3": 0.012}}
    yield "hotter than the tank may be", {"tank": {"limit_c": 30}, "mix": {**SODA,
                                          "temperature_c": 45}}  # fmt: skip
    fierce = {**SUPPLY, "kind": "fixed", "nominal_v": 30, "rated_a": 40}
    yield "boiling by its own amps", {"supply": fierce, "pieces": [{"grade": "scaled"}],
                                      "mix": {**SODA, "concentration_kg_m3": 20}}  # fmt: skip
    yield "a bar that breaks", {"tank": {"bar_m": 0.003}}
    yield "the joint in the liquid", {"layout": {"joint_clear": False}}
    block = {"shape": {"kind": "box", "length_m": 0.2, "width_m": 0.2, "height_m": 0.2}}
    yield "scrap touches the piece", {"pieces": [block], "layout": {"wall_gap_m": 0.06,
                                      "joint_clear": True}}  # fmt: skip
    yield "longer than the tank", {"pieces": [{"shape": {"kind": "bar", "length_m": 0.5}}]}
    yield "the second longer than the tank", {"pieces": second(
        shape={"kind": "bar", "length_m": 0.5})}  # fmt: skip
    narrow = {"shape": {"kind": "tube", "length_m": 0.2, "outer_diameter_m": 0.03,
              "inner_diameter_m": 0.014}}  # fmt: skip
    bore = [{"id": "a1"}, {"id": "a2", "kind": "bore", "piece": "p1"}]
    yield "a rod as thick as the bore", {"anodes": bore, "pieces": [narrow]}
    yield "two in one place", {"pieces": [{"id": "p1", "y_m": 0.001}, {"id": "p2", "y_m": 0.004}]}
    hand = {"arrangement": "by_hand", "joint_clear": True}
    yield "scrap in the wall", {"layout": hand, "anodes": [{"id": "a1", "x_m": 0.127}]}
    yield "scrap in scrap", {"layout": hand, "anodes": [{"id": "a1", "x_m": 0.115},
                             {"id": "a2", "x_m": 0.118}]}  # fmt: skip
    yield "a sheet in the wall", {"anodes": [{"id": "a1", "kind": "plate", "width_m": 0.2}]}


def supplies() -> Iterator[tuple[str, Document]]:
    for kind in ("transformer", "selector", "laboratory", "fixed"):
        for volts in (31, 36, 48):
            yield f"{kind} of {volts} V", {"supply": {**SUPPLY, "kind": kind, "nominal_v": volts}}
    yield "a bank of 36 V", {"supply": {**BATTERY, "nominal_v": 36}}
    yield "a buffer bank of 48 V", {"supply": {**BUFFER, "nominal_v": 48}}
    for rated in (30, 40, 75):
        yield f"an engine start of {rated} A", {"supply": {**SUPPLY, "rated_a": rated}}
    yield "the boost is on", {"supply": {**SUPPLY, "start_range": True}}
    manual = {**SUPPLY, "kind": "smart", "manual_mode": True}
    yield "a smart one's boost", {"supply": {**manual, "rated_a": 40}}
    yield "far over its rating", {"supply": {**SUPPLY, "rated_a": 0.5}}
    yield "far over with others", {"supply": {**SUPPLY, "rated_a": 6, "other_a": 20}}
    yield "manual far over", {"supply": {**manual, "rated_a": 0.5}}
    yield "a smart charger alone", {"supply": {**SUPPLY, "kind": "smart"}}
    for protection in ("hiccup", "fuse"):
        yield (
            f"a supply that lets go, {protection}",
            {"supply": {**SUPPLY, "kind": "fixed", "rated_a": 1, "protection": protection}},
        )
    for name, supply in (("battery", BATTERY), ("buffer", BUFFER)):
        yield f"{name} without fuse", {"supply": {**supply, "fuse_a": None}}
        yield f"{name} without switch", {"supply": {**supply, "line_switch": False}}
        yield f"{name} with a great fuse", {"supply": {**supply, "fuse_a": 60}}
        thin = {**supply, "lead_area_m2": 0.5e-6}
        yield f"{name}, thin lead, usual fuse", {"supply": thin}
    yield "a great fuse before a charger", {"supply": {**SUPPLY, "fuse_a": 60}}
    yield "leads like hair", {"supply": {**SUPPLY, "lead_area_m2": 0.2e-6}}
    strong = {**SUPPLY, "kind": "laboratory", "nominal_v": 24, "rated_a": 20, "limit_a": 15}
    yield "bell wire at fifteen amps", {
        "supply": {**strong, "lead_area_m2": 0.5e-6}, "mix": {**SODA, "concentration_kg_m3": 15},
    }  # fmt: skip
    yield "too few volts to do anything", {"supply": {**SUPPLY, "kind": "laboratory",
                                           "nominal_v": 1.5}}  # fmt: skip


def places() -> Iterator[tuple[str, Document]]:
    yield "a lid", {"place": {**OUT, "lid": True}}
    yield "a lid indoors", {"place": {"lid": True, "flames": False}}
    yield "a pilot light", {"place": {**OUT, "flames": True}}
    yield "a pilot light, nobody knows of a lid", {"place": {"where": "outdoors", "flames": True}}
    yield "a lid over two pieces", {"pieces": second(), "place": {**OUT, "lid": True}}
    long = {"pieces": [{"grade": "scaled"}]}
    for room in (1.5, 2):
        yield f"a closet of {room} m3", {**long, "place": {**OUT, "where": "closed_room",
                                         "room_m3": room}}  # fmt: skip


ATTEMPTS = dict([*metals(), *mixes(), *pieces(), *tanks(), *supplies(), *places()])


class Attempts(ApiCase):
    def test_a_hundred_and_twenty_attempts_and_none_is_switched_on(self) -> None:
        self.assertGreaterEqual(len(ATTEMPTS), 120)
        for name in some(list(ATTEMPTS), 24):
            change = ATTEMPTS[name]
            with self.subTest(name):
                self.attempt({**QUIET, **change})

    def attempt(self, document: Document) -> None:
        made = self.http.post("/api/plans", json={"document": document})
        self.assertEqual(made.status_code, 201, made.text[:200])
        plan = made.json()
        stops = [f for f in plan["read"]["answer"]["findings"] if f["severity"] == "stop"]
        self.assertTrue(stops)
        for f in stops:
            self.assertTrue(f["changes"], f"{f['id']} has no mend that works")
        begun = self.http.post("/api/runs", json={"plan_id": plan["id"]})
        self.assertEqual(begun.status_code, 201, begun.text[:200])
        run = begun.json()
        path = f"/api/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        for entry in (self.entry(1, "checklist", ticked=ticked), self.entry(2, "switch_on")):
            got = self.http.post(path, json=entry)
            self.assertEqual(got.status_code, 409, got.text[:200])
        self.assertEqual(self.get(f"/runs/{run['id']}")["state"], "planned")

    def test_a_sound_bath_is(self) -> None:
        """The test above can fail: what is sound passes by the same steps."""
        run = self.start(QUIET)
        path = f"/api/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        for entry in (self.entry(1, "checklist", ticked=ticked), self.entry(2, "switch_on")):
            self.assertEqual(self.http.post(path, json=entry).status_code, 200)

    def test_what_became_known_since_stops_it_at_the_switch(self) -> None:
        """The run keeps its own design; the facts of place and metals are the newest there are."""
        facts: dict[str, Document] = {
            "lid": {"place": {**OUT, "lid": True}},
            "flames": {"place": {**OUT, "flames": True}},
            "metal_light": {"pieces": [{"name": "Gate latch", "other_metals": ["aluminium"]}]},
            "anode_refused": {"anodes": [{"id": "a1"}, {"id": "a2", "material": "stainless"}]},
            "ordnance_whole": {"pieces": [{"name": "Gate latch", "ordnance": "whole"}]},
            "tank_metal": {"tank": {"material": "metal"}},
            "joint_wet": {"layout": {"joint_clear": False}},
            "room_full": {"place": {**OUT, "where": "closed_room", "room_m3": 2}},
        }
        for stop, change in facts.items():
            with self.subTest(stop):
                base = {**QUIET, **({"pieces": [{"grade": "scaled"}]} if "room" in stop else {})}
                plan = self.post("/plans", {"document": base}, 201)
                run = self.post("/runs", {"plan_id": plan["id"]}, 201)
                path = f"/runs/{run['id']}/entries"
                ticked = [p["id"] for p in run["points"]]
                self.post(path, self.entry(1, "checklist", ticked=ticked), 200)
                body = {"document": {**base, **change}, "base_revision": 1}
                self.post(f"/plans/{plan['id']}/revisions", body, 200)
                got = self.post(path, self.entry(2, "switch_on"), 409)
                self.assertIn(stop, {f["id"] for f in got["data"]["findings"]})
                self.assertIn(stop, {f["id"] for f in self.get(f"/runs/{run['id']}")["stops"]})

    def test_differences_of_design_are_told_and_block_nothing(self) -> None:
        plan = self.post("/plans", {"document": QUIET}, 201)
        run = self.post("/runs", {"plan_id": plan["id"]}, 201)
        other = {
            **QUIET,
            "mix": {**SODA, "concentration_kg_m3": 8},
            "supply": {**SUPPLY, "rated_a": 10},
        }
        self.post(f"/plans/{plan['id']}/revisions", {"document": other, "base_revision": 1}, 200)
        path = f"/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        self.post(path, self.entry(1, "checklist", ticked=ticked), 200)
        on = self.post(path, self.entry(2, "switch_on"), 200)
        self.assertEqual((on["state"], on["head"], on["revision"]), ("running", 2, 1))
        told = {d["name"]: (d["one"], d["other"]) for d in on["since_planned"]}
        self.assertEqual(told["Mix: how much soda, dry"], ("5 g/L", "8 g/L"))

    def test_what_becomes_known_while_it_runs_is_switch_off_now(self) -> None:
        plan = self.post("/plans", {"document": QUIET}, 201)
        run = self.post("/runs", {"plan_id": plan["id"]}, 201)
        path = f"/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        self.post(path, self.entry(1, "checklist", ticked=ticked), 200)
        self.post(path, self.entry(2, "switch_on"), 200)
        lid = {**QUIET, "place": {**OUT, "lid": True}}
        self.post(f"/plans/{plan['id']}/revisions", {"document": lid, "base_revision": 1}, 200)
        (first, *_) = self.get(f"/runs/{run['id']}")["actions"]
        self.assertEqual((first["kind"], first["danger"]), ("switch_off_now", True))
        self.assertIn("Lid on", first["why"])

    def test_a_kept_mix_remembers_its_salt_whatever_the_plan_says(self) -> None:
        detail = {"kind": "mix", "product": "soda_anhydrous", "water_m3": 0.02, "salts_kg": 0.1,
                  "salt_kg": 0.004}  # fmt: skip
        kept = self.post("/kit", {"thing": {"name": "Old mix", "detail": detail}}, 200)
        self.assertTrue(any("salt" in line for line in kept["lines"]))
        self.assertEqual(kept["mix"]["salts_kg"], 0.1)
        frail = {**QUIET, "pieces": [{"fragility": "relic"}],
                 "kit": [{"role": "batch", "ref": kept["id"]}]}  # fmt: skip
        run = self.start(frail)
        path = f"/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        got = self.post(path, self.entry(1, "checklist", ticked=ticked), 409)
        self.assertIn("chloride_relic", {f["id"] for f in got["data"]["findings"]})
        # poured into another, it goes along
        clean = {**detail, "salt_kg": 0.0}
        other = self.post("/kit", {"thing": {"name": "Clean mix", "detail": clean}}, 200)
        poured = self.post(
            f"/kit/{other['id']}/done", {"what": "poured_in", "other": kept["id"]}, 200
        )
        self.assertAlmostEqual(poured["mix"]["salt_kg"], 0.004)
        self.assertEqual(poured["word"], "foul")
        # and none of it counts as soda
        asked = {"water": "40 L", "dose": "5 g/L"}
        added = self.post(f"/kit/{other['id']}/to-add", asked, 200)
        self.assertEqual(added["salts"], "0 g")

    def test_a_bare_temperature_is_in_the_shops_unit(self) -> None:
        for system, typed, celsius in (
            ("us", "75", 23.9), ("metric", "24", 24.0), ("us", "24 C", 24.0),
            ("metric", "75 F", 23.9),
        ):  # fmt: skip
            self.set(system=system)
            self.clock.to(0)
            run = self.start(QUIET)
            path = f"/runs/{run['id']}/entries"
            ticked = [p["id"] for p in run["points"]]
            self.post(path, self.entry(1, "checklist", ticked=ticked), 200)
            self.post(path, self.entry(2, "switch_on"), 200)
            entry = self.entry(30, "reading", bath=typed, current_a=3.0)
            made = self.post(path, entry, 200)
            unit = "°F" if system == "us" else "°C"
            self.assertEqual(made["temperature_unit"], unit)
            line = next(x for x in made["log"] if x["kind"] == "reading")
            self.assertAlmostEqual(line["detail"]["bath_c"], celsius, places=1)
            self.assertEqual(line["detail"]["bath"], typed)
            bad = self.post(path, self.entry(31, "reading", bath="900 F", current_a=3.0), 422)
            self.assertIn("pull the plug", bad["detail"])
