"""Mends in one press: each is tried on the plan before it is offered.

A mend sets fields on every member that the finding is about. It is offered only where it takes the
finding away and raises no stop that was not there; the candidates come from the check's row and
from the makers below, the least change first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any, get_args

from yellowbath.core.checks.limits import check_rows
from yellowbath.core.checks.registry import Change, Context, Finding, run_checks
from yellowbath.core.checks.scrap import REFUSED
from yellowbath.core.chemistry import mixing
from yellowbath.core.data import param
from yellowbath.core.document import (
    Anode,
    BoreAnode,
    BoxTank,
    FloorAnode,
    Hang,
    Piece,
    Plan,
    Sheet,
    Tube,
)
from yellowbath.core.errors import YellowBathError
from yellowbath.core.geometry.fit import scrap_fits
from yellowbath.core.geometry.piece import posed
from yellowbath.core.plan.advice.dose_for import dose_for
from yellowbath.core.plan.placement.fitting import goes_into, smallest
from yellowbath.core.plan.reading.arrange import positions
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, answer
from yellowbath.core.power.cords import ampacity, thickness_for
from yellowbath.core.power.supply import next_fuse, standard_fuses
from yellowbath.core.units import show

Sets = tuple[tuple[str, Any], ...]
Maker = Callable[[Context, Finding], Iterator[Change]]
MOST = 2  # mends that one finding offers; more is a choice to be made in the fields
_MAKERS: dict[str, Maker] = {}


def mends(*check_ids: str) -> Callable[[Maker], Maker]:
    """Register a maker of candidates for some checks."""

    def register(maker: Maker) -> Maker:
        _MAKERS.update(dict.fromkeys(check_ids, maker))
        return maker

    return register


def offered(c: Context, found: Sequence[Finding]) -> list[Finding]:
    """The findings with those of their candidates that work on this plan."""
    before: frozenset[str] | None = None
    out = []
    for finding in found:
        changes: list[Change] = []
        for change in _candidates(c, finding):
            if before is None:
                before = _stops(c, found)
            told = any(
                change.label == x.label or dict(change.sets) == dict(x.sets) for x in changes
            )
            if not told and len(changes) < MOST and works(c.plan, finding, change, before):
                changes.append(change)
        out.append(replace(finding, changes=tuple(changes)))
    return out


def _stops(c: Context, found: Sequence[Finding]) -> frozenset[str]:
    """Ids of the stops that are there: by the field the plan was answered by, and by the closed
    form that candidates are tried with."""
    ids = {f.id for f in found if f.severity == "stop"}
    if c.answer.models[:1] != (FIELD_MODEL.name,):
        ids |= {f.id for f in _tried(c.plan) or () if f.severity == "stop"}
    return frozenset(ids)


def works(plan: Plan, finding: Finding, change: Change, before: frozenset[str]) -> bool:
    """Whether a change takes a finding away, on every member, and raises no other stop."""
    after = changed(plan, change.sets)
    found = _tried(after) if after is not None else None
    if found is None:
        return False
    ids = {f.id for f in found}
    return finding.id not in ids and {f.id for f in found if f.severity == "stop"} <= before


def _tried(plan: Plan) -> Sequence[Finding] | None:
    try:
        worked = answer(plan)
    except YellowBathError:
        return None
    return run_checks(Context(plan, worked.fill, worked))


def changed(plan: Plan, sets: Sets) -> Plan | None:
    """A plan with fields set by pointer and read anew; None where that is no plan."""
    document = plan.model_dump(mode="json")
    for pointer, value in sets:
        document["typed"] = {
            k: v for k, v in document["typed"].items()
            if k != pointer and not k.startswith(f"{pointer}/")
        }  # fmt: skip
        *path, last = pointer.strip("/").split("/")
        holder: Any = document
        for part in path:
            holder = holder[int(part)] if isinstance(holder, list) else holder[part]
        holder[int(last) if isinstance(holder, list) else last] = value
    try:
        read = read_plan(document)
    except YellowBathError:
        return None
    return None if set(read.faults) - set(_faulty(plan)) else read.plan


def _faulty(plan: Plan) -> Sequence[str]:
    return list(read_plan(plan.model_dump(mode="json")).faults)


def _candidates(c: Context, finding: Finding) -> Iterator[Change]:
    for row in check_rows()[finding.id].get("change", []):
        yield from _from_row(c.plan, finding, row)
    if finding.id in _MAKERS:
        yield from _MAKERS[finding.id](c, finding)


def _from_row(plan: Plan, finding: Finding, row: Mapping[str, Any]) -> Iterator[Change]:
    """A row's change; ``{each}`` in a pointer stands for every member that it is about."""
    pointers = [row["pointer"]]
    if "{each}" in row["pointer"]:
        kind = row["pointer"].split("/")[1]
        pointers = [
            row["pointer"].format(each=k)
            for k, member in enumerate(getattr(plan, kind))
            if not finding.about or member.id in finding.about
        ]
    value = None if row.get("empty") else row["value"]
    yield Change(tuple((p, value) for p in pointers), row["label"])


