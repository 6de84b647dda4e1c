"""What two plans differ in, named as the page names it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from yellowbath.core.document import Plan
from yellowbath.core.plan.reading.entries import locate
from yellowbath.core.units import System, show

_LEFT_OUT = {"id", "typed", "kit", "schema_version", "regions", "vertices", "faces", "notes"}
_PARTS = {"pieces": "Piece", "tank": "Tank", "mix": "Mix", "placing": "Scrap", "anodes": "Scrap",
          "supply": "Power", "place": "Air", "name": "Name", "system": "Units"}  # fmt: skip
_TITLES = {
    "kind": "kind", "grade": "rust", "aim": "aim", "hang": "hangs", "metal": "metal",
    "arrangement": "set out", "product": "product", "material": "material", "where": "place",
    "masked": "masked", "name": "name", "fragility": "soundness", "rcd": "residual-current socket",
    "polarity_tested": "polarity tested", "joint_clear": "joint clear of the liquid",
    "lid": "lid", "flames": "flames or sparks", "visitors": "children or pets",
    "other_metals": "other metals", "hollow": "hollow", "ordnance": "ordnance",
    "flipped": "hung by its other end", "lead_paint": "lead in the paint", "start_range":
    "engine-start range", "line_switch": "switch in the line", "paint": "paint",
}  # fmt: skip


@dataclass(frozen=True)
class Difference:
    """One thing that differs: its pointer, its name, and what each plan has there."""

    pointer: str
    name: str
    one: str
    other: str


def differences(one: Plan, other: Plan) -> list[Difference]:
    """Every field in which two plans differ, in the order of the document."""
    a, b = (dict(_leaves(p.model_dump(mode="json"), "")) for p in (one, other))
    found: list[Difference] = []
    for lists, name in (("anodes", "Scrap: how many"), ("pieces", "Pieces: how many")):
        n, m = len(getattr(one, lists)), len(getattr(other, lists))
        if n != m:
            found.append(Difference(f"/{lists}", name, str(n), str(m)))
    for pointer in dict.fromkeys([*a, *b]):
        if a.get(pointer) != b.get(pointer) and pointer in a and pointer in b:
            texts = (_text(p, pointer, v[pointer], one.system) for p, v in ((one, a), (other, b)))
            found.append(Difference(pointer, _name(one, pointer), *texts))
    return found


def _leaves(node: Any, pointer: str) -> Iterator[tuple[str, Any]]:
    if isinstance(node, dict):
        for key, value in node.items():
            if key not in _LEFT_OUT:
                yield from _leaves(value, f"{pointer}/{key}")
    elif isinstance(node, list) and node and isinstance(node[0], dict):
        for k, value in enumerate(node):
            yield from _leaves(value, f"{pointer}/{k}")
    else:
        yield pointer, node


def _name(plan: Plan, pointer: str) -> str:
    parts = pointer.strip("/").split("/")
    part = _PARTS.get(parts[0], parts[0])
    if len(parts) > 1 and parts[1].isdigit():
        part += f" {int(parts[1]) + 1}"
    target = locate(plan, pointer)
    title = str(target.info.title) if target else _TITLES.get(parts[-1], parts[-1])
    return f"{part}: {title[0].lower()}{title[1:]}"


def _text(plan: Plan, pointer: str, value: Any, system: System) -> str:
    target = locate(plan, pointer)
    if target is not None:
        return (
            "as the plan says"
            if value is None
            else str(show(float(value), target.quantity, system))
        )
    if value is None:
        return "not answered"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ", ".join(map(str, value)) or "none"
    return str(value).replace("_", " ") or "none"
