"""The conditions of the checks. Each yields its evidence once where it applies, else nothing."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.chemistry.brew import INERT
from yellowbath.core.data import param
from yellowbath.core.geometry.anode import wet
from yellowbath.core.geometry.fit import piece_fits, pieces_meet, scrap_fits, scrap_meets
from yellowbath.core.geometry.piece import posed, thinnest
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.plan.answer import threshold_of
from yellowbath.core.plan.filling import bottoms_of
from yellowbath.core.plan.mend import dose_for
from yellowbath.core.plan.wear import hardness, relief_bake
from yellowbath.core.power.supply import asleep, has_battery, source_of, trips

_REFUSED = {
    "stainless": (
        "stainless steel",
        "Chromium dissolves, part of it hexavalent: poisonous liquid and sludge.",
    ),
    "chromed": ("chromed steel", "Chromium dissolves, part of it hexavalent: poisonous sludge."),
    "galvanised": ("galvanised steel", "The zinc dissolves into liquid and sludge."),
    "copper": ("copper", "Copper dissolves and deposits on the piece and everywhere else."),
    "brass": ("brass", "Copper and zinc dissolve and deposit on the piece."),
    "titanium": (
        "bare titanium",
        "It films over within minutes and passes nothing; high volts break the film.",
    ),
    "lead": ("lead", "Lead dissolves: poisonous liquid and sludge."),
    "aluminium": ("aluminium", "Aluminium dissolves in soda with heat and gas."),
}
_WORDS = {
    "spring": "spring steel",
    "hard": "hard or high-strength steel",
    "tool": "tool steel",
    "hard_wire": "hard wire",
    "chain": "lifting chain",
    "galvanised": "galvanised wire",
    "copper": "copper wire",
    "zinc": "zinc or tin",
    "lead": "lead",
    "relic": "fragile",
    "thin": "thin",
    "sound": "sound",
    "robust": "robust",
    "outdoors": "outdoors",
    "open_door": "by an open door",
    "closed_room": "a closed room",
    "plain_steel": "plain steel",
    "cast_iron": "cast iron",
    "graphite": "graphite",
    "coated_titanium": "coated titanium",
    "titanium": "bare titanium",
    "mild": "mild steel",
    "cast": "cast iron",
    "wrought": "wrought iron",
}
# Lower ends for single flexible cords: copper [m2] -> amps. Recalled, see checks.toml lead_thin.
_CORD_AMPS = ((0.75e-6, 6), (1e-6, 10), (1.5e-6, 16), (2.5e-6, 20), (4e-6, 25), (6e-6, 34))


def word(key: str) -> str:
    return _WORDS.get(key, key.replace("_", " "))


def when(condition: bool, **evidence: str) -> Iterator[Evidence]:
    if condition:
        yield evidence


# --- Piece ---------------------------------------------------------------------------------------


@check("sealed_hollow")
def sealed_hollow(c: Context) -> Iterator[Evidence]:
    return when(any(p.hollow == "sealed" for p in c.plan.pieces))


@check("ordnance_whole")
def ordnance_whole(c: Context) -> Iterator[Evidence]:
    return when(any(p.ordnance == "whole" for p in c.plan.pieces))


@check("ordnance_fragment")
def ordnance_fragment(c: Context) -> Iterator[Evidence]:
    return when(any(p.ordnance == "fragment" for p in c.plan.pieces))


@check("grease")
def grease(c: Context) -> Iterator[Evidence]:
    return when(any(p.grease == "some" for p in c.plan.pieces))


@check("paint_patches")
def paint_patches(c: Context) -> Iterator[Evidence]:
    return when(any(p.paint == "patches" for p in c.plan.pieces))


@check("paint_most")
def paint_most(c: Context) -> Iterator[Evidence]:
    return when(any(p.paint == "most" for p in c.plan.pieces))


@check("metal_aluminium")
def metal_aluminium(c: Context) -> Iterator[Evidence]:
    return when(any(p.other_metal == "aluminium" for p in c.plan.pieces))


@check("metal_dissolves")
def metal_dissolves(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        yield from when(piece.other_metal in ("zinc", "lead"), metal=word(piece.other_metal))


@check("metal_copper")
def metal_copper(c: Context) -> Iterator[Evidence]:
    return when(any(p.other_metal == "copper" for p in c.plan.pieces))


@check("metal_chrome")
def metal_chrome(c: Context) -> Iterator[Evidence]:
    return when(any(p.other_metal == "chrome" for p in c.plan.pieces))


@check("embrittlement")
def embrittlement(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        bake = relief_bake(piece)
        if bake is None:
            continue
        hard = f"{hardness(piece):.0f} HRC" if hardness(piece) else "case-hardened"
        typed = "" if piece.hardness_hrc is not None else ", taken as usual for it"
        low, high = (c.show(t, "temperature") for t in (bake.low_c, bake.high_c))
        yield {
            "metal": word(piece.metal),
            "hard": hard + typed,
            "tensile": f"{bake.tensile:.0f}",
            "bake": f"{low} to {high} for {bake.hours:.0f} h" if low != high
            else f"{low} for more than {bake.hours:.0f} h",
            "limit": bake.limit,
        }  # fmt: skip


@check("thin_relic")
def thin_relic(c: Context) -> Iterator[Evidence]:
    limit = param("wall_t_steel_thin_m").value
    for piece in c.plan.pieces:
        yield from when(
            piece.fragility in ("relic", "thin") or thinnest(piece) < limit,
            thinnest=c.show(thinnest(piece), "length"),
            fragility=word(piece.fragility),
        )


@check("hanger_hard")
def hanger_hard(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        yield from when(piece.hanger in ("hard_wire", "chain"), hanger=word(piece.hanger))


@check("hanger_coated")
def hanger_coated(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        yield from when(piece.hanger in ("galvanised", "copper"), hanger=word(piece.hanger))


# --- Tank ----------------------------------------------------------------------------------------


@check("tank_metal")
def tank_metal(c: Context) -> Iterator[Evidence]:
    return when(c.plan.tank.material == "metal")


@check("no_fit")
def no_fit(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        bottom = _bottoms(c)[piece.id]
        extent = posed(piece)
        need, have = (
            f"{c.show(a, 'length')} by {c.show(b, 'length')}"
            for a, b in (extent[:2], plan_size(c.plan.tank, bottom))
        )
        yield from when(not piece_fits(piece, c.plan.tank, bottom), need=need, have=have)


@check("pieces_meet")
def pieces_touch(c: Context) -> Iterator[Evidence]:
    return when(pieces_meet(c.plan, _bottoms(c)))


def _bottoms(c: Context) -> Mapping[str, float]:
    return bottoms_of(c.plan, c.fill.level.value)


@check("half_dip")
def half_dip(c: Context) -> Iterator[Evidence]:
    share = c.fill.wetted_share
    return when(share < 0.999, share=c.show(share, "ratio"))


@check("overflow")
def overflow(c: Context) -> Iterator[Evidence]:
    return when(c.fill.overflows)


@check("near_rim")
def near_rim(c: Context) -> Iterator[Evidence]:
    free = c.fill.freeboard.value
    tight = free < param("freeboard_m").low and not c.fill.overflows
    return when(tight, freeboard=c.show(free, "length"))


def _hole(c: Context) -> dict[str, str]:
    hole = c.plan.tank.hole_height_m or 0.0
    return {
        "hole": c.show(hole, "length"),
        "level": c.show(c.fill.level.value, "length"),
    }


@check("hole_caps")
def hole_caps(c: Context) -> Iterator[Evidence]:
    hole, tank = c.plan.tank.hole_height_m, c.plan.tank
    rim_level = tank.shape.height_m - param("freeboard_m").value
    capped = hole is not None and tank.water_m3 is None and hole - 0.01 < rim_level
    return when(capped, **_hole(c))


@check("hole_drowned")
def hole_drowned(c: Context) -> Iterator[Evidence]:
    hole = c.plan.tank.hole_height_m
    return when(hole is not None and c.fill.level.value >= hole, **_hole(c))


# --- Scrap ---------------------------------------------------------------------------------------


@check("joint_wet")
def joint_wet(c: Context) -> Iterator[Evidence]:
    return when(not c.plan.placing.joint_clear)


@check("scrap_outside")
def scrap_outside(c: Context) -> Iterator[Evidence]:
    level = c.fill.level.value
    out = [a.id.removeprefix("a") for a in c.plan.anodes if not scrap_fits(a, c.plan.tank, level)]
    return when(bool(out), which=" and ".join(out))


@check("scrap_meets")
def scrap_touches(c: Context) -> Iterator[Evidence]:
    return when(scrap_meets(c.plan))


@check("short")
def short(c: Context) -> Iterator[Evidence]:
    gap = c.fill.gap.value
    return when(gap <= 0, gap=c.show(max(gap, 0.0), "length"))


@check("clearance")
def clearance(c: Context) -> Iterator[Evidence]:
    gap, wanted = c.fill.gap.value, param("clearance_m").value
    return when(
        0 < gap < wanted, gap=c.show(gap, "length"), wanted=c.show(wanted, "length")
    )  # fmt: skip


@check("anode_refused")
def anode_refused(c: Context) -> Iterator[Evidence]:
    material = c.plan.anodes[0].material
    if material in _REFUSED:
        name, why = _REFUSED[material]
        surface = sum(wet(a, c.plan, c.fill.level.value).area for a in c.plan.anodes)
        yield {"metal": name, "why": why, "area": c.show(surface, "area")}


@check("anode_unknown")
def anode_unknown(c: Context) -> Iterator[Evidence]:
    return when(c.plan.anodes[0].material == "unknown")


@check("anode_painted")
def anode_painted(c: Context) -> Iterator[Evidence]:
    return when(c.plan.anodes[0].material == "painted")


# --- Mix -----------------------------------------------------------------------------------------


@check("product_unknown")
def product_unknown(c: Context) -> Iterator[Evidence]:
    return when(c.plan.mix.product == "unknown")


@check("salt")
def salt(c: Context) -> Iterator[Evidence]:
    material, where = c.plan.anodes[0].material, c.plan.place.where
    relic = any(p.fragility == "relic" for p in c.plan.pieces)
    allowed = material in INERT and where == "outdoors" and not relic
    return when(
        c.plan.mix.product == "table_salt" and not allowed,
        metal=word(material),
        place=word(where),
    )


@check("dose_high")
def dose_high(c: Context) -> Iterator[Evidence]:
    dose = c.answer.concentration.value
    return when(dose > 15, dose=c.show(dose, "concentration"))


@check("dose_low")
def dose_low(c: Context) -> Iterator[Evidence]:
    dose = c.answer.concentration.value
    return when(dose < 2, dose=c.show(dose, "concentration"))


# --- Power ---------------------------------------------------------------------------------------


@check("polarity")
def polarity(c: Context) -> Iterator[Evidence]:
    return when(not c.plan.supply.polarity_tested)


def _load(c: Context) -> dict[str, str]:
    return {
        "load": c.show(c.answer.load.value, "ratio"),
        "gives": c.show(c.answer.gives.value, "current"),
        "rated": c.show(c.plan.supply.rated_a, "current"),
    }


def _dose(c: Context, amps: float) -> dict[str, str]:
    """A dose that would bring these amps, as typed; nothing where none does."""
    dose = dose_for(c.plan, c.answer, amps)
    return {"dose": c.show(dose, "concentration") if dose else ""}


def _eased(c: Context) -> dict[str, str]:
    return _dose(c, 0.8 * c.plan.supply.rated_a - c.plan.supply.other_a)


def _has_battery(c: Context) -> bool:
    return has_battery(c.plan.supply)


@check("overload")
def overload(c: Context) -> Iterator[Evidence]:
    if 1.0 < c.answer.load.value <= 1.3 and not _has_battery(c):
        yield {**_load(c), **_eased(c)}


@check("overload_far")
def overload_far(c: Context) -> Iterator[Evidence]:
    if c.answer.load.value > 1.3 and not _has_battery(c):
        yield {**_load(c), **_eased(c)}


@check("underload")
def underload(c: Context) -> Iterator[Evidence]:
    density, low = c.answer.density.value, c.answer.band.low
    if 0 < density < low:
        amps = c.answer.gives.value * 1.3 * low / density
        yield {
            "density": c.show(density, "density"),
            "low": c.show(low, "density"),
            **_more(c, amps),
        }


def _more(c: Context, amps: float) -> dict[str, str]:
    """What brings these amps: a limit set higher, where one holds them down, else a dose."""
    supply, ceiling = c.plan.supply, source_of(c.plan.supply).ceiling
    held = ceiling is not None and c.answer.gives.value > 0.999 * ceiling.value
    if held or amps > supply.rated_a - supply.other_a:
        free = supply.kind == "laboratory" and amps < supply.rated_a - supply.other_a
        return {"dose": "", "limit": c.show(amps, "current") if held and free else ""}
    return {**_dose(c, amps), "limit": ""}


@check("no_current")
def no_current(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    silent = asleep(supply) or trips(supply, c.answer.draws.value)
    return when(
        c.answer.gives.value <= 0 and not silent,
        volts=c.show(c.plan.supply.nominal_v, "voltage"),
        threshold=c.show(threshold_of(c.plan).value, "voltage"),
    )


@check("too_fierce")
def too_fierce(c: Context) -> Iterator[Evidence]:
    p95, bound = c.answer.p95.value, c.answer.band.p95_high
    gives = c.answer.gives.value
    return when(
        p95 > bound,
        p95=c.show(p95, "density"),
        bound=c.show(bound, "density"),
        fragility=word(c.plan.pieces[0].fragility),
        limit=c.show(gives * bound / p95 if p95 else 0.0, "current"),
    )


@check("smart_alone")
def smart_alone(c: Context) -> Iterator[Evidence]:
    return when(asleep(c.plan.supply))


@check("battery_bare")
def battery_bare(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    parts = [
        *(["a fuse"] if supply.fuse_a is None else []),
        *([] if supply.line_switch else ["a switch"]),
    ]
    return when(_has_battery(c) and bool(parts), missing=" and ".join(parts))


@check("battery_flat")
def battery_flat(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    flat = supply.kind == "smart" and supply.buffer_battery
    return when(flat and c.answer.gives.value > supply.rated_a, **_load(c))


@check("battery_only")
def battery_only(c: Context) -> Iterator[Evidence]:
    return when(c.plan.supply.kind == "battery", **_load(c))


def ampacity(area_m2: float) -> float:
    """Amps that a single flexible copper cord of this section carries in free air, lower end."""
    fitting = [a for size, a in _CORD_AMPS if size <= area_m2 * 1.05]
    return float(fitting[-1]) if fitting else 3.0


@check("lead_thin")
def lead_thin(c: Context) -> Iterator[Evidence]:
    area, amps = c.plan.supply.lead_area_m2, c.answer.gives.value
    most = ampacity(area)
    return when(
        amps > most,
        gives=c.show(amps, "current"),
        lead=c.show(area, "wire"),
        ampacity=c.show(most, "current"),
    )


@check("rcd")
def rcd(c: Context) -> Iterator[Evidence]:
    return when(not c.plan.supply.rcd and c.plan.supply.kind != "battery")


# --- Air -----------------------------------------------------------------------------------------


@check("closed_room")
def closed_room(c: Context) -> Iterator[Evidence]:
    return when(
        c.plan.place.where == "closed_room",
        hydrogen=c.show(c.answer.hydrogen.value, "gas_rate"),
        air=c.show(c.answer.air.value, "air_flow"),
        room=c.show(c.plan.place.room_m3, "room"),
        time=c.show(c.answer.room.value, "time"),
    )


@check("lid")
def lid(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.lid)


@check("flames")
def flames(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.flames)


@check("visitors")
def visitors(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.visitors)
