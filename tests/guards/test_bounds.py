"""Whatever is sent and kept has an end: every text, list and table says how long it may be."""

import unittest
from collections.abc import Iterator
from typing import Any

from tests.server import described
from yellowbath.core.document import Plan
from yellowbath.core.kit import KitEvent, Thing
from yellowbath.core.run.log import Entry

# Free-form until they are read as the documents below; kept within the gate's limit of size.
READ_LATER = {"document", "thing", "one", "other"}


def unbounded(schema: Any, at: str = "") -> Iterator[str]:
    """Places of a JSON schema in which something may be of any length."""
    if isinstance(schema, list):
        for part in schema:
            yield from unbounded(part, at)
    if not isinstance(schema, dict):
        return
    kind = schema.get("type")
    closed = schema.keys() & {"enum", "const", "pattern", "format"}
    if kind == "string" and not closed and "maxLength" not in schema:
        yield f"{at}: text"
    if kind == "array" and "maxItems" not in schema and "prefixItems" not in schema:
        yield f"{at}: list"
    more = schema.get("additionalProperties")
    if kind == "object" and more not in (None, False) and "maxProperties" not in schema:
        yield f"{at}: names"
    for key, part in schema.items():
        if key in ("properties", "$defs"):
            for name, inner in part.items():
                yield from unbounded(inner, f"{at}/{name}")
        elif key in ("items", "anyOf", "oneOf", "allOf", "prefixItems", "additionalProperties"):
            yield from unbounded(part, at)


def last(found: str) -> str:
    """The name of the field that a place is."""
    return found.rpartition("/")[2].partition(":")[0]


class Bounds(unittest.TestCase):
    def test_what_is_kept(self) -> None:
        for model in (Plan, Thing, Entry, KitEvent):
            found = set(unbounded(model.model_json_schema(), model.__name__))
            self.assertEqual(found, set(), model.__name__)

    def test_what_is_sent(self) -> None:
        made = described()
        parts = made["components"]["schemas"]
        sent: dict[str, Any] = {}
        for path, operations in made["paths"].items():
            for verb, operation in operations.items():
                for place in operation.get("parameters", []):
                    if place["in"] == "query":
                        found = set(unbounded(place["schema"], f"{verb} {path}?{place['name']}"))
                        self.assertEqual(found, set())
                for content in operation.get("requestBody", {}).get("content", {}).values():
                    self.follow(content["schema"], parts, sent)
        for name, schema in sent.items():
            found = {
                f
                for f in unbounded(schema, name)
                if f.split("/")[-1].split(":")[0] not in READ_LATER
            }
            self.assertEqual(found, set(), name)

    def follow(self, schema: Any, parts: dict[str, Any], sent: dict[str, Any]) -> None:
        """Every part of the description that a body is made of."""
        if isinstance(schema, list):
            for part in schema:
                self.follow(part, parts, sent)
        elif isinstance(schema, dict):
            name = str(schema.get("$ref", "")).rpartition("/")[2]
            if name and name not in sent:
                sent[name] = parts[name]
                self.follow(parts[name], parts, sent)
            for part in schema.values():
                self.follow(part, parts, sent)
