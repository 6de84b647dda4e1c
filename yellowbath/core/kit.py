"""The shop's own things: tanks, supplies, leads, scrap, mixes, chemicals, and how they stand.

A thing is what was typed of it, and a log of what has happened to it since; how it stands follows
from both. Nothing here is needed for a plan.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import reduce
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator

from yellowbath.core.chemistry import batch as batches
from yellowbath.core.chemistry.batch import Batch
from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.chemistry.liquid import SODA
from yellowbath.core.chemistry.mixing import INERT
from yellowbath.core.data import param
from yellowbath.core.document import (
    SCHEMA_VERSION,
    Anode,
    Doc,
    FloorAnode,
    PlateAnode,
    Product,
    RodAnode,
    Supply,
    Tank,
    Transformer,
    number,
)
from yellowbath.core.document.base import Texts
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.moments import Moment


class KitTank(Doc):
    part = "thing"
    kind: Literal["tank"] = "tank"
    tank: Tank = Field(default_factory=Tank)

    @field_validator("tank")
    @classmethod
    def _stands_alone(cls, tank: Tank) -> Tank:
        if tank.is_piece:
            raise ValueError("a tube that is its own vessel belongs to its plan, not to the kit")
        return tank


class KitSupply(Doc):
    part = "thing"
    kind: Literal["supply"] = "supply"
    supply: Supply = Field(default_factory=Transformer)


class KitLead(Doc):
    part = "thing"
    kind: Literal["lead"] = "lead"
    length_m: float = number("distance", 1.5, 0.1, 30.0)
    area_m2: float = number("wire", 2.5e-6, 2e-7, 70e-6)


class KitPump(Doc):
    """A pump with its filter: what it moves in an hour [m3], powered hours between back-flushes."""

    part = "thing"
    kind: Literal["pump"] = "pump"
    hourly_m3: float = number("volume", 0.3, 0.005, 5.0)
    flush_s: float = number("time", 12 * 3600.0, 600.0, 1e6)


class KitAnode(Doc):
    """Some like pieces of scrap, weighed together; masses of all of them."""

    part = "thing"
    kind: Literal["anode"] = "anode"
    anode: Anode = Field(default_factory=lambda: RodAnode(id="a1"))
    count: int = number("count", 2, 1, 40)
    new_kg: float | None = number("mass", None, 0.005, 200.0)
    now_kg: float | None = number("mass", None, 0.0, 200.0)


def _may_be_kept(key: str) -> str:
    try:
        batches.heap(product(key).salt)
    except OutOfRangeError as error:
        raise ValueError(str(error)) from None
    return key


class KitMix(Doc):
    part = "thing"
    kind: Literal["mix"] = "mix"
    product: Annotated[Product, AfterValidator(_may_be_kept)] = "soda_anhydrous"
    water_m3: float = number("volume", 0.02, 0.0005, 5.0)
    salts_kg: float = number("mass", 0.1, 0.0, 200.0)
    bicarbonate_kg: float = number("mass", 0.0, 0.0, 200.0)
    salt_kg: float = number("mass", 0.0, 0.0, 200.0)


class KitChemical(Doc):
    part = "thing"
    kind: Literal["chemical"] = "chemical"
    product: Product = "soda_anhydrous"
    left_kg: float = number("mass", 1.0, 0.0, 200.0)
    low_kg: float = number("mass", 0.3, 0.0, 200.0)


KitDetail = Annotated[
    KitTank | KitSupply | KitLead | KitPump | KitAnode | KitMix | KitChemical,
    Field(discriminator="kind"),
]


class Thing(Doc):
    """A thing of the shop as it was typed in; ``typed`` keeps texts that cannot be read yet."""

    schema_version: Literal[8] = SCHEMA_VERSION
    name: str = Field(default="", max_length=60)
    detail: KitDetail
    typed: Texts = Field(default_factory=dict)


class Batched(BaseModel):
    """Another batch that was poured in."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    water: float = Field(ge=0, le=10)
    soda: float = Field(default=0.0, ge=0, le=500)
    bicarbonate: float = Field(default=0.0, ge=0, le=500)
    chloride: float = Field(default=0.0, ge=0, le=500)
    dirt: float = Field(default=0.0, ge=0, le=500)
    charge: float = Field(default=0.0, ge=0)
    days: float = Field(default=0.0, ge=0)