# --- Makers: pieces -----------------------------------------------------------------------------


def _at(plan: Plan, finding: Finding) -> list[int]:
    """Places in the list of the pieces that a finding is about."""
    return [k for k, p in enumerate(plan.pieces) if not finding.about or p.id in finding.about]


@mends("ordnance_whole", "ordnance_hollow")
def _take_out(c: Context, finding: Finding) -> Iterator[Change]:
    left = [p for k, p in enumerate(c.plan.pieces) if k not in _at(c.plan, finding)]
    kept = [p.model_dump(mode="json") for p in left or [Piece()]]
    yield Change((("/pieces", kept),), "Take it out of this plan")


@mends("metal_light", "metal_cadmium", "metal_dissolves")
def _part_off(c: Context, finding: Finding) -> Iterator[Change]:
    gone = {
        "metal_light": {"aluminium", "magnesium"}, "metal_cadmium": {"cadmium"},
        "metal_dissolves": {"zinc", "tin", "lead"},
    }[finding.id]  # fmt: skip
    sets = tuple(
        (f"/pieces/{k}/other_metals", [m for m in p.other_metals if m not in gone])
        for k, p in enumerate(c.plan.pieces)
    )
    yield Change(sets, "That part is off")


@mends("no_fit", "pieces_meet")
def _fit(c: Context, finding: Finding) -> Iterator[Change]:
    plan = c.plan
    every = range(len(plan.pieces))
    middle = tuple((f"/pieces/{k}/{axis}", 0.0) for k in every for axis in ("x_m", "y_m"))
    free = tuple((f"/pieces/{k}/bottom_m", None) for k in _at(plan, finding))
    yield Change(middle, "Hang it in the middle" if len(plan.pieces) == 1 else "Hang them apart")
    yield Change((*middle, *free), "Hang it where it is covered")
    for hang in get_args(Hang):
        sets = (*middle, *free, *_hung(plan, finding, hang))
        hung = [plan.pieces[k].model_copy(update={"hang": hang}) for k in _at(plan, finding)]
        out = any(posed(p)[2] > c.fill.level.value for p in hung)
        yield Change(sets, ("Dip it end by end: " if out else "Hang it ") + _HANGS[hang])
    fits = [goes_into(plan.pieces[k], plan.tank, plan.layout) for k in _at(plan, finding)]
    the_way = tuple(
        pair
        for k, f in zip(_at(plan, finding), fits, strict=True)
        for pair in ((f"/pieces/{k}/hang", f.hang), (f"/pieces/{k}/turn_deg", f.turn_deg))
    )
    yield Change((*middle, *free, *the_way), "Hang it the way it fits")
    yield from _larger_tank(c)


_HANGS: Mapping[str, str] = {
    "long_across": "long side across", "long_down": "long side down", "flat": "flat",
}  # fmt: skip


def _hung(plan: Plan, finding: Finding, hang: Hang) -> Sets:
    return tuple(
        pair
        for k in _at(plan, finding)
        for pair in ((f"/pieces/{k}/hang", hang), (f"/pieces/{k}/turn_deg", 0.0))
    )


