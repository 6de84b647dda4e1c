"""The workbench's routes: live answers, mesh files, variants, the judge, sheets, revisions."""

import base64
import json
from typing import Any

import numpy as np
import trimesh

from tests.api.test_api import ApiCase
from tests.shops import QUIET
from tests.solving import SOLVER
from yellowbath.core.document import Plan
from yellowbath.workflows.plans.field import warm_up

BOX: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "by_hand"},
    "anodes": [{"id": "a1", "y_m": -0.12}, {"id": "a2", "y_m": 0.12}],
}


def floats(text: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), "<f4")


class Live(ApiCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        warm_up(SOLVER)

    def live(self, document: dict[str, Any], **more: Any) -> dict[str, Any]:
        answer: dict[str, Any] = self.post("/plans/live", {"document": document, **more}, 200)
        return answer

    def test_corners_come_once_and_densities_average_to_the_mean(self) -> None:
        """Conservation: facet areas from the corners sent, times density, are the current."""
        first = self.live(BOX, ready=True)
        shown = first["field"]["shown"]
        corners = floats(shown["corners"]).reshape(-1, 4, 3) / 1000
        values = floats(shown["values"])
        self.assertEqual(len(corners), len(values))
        cross = np.cross(corners[:, 2] - corners[:, 0], corners[:, 3] - corners[:, 1])
        areas = np.linalg.norm(cross, axis=1) / 2
        figures = first["read"]["answer"]["figures"]
        current = float(values @ areas) * 100
        self.assertAlmostEqual(current / figures["amps.gives"]["value_si"], 1, places=3)
        moved = {**BOX, "anodes": [{"id": "a1", "x_m": 0.05, "y_m": -0.12}, BOX["anodes"][1]]}
        again = self.live(moved, mesh=shown["mesh"])
        self.assertIsNone(again["field"]["shown"]["corners"])
        self.assertEqual(again["field"]["shown"]["mesh"], shown["mesh"])
        self.assertTrue(again["field"]["fine"])
        self.assertNotEqual(again["field"]["shown"]["values"], shown["values"])

    def test_a_meter_reading_and_the_log_of_doubts(self) -> None:
        asked = {"document": BOX, "text": "1.2 A"}
        meter = self.post("/plans/meter", asked, 200)
        anchored = {**BOX, "meter": meter}
        said = self.post("/plans/answer", {"document": anchored, "quality": "preview"}, 200)
        self.assertAlmostEqual(said["answer"]["figures"]["amps.gives"]["value_si"], 1.2, delta=0.01)
        self.assertIn("1.2 A", said["answer"]["meter"])
        refused = self.post("/plans/meter", {**asked, "text": "400 A"}, 422)
        self.assertIn("cannot come out", refused["title"])
        self.assertEqual(self.get("/shop/doubted")["count"], 0)
        self.assertEqual(self.get("/shop/doubted/file"), [])

    def test_it_agrees_with_the_settled_answer(self) -> None:
        live = self.live(BOX, ready=True)["read"]["answer"]["figures"]
        settled = self.post("/plans/field", {"document": BOX}, 200)["read"]["answer"]["figures"]
        for key in ("amps.gives", "density.mean", "power.load"):
            self.assertAlmostEqual(live[key]["value_si"] / settled[key]["value_si"], 1, delta=0.01)
        self.assertEqual(set(live), set(settled))

    def test_brief_leaves_out_what_nobody_opens(self) -> None:
        whole, brief = self.live(BOX), self.live(BOX, brief=True)
        for key, f in brief["read"]["answer"]["figures"].items():
            self.assertEqual(f["inputs"], [])
            self.assertEqual(f["text"], whole["read"]["answer"]["figures"][key]["text"])
        self.assertEqual(brief["read"]["shown"], {})

    def test_a_short_is_answered_with_its_stop_and_without_a_field(self) -> None:
        short = {**BOX, "anodes": [{"id": "a1", "y_m": -0.004}]}
        found = self.live(short)
        self.assertIsNone(found["field"])
        self.assertIn("short", {f["id"] for f in found["read"]["answer"]["findings"]})

    def test_an_overtaken_move_is_dropped(self) -> None:
        SOLVER.drag("live x", 9)
        body = {"document": BOX, "drag": {"by": "live x", "turn": 3}}
        self.assertTrue(self.post("/plans/live", body, 409)["type"].endswith("superseded"))

    def test_what_each_facet_sees_is_sent_when_asked_for(self) -> None:
        plain = self.post("/plans/field", {"document": BOX}, 200)
        asked = self.post("/plans/field", {"document": BOX, "sight": True}, 200)
        self.assertIsNone(plain["seen"])
        seen = floats(asked["seen"]["values"])
        self.assertTrue(((seen >= 0) & (seen <= 1)).all())
        # a plate between two rods: its faces see one of them each, its edges both
        self.assertAlmostEqual(float(np.median(seen)), 0.5)


class Others(ApiCase):
    def mesh(self, data: bytes, name: str, status: int, unit: str = "") -> dict[str, Any]:
        answer = self.http.post(
            "/api/plans/mesh", params={"name": name, "unit": unit}, content=data,
            headers={"content-type": "application/octet-stream"},
        )  # fmt: skip
        self.assertEqual(answer.status_code, status, answer.text)
        last: dict[str, Any] = json.loads(answer.text.splitlines()[-1])
        return last if status >= 400 else last["made"]

    def test_a_mesh_is_asked_for_its_unit_and_answered_with_a_shape(self) -> None:
        body = trimesh.creation.box((120, 40, 20))
        data = body.export(file_type="stl")
        open_one = self.mesh(data, "block.stl", 200)
        self.assertIsNone(open_one["shape"])
        self.assertEqual([u["unit"] for u in open_one["units"]], ["mm", "cm", "in"])
        found = self.mesh(data, "block.stl", 200, "mm")
        answer = self.post("/plans/answer", {"document": {"pieces": [found]}}, 422)
        self.assertIn("not known", answer["detail"])
        document = {**QUIET, "pieces": [{"shape": found["shape"]}]}
        figures = self.post("/plans/answer", {"document": document}, 200)["answer"]["figures"]
        self.assertAlmostEqual(figures["piece.area"]["value_si"], body.area * 1e-6, places=6)

    def test_what_is_wrong_with_a_mesh_file_is_said(self) -> None:
        box = trimesh.creation.box((120, 40, 20)).export(file_type="stl")
        grown = trimesh.creation.box((9e5, 10, 10)).export(file_type="stl")
        for data, name, unit, words in (
            (b"nothing of the kind", "x.stl", "mm", "no triangles"),
            (box, "x.step", "mm", "no mesh file"),
            (box, "x.stl", "m", "unit is likely wrong"),
            (grown, "x.stl", "", "unit is likely wrong"),
            (box, "x.stl", "ell", "no unit"),
        ):
            with self.subTest(words):
                self.assertIn(words, self.mesh(data, name, 422, unit)["detail"])
        self.assertIn("30 MB", self.mesh(b"0" * 30_000_001, "x.stl", 413)["detail"])

    def test_variants_and_the_judge(self) -> None:
        other = {**BOX, "pieces": [{"name": "Gate latch", "turn_deg": 30}]}
        found = self.post("/plans/compare", {"one": BOX, "other": other}, 200)
        named = {d["name"]: (d["one"], d["other"]) for d in found["differences"]}
        self.assertEqual(named, {"Piece 1: turned, seen from above": ("0 °", "30 °")})
        one, two = (found[k]["answer"]["figures"]["amps.gives"]["value_si"]
                    for k in ("one", "other"))  # fmt: skip
        self.assertNotEqual(one, two)
        told = {"item": "spanner", "magnet": "yes", "look": "shiny"}
        self.assertEqual(self.post("/plans/judge", told, 200)["verdict"], "no")
        self.post("/plans/judge", {**told, "item": "spoon"}, 422)

    def test_sheets_are_named_and_typed_and_others_are_not_there(self) -> None:
        answer = self.http.post("/api/plans/sheets/layout.svg", json={"document": BOX})
        self.assertEqual(answer.headers["content-type"], "image/svg+xml")
        self.assertIn('filename="Gate-latch-layout.svg"', answer.headers["content-disposition"])
        self.assertIn(
            "card.pdf", self.post("/plans/sheets/poster", {"document": BOX}, 404)["detail"]
        )
        drum = {**QUIET, "tank": {"shape": {"kind": "drum"}}}
        problem = self.post("/plans/sheets/band.pdf", {"document": drum}, 422)
        self.assertIn("lying drum", problem["detail"])

    def test_every_revision_is_told_newest_first(self) -> None:
        made = self.post("/plans", {"document": BOX}, 201)
        turned = {**BOX, "pieces": [{"turn_deg": 15}]}
        body = {"document": turned, "base_revision": 1}
        self.post(f"/plans/{made['id']}/revisions", body, 200)
        found = self.http.get(f"/api/plans/{made['id']}/revisions").json()
        self.assertEqual([r["number"] for r in found], [2, 1])
        older = self.http.get(f"/api/plans/{made['id']}/revisions?below=2").json()
        self.assertEqual([r["number"] for r in older], [1])
        newest = self.http.get(f"/api/plans/{made['id']}?revision=2").json()
        self.assertEqual(newest["read"]["document"]["pieces"][0]["turn_deg"], 15)
        self.assertEqual(self.http.get("/api/plans/none/revisions").status_code, 404)

    def test_the_schema_is_the_documents(self) -> None:
        schema = self.http.get("/api/plans/schema").json()
        self.assertEqual(set(schema["properties"]), set(Plan.model_fields))
        self.assertFalse(schema["additionalProperties"])

    def test_changes_is_told_line_by_line_and_its_sets_make_the_plan(self) -> None:
        document = {**BOX, "layout": {"arrangement": "one_side"}}
        answer = self.http.post("/api/plans/changes", json={"document": document})
        lines = [json.loads(line) for line in answer.text.splitlines()]
        self.assertEqual([x["done"] for x in lines], sorted(x["done"] for x in lines))
        best = lines[-1]["changes"]["best"][0]
        self.assertIn("of the mean", best["effect"])
        settled = self.post("/plans/answer", {"document": document}, 200)["document"]
        changed = {**settled, **{k.removeprefix("/"): v for k, v in best["sets"].items()}}
        figures = self.post("/plans/answer", {"document": changed, "quality": "preview"}, 200)
        gives = figures["answer"]["figures"]["amps.gives"]["value_si"]
        self.assertAlmostEqual(gives, best["gives_a"], places=9)
