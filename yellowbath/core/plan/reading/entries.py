"""Typed text into a plan, and a plan's numbers back into text.

A pointer (``/pieces/0/shape/length_m``) names a field. Text that cannot be used leaves the last
good value in place and is reported beside its field; it stays in ``plan.typed``, so that a
half-typed plan is kept as it was typed.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import Any

from pydantic import BaseModel, ValidationError
from pydantic.fields import FieldInfo

from yellowbath.core.chemistry.liquid import baked_share
from yellowbath.core.data import param
from yellowbath.core.document import (
    AMOUNT,
    VINEGAR,
    Angle,
    BoreAnode,
    DrumTank,
    Lattice,
    Mesh,
    Mix,
    Pan,
    Pile,
    Plan,
    Ring,
    Shape,
    Shell,
    Stepped,
    Tines,
    Tube,
    Weighed,
    Wheel,
    Wrench,
)
from yellowbath.core.document.base import Doc
from yellowbath.core.document.scrap import USUAL_ANODE
from yellowbath.core.document.supply import USUAL_KIND
from yellowbath.core.document.upgrade import upgrade
from yellowbath.core.ear import hear, parse
from yellowbath.core.errors import (
    CaseError,
    InputError,
    InvalidDocumentError,
    OutOfRangeError,
)
from yellowbath.core.geometry.piece import measure
from yellowbath.core.plan.reading.amounts import amount_of, reach_of, vinegar_of
from yellowbath.core.plan.reading.arrange import tidied
from yellowbath.core.units import System, show
from yellowbath.core.words import word


@dataclass
class Read:
    """A plan as read: the read document, the faults by pointer and the text of each field."""

    plan: Plan
    faults: dict[str, str] = field(default_factory=dict)

    @cached_property
    def heard(self) -> dict[str, str]:
        """In words how a text was read that is more than a figure and its unit, by pointer."""
        return dict(_heard(self.plan, self.faults))

    @cached_property
    def shown(self) -> dict[str, str]:
        """The text of each field by its pointer."""
        return dict(texts(self.plan))


def read_plan(document: Mapping[str, Any]) -> Read:
    """Bring a document up to this version, read its typed texts into it and settle the rest.

    Raises InvalidDocumentError where the document itself does not fit the schema,
    LaterVersionError where a later version wrote it.
    """
    if not isinstance(document, Mapping):
        raise InvalidDocumentError([("/", "is no document: a plan is a JSON object")])
    try:
        plan = Plan.model_validate(upgrade(document))
    except ValidationError as error:
        raise InvalidDocumentError(
            [(_pointer(document, e["loc"]), _plainly(e)) for e in error.errors()]
        ) from None
    if clashes := list(misfits(plan)):
        raise InvalidDocumentError(clashes)
    faults = _take_typed(plan)
    plan = tidied(plan)
    return Read(plan, faults)


_WORDS = {
    "extra_forbidden": "is not known here: a slip of the pen, or from another version",
    "too_long": "holds too many",
    "missing": "is missing",
    "union_tag_not_found": "says no kind",
}


def _pointer(document: Any, where: Sequence[int | str]) -> str:
    """Where a fault stands in the document; the tag of a union is no place in it."""
    places: list[str] = []
    for step in where:
        if isinstance(document, Mapping) and step not in document and _is_tag(document, step):
            continue
        places.append(str(step))
        inside = isinstance(document, Mapping) or isinstance(step, int)
        try:
            document = document[step] if inside else None
        except (LookupError, TypeError):
            document = None
    return "/" + "/".join(places)


def _is_tag(part: Mapping[str, Any], step: int | str) -> bool:
    return step == part["kind"] if "kind" in part else step in (USUAL_KIND, USUAL_ANODE)


def _plainly(error: Any) -> str:
    """What the schema says, in words; its own where there are none better."""
    words, limits = _WORDS.get(error["type"], error["msg"]), error.get("ctx", {})
    if error["type"] == "union_tag_invalid":
        kinds = str(limits["expected_tags"]).replace("'", "")
        return f"{limits['tag']} is no kind that is known here; allowed: {kinds}"
    most = limits.get("max_length")
    return f"{words}; at most {most}" if most and error["type"] == "too_long" else words


def _take_typed(plan: Plan) -> dict[str, str]:
    """Put every usable text into its field; returns the faults of the others."""
    faults: dict[str, str] = {}
    kept: dict[str, str] = {}
    before: dict[str, tuple[Target, float | None]] = {}
    for pointer, text in plan.typed.items():
        target = locate(plan, pointer)
        if target is None:
            continue
        kept[pointer] = text
        if pointer in _OF_THE_WATER:
            continue  # what it comes to asks for the water, and so for all the rest
        before[pointer] = (target, target.get())
        try:
            target.put(read_text(text, target, plan.system))
        except InputError as error:
            faults[pointer] = str(error)
    plan.typed = kept
    for pointer, message in misfits(plan):
        faults[pointer] = message
        for target, value in before.values():
            target.put(value)
    for pointer, read in _OF_THE_WATER.items():
        if pointer in kept and (target := locate(plan, pointer)) is not None:
            try:
                target.put(checked(read(plan, kept[pointer]), target, plan.system))
            except InputError as error:
                faults[pointer] = str(error)
    return faults


def _heard(plan: Plan, faults: Mapping[str, str]) -> Iterator[tuple[str, str]]:
    for pointer, text in plan.typed.items():
        target = locate(plan, pointer)
        if target is None or pointer in faults or not text.strip():
            continue
        if pointer in _OF_THE_WATER:
            value = target.get()
            if pointer == AMOUNT and value is not None and (span := reach_of(plan, text)):
                low, high = (show(value * s, target.quantity, plan.system, 2) for s in span)
                middle = show(value, target.quantity, plan.system, 2)
                yield pointer, word("heard.spread", said=middle, low=low.text, high=high)
            continue
        if said := heard_as(text, target, plan.system):
            yield pointer, said


def heard_as(text: str, target: Target, system: System) -> str:
    """In words how a text was read that is more than a figure and its unit; else empty."""
    found = hear(text, target.quantity, system) if text.strip() else None
    if found is None or found.plain:
        return ""
    return word("heard.as", said=found.said(target.quantity, system))


_OF_THE_WATER = {VINEGAR: vinegar_of, AMOUNT: amount_of}
"""Fields that are read against the plan's own water, once all the rest is."""