class KitEvent(BaseModel):
    """What happened to a thing: used by a run, or by hand. Amounts [SI], charge [Ah].

    ``salt`` names what was added, where that is another than the mix's own.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    at: Moment
    what: Literal[
        "used", "scraped", "weighed", "topped_up", "added", "poured_out", "decanted", "strip",
        "poured_in", "restocked", "flushed",
    ]  # fmt: skip
    run_id: str = Field(default="", max_length=64)
    charge_ah: float = Field(default=0.0, ge=0, le=1e6)
    seconds: float = Field(default=0.0, ge=0, le=1e9)
    amount: float = Field(default=0.0, ge=0, le=1e4)
    surface_m2: float = Field(default=0.0, ge=0, le=1e3)
    evaporated_m3: float = Field(default=0.0, ge=0, le=10.0)
    rust_kg: float = Field(default=0.0, ge=0, le=1e3)
    salt: str = Field(default="", max_length=32)
    other: Batched | None = None


Shows = Callable[[float, str], str]
"""Writes a value of a quantity in the person's unit."""


@dataclass(frozen=True)
class Stands:
    """How a thing stands: free, in use, worn, running low, to settle, foul, gone; and why."""

    word: str
    why: str
    lines: tuple[str, ...] = ()
    batch: Batch | None = None
    left_kg: float | None = None


@dataclass(frozen=True)
class Wear:
    """What a thing's log comes to: in use so long [s], charge through it [Ah], since it was scraped
    and weighed, time since it was back-flushed; what was weighed and is left [kg], and its mix."""

    seconds: float = 0.0
    charge_ah: float = 0.0
    scraped_ah: float = 0.0
    weighed_ah: float = 0.0
    flushed_s: float = 0.0
    weighed_kg: float | None = None
    left_kg: float | None = None
    batch: Batch | None = None

    @classmethod
    def kept(cls, state: Mapping[str, Any]) -> Wear:
        """As it was kept by ``dataclasses.asdict``."""
        batch = state["batch"]
        return cls(**{**state, "batch": Batch(**batch) if batch else None})


@dataclass(frozen=True)
class Held:
    """A thing of the kit that a plan names: as it is typed and as it ``was`` at a time, where that
    is otherwise, and of a mix what its log came to; nothing of one that cannot be read here."""

    detail: KitDetail | None = None
    was: KitDetail | None = None
    wear: Wear | None = None


def unworn(detail: KitDetail) -> Wear:
    """A thing to which nothing has happened yet."""
    match detail:
        case KitAnode():
            return Wear(weighed_kg=detail.now_kg)
        case KitChemical():
            return Wear(left_kg=detail.left_kg)
        case KitMix():
            return Wear(batch=_mixed(detail))
    return Wear()


def after(wear: Wear, e: KitEvent, detail: KitDetail) -> Wear:
    """The same once one thing more has happened to it."""
    if e.what == "scraped":
        wear = replace(wear, scraped_ah=0.0)
    elif e.what == "flushed":
        wear = replace(wear, flushed_s=0.0)
    elif e.what == "weighed":
        wear = replace(wear, weighed_kg=e.amount, weighed_ah=0.0, left_kg=e.amount)
    elif e.what == "restocked":
        wear = replace(wear, left_kg=(wear.left_kg or 0.0) + e.amount)
    elif e.what == "used":
        left = wear.left_kg
        wear = replace(
            wear, seconds=wear.seconds + e.seconds, charge_ah=wear.charge_ah + e.charge_ah,
            scraped_ah=wear.scraped_ah + e.charge_ah, weighed_ah=wear.weighed_ah + e.charge_ah,
            flushed_s=wear.flushed_s + e.seconds,
            left_kg=None if left is None else max(left - e.amount, 0.0),
        )  # fmt: skip
    if isinstance(detail, KitMix) and wear.batch is not None:
        wear = replace(wear, batch=_after(wear.batch, e, product(detail.product).salt))
    return wear


def worn(detail: KitDetail, log: Iterable[KitEvent]) -> Wear:
    """What a whole log comes to."""
    return reduce(lambda wear, e: after(wear, e, detail), log, unworn(detail))


def stands(thing: Thing, wear: Wear, used_by: str, show: Shows) -> Stands:
    """How a thing stands after what its log came to; ``used_by`` names the bath that it hangs in
    now."""
    detail = thing.detail
    match detail:
        case KitAnode():
            made = _scrap(detail, wear, show)
        case KitMix():
            made = _mix(wear, show)
        case KitChemical():
            made = _shelf(detail, wear, show)
        case KitPump():
            made = _pump(detail, wear, show)
        case _:
            hours = wear.seconds / 3600
            lines = (f"{hours:.0f} h in use so far",) if hours else ()
            made = Stands("free", "", lines)
    if used_by:
        return replace(made, word="in use", why=f"In the bath of {used_by}.")
    return made


