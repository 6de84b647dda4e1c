"""Writes that are sent twice, settings and kit that two people change, lists page by page."""

from typing import Any
from unittest.mock import patch

from tests.api.test_api import ApiCase
from tests.shops import QUIET
from yellowbath.workflows.runs import runs

TANK = {"name": "Tub", "detail": {"kind": "tank", "tank": {}}}
SODA = {"name": "Soda", "detail": {"kind": "chemical", "left_kg": 1.0}}


class Once(ApiCase):
    def send(self, path: str, body: Any, key: str, status: int = 200) -> Any:
        got = self.http.post(f"/api{path}", json=body, headers={"Idempotency-Key": key})
        self.assertEqual(got.status_code, status, got.text)
        return got.json()

    def test_under_one_key_every_write_is_made_once(self) -> None:
        """Each of them; other content under a known key is refused in words."""
        plan = self.post("/plans", {"document": QUIET}, 201)
        mix = {"name": "Mix", "detail": {"kind": "mix"}}
        thing = self.post("/kit", {"thing": mix}, 200)
        done = f"/kit/{thing['id']}/done"
        cases: tuple[tuple[str, Any, Any, int], ...] = (
            ("/plans", {"document": QUIET}, {"document": {**QUIET, "name": "Other"}}, 201),
            ("/runs", {"plan_id": plan["id"]}, {"plan_id": plan["id"], "revision": 1}, 201),
            ("/kit", {"thing": TANK}, {"thing": SODA}, 200),
            (done, {"what": "topped_up", "amount": "2 L"}, {"what": "decanted"}, 200),
        )
        counts = lambda: (  # noqa: E731
            self.get("/plans")["count"], len(self.get("/runs")), self.get("/kit")["count"],
            next(t["events"] for t in self.get("/kit")["items"] if t["id"] == thing["id"]),
        )  # fmt: skip
        for path, body, other, status in cases:
            with self.subTest(path):
                before = counts()
                first = self.send(path, body, f"key of {path}", status)
                made = counts()
                again = self.send(path, body, f"key of {path}", status)
                self.assertEqual(first["id"], again["id"])
                self.assertEqual(counts(), made)
                self.assertEqual(sum(made), sum(before) + 1)
                problem = self.send(path, other, f"key of {path}", 409)
                self.assertEqual(problem["type"], "urn:yellowbath:known-key")
                self.assertTrue(problem["remedy"])
                self.assertEqual(counts(), made)
                self.send(path, body, f"another key of {path}", status)
                self.assertEqual(sum(counts()), sum(made) + 1)