def misfits(plan: Plan) -> Iterator[tuple[str, str]]:
    """Fields that are in range alone and impossible together."""
    tank = plan.tank.shape
    if isinstance(tank, DrumTank) and tank.height_m > 0.95 * tank.diameter_m:
        yield "/tank/shape/height_m", "A lying drum is cut open below its top, or it has no way in."
    if plan.tank.is_piece and plan.own_tube is None:
        yield (
            "/tank/shape/kind",
            "Only a tube that is alone in its bath can be its own vessel. Choose another tank.",
        )
    for k, piece in enumerate(plan.pieces):
        shape = piece.shape
        if isinstance(shape, Tube) and shape.inner_diameter_m >= shape.outer_diameter_m:
            yield (
                f"/pieces/{k}/shape/inner_diameter_m",
                "The inside diameter must be smaller than the outside diameter. "
                "Measure both across the open end.",
            )
        yield from _misshapen(f"/pieces/{k}/shape", shape)
        solid = measure(shape).volume * param("steel_kg_m3").value if piece.mass_kg else 0.0
        if piece.mass_kg is not None and piece.mass_kg > _SOLID * solid:
            yield f"/pieces/{k}/mass_kg", _TOO_HEAVY
    yield from _misbored(plan)
    yield from _misbaked(plan.mix)
    marks = plan.tank.marks
    for k, (low, high) in enumerate(pairwise(marks), start=1):
        if high.height_m <= low.height_m or high.volume_m3 <= low.volume_m3:
            yield (
                f"/tank/marks/{k}/height_m",
                "Each mark must be higher, and hold more, than the one before it.",
            )


