"""The kit, tables, dose curve and tanks over HTTP."""

from typing import Any

from tests.api.test_api import ApiCase
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.units import show
from yellowbath.workflows.plans.field import warm_up

CRATE = {"kind": "tank", "tank": {"shape": {"kind": "box", "length_m": 0.45, "width_m": 0.32}}}


def thing(name: str, detail: dict[str, Any], **typed: str) -> dict[str, Any]:
    return {
        "thing": {"name": name, "detail": detail, "typed": {f"/{k}": t for k, t in typed.items()}}
    }


class Kit(ApiCase):
    def add(self, name: str, detail: dict[str, Any], **typed: str) -> dict[str, Any]:
        made: dict[str, Any] = self.post("/kit", thing(name, detail, **typed), 200)
        return made

    def test_typed_in_any_unit_and_refused_in_words(self) -> None:
        lead = self.add("Red pair", {"kind": "lead"}, length_m="6 ft", area_m2="14 AWG")
        detail = lead["read"]["thing"]["detail"]
        self.assertAlmostEqual(detail["length_m"], 1.8288)
        self.assertAlmostEqual(detail["area_m2"] * 1e6, 2.081, places=3)
        for wrong in (
            thing("x", {"kind": "lead"}, length_m="0 m"),
            thing("x", {"kind": "lead"}, length_m="red"),
            thing("", {"kind": "lead"}),
            thing("x", {"kind": "spoon"}),
            thing("x", {"kind": "lead", "colour": "red"}),
        ):
            problem = self.post("/kit", wrong, 422)
            self.assertTrue(problem["faults"] and problem["remedy"], wrong)
        self.assertEqual(len(self.get("/kit")["items"]), 1)

    def test_while_it_is_typed_faults_stand_beside_the_field(self) -> None:
        read = self.post("/kit/read", thing("", {"kind": "chemical"}, left_kg="-3 g"), 200)
        self.assertIn("/left_kg", read["faults"])
        self.assertEqual(read["shown"]["/left_kg"], "-3 g")

    def test_put_away_and_brought_back(self) -> None:
        made = self.add("Crate", CRATE)
        self.assertEqual(self.http.delete(f"/api/kit/{made['id']}").status_code, 204)
        self.assertEqual(self.get("/kit")["items"], [])
        self.http.post(f"/api/kit/{made['id']}/back")
        self.assertEqual(len(self.get("/kit")["items"]), 1)
        self.assertEqual(self.http.delete("/api/kit/none").status_code, 404)

    def test_a_mix_is_topped_up_poured_together_and_asked_what_to_add(self) -> None:
        mixes = [self.add(n, {"kind": "mix", "water_m3": 0.01, "salts_kg": 0.05}) for n in "ab"]
        one, other = (m["id"] for m in mixes)
        done = f"/kit/{one}/done"
        self.post(done, {"what": "topped_up", "amount": "2 L"}, 200)
        both = self.post(done, {"what": "poured_in", "other": other}, 200)
        self.assertAlmostEqual(both["mix"]["water_m3"], 0.022)
        self.assertAlmostEqual(both["mix"]["salts_kg"], 0.1)
        self.assertEqual(len(self.get("/kit")["items"]), 1)
        more = self.post(f"/kit/{one}/to-add", {"water": "30 L", "dose": "5 g/L"}, 200)
        self.assertEqual((more["water"], more["salts"]), ("8 L", "50 g"))
        for wrong in (
            {"what": "scraped"},
            {"what": "topped_up", "amount": "minus"},
            {"what": "topped_up", "amount": "9000 L"},
            {"what": "poured_in", "other": one},
            {"what": "strip", "amount": "40"},
        ):
            self.assertTrue(self.post(done, wrong, 422)["detail"], wrong)

    def test_a_run_draws_and_writes_back_once(self) -> None:
        rods = self.add("Bars", {"kind": "anode", "new_kg": 1.0})
        soda = self.add("Soda", {"kind": "chemical", "left_kg": 1.0})
        kit = [{"role": "anode", "ref": rods["id"]}, {"role": "chemical", "ref": soda["id"]},
               {"role": "tank", "ref": "gone"}]  # fmt: skip
        where, _ = self.switch_on(kit=kit)
        things = {t["read"]["thing"]["name"]: t for t in self.get("/kit")["items"]}
        self.assertEqual(things["Bars"]["word"], "in use")
        self.assertEqual(things["Soda"]["log"][0]["words"].split()[-1], "used")
        for minutes, kind in ((40, "reading"), (200, "lift"), (201, "clean"),
                              (202, "finish_start"), (210, "close")):  # fmt: skip
            detail = {"current_a": 2.5} if kind == "reading" else {}
            entry = self.entry(minutes, kind, **detail)
            self.post(where, entry, 200)
            self.post(where, entry, 200)  # the phone sends twice
        things = {t["read"]["thing"]["name"]: t for t in self.get("/kit")["items"]}
        self.assertEqual(things["Bars"]["word"], "free")
        (used,) = things["Bars"]["log"]
        charge = self.get(f"/book/{where.split('/')[2]}")["entry"]["charge_ah"]
        self.assertIn(str(show(charge, "charge")), used["words"])
        self.assertIn("Kept after Gate latch", things)

    def test_a_kept_mix_takes_the_water_and_soda_that_a_plan_adds(self) -> None:
        old = self.add("Old", {"kind": "mix", "water_m3": 0.01, "salts_kg": 0.04})
        mix = {**QUIET["mix"], "source": "reuse", "batch_id": old["id"], "kept_kg": 0.04}
        self.switch_on(kit=[{"role": "batch", "ref": old["id"]}], mix=mix)
        (thing,) = self.get("/kit")["items"]
        now = thing["mix"]
        self.assertEqual(thing["word"], "in use")
        self.assertAlmostEqual(now["salts_kg"] / (1000 * now["water_m3"]), 0.005, places=5)
        self.assertGreater(now["water_m3"], 0.014)

    def test_the_queue_puts_the_relic_first(self) -> None:
        for name, fragility, grade in (("Anvil", "robust", "scaled"), ("Hook", "relic", "heavy")):
            piece = {"name": name, "fragility": fragility, "grade": grade}
            self.post("/plans", {"document": {**QUIET, "pieces": [piece]}}, 201)
        self.assertEqual([q["name"] for q in self.get("/kit/queue")], ["Hook", "Anvil"])


