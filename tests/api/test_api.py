"""The API: problem documents, stops, stale saves, replays; and what the schema says of itself."""

import tempfile
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from tests.server import described
from tests.shops import QUIET, STAINLESS, START, ShopCase
from yellowbath.api.app import make_app


class ApiCase(ShopCase):
    def set(self, **settings: Any) -> Any:
        """Change the shop's settings as its page does."""
        shop = self.get("/shop")
        base = shop.pop("revision")
        del shop["brought"]
        body = {"settings": {**shop, **settings}, "base_revision": base}
        return self.http.put("/api/shop", json=body)

    def setUp(self) -> None:
        super().setUp()
        app = make_app(self.shop)
        self.http = TestClient(app, base_url="http://127.0.0.1")
        self.addCleanup(self.http.close)
        self.addCleanup(app.state.meshes.close)

    def post(self, path: str, body: Any, status: int) -> Any:
        answer = self.http.post(f"/api{path}", json=body)
        self.assertEqual(answer.status_code, status, answer.text)
        if status >= 400:
            self.assertEqual(answer.headers["content-type"], "application/problem+json")
        return answer.json()

    def get(self, path: str) -> Any:
        answer = self.http.get(f"/api{path}")
        self.assertEqual(answer.status_code, 200, answer.text)
        return answer.json()

    def entry(self, minutes: float, kind: str, client_id: str = "", **detail: Any) -> Any:
        at = self.clock.to(minutes).isoformat()
        return {
            "client_id": client_id or f"{kind}-{minutes}-aaaa",
            "at": at,
            "detail": {"kind": kind, **detail},
        }

    def start(self, document: Any) -> Any:
        plan = self.post("/plans", {"document": document}, 201)
        return self.post("/runs", {"plan_id": plan["id"]}, 201)

    def switch_on(self, **changes: Any) -> tuple[str, Any]:
        run = self.start({**QUIET, **changes})
        where = f"/runs/{run['id']}/entries"
        ticked = [p["id"] for p in run["points"]]
        self.post(where, self.entry(0, "checklist", ticked=ticked), 200)
        return where, self.post(where, self.entry(1, "switch_on"), 200)


class Plans(ApiCase):
    def test_the_answer_follows_the_typing(self) -> None:
        pointer = "/pieces/0/shape/length_m"
        read = self.post("/plans/answer", {"document": {**QUIET, "typed": {pointer: "10 in"}}}, 200)
        self.assertEqual(read["shown"][pointer], "10 in")
        figure = read["answer"]["figures"]["amps.gives"]
        self.assertEqual(figure["unit"], "A")
        self.assertTrue(figure["low"] < figure["number"] < figure["high"])
        self.assertTrue(figure["expression"] and figure["inputs"] and figure["source"])

    def test_a_window_is_in_one_unit(self) -> None:
        for f in self.post("/plans/answer", {"document": QUIET}, 200)["answer"]["figures"].values():
            if f["low"] is not None:
                self.assertTrue(f["low"] <= f["number"] * 1.001, f["key"])
                self.assertTrue(f["number"] <= f["high"] * 1.001, f["key"])

    def test_a_malformed_document_is_a_problem_with_places(self) -> None:
        problem = self.post("/plans/answer", {"document": {"mix": {"product": "sugar"}}}, 422)
        self.assertEqual(problem["type"], "urn:yellowbath:invalid-document")
        self.assertEqual(problem["faults"][0]["pointer"], "/mix/product")

    def test_saving_with_a_fault_says_where(self) -> None:
        typed = {"/mix/concentration_kg_m3": "900 g/L"}
        problem = self.post("/plans", {"document": {**QUIET, "typed": typed}}, 422)
        self.assertIn("Allowed: 0.2 g/L to 60 g/L", problem["faults"][0]["message"])

    def test_a_stale_save_gets_409_and_both_versions(self) -> None:
        plan = self.post("/plans", {"document": QUIET}, 201)
        where = f"/plans/{plan['id']}/revisions"
        mine = {**QUIET, "name": "mine"}
        self.post(where, {"document": {**QUIET, "name": "theirs"}, "base_revision": 1}, 200)
        problem = self.post(where, {"document": mine, "base_revision": 1}, 409)
        self.assertEqual(problem["data"]["head_revision"], 2)
        self.assertEqual(problem["data"]["theirs"]["name"], "theirs")
        self.assertEqual(
            self.post(where, {"document": mine, "base_revision": 2}, 200)["revision"], 3
        )

    def test_what_is_not_there(self) -> None:
        for path in ("/plans/none", "/runs/none", "/book/none", "/nonsense"):
            answer = self.http.get(f"/api{path}")
            self.assertEqual(answer.status_code, 404)
            self.assertTrue(answer.json()["title"])