def _pump(detail: KitPump, wear: Wear, show: Shows) -> Stands:
    since = wear.flushed_s
    lines = (f"{show(since, 'time')} since it was back-flushed",) if since else ()
    if since >= detail.flush_s:
        return Stands("to back-flush", "A clogged filter stops the flow or bursts a hose.", lines)
    return Stands("free", "", lines)


def _scrap(detail: KitAnode, wear: Wear, show: Shows) -> Stands:
    share = 0.0 if detail.anode.material in INERT else param("anode_iron_share").value
    lost = wear.weighed_ah * param("fe_kg_ah").value * share
    area = detail.count * surface_of(detail.anode)
    cake = param("cake_ah_m2").value * area
    lines = []
    if wear.charge_ah > 0:
        lines.append(f"{show(wear.charge_ah, 'charge')} through it")
        lines.append(f"{show(wear.scraped_ah, 'charge')} since it was scraped")
    left = None
    if detail.new_kg:
        now = wear.weighed_kg
        left = max((now if now is not None else detail.new_kg) - lost, 0.0)
        lines.append(f"about {show(left, 'mass')} of {show(detail.new_kg, 'mass')} left")
        if left < (1 - param("scrap_worn").value) * detail.new_kg:
            return Stands("worn", "Half of it is gone: it breaks at the surface line.",
                          tuple(lines), None, left)  # fmt: skip
    if wear.scraped_ah > cake:
        return Stands("to scrape", "Its crust is thick by now: scrape all of a bath together.",
                      tuple(lines), None, left)  # fmt: skip
    return Stands("free", "", tuple(lines), None, left)


def surface_of(anode: Anode) -> float:
    """Surface of one piece of scrap, so much of a rod or a flat taken as wet [m2]."""
    length = param("scrap_wet_m").value
    if isinstance(anode, FloorAnode):
        return 2 * anode.width_m * anode.depth_m
    if isinstance(anode, PlateAnode):
        return 2 * (anode.width_m + anode.thickness_m) * length
    return math.pi * anode.diameter_m * length


def _mixed(detail: KitMix) -> Batch:
    key = product(detail.product).salt
    made = Batch(detail.water_m3, chloride=detail.salt_kg)
    if key != SODA:
        return batches.added(made, key, detail.salts_kg)
    soda = max(detail.salts_kg - detail.bicarbonate_kg, 0.0)
    return replace(made, soda=soda, bicarbonate=detail.bicarbonate_kg)


def _after(batch: Batch, e: KitEvent, key: str) -> Batch:
    match e.what:
        case "used":
            use = batches.Use(e.charge_ah, e.seconds, e.evaporated_m3, e.surface_m2, 1, e.rust_kg)
            return batches.used(batch, use)
        case "topped_up":
            return batches.topped_up(batch, e.amount)
        case "added":
            return batches.added(batch, e.salt or key, e.amount)
        case "poured_out":
            return batches.poured_out(batch, e.amount)
        case "decanted":
            return batches.decanted(batch)
        case "strip":
            return batches.by_strip(batch, e.amount, 20.0)
        case "poured_in" if e.other is not None:
            return batches.together(batch, Batch(**e.other.model_dump()))
    return batch


def _mix(wear: Wear, show: Shows) -> Stands:
    batch = wear.batch
    assert batch is not None
    said = batches.verdict(batch)
    salts = batch.soda + batch.bicarbonate
    lines = [f"{show(batch.water, 'volume')} with {show(salts, 'mass')} of dry soda"]
    if batch.chloride > 0:
        lines.append(f"{show(batch.chloride, 'mass')} of salt in it")
    if batch.water > 5e-4:
        liquid = batch.liquid()
        lines.append(
            f"{liquid.total:.2g} g/L, {liquid.conductivity(20):.2g} S/m at 20 °C, "
            f"pH {liquid.ph(20):.1f}"
        )
    if batch.bicarbonate > 0.005 * max(salts, 1e-9):
        lines.append(f"{show(batch.bicarbonate, 'mass')} of it still baking soda")
    lines.append(f"{show(batch.charge, 'charge')} through it")
    word = {"good": "free"}.get(said.word, said.word)
    return Stands(word, said.why if word != "free" else "", tuple(lines), batch)


def _shelf(detail: KitChemical, wear: Wear, show: Shows) -> Stands:
    left = wear.left_kg or 0.0
    lines = (f"{show(left, 'mass')} left",)
    if left <= 0:
        return Stands("gone", "None is left.", lines, None, left)
    if left < detail.low_kg:
        return Stands("running low", f"Under {show(detail.low_kg, 'mass')}.", lines, None, left)
    return Stands("free", "", lines, None, left)
