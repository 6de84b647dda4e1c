"""What is stored and cannot be read takes nothing along: it is told, kept and given away."""

import json
from typing import Any

from sqlalchemy import insert, text, update

from tests.api.test_api import ApiCase
from tests.server import described
from tests.shops import QUIET, START
from yellowbath.core.document import SCHEMA_VERSION
from yellowbath.store import tables
from yellowbath.workflows.plans.unread import examine

LATER = {"schema_version": SCHEMA_VERSION + 1, "name": "From the other computer", "new": [1]}
DAMAGED = {"schema_version": 1, "name": "Damaged", "pieces": "none"}


class UnreadCase(ApiCase):
    def store(self, plan_id: str, document: Any) -> None:
        """Put a stored document in the place of a plan's, as another version would have."""
        with self.shop.engine.begin() as c:
            c.execute(text("DROP TRIGGER IF EXISTS plan_revisions_no_update"))
            c.execute(
                update(tables.plan_revisions)
                .where(tables.plan_revisions.c.plan_id == plan_id)
                .values(document=document)
            )
            # whatever else writes here keeps a summary of its own, or none
            c.execute(text("DELETE FROM plan_summaries WHERE plan_id = :id"), {"id": plan_id})

    def listed(self) -> list[Any]:
        """Every list of the shop answers; what this version cannot read."""
        for path in self.paths():
            with self.subTest(path):
                self.get(path)
        # a page has so many milliseconds for it, and goes on where it is beside the served page
        examine(self.shop)
        return list(self.get("/shop/unread"))

    def paths(self) -> list[str]:
        """Every page's list: each GET that needs nothing given."""
        schema = described()["paths"]
        return [
            path.removeprefix("/api") for path, ways in schema.items()
            if "get" in ways and "{" not in path
            and not any(p.get("required") for p in ways["get"].get("parameters", []))
        ]  # fmt: skip

    def taken(self, row: Any) -> Any:
        got = self.http.get(row["file"])
        self.assertEqual(got.status_code, 200, got.text)
        self.assertIn("attachment", got.headers["content-disposition"])
        return json.loads(got.content)


class Unread(UnreadCase):
    def test_a_plan_of_a_later_version_or_damaged_is_a_row_and_the_lists_stand(self) -> None:
        sound = self.post("/plans", {"document": {**QUIET, "name": "Sound"}}, 201)
        for document in (LATER, DAMAGED, [], "plan", 7):
            with self.subTest(document=document):
                plan = self.post("/plans", {"document": QUIET}, 201)
                self.store(plan["id"], document)
                (row,) = [u for u in self.listed() if u["id"] == plan["id"]]
                self.assertEqual(row["kind"], "plan")
                self.assertTrue(row["why"])
                self.assertEqual(self.taken(row), document)
                self.assertIn(sound["id"], {p["id"] for p in self.get("/plans")["items"]})
        names = {u["name"] for u in self.get("/shop/unread")}
        self.assertLessEqual({"From the other computer", "Damaged"}, names)

    def test_a_run_on_what_cannot_be_read_is_a_row_too(self) -> None:
        run = self.start(QUIET)
        self.store(run["plan_id"], LATER)
        kinds = {(u["kind"], u["id"]) for u in self.listed()}
        self.assertLessEqual({("plan", run["plan_id"]), ("run", run["id"])}, kinds)
        (row,) = [u for u in self.get("/shop/unread") if u["kind"] == "run"]
        self.assertEqual(self.taken(row), LATER)

    def test_a_thing_and_a_page_of_the_book_are_rows(self) -> None:
        kept = {"name": "Bucket", "detail": {"kind": "tank", "tank": {}}}
        sound = self.post("/kit", {"thing": kept}, 200)
        thing = self.post("/kit", {"thing": kept}, 200)
        run = self.start(QUIET)
        strange = {"name": "Sieve", "schema_version": SCHEMA_VERSION, "detail": {"kind": "sieve"}}
        page = {"piece": "Old hinge", "pages": None}
        with self.shop.engine.begin() as c:
            c.execute(
                update(tables.kit).where(tables.kit.c.id == thing["id"])
                .values(document=strange)
            )  # fmt: skip
            c.execute(insert(tables.book_entries).values(
                page=run["id"], run_id=run["id"], closed_at=START, entry=page
            ))  # fmt: skip
        rows = {u["kind"]: u for u in self.listed()}
        self.assertEqual(self.taken(rows["thing"]), strange)
        self.assertEqual(self.taken(rows["page"]), page)
        self.assertEqual((rows["thing"]["name"], rows["page"]["name"]), ("Sieve", "Old hinge"))
        self.assertIn(sound["id"], {t["id"] for t in self.get("/kit")["items"]})
