"""A first plan from what a person knows without reading anything; everything else is assumed."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from yellowbath.core.chemistry.phrases import read_said
from yellowbath.core.data import param
from yellowbath.core.document import (
    AMOUNT,
    Aim,
    Battery,
    Doc,
    Grade,
    KitRef,
    Metal,
    Mix,
    OtherMetal,
    Part,
    Piece,
    Pile,
    Plan,
    Product,
    Shape,
    Supply,
    Tank,
)
from yellowbath.core.ear import parse
from yellowbath.core.errors import InputError, NotUnderstoodError
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.plan.reading.entries import locate, misfits, read_text
from yellowbath.core.plan.start import label, vessels
from yellowbath.core.plan.start.heaps import LOOSE, Heap, read_many
from yellowbath.core.plan.start.likely import LikelyCoat, coats_of
from yellowbath.core.plan.start.nouns import named
from yellowbath.core.plan.start.scrap import own_vessel, set_out
from yellowbath.core.plan.start.sizes import asked, doubted, read_sizes, with_rest
from yellowbath.core.units import System, show
from yellowbath.core.words import options, small, word

T = TypeVar("T")
_SHAPE: TypeAdapter[Shape] = TypeAdapter(Shape)
_SUPPLY: TypeAdapter[Supply] = TypeAdapter(Supply)


class First(BaseModel):
    """What was said so far, as it was typed; what is empty was not said, or is not known.

    ``tank`` and ``supply`` are the shop's own, by ``kit``, and go before what was typed of one. Of
    coats, parts and metals an empty list says that there are none.
    """

    model_config = ConfigDict(extra="forbid")

    system: System = "metric"
    name: str = Field(default="", max_length=200)
    kind: str = Field(default="", max_length=20)
    sizes: str = Field(default="", max_length=120)
    weighs: str = Field(default="", max_length=40)
    many: str = Field(default="", max_length=60)
    metal: Metal | None = None
    hollow: Literal["none", "vented", "sealed", "unknown"] | None = None
    grease: Literal["none", "some", "unknown"] | None = None
    paint: Literal["none", "patches", "most", "unknown"] | None = None
    grade: Grade | None = None
    aim: Aim | None = None
    coats: list[LikelyCoat] | None = Field(default=None, max_length=4)
    parts: list[Part] | None = Field(default=None, max_length=3)
    metals: list[OtherMetal] | None = Field(default=None, max_length=8)
    side: Literal["all", "inside", "vessel"] | None = None
    use: Literal["used", "shown"] | None = None
    vessel: str = Field(default="", max_length=20)
    vessel_of: Literal["plastic", "metal"] | None = None
    holds: str = Field(default="", max_length=80)
    feeds: str = Field(default="", max_length=20)
    label: str = Field(default="", max_length=120)
    product: Product | None = None
    dose: str = Field(default="", max_length=120)
    scoop: str = Field(default="", max_length=40)
    scoop_name: str = Field(default="", max_length=40)
    tank: Tank | None = None
    supply: Supply | None = None
    kit: list[KitRef] = Field(default_factory=list, max_length=4)


@dataclass
class Begun:
    """The plan that follows, what was understood and what not by field, and the one question that
    stands before a plan or a better one; ``plan`` is None where there is nothing to plan yet.
    ``scoop``: whether the dose is told by a cap or scoop, whose weight is then asked for."""

    plan: Plan | None
    heard: dict[str, str] = field(default_factory=dict)
    faults: dict[str, str] = field(default_factory=dict)
    question: str = ""
    scoop: bool = False


def begin(first: First) -> Begun:
    """A plan from the first words; nothing that cannot be read is guessed."""
    out = Begun(None)
    said: list[str] = []
    piece = _piece(first, out, said)
    if piece is None:
        if not out.faults:
            out.question = out.question or word("begin.ask.what")
        return out
    tank = own_vessel(piece) if first.side == "vessel" else None
    if tank is not None:
        said += ["/tank/shape", "/tank/name"]
        out.heard["holds"] = _tank_said("begin.vessel.tube", tank, first.system)
    tank = tank or _tank(first, piece, out, said)
    hung = vessels.hung_in(piece, tank)
    if hung is None:
        hung = vessels.dipped_in(piece, tank)
        out.question = _no_room(piece, first.system, hung is not None)
    mix = _mix(first, out)
    typed = {AMOUNT: first.dose} if first.dose.strip() else {}
    said += [AMOUNT] if typed else []
    said += ["/mix/product"] if first.product else []
    plan = Plan(
        mix=mix,
        typed=typed,
        system=first.system, pieces=[hung or piece], tank=tank,
        supply=_supply(first, out, said), kit=first.kit, said=sorted(set(said)),
    )  # fmt: skip
    out.plan = set_out(plan, first.side == "inside")
    if out.plan.tank.is_piece and out.plan.place.cooled:
        out.heard["holds"] += word("begin.vessel.cooled")
    return out


def _mix(first: First, out: Begun) -> Mix:
    """What goes in, and the person's own cap where one was weighed."""
    out.scoop = _by_scoop(first)
    mix = Mix() if first.product is None else Mix(product=first.product)
    weighed = _heard(
        out, "scoop", first.scoop, lambda t: _checked(mix, "/scoop_kg", t, first.system)
    )
    if weighed is None:
        return mix
    return mix.model_copy(update={"scoop_kg": weighed, "scoop_name": first.scoop_name})