def _larger_tank(c: Context) -> Iterator[Change]:
    """A box that takes all pieces with room for the scrap, and the scrap at its walls."""
    plan = c.plan
    box, hang = smallest(plan.pieces)
    for grow in (0.0, 0.1, 0.3, 0.8):
        made = BoxTank(
            length_m=min(box.length_m + grow, 5.0), width_m=min(box.width_m + 2 * grow, 3.0),
            height_m=min(box.height_m + grow, 3.0),
        )  # fmt: skip
        size = " by ".join(
            str(show(s, "length", plan.system)) for s in (made.length_m, made.width_m)
        )
        deep = show(made.height_m, "length", plan.system)
        sets: list[tuple[str, Any]] = [
            ("/tank/shape", made.model_dump()), ("/tank/marks", []), ("/tank/water_m3", None),
            ("/tank/level_m", None), ("/tank/hole_height_m", None),
        ]  # fmt: skip
        for k, _ in enumerate(plan.pieces):
            sets += [
                (f"/pieces/{k}/{name}", value)
                for name, value in (
                    ("hang", hang), ("turn_deg", 0.0), ("tilt_deg", 0.0), ("x_m", 0.0),
                    ("y_m", 0.0), ("bottom_m", None),
                )
            ]  # fmt: skip
        yield Change((*sets, *_at_walls(plan, made)), f"Take a tank of {size}, {deep} deep")


def _at_walls(plan: Plan, box: BoxTank) -> Sets:
    """The scrap set out anew for a box: like anodes opposite, unlike ones in their order along its
    long walls."""
    if not plan.mixed_scrap and plan.sample.stands:
        return (("/layout/arrangement", "opposite"),)
    if not plan.mixed_scrap:
        return ()
    sets: list[tuple[str, Any]] = [("/layout/arrangement", "by_hand")]
    standing = [k for k, a in enumerate(plan.anodes) if a.stands]
    half = (len(standing) + 1) // 2
    gap = plan.layout.wall_gap_m
    for n, k in enumerate(standing):
        side, place = divmod(n, half)
        x = box.length_m * ((place + 0.5) / half - 0.5)
        y = box.width_m / 2 - gap
        sets += [(f"/anodes/{k}/x_m", x), (f"/anodes/{k}/y_m", y if side else -y)]
    return tuple(sets)


# --- Makers: scrap -------------------------------------------------------------------------------


@mends("anode_refused", "anode_unknown", "anode_painted", "acid_anode")
def _other_metal(c: Context, finding: Finding) -> Iterator[Change]:
    """Another metal of the same size, on all that the same check is about, whichever case."""
    plan = c.plan
    those = {
        "anode_refused": REFUSED, "anode_unknown": {"unknown"}, "anode_painted": {"painted"},
        "acid_anode": plan.metals - mixing.INERT,
    }[finding.id]  # fmt: skip

    def made(material: str) -> Sets:
        return tuple(
            (f"/anodes/{k}/material", material)
            for k, a in enumerate(plan.anodes)
            if a.material in those
        )

    if not mixing.chloride(plan):
        yield Change(made("plain_steel"), "Use plain steel of the same size")
        return
    yield Change(made("coated_titanium"), "Use coated titanium of the same size")
    steel = tuple(
        (f"/anodes/{k}/material", "plain_steel")
        for k, a in enumerate(plan.anodes)
        if a.material not in mixing.INERT
    )
    yield Change((*_fresh_soda(), *steel), "Use washing soda, and plain steel of the same size")


def _fresh_soda() -> Sets:
    return (
        ("/mix/product", "soda_anhydrous"), ("/mix/source", "fresh"), ("/mix/batch_id", None),
        ("/mix/kept_kg", None), ("/mix/kept_bicarbonate_kg", 0.0), ("/mix/kept_salt_kg", 0.0),
        ("/mix/strip_ph", None),
    )  # fmt: skip