class Together(ApiCase):
    def put(self, path: str, body: Any, status: int = 200) -> Any:
        got = self.http.put(f"/api{path}", json=body)
        self.assertEqual(got.status_code, status, got.text)
        return got.json()

    def test_settings_of_two_devices(self) -> None:
        cap, spoon = ({"name": n, "level_kg": k} for n, k in (("Cap", 0.01), ("Spoon", 0.02)))
        base = self.set(name="Withy Lock", scoops=[cap]).json()["revision"]
        one = {"settings": {"name": "Withy Lock", "system": "us", "scoops": [cap, spoon]},
               "base_revision": base}  # fmt: skip
        self.put("/shop", one)
        heavier = {**cap, "level_kg": 0.012}
        two = {"settings": {"name": "Withy Lock", "theme": "dark", "scoops": [heavier]},
               "base_revision": base}  # fmt: skip
        made = self.put("/shop", two)
        self.assertEqual((made["system"], made["theme"]), ("us", "dark"))
        self.assertEqual([(s["name"], s["level_kg"]) for s in made["scoops"]],
                         [("Cap", 0.012), ("Spoon", 0.02)])  # fmt: skip
        self.assertEqual([b["name"] for b in made["brought"]],
                         ["New plans are typed in", "Scoop weighed once"])  # fmt: skip
        three = {"settings": {"name": "Withy Lock", "system": "imperial", "scoops": [cap]},
                 "base_revision": base}  # fmt: skip
        problem = self.put("/shop", three, 409)
        (clash,) = problem["data"]["clashes"]
        units = ("Inches, imperial gallons, ounces", "Inches, US gallons, ounces")
        self.assertEqual((clash["yours"], clash["theirs"]), units)
        onto = problem["data"]["head_revision"]
        chosen = {**three, "choices": {clash["where"]: "mine"}, "onto": onto}
        self.assertEqual(self.put("/shop", chosen)["system"], "imperial")
        # a choice that was made on another revision is none
        problem = self.put("/shop", {**chosen, "settings": {"name": "x", "system": "us"}}, 409)
        self.assertEqual(problem["data"]["head_revision"], onto + 1)

    def test_a_thing_of_two_devices(self) -> None:
        made = self.post("/kit", {"thing": SODA}, 200)
        where = f"/kit/{made['id']}"

        def typed(name: str, **fields: str) -> Any:
            thing = {**SODA, "name": name, "typed": {f"/{k}": v for k, v in fields.items()}}
            return {"thing": thing, "base_revision": made["revision"]}

        self.put(where, typed("Washing soda"))
        both = self.put(where, typed("Soda", left_kg="2 kg"))
        thing = both["read"]["thing"]
        self.assertEqual((thing["name"], thing["detail"]["left_kg"]), ("Washing soda", 2.0))
        self.assertEqual([b["theirs"] for b in both["brought"]], ["Washing soda"])
        problem = self.put(where, typed("Soda", left_kg="3 kg"), 409)
        (clash,) = problem["data"]["clashes"]
        self.assertEqual((clash["yours"], clash["theirs"]), ("3 kg", "2 kg"))
        self.assertEqual(clash["name"], "On the shelf")

    def test_the_same_saved_again_is_no_revision(self) -> None:
        made = self.post("/kit", {"thing": SODA}, 200)
        body = {"thing": made["read"]["thing"], "base_revision": 1}
        self.assertEqual(self.put(f"/kit/{made['id']}", body)["revision"], 1)


