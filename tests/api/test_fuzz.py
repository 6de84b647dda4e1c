"""Every route under random requests of its own description, right and wrong ones: no fault of ours,
every answer as it is declared, none longer than anybody reads."""

from __future__ import annotations

from typing import Any, ClassVar

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import response_schema_conformance
from schemathesis.generation import GenerationMode

from tests.api.test_api import ApiCase
from tests.longer import LONG, of
from tests.server import described
from tests.shops import QUIET

# Routes that solve or draw, a second or more each; and searches, minutes each.
SLOW = ("/field", "/compare", "/doses", "/tanks", "/live", "/mesh", "/meter", "/sheets/{kind}")
# what never ends, what asks an address, which must be none of the network's
UNENDING = ("/runs/{run_id}/live", "/instruments/identify", "/runs/{run_id}/link")
SEARCHES = ("/placement", "/turns", "/changes")
LONGEST = 400_000  # bytes: a plan's answer with its figures
PROBLEM = 4_300_000  # of one that brings another's document, which may be as long as a plan


def typed() -> Any:
    """The API's description, in which free-form documents say what they are."""
    made = described()
    parts = made["components"]["schemas"]
    inputs = {name: f"{name}-Input" if f"{name}-Input" in parts else name
              for name in ("Plan", "Thing")}  # fmt: skip
    for part in parts.values():
        fields = part.get("properties", {})
        for field, model in (("document", "Plan"), ("thing", "Thing")):
            if fields.get(field, {}).get("additionalProperties") is True:
                fields[field] = {"$ref": f"#/components/schemas/{inputs[model]}"}
    return made


class Fuzz(ApiCase):
    """Two modes: requests that fit the description, and such that do not; the usual run takes them
    in turn, a mode a route."""

    modes: ClassVar = (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)

    def setUp(self) -> None:
        super().setUp()
        run = self.start(QUIET)
        thing = self.post("/kit", {"thing": {"name": "Tub", "detail": {"kind": "tank"}}}, 200)
        self.known = {"plan_id": run["plan_id"], "run_id": run["id"], "thing_id": thing["id"],
                      "kind": "layout.svg"}  # fmt: skip

    def test_no_request_breaks_anything(self) -> None:
        schema = schemathesis.openapi.from_dict(typed())
        for k, operation in enumerate(result.ok() for result in schema.get_all_operations()):
            many = of(20, 1) if operation.path.endswith(SLOW) else of(120, 1)
            if operation.path.endswith(UNENDING):
                continue
            if operation.path.endswith(SEARCHES):
                many = of(1, 0)
            for mode in (self.modes if LONG else self.modes[k % 2 : k % 2 + 1]) if many else ():
                with self.subTest(operation.label, mode=mode):
                    try:
                        self.fuzz(operation.as_strategy(generation_mode=mode), many)
                    except Unsatisfiable:
                        self.assertFalse(operation.body or operation.query, "nothing was sent")

    def fuzz(self, cases: Any, many: int) -> None:
        @given(case=cases, real=st.booleans())
        @settings(max_examples=many, deadline=None, derandomize=True, database=None,
                  suppress_health_check=list(HealthCheck), phases=[Phase.generate])  # fmt: skip
        def one(case: Any, real: bool) -> None:
            if real:
                names = {k: v for k, v in self.known.items() if k in (case.path_parameters or {})}
                case.path_parameters = {**(case.path_parameters or {}), **names}
            self.sent(case)

        one()

    def sent(self, case: Any) -> None:
        request = case.as_transport_kwargs(base_url="http://127.0.0.1")
        request.pop("cookies", None)
        if isinstance(request.get("data"), bytes | str):
            request["content"] = request.pop("data")  # as this client calls a raw body
        answer = self.http.request(**request)
        self.assertLess(answer.status_code, 500, answer.text[:2000])
        declared = {str(s) for s in case.operation.definition.raw["responses"]}
        self.assertIn(str(answer.status_code), declared)
        if answer.status_code >= 400:
            self.assertEqual(answer.headers["content-type"], "application/problem+json")
            problem = answer.json()
            self.assertTrue(problem["title"] and problem["detail"], problem)
            self.assertLess(len(answer.content), PROBLEM if "theirs" in problem["data"] else 60_000)
        elif "/stored" not in case.path and "/sheets" not in case.path:
            self.assertLess(len(answer.content), LONGEST)
            case.validate_response(answer, checks=[response_schema_conformance])