@mends("scrap_outside")
def _inside(c: Context, finding: Finding) -> Iterator[Change]:
    """Nearer to the middle, else narrower, until all of it stands within the wall."""
    plan, level = c.plan, c.fill.level.value

    def fits(anode: Anode) -> bool:
        return scrap_fits(anode, plan.tank, level)

    if plan.layout.arrangement != "by_hand" and plan.sample.stands:
        for step in range(1, 61):
            gap = round(plan.layout.wall_gap_m + 0.005 * step, 3)
            spots = positions(plan.layout.model_copy(update={"wall_gap_m": gap}), plan.tank)
            stand = zip(plan.anodes, spots, strict=False)
            if all(fits(a.model_copy(update={"x_m": x, "y_m": y})) for a, (x, y) in stand):
                yield Change((("/layout/wall_gap_m", gap),), "Stand it clear of the wall")
                break
    sets: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        if fits(anode):
            continue
        near = _first(anode, fits, lambda a, f: {"x_m": a.x_m * f, "y_m": a.y_m * f})
        if near is not None:
            sets += [(f"/anodes/{k}/x_m", near.x_m), (f"/anodes/{k}/y_m", near.y_m)]
    by_hand = (("/layout/arrangement", "by_hand"),)
    if sets:
        yield Change((*by_hand, *sets), "Move it nearer to the middle")
    smaller: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        less = anode if fits(anode) else _first(anode, fits, _smaller)
        if less is not None and less is not anode:
            smaller += [(f"/anodes/{k}/{n}", getattr(less, n)) for n in _smaller(anode, 1.0)]
            smaller += [(f"/anodes/{k}/x_m", less.x_m), (f"/anodes/{k}/y_m", less.y_m)]
    if smaller:
        yield Change(tuple(smaller), "Take scrap that is narrower")
        yield Change((*by_hand, *smaller), "Take scrap that is narrower")
    yield from _larger_tank(c)


def _smaller(anode: Anode, share: float) -> dict[str, float]:
    if not isinstance(anode, Sheet):
        return {"diameter_m": max(round(anode.diameter_m * share, 4), 0.002)}
    return {n: max(round(getattr(anode, n) * share, 3), 0.005) for n in anode.sizes}


def _first(
    anode: Anode, fits: Callable[[Anode], bool],
    made: Callable[[Anode, float], Mapping[str, float]],
) -> Anode | None:  # fmt: skip
    """The largest share by which a changed anode fits."""
    for part in range(19, 0, -1):
        smaller = anode.model_copy(update=dict(made(anode, part / 20)))
        if fits(smaller):
            return smaller
    return None


@mends("scrap_meets")
def _spread(c: Context, _: Finding) -> Iterator[Change]:
    plan = c.plan
    if not plan.mixed_scrap:
        yield Change((("/layout/arrangement", "opposite"),), "Set it out on opposite sides")
        yield Change(
            (("/layout/arrangement", "opposite"), ("/anodes/0/width_m", 0.05)),
            "Take narrower flats, on opposite sides",
        )
    standing = [k for k, a in enumerate(plan.anodes) if a.stands]
    around = plan.layout.model_copy(update={"arrangement": "ring", "count": max(len(standing), 3)})
    spots = positions(around, plan.tank)
    sets: list[tuple[str, Any]] = [("/layout/arrangement", "by_hand")]
    for k, (x, y) in zip(standing, spots, strict=False):
        sets += [(f"/anodes/{k}/x_m", x), (f"/anodes/{k}/y_m", y)]
    yield Change(tuple(sets), "Spread it round the wall")
    kept = [
        a for k, a in enumerate(plan.anodes)
        if not a.stands or all(
            max(abs(a.x_m - b.x_m), abs(a.y_m - b.y_m)) > (a.across_m + b.across_m) / 2
            for b in plan.anodes[:k] if b.stands
        )
    ]  # fmt: skip
    left = [a.model_dump(mode="json") for a in kept]
    yield Change((("/layout/arrangement", "by_hand"), ("/anodes", left)), "Remove those in the way")
    yield from _larger_tank(c)


@mends("short")
def _apart(c: Context, finding: Finding) -> Iterator[Change]:
    plan = c.plan
    for gap in (0.02, 0.01, 0.005, 0.002):
        if plan.layout.wall_gap_m > gap and plan.layout.arrangement != "by_hand":
            yield Change((("/layout/wall_gap_m", gap),), "Set the scrap nearer to the wall")
    bored: list[tuple[str, Any]] = []
    lying: list[tuple[str, Any]] = []
    for k, anode in enumerate(plan.anodes):
        through = plan.bored(anode) if isinstance(anode, BoreAnode) else None
        if through is not None and isinstance(through.shape, Tube):
            fine = min(anode.diameter_m, round(0.4 * through.shape.inner_diameter_m, 4))
            bored.append((f"/anodes/{k}/diameter_m", max(fine, 0.002)))
        if isinstance(anode, FloorAnode):
            lying += [(f"/anodes/{k}/floor_gap_m", 0.0), (f"/anodes/{k}/thickness_m", 0.001)]
    if bored:
        yield Change(tuple(bored), "Take a thinner rod through the bore")
    free = tuple((f"/pieces/{k}/bottom_m", None) for k in range(len(plan.pieces)))
    if lying:
        yield Change((*free, *lying), "Lay a thinner plate on the floor")
    if plan.layout.arrangement == "by_hand" and not plan.mixed_scrap:
        yield Change((("/layout/arrangement", "opposite"),), "Set it out at the walls")
    yield from _fit(c, finding)
    others = [a for a in plan.anodes if not isinstance(a, BoreAnode)]
    if others and len(others) < len(plan.anodes):
        left = [a.model_dump(mode="json") for a in others]
        yield Change((("/anodes", left),), "Leave the rod in the bore out")