def _by_scoop(first: First) -> bool:
    try:
        return read_said(first.dose, first.system).measure == "scoop"
    except InputError:
        return False


# --- The piece --------------------------------------------------------------------------------


def _piece(first: First, out: Begun, said: list[str]) -> Piece | None:
    kind = first.kind
    if kind and kind not in _kinds():
        out.faults["kind"] = f"{kind} is no shape that is known here."
        return None
    sizes = _heard(out, "sizes", first.sizes, lambda t: read_sizes(t, first.system))
    mass = _heard(out, "weighs", first.weighs, lambda t: _mass(t, first.system))
    if not kind and sizes:
        kind = "weighed" if mass else ("bar" if len(sizes) == 2 else "box")
    if not kind:
        return None
    said.append("/pieces/0/shape/kind")
    if not sizes:
        if "sizes" not in out.faults:
            letters = zip("ABC", asked(kind), strict=False)
            named = ", ".join(f"{a} {small(_called(kind, n))}" for a, n in letters)
            out.question = word("begin.ask.sizes", sizes=named)
        return None
    heap = None
    if kind == "pile":
        heap, mass = _heap(first, sizes, out), None
        if "many" in out.faults or "weighs" in out.faults:
            return None
        said += ["/pieces/0/shape/count"] if heap else []
    if kind == "weighed" and mass is None:
        out.question = word("begin.ask.weight") if "weighs" not in out.faults else ""
        return None
    shape = _shape(kind, sizes, mass, out, heap)
    if shape is None:
        return None
    said += [f"/pieces/0/shape/{n}" for n in asked(kind)[: len(sizes)]]
    known: dict[str, Any] = {"shape": shape}
    if mass is not None and kind != "weighed":
        known["mass_kg"] = mass
    if mass is not None:
        said.append("/pieces/0/shape/mass_kg" if kind == "weighed" else "/pieces/0/mass_kg")
    for name in ("name", "metal", "hollow", "grease", "paint", "grade", "aim", "use", "parts"):
        if (value := getattr(first, name)) not in (None, ""):
            known[name] = value
            said.append(f"/pieces/0/{name}")
    coats = coats_of(first.coats, first.metals)
    known |= coats
    said += [f"/pieces/0/{name}" for name in coats]
    piece = Piece(metal="unknown", hollow="unknown", grease="unknown", paint="unknown")
    piece = piece.model_copy(update=known)
    for pointer, fault in misfits(Plan(pieces=[piece])):
        out.faults["weighs" if pointer.endswith("mass_kg") else "sizes"] = fault
        return None
    out.heard["sizes"] = _sizes_said(shape, len(sizes), first.system)
    if unlikely := doubted(first.sizes, kind, first.system):
        out.heard["sizes"] += word("begin.doubt.sizes", likely=unlikely)
    if isinstance(shape, Pile):
        out.heard["many"] = _many_said(shape, heap, first.system)
    return piece


def _heap(first: First, sizes: Sequence[float], out: Begun) -> Heap | None:
    """How many lie in it, where that was said: by number, weight in all or room."""
    text, name = (first.many, "many") if first.many.strip() else (first.weighs, "weighs")
    thick = sizes[1] if len(sizes) > 1 else Pile().item_diameter_m
    out.faults.pop("weighs", None)  # a weight in all is no weight of one piece
    return _heard(out, name, text, lambda t: read_many(t, sizes[0], thick, first.system))