class LookUp(ApiCase):
    def test_every_table_has_rows_as_wide_as_its_head_and_a_source(self) -> None:
        for system in ("metric", "us", "imperial"):
            for sheet in self.get(f"/tables?system={system}"):
                with self.subTest(sheet["id"], system=system):
                    self.assertTrue(sheet["rows"] and sheet["source"] and sheet["lead"])
                    widths = {len(r) for r in sheet["rows"]}
                    self.assertEqual(widths, {len(sheet["columns"])})

    def test_a_size_in_every_unit(self) -> None:
        (length,) = self.get("/tables/convert?text=3/8 in")
        self.assertIn("9.525 mm", length["texts"])
        (warm,) = self.get("/tables/convert?text=65 F")
        self.assertIn("18.3 °C", warm["texts"])
        self.assertEqual(self.get("/tables/convert?text=soda"), [])

    def test_every_check_says_what_calls_it_up(self) -> None:
        checks = self.get("/tables/checks")
        self.assertGreaterEqual(len(checks), 45)
        for c in checks:
            self.assertTrue(c["when"] and c["reason"] and c["source"])
            self.assertNotIn("{", c["title"] + c["reason"])
        self.assertTrue(any(c["differ"] for c in checks))


class Choosing(ApiCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        warm_up(SOLVER)

    def test_the_dose_curve_rises_and_meets_the_plan(self) -> None:
        curve = self.post("/plans/doses", {"document": dict(QUIET)}, 200)
        amps = [p["gives"] for p in curve["points"]]
        self.assertEqual(amps, sorted(amps))
        even = [p["least_percent"] for p in curve["points"]]
        self.assertLess(even[0], even[-1])
        settled = self.post("/plans/field", {"document": dict(QUIET)}, 200)
        gives = settled["read"]["answer"]["figures"]["amps.gives"]["value_si"]
        self.assertAlmostEqual(curve["now"]["gives"] / gives, 1, delta=0.02)
        self.assertTrue(1 <= curve["dose"] <= 40 and curve["why"])
        no_path = {**QUIET, "layout": {"arrangement": "by_hand"},
                   "anodes": [{"id": "a1", "x_m": 0.0}]}  # fmt: skip
        self.assertTrue(self.post("/plans/doses", {"document": no_path}, 422)["remedy"])

    def test_which_tank(self) -> None:
        self.post("/kit", thing("Crate", CRATE), 200)
        cup = {"kind": "bucket", "floor_diameter_m": 0.1, "rim_diameter_m": 0.1}
        self.post("/kit", thing("Cup", {"kind": "tank", "tank": {"shape": cup}}), 200)
        found = self.post("/plans/tanks", {"document": dict(QUIET)}, 200)
        self.assertEqual([(t["name"], t["fits"]) for t in found["owned"]],
                         [("Crate", True), ("Cup", False)])  # fmt: skip
        self.assertIn("mm", found["smallest"])