def _misbored(plan: Plan) -> Iterator[tuple[str, str]]:
    for k, anode in enumerate(plan.anodes):
        if not isinstance(anode, BoreAnode):
            continue
        through = plan.bored(anode)
        if through is None and any(isinstance(p.shape, Tube) for p in plan.pieces):
            yield f"/anodes/{k}/piece", "Say which of the tubes this rod runs through."
        elif through is None or not isinstance(through.shape, Tube):
            yield f"/anodes/{k}/kind", "Only a tube has a bore for a rod to run through."


def _misbaked(mix: Mix) -> Iterator[tuple[str, str]]:
    if mix.baked_before_kg is None or mix.baked_after_kg is None:
        return
    try:
        baked_share(mix.baked_before_kg, mix.baked_after_kg)
    except OutOfRangeError as error:
        yield "/mix/baked_after_kg", str(error)


def _misshapen(at: str, shape: Shape) -> Iterator[tuple[str, str]]:
    match shape:
        case Angle() if shape.thickness_m >= min(shape.leg_m, shape.other_leg_m):
            yield f"{at}/thickness_m", "The thickness must be smaller than either leg."
        case Ring() if 2 * shape.bar_diameter_m >= shape.outer_diameter_m:
            yield f"{at}/bar_diameter_m", "The bar must be thinner than half the ring."
        case Wheel() if shape.hub_diameter_m + 2 * shape.rim_thickness_m >= shape.diameter_m:
            yield f"{at}/hub_diameter_m", "The hub must fit inside the rim."
        case Wheel() if shape.spoke_diameter_m > min(shape.rim_width_m, shape.hub_length_m):
            yield f"{at}/spoke_diameter_m", "A spoke must not be thicker than rim or hub is wide."
        case Wrench() if not shape.eye_diameter_m < shape.head_diameter_m:
            yield f"{at}/eye_diameter_m", "The eye must be smaller than the head."
        case Wrench() if shape.width_m > shape.head_diameter_m:
            yield f"{at}/width_m", "The shank must not be wider than the heads."
        case Wrench() if shape.length_m <= 2 * shape.head_diameter_m:
            yield f"{at}/length_m", "The length must be more than both heads."
        case Stepped() if (shape.top_length_m > shape.length_m
                           or shape.top_width_m > shape.width_m):  # fmt: skip
            yield f"{at}/top_length_m", "The top must stand on the base: no longer, no wider."
        case Mesh():
            try:
                measure(shape)
            except CaseError as error:
                yield f"{at}/vertices", str(error)
        case Shell() if 2 * shape.wall_m >= min(shape.length_m, shape.width_m) or (
            shape.wall_m >= shape.height_m
        ):
            yield f"{at}/wall_m", "The wall must be thinner than half of each side."
        case Pan() if 2 * shape.wall_m >= shape.diameter_m or shape.wall_m >= shape.height_m:
            yield f"{at}/wall_m", "The wall must be thinner than the pan is high and half as wide."
        case Lattice() if 2 * shape.bar_m >= shape.width_m or (
            (2 + shape.between) * shape.bar_m >= shape.length_m
        ):
            yield f"{at}/bar_m", "The bars must leave room between them."
        case Tines() if shape.count * shape.tine_diameter_m >= shape.width_m:
            yield (
                f"{at}/tine_diameter_m",
                "So many tines so thick do not stand side by side.",
            )
        case Tines() if shape.tine_diameter_m > shape.bar_m:
            yield f"{at}/tine_diameter_m", "A tine must not be thicker than the head it stands on."
        case Weighed() if measure(shape).volume > _SOLID * math.prod(measure(shape).box):
            yield f"{at}/mass_kg", _TOO_HEAVY
        case Pile() if measure(shape).volume > 0.7 * math.prod(measure(shape).box):
            yield f"{at}/count", "So many do not go into this basket."