def _many_said(shape: Pile, heap: Heap | None, system: System) -> str:
    one = math.pi / 4 * shape.item_diameter_m**2 * shape.item_length_m
    mass = show(shape.count * one * param("steel_kg_m3").value, "mass", system, 2)
    key = "assumed" if heap is None else heap.by
    return word(f"begin.heap.{key}", count=shape.count, mass=mass)


def _kinds() -> Sequence[str]:
    return [k for k in options("shape.kind") if k != "mesh"]


def _called(kind: str, name: str) -> str:
    return _SHAPE.validate_python({"kind": kind}).field_word(name)


def _shape(
    kind: str, sizes: Sequence[float], mass: float | None, out: Begun, heap: Heap | None = None
) -> Shape | None:
    given: dict[str, Any] = {"kind": kind, **with_rest(kind, sizes)}
    if kind == "weighed":
        given["mass_kg"] = mass
    if kind == "pile":
        count = heap.count if heap else Pile().count
        thick = given.get("item_diameter_m", Pile().item_diameter_m)
        given |= {"count": count, **_basket(given["item_length_m"], thick, count)}
    try:
        return _SHAPE.validate_python(given)
    except ValidationError as error:
        wrong = [str(e["loc"][-1]) for e in error.errors()]
        out.faults["sizes"] = word(
            "begin.fault.sizes", which=", ".join(small(_called(kind, n)) for n in wrong)
        )
        return None


def _basket(long: float, thick: float, count: int) -> dict[str, float]:
    """A basket in which so many lie loosely."""
    edge = (count * math.pi / 4 * thick**2 * long / LOOSE) ** (1 / 3)
    return {"length_m": max(1.4 * edge, 1.2 * long), "width_m": max(edge, 0.02),
            "height_m": max(0.7 * edge, 0.01)}  # fmt: skip


def _sizes_said(shape: Shape, typed: int, system: System) -> str:
    names = asked(shape.kind)

    def said(name: str) -> str:
        value = getattr(shape, name)
        return f"{small(shape.field_word(name))} {show(value, 'length', system)}"

    first = ", ".join(said(n) for n in names[:typed])
    rest = [n for n in type(shape).model_fields if n.endswith("_m") and n not in names[:typed]]
    more = ", ".join(said(n) for n in rest if getattr(shape, n) is not None)
    return word("begin.assumed", said=first, assumed=more) if more else first


def _mass(text: str, system: System) -> float:
    return _checked(Piece(), "/mass_kg", text, system)


def _checked(holder: Doc, pointer: str, text: str, system: System) -> float:
    target = locate(holder, pointer)
    assert target is not None
    value = read_text(text, target, system)
    if value is None:
        raise NotUnderstoodError(f"{target.called}: nothing is typed.")
    return value


# --- Vessel and supply ------------------------------------------------------------------------


def _tank(first: First, piece: Piece, out: Begun, said: list[str]) -> Tank:
    system = first.system
    called, holds_said = named(first.holds)
    vessel = first.vessel or called
    if first.tank is not None:
        said.append("/tank")
        out.heard["holds"] = _tank_said("begin.vessel.own", first.tank, system)
        return first.tank
    if vessel and vessel not in vessels.vessels():
        out.faults["vessel"] = f"{vessel} is no vessel that is known here."
        vessel = ""
    tank, vessel_said = None, vessel
    if holds_said:
        tank = _heard(out, "holds", holds_said, lambda t: _vessel(vessel, t, system))
    if vessel or tank is not None:
        said += ["/tank/shape/kind", *(["/tank/name"] if vessel else [])]
    if tank is not None:
        said.append("/tank/shape")
    else:
        holds = vessels.usual_m3(vessel) if vessel else 0.0
        if not vessel:
            vessel, holds = vessels.smallest_for(piece)
        tank = vessels.by_volume(vessel, holds, system)
    if first.vessel_of is not None:
        tank = tank.model_copy(update={"material": first.vessel_of})
        said.append("/tank/material")
    key = "assumed" if "/tank/shape" not in said else "said" if vessel_said else "guess"
    out.heard["holds"] = _tank_said(f"begin.vessel.{key}", tank, system)
    return tank


def _tank_said(key: str, tank: Tank, system: System) -> str:
    inside = show(volume_at(tank, tank.shape.height_m), "volume", system)
    return word(key, name=tank.name, inside=inside, sizes=_tank_sizes(tank, system))