# --- Makers: power -------------------------------------------------------------------------------


def _dosed(c: Context, amps: float) -> Iterator[Change]:
    dose = dose_for(c.plan, c.answer, amps)
    if dose is not None:
        words = show(dose, "concentration", c.plan.system)
        yield Change((("/mix/concentration_kg_m3", dose),), f"Dose {words}")


def _laboratory(c: Context, amps: float) -> Iterator[Change]:
    """A supply with a limit of its own, set to so many amps."""
    supply = c.plan.supply
    free = max(min(amps, supply.rated_a - supply.other_a), 0.05)
    words = show(free, "current", c.plan.system)
    sets: Sets = (
        ("/supply/kind", "laboratory"), ("/supply/limit_a", round(free, 2)),
        ("/supply/nominal_v", min(c.plan.supply.nominal_v, 30.0)),
    )  # fmt: skip
    yield Change(sets, f"Use a supply with a current limit, set to {words}")


@mends("overload", "overload_far", "supply_trips")
def _less(c: Context, _: Finding) -> Iterator[Change]:
    supply = c.plan.supply
    free = supply.rated_a - supply.other_a
    for share in (0.8, 0.5, 0.3):
        yield from _dosed(c, share * free)
    if supply.other_a > 0:
        yield Change((("/supply/other_a", 0.0),), "Nothing else on this supply")
        yield Change(
            (("/supply/other_a", 0.0), ("/supply/kind", "laboratory"),
             ("/supply/limit_a", round(0.8 * supply.rated_a, 2))),
            "Nothing else on this supply, and one with a current limit",
        )  # fmt: skip
    yield from _laboratory(c, 0.8 * free)


@mends("underload")
def _more(c: Context, finding: Finding) -> Iterator[Change]:
    density, low = c.answer.density.value, c.answer.band.low
    amps = c.answer.gives.value * param("underload_aim").value * low / density
    supply = c.plan.supply
    free = supply.rated_a - supply.other_a
    if amps > free:
        return
    if supply.limited and amps > supply.limit_a:
        words = show(amps, "current", c.plan.system)
        yield Change((("/supply/limit_a", round(amps, 2)),), f"Limit at {words}")
        return
    yield from _dosed(c, amps)