_SOLID = 1.15  # of solid iron's weight: what a tape and a scale leave open
_TOO_HEAVY = (
    "That is heavier than solid iron of these sizes. Check the weight, the sizes and their units."
)


@dataclass
class Target:
    """A numeric field of a document and the object that holds it."""

    holder: BaseModel
    name: str
    info: FieldInfo
    quantity: str

    def get(self) -> float | None:
        value: float | None = getattr(self.holder, self.name)
        return value

    def put(self, value: float | None) -> None:
        setattr(self.holder, self.name, value)

    @property
    def called(self) -> str:
        """What the field is called, on the page and in a fault."""
        return self.holder.field_word(self.name) if isinstance(self.holder, Doc) else self.name

    @property
    def optional(self) -> bool:
        return self.info.default is None

    def range(self) -> tuple[float, float]:
        limits = {k: v for m in self.info.metadata for k, v in _limit(m)}
        return limits["ge"], limits["le"]


def _limit(mark: Any) -> Iterator[tuple[str, float]]:
    for name in ("ge", "le"):
        if (value := getattr(mark, name, None)) is not None:
            yield name, float(value)


def locate(document: BaseModel, pointer: str) -> Target | None:
    """The numeric field a pointer names, or None where the document has no such field (any
    more)."""
    return _target(holder_of(document, pointer), pointer.rpartition("/")[2])


def holder_of(document: BaseModel, pointer: str) -> Any:
    """The part of a document in which a pointer's field stands; None where there is none."""
    holder: Any = document
    for part in pointer.strip("/").split("/")[:-1]:
        if isinstance(holder, list):
            if not part.isdigit() or int(part) >= len(holder):
                return None
            holder = holder[int(part)]
        elif isinstance(holder, BaseModel) and part in type(holder).model_fields:
            holder = getattr(holder, part)
        else:
            return None
    return holder


def _target(holder: Any, name: str) -> Target | None:
    if not isinstance(holder, BaseModel):
        return None
    info = type(holder).model_fields.get(name)
    extra = info.json_schema_extra if info is not None else None
    if info is None or not isinstance(extra, dict):
        return None
    return Target(holder, name, info, str(extra["quantity"]))


def read_text(text: str, target: Target, system: System) -> float | None:
    """Text to SI for one field; raises NotUnderstoodError or OutOfRangeError."""
    if not text.strip() and target.optional:
        return None
    return checked(parse(text, target.quantity, system), target, system)


def checked(value: float, target: Target, system: System) -> float:
    """A value that its field takes; raises OutOfRangeError."""
    low, high = target.range()
    whole = target.quantity != "count" or value == int(value)
    if not whole or not low * (1 - 1e-9) <= value <= high * (1 + 1e-9):
        allowed = [show(limit, target.quantity, system) for limit in (low, high)]
        raise OutOfRangeError(
            f"{target.called}: {show(value, target.quantity, system)} is outside the range.",
            allowed=f"Allowed: {allowed[0]} to {allowed[1]}"
            + (", whole numbers." if target.quantity == "count" else "."),
            remedy="Check the number and the unit.",
        )
    return int(value) if target.quantity == "count" else value


def texts(plan: Plan) -> Iterator[tuple[str, str]]:
    """Each numeric field's text: as typed where it was typed, else in the person's units."""
    for pointer, target in fields_of(plan, ""):
        value = target.get()
        plain = "" if value is None else str(show(value, target.quantity, plan.system, 4))
        yield pointer, plan.typed.get(pointer, plain)


def fields_of(node: Any, pointer: str = "") -> Iterator[tuple[str, Target]]:
    """Every numeric field under a node, with its pointer."""
    if isinstance(node, list):
        for index, item in enumerate(node):
            yield from fields_of(item, f"{pointer}/{index}")
    elif isinstance(node, BaseModel):
        for name in type(node).model_fields:
            target = _target(node, name)
            if target is not None:
                yield f"{pointer}/{name}", target
            else:
                yield from fields_of(getattr(node, name), f"{pointer}/{name}")