def _vessel(vessel: str, text: str, system: System) -> Tank:
    """By the volume that is printed on it, else by its inside sizes; one without a name is taken
    for a bucket where buckets are so small, else for a box."""
    try:
        holds = parse(text, "volume", system)
        usual = "bucket" if holds <= _BUCKETS else "box"
        return vessels.by_volume(vessel or usual, holds, system)
    except NotUnderstoodError as volume:
        try:
            sizes = read_sizes(text, system)
        except InputError:
            raise volume from None
    likely = doubted(text, "vessel", system)
    if likely:
        raise NotUnderstoodError(
            f"“{text[:40]}” is no size for a vessel.",
            remedy=word("begin.doubt.holds", likely=likely),
        )
    try:
        round_one = "bucket" if len(sizes) == 2 else "box"
        return Tank.model_validate(vessels.by_sizes(vessel or round_one, sizes).model_dump())
    except ValidationError:
        raise NotUnderstoodError(
            f"“{text[:40]}” is no size for a vessel.", remedy=word("begin.hint.holds")
        ) from None


_BUCKETS = 0.025  # m3


def _tank_sizes(tank: Tank, system: System) -> str:
    shape = tank.shape
    names = [n for n in ("length_m", "width_m", "diameter_m", "rim_diameter_m", "height_m")
             if getattr(shape, n, None) is not None]  # fmt: skip
    return " × ".join(
        str(show(getattr(shape, f"top_{n}", None) or getattr(shape, n), "length", system, 2))
        for n in names
    )


def _no_room(piece: Piece, system: System, dipped: bool) -> str:
    vessel, holds = vessels.smallest_for(piece)
    if vessels.hung_in(piece, vessels.by_volume(vessel, holds)) is None:
        return word("begin.ask.two_dips" if dipped else "begin.ask.trough")
    name = small(word(f"choice.begin.vessel.{vessel}")).partition(",")[0]
    key = "begin.ask.two_or" if dipped else "begin.ask.room"
    return word(key, vessel=name, holds=show(holds, "volume", system, 2))


def _supply(first: First, out: Begun, said: list[str]) -> Supply:
    found = None if first.supply else _heard(out, "label", first.label, label.read_label)
    # ampere-hours alone are a battery's
    alone = found is not None and found.hours is not None and found.amps is None
    kind = first.feeds or ("battery" if alone else "unknown")
    if first.supply is not None:
        said.append("/supply")
        out.heard["label"] = word("begin.feeds.said", said=_volts_amps(first.supply), others="")
        return first.supply
    if kind not in options("supply.kind"):
        out.faults["feeds"] = f"{kind} is no supply that is known here."
        kind = "unknown"
    known: dict[str, Any] = {"kind": kind}
    if first.feeds or alone:
        said.append("/supply/kind")
    if found is not None:
        given = {"nominal_v": found.volts, "rated_a": found.amps, "battery_ah": found.hours}
        known |= {k: v for k, v in given.items() if v is not None}
        said += [f"/supply/{k}" for k, v in given.items() if v is not None]
    try:
        supply = _SUPPLY.validate_python(known)
    except ValidationError:
        out.faults["label"] = word("begin.fault.label")
        supply = _SUPPLY.validate_python({"kind": kind})
        said[:] = [s for s in said if not s.startswith("/supply/") or s == "/supply/kind"]
    out.heard["label"] = _supply_said(supply, found)
    return supply


def _volts_amps(supply: Supply) -> str:
    return f"{show(supply.nominal_v, 'voltage')}, {show(supply.rated_a, 'current')}"


def _supply_said(supply: Supply, found: label.Label | None) -> str:
    """What the label says as it was read, and what of it is assumed, each marked."""
    if found is None:
        return word("begin.feeds.assumed", assumed=_volts_amps(supply))
    rows = [(found.volts, supply.nominal_v, "voltage"), (found.amps, supply.rated_a, "current")]
    if isinstance(supply, Battery):  # what it can give is no question of its label
        rows = rows[:1]
    if found.hours is not None:
        rows.append((found.hours, found.hours, "charge"))
    heard = ", ".join(str(show(v, q)) for v, _, q in rows if v is not None)
    rest = ", ".join(str(show(taken, q)) for v, taken, q in rows if v is None)
    others = word("begin.feeds.others", others=found.others) if found.others else ""
    key = "begin.feeds.partly" if rest else "begin.feeds.said"
    return word(key, said=heard, assumed=rest, others=others)


def _heard(out: Begun, name: str, text: str, read: Callable[[str], T]) -> T | None:
    """A text as read; its fault is kept where it cannot be."""
    if not text.strip():
        return None
    try:
        return read(text)
    except InputError as error:
        out.faults[name] = str(error)
        return None
