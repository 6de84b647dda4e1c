"""What two plans differ in, named as the page names it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from yellowbath.core.document import Plan
from yellowbath.core.document.base import Doc
from yellowbath.core.plan.reading.entries import holder_of, locate
from yellowbath.core.units import System, show
from yellowbath.core.words import options, said, small, word

_LEFT_OUT = {"id", "typed", "kit", "schema_version", "regions", "vertices", "faces", "notes"}
_PARTS = {"pieces": "piece", "tank": "tank", "mix": "mix", "layout": "scrap", "anodes": "scrap",
          "supply": "power", "place": "air", "meter": "meter"}  # fmt: skip


@dataclass(frozen=True)
class Difference:
    """One thing that differs: its pointer, its name, and what each plan has there."""

    pointer: str
    name: str
    one: str
    other: str


def differences(one: Plan, other: Plan) -> list[Difference]:
    """Every field in which two plans differ, in the order of the document."""
    a, b = (dict(leaves(p.model_dump(mode="json"), "")) for p in (one, other))
    found: list[Difference] = []
    for lists, name in (("anodes", "Scrap: how many"), ("pieces", "Pieces: how many")):
        n, m = len(getattr(one, lists)), len(getattr(other, lists))
        if n != m:
            found.append(Difference(f"/{lists}", name, str(n), str(m)))
    for pointer in dict.fromkeys([*a, *b]):
        if a.get(pointer) != b.get(pointer) and pointer in a and pointer in b:
            sides = ((one, a), (other, b))
            texts = (leaf_text(plan, pointer, v[pointer], one.system) for plan, v in sides)
            found.append(Difference(pointer, leaf_name(one, pointer), *texts))
    return found


def leaves(node: Any, pointer: str) -> Iterator[tuple[str, Any]]:
    """Every field under a node that can differ, by its pointer."""
    if isinstance(node, dict):
        for key, value in node.items():
            if key not in _LEFT_OUT:
                yield from leaves(value, f"{pointer}/{key}")
    elif isinstance(node, list) and node and isinstance(node[0], dict):
        for k, value in enumerate(node):
            yield from leaves(value, f"{pointer}/{k}")
    else:
        yield pointer, node


def leaf_name(plan: Plan, pointer: str) -> str:
    """What the page calls the field at a pointer, with the part it belongs to."""
    parts = pointer.strip("/").split("/")
    holder = holder_of(plan, pointer)
    name = holder.field_word(parts[-1]) if isinstance(holder, Doc) else parts[-1]
    if parts[0] not in _PARTS:
        return name
    part = word(f"part.{_PARTS[parts[0]]}")
    if len(parts) == 1:
        return part
    if len(parts) > 1 and parts[1].isdigit():
        part += f" {int(parts[1]) + 1}"
    return f"{part}: {small(name).rstrip('?')}"


def leaf_text(plan: Plan, pointer: str, value: Any, system: System | None = None) -> str:
    """A field's value in words and units; the plan's own units where none are named."""
    target = locate(plan, pointer)
    if target is not None:
        return (
            "as the plan says"
            if value is None
            else str(show(float(value), target.quantity, system or plan.system))
        )
    if value is None:
        return "not answered"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ", ".join(_said(plan, pointer, str(v)) for v in value) or "none"
    return _said(plan, pointer, str(value)) or "none"


def _said(plan: Plan, pointer: str, value: str) -> str:
    """A chosen value in words; a text as it was typed."""
    holder = holder_of(plan, pointer)
    choice = f"{holder.part}.{pointer.rpartition('/')[2]}" if isinstance(holder, Doc) else ""
    return said(choice, value) if value in options(choice) else value