@mends("start_range")
def _usual_range(c: Context, _: Finding) -> Iterator[Change]:
    sets: Sets = (("/supply/start_range", False),)
    for rated in (c.plan.supply.rated_a, 10.0, 6.0):
        words = show(rated, "current", c.plan.system)
        yield Change((*sets, ("/supply/rated_a", rated)), f"Use the {words} range")
    yield Change(
        (*sets, ("/supply/rated_a", 10.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", 4.0)),
        "Use a supply with a current limit",
    )  # fmt: skip


@mends("no_current")
def _enough_volts(c: Context, _: Finding) -> Iterator[Change]:
    supply = c.plan.supply
    yield Change((("/supply/nominal_v", 12.0),), "Use 12 V")
    yield Change((("/supply/other_a", 0.0),), "Nothing else on this supply")
    yield Change(
        (("/supply/nominal_v", 12.0), ("/supply/other_a", 0.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", round(0.8 * supply.rated_a, 2))),
        "Use a laboratory supply at 12 V, for this bath alone",
    )  # fmt: skip


@mends("smart_alone")
def _plain_charger(c: Context, _: Finding) -> Iterator[Change]:
    yield Change((("/supply/kind", "transformer"),), "Use a plain transformer charger")
    yield from _laboratory(c, 0.8 * c.plan.supply.rated_a)


@mends("voltage_high")
def _low_volts(c: Context, _: Finding) -> Iterator[Change]:
    for volts in (24.0, 12.0):
        yield Change((("/supply/nominal_v", volts),), f"Use {volts:g} V")
    yield Change(
        (("/supply/nominal_v", 12.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", round(0.5 * c.plan.supply.rated_a, 2))),
        "Use a laboratory supply at 12 V",
    )  # fmt: skip


@mends("battery_bare", "fuse_big", "fuse_small")
def _fused(c: Context, finding: Finding) -> Iterator[Change]:
    supply, gives = c.plan.supply, c.answer.gives.value
    most = ampacity(supply.lead_area_m2)
    switch: Sets = (("/supply/line_switch", True),) if finding.id == "battery_bare" else ()
    also = " and a switch in the line" if switch else ""
    wanted = next_fuse(param("fuse_factor").value * gives)
    fitting = [f for f in standard_fuses() if f <= most]
    if wanted <= most:
        words = show(wanted, "current", c.plan.system)
        yield Change((*switch, ("/supply/fuse_a", wanted)), f"Fit a {words} fuse{also}")
    area = thickness_for(wanted)
    if area is not None and area > supply.lead_area_m2:
        size, words = (show(area, "wire", c.plan.system), show(wanted, "current", c.plan.system))
        sets: Sets = (*switch, ("/supply/fuse_a", wanted), ("/supply/lead_area_m2", area))
        yield Change(sets, f"Leads of {size} and a {words} fuse{also}")
    if fitting:
        words = show(fitting[-1], "current", c.plan.system)
        yield Change((*switch, ("/supply/fuse_a", fitting[-1])), f"Fit a {words} fuse{also}")
    if switch and supply.fuse_a is not None:
        yield Change(switch, "Put a switch in the line")


@mends("lead_thin", "lead_far")
def _thicker(c: Context, _: Finding) -> Iterator[Change]:
    area = thickness_for(c.answer.gives.value * 1.1)  # a thicker lead draws a little more
    if area is not None:
        size = show(area, "wire", c.plan.system)
        yield Change((("/supply/lead_area_m2", area),), f"Leads of {size}")
    yield from _laboratory(c, 0.9 * ampacity(c.plan.supply.lead_area_m2))


# --- Makers: warmth, weight, air ------------------------------------------------------------------


@mends("too_hot")
def _cooler(c: Context, _: Finding) -> Iterator[Change]:
    plan, gives = c.plan, c.answer.gives.value
    if plan.mix.temperature_c > plan.tank.limit_c - 10:
        yield Change((("/mix/temperature_c", 18.0),), "Let the water cool down first")
    for share in (0.8, 0.6, 0.4, 0.25, 0.15, 0.08):
        yield from _dosed(c, share * gives)
    for share in (0.8, 0.6, 0.4, 0.25, 0.15, 0.08):
        for change in _laboratory(c, share * gives):
            yield change
            cool: Sets = (*change.sets, ("/mix/temperature_c", 18.0))
            yield Change(cool, f"{change.label}, and cool water")


@mends("bar_weak")
def _stronger_bar(c: Context, _: Finding) -> Iterator[Change]:
    for kind, word in (("wood", "wood"), ("steel_bar", "steel")):
        for thick in (0.012, 0.016, 0.02, 0.025, 0.032, 0.038, 0.05, 0.07, 0.1, 0.15, 0.2, 0.3):
            if kind == c.plan.tank.bar and thick <= c.plan.tank.bar_m:
                continue
            size = show(thick, "length", c.plan.system)
            sets: Sets = (("/tank/bar", kind), ("/tank/bar_m", thick))
            yield Change(sets, f"A bar of {word}, {size} thick")


@mends("hole_drowned", "overflow")
def _let_it_be_set(_: Context, __: Finding) -> Iterator[Change]:
    sets: Sets = (("/tank/water_m3", None), ("/tank/level_m", None))
    yield Change(sets, "Let the plan set the water")


@mends("salt", "acid_relic", "chloride_relic", "chlorine_indoors")
def _soda(c: Context, _: Finding) -> Iterator[Change]:
    yield Change(_fresh_soda(), "Use washing soda, mixed fresh")
    steel = tuple(
        (f"/anodes/{k}/material", "plain_steel")
        for k, a in enumerate(c.plan.anodes)
        if a.material not in mixing.INERT
    )
    yield Change((*_fresh_soda(), *steel), "Use washing soda, mixed fresh, and plain steel")