class Runs(ApiCase):
    def test_a_stop_blocks_switching_on_in_the_api_too(self) -> None:
        run = self.start(STAINLESS)
        where = f"/runs/{run['id']}/entries"
        for kind, detail in (("checklist", {"ticked": []}), ("switch_on", {})):
            problem = self.post(where, self.entry(1, kind, **detail), 409)
            self.assertEqual(problem["type"], "urn:yellowbath:stops-in-force")
            self.assertEqual(problem["data"]["findings"][0]["id"], "anode_refused")

    def test_a_replayed_entry_is_kept_once(self) -> None:
        where, _ = self.switch_on()
        body = self.entry(40, "reading", "from-the-phone", current_a=2.5)
        for _ in range(3):
            run = self.post(where, body, 200)
        self.assertEqual([line["client_id"] for line in run["log"]].count("from-the-phone"), 1)
        self.assertEqual(run["read_a"], 2.5)

    def test_bad_numbers_are_problems(self) -> None:
        where, _ = self.switch_on()
        for detail in ({"current_a": -3}, {"current_a": "much"}, {"bath_c": 900}):
            problem = self.post(where, self.entry(40, "reading", **detail), 422)
            self.assertTrue(problem["faults"])

    def test_the_clock_of_a_running_bath(self) -> None:
        where, run = self.switch_on()
        self.assertEqual(run["state"], "running")
        self.assertEqual(run["actions"][0]["kind"], "first_look")
        self.assertEqual(run["powered_since"], "2026-03-01T18:01:00Z")
        self.clock.to(61)
        later = self.get(where.removesuffix("/entries"))
        self.assertEqual(later["figures"]["run.powered"]["value_si"], 3600)
        self.assertEqual(self.get("/runs")[0]["state"], "running")
        self.assertEqual(START.hour, 18)

    def test_the_book_after_a_close(self) -> None:
        where, _ = self.switch_on()
        for minutes, kind, detail in (
            (40, "reading", {"current_a": 2.5}),
            (200, "lift", {}),
            (201, "clean", {}),
            (202, "finish_start", {}),
            (210, "close", {"hands_s": 600, "stamps": "WL"}),
        ):
            self.post(where, self.entry(minutes, kind, **detail), 200)
        (row,) = self.get("/book")["items"]
        page = self.get(f"/book/{row['run_id']}")
        self.assertEqual((page["entry"]["piece"], page["hands"]), ("Gate latch", "10 min"))
        self.assertTrue(page["took"].endswith("Ah/dm²"))
        (mix,) = self.get("/kit")["items"]
        self.assertEqual(mix["read"]["thing"]["name"], "Kept after Gate latch")
        put_in = 0.005 * page["entry"]["mix_water_m3"] * 1000
        # a little clings to the piece and is carried out
        self.assertAlmostEqual(mix["mix"]["salts_kg"] / put_in, 1, delta=0.01)
        self.assertLess(mix["mix"]["water_m3"], page["entry"]["mix_water_m3"])


class Shop(ApiCase):
    def test_settings_are_kept_and_checked(self) -> None:
        cap = [{"name": "cap", "level_kg": 0.02}]
        self.assertEqual(self.set(system="us", scoops=cap).status_code, 200)
        self.assertEqual(self.get("/shop")["system"], "us")
        wrong = self.set(scoops=[{"name": "cap", "level_kg": -1}])
        self.assertEqual(wrong.status_code, 422)


class Page(ApiCase):
    def test_the_page_is_served_for_every_address_and_says_when_it_is_not_built(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            http = TestClient(make_app(self.shop, Path(folder)), base_url="http://127.0.0.1")
            self.assertEqual(http.get("/plans/new").status_code, 503)
            (Path(folder) / "index.html").write_text("<title>Yellow Bath</title>")
            for path in ("/", "/plans/new", "/runs/x"):
                self.assertIn("Yellow Bath", http.get(path).text)
            http.close()

    def test_every_operation_documents_itself(self) -> None:
        api = described()
        for path, methods in api["paths"].items():
            for verb, operation in methods.items():
                with self.subTest(f"{verb} {path}"):
                    self.assertTrue(operation["description"])
                    self.assertNotIn("__", operation["operationId"])