class Pages(ApiCase):
    def every(self, path: str, **query: Any) -> list[Any]:
        """A whole list, by pages of three."""
        rows: list[Any] = []
        after = ""
        while True:
            params = {"most": 3, "after": after, **query}
            got = self.http.get(f"/api{path}", params=params)
            self.assertEqual(got.status_code, 200, got.text)
            page = got.json()
            self.assertLessEqual(len(page["items"]), 3)
            rows += page["items"]
            after = page["after"]
            if not after:
                self.assertEqual(page["count"], len(rows))
                return rows

    def test_plans_are_paged_found_and_archived(self) -> None:
        names = ("Größe Öse", "Latch", "latch, left", "100 % hinge", "a_b", "Ring", "Ring 2")
        ids = {}
        for k, name in enumerate(names):
            self.clock.to(k // 2)  # two of one moment stand in some order, each once
            pieces = [{"name": name}]
            ids[name] = self.post("/plans", {"document": {**QUIET, "pieces": pieces}}, 201)["id"]
        found = [p["title"] for p in self.every("/plans")]
        self.assertEqual(sorted(found), sorted(names))
        self.assertEqual(found[0], "Ring 2")
        for words, titles in (
            ("LATCH", {"Latch", "latch, left"}), ("größe", {"Größe Öse"}), ("%", {"100 % hinge"}),
            ("_", {"a_b"}), ("ring 2", {"Ring 2"}), ("nothing", set()),
        ):  # fmt: skip
            got = {p["title"] for p in self.every("/plans", find=words)}
            self.assertEqual(got, titles, words)
        put = self.http.put(f"/api/plans/{ids['Ring']}/archived")
        self.assertEqual(put.status_code, 204)
        self.assertEqual(len(self.every("/plans")), 6)
        self.assertEqual([p["title"] for p in self.every("/plans", archived=True)], ["Ring"])
        self.http.delete(f"/api/plans/{ids['Ring']}/archived")
        self.assertEqual(len(self.every("/plans")), 7)
        self.assertEqual(self.http.get("/api/plans?after=nowhere").status_code, 422)

    def test_plans_by_where_they_stand(self) -> None:
        waiting, running, given_up = (self.start(QUIET)["plan_id"] for _ in range(3))
        for run in self.get("/runs"):
            entries = f"/runs/{run['run_id']}/entries"
            if run["plan_id"] in (waiting, given_up):
                self.post(entries, self.entry(5, "abandon", f"stop-{run['run_id']}"), 200)
        standing = lambda s: {p["id"] for p in self.every("/plans", standing=s)}  # noqa: E731
        self.assertEqual(standing("waiting"), {waiting, given_up})
        self.assertEqual(standing("made"), set())
        self.assertEqual(standing("any"), {waiting, running, given_up})

    def test_runs_that_are_over_are_paged_archived_and_begun_again(self) -> None:
        over = []
        for k in range(4):
            run = self.start({**QUIET, "pieces": [{"name": f"Hasp {k}"}]})
            over.append(run["id"])
            self.post(f"/runs/{run['id']}/entries", self.entry(9, "abandon", f"stop-{k}-aaa"), 200)
        rows = self.every("/book")
        self.assertEqual({r["piece"] for r in rows}, {f"Hasp {k}" for k in range(4)})
        self.assertEqual({r["state"] for r in rows}, {"abandoned"})
        self.assertEqual(self.http.put(f"/api/runs/{over[0]}/archived").status_code, 204)
        self.assertEqual(len(self.every("/book")), 3)
        self.assertEqual([r["run_id"] for r in self.every("/book", archived=True)], over[:1])
        again = self.post("/runs", {"plan_id": rows[0]["plan_id"], "revision": 1}, 201)
        problem = self.http.put(f"/api/runs/{again['id']}/archived")
        self.assertEqual(problem.status_code, 409)
        self.assertIn("not over", problem.json()["detail"])

    def test_the_lines_of_one_day_are_told_page_by_page(self) -> None:
        lines = patch.object(runs, "LINES", 10)
        lines.start()
        self.addCleanup(lines.stop)
        where, _ = self.switch_on()
        for k in range(29):
            # two of every moment
            entry = self.entry(2 + k // 2, "remark", f"remark-{k:05}", text=f"line {k}")
            self.post(where, entry, 200)
        run = where.removesuffix("/entries")
        told, before = self.get(run)["log"], ""
        while before != told[-1]["client_id"]:
            before = told[-1]["client_id"]
            told += self.get(f"{run}/log?before={before}")["lines"]
        self.assertEqual(len(told), 31)
        self.assertEqual([e["detail"]["text"] for e in told[:29]],
                         [f"line {k}" for k in reversed(range(29))])  # fmt: skip

    def test_the_kit_is_paged_by_name_and_kind(self) -> None:
        for k in (5, 3, 1):
            self.post("/kit", {"thing": {**TANK, "name": f"tub {k}"}}, 200)
            self.post("/kit", {"thing": {**SODA, "name": f"Soda {k}"}}, 200)
        names = [t["read"]["thing"]["name"] for t in self.every("/kit")]
        self.assertEqual(names, ["Soda 1", "Soda 3", "Soda 5", "tub 1", "tub 3", "tub 5"])
        self.assertEqual(len(self.every("/kit", kind="tank")), 3)
        self.assertEqual(len(self.every("/kit", find="3")), 2)

    def test_a_things_log_is_folded_as_it_grows(self) -> None:
        """By what was kept of it as by the whole; and told by its newest lines."""
        made = self.post("/kit", {"thing": SODA}, 200)
        for k in range(15):
            self.post(f"/kit/{made['id']}/done", {"what": "restocked", "amount": "100 g"}, 200)
            if k % 4 == 0:
                self.get("/kit")  # keeps what it comes to so far
        (thing,) = self.get("/kit")["items"]
        self.assertEqual((thing["events"], len(thing["log"])), (15, 12))
        self.assertIn("2.5 kg left", thing["lines"])
