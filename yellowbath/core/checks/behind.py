"""Checks of what is behind the bath: mix, battery and leads, warmth, air, wear, weight, hard steel.

Conditions only; words, severity and source stand in core/data/checks.toml.
"""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.rules import ampacity, when, word
from yellowbath.core.chemistry.brew import INERT, SALTY, oven_share
from yellowbath.core.data import param
from yellowbath.core.document import Pile
from yellowbath.core.geometry.piece import mass_of, posed, sizes
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.plan.wear import limited
from yellowbath.core.power.supply import asleep, has_battery, next_fuse, trips

_DAY = 86400.0


def _time(c: Context, seconds: float) -> str:
    return c.show(seconds, "time")


# --- Mix -----------------------------------------------------------------------------------------


def _salty(c: Context) -> bool:
    return c.plan.mix.product in SALTY


def _inert(c: Context) -> bool:
    return c.plan.anodes[0].material in INERT


@check("acid_anode")
def acid_anode(c: Context) -> Iterator[Evidence]:
    acid = c.plan.mix.product == "vinegar_salt"
    return when(acid and not _inert(c), metal=word(c.plan.anodes[0].material))


@check("acid_relic")
def acid_relic(c: Context) -> Iterator[Evidence]:
    relic = any(p.fragility in ("relic", "thin") for p in c.plan.pieces)
    return when(c.plan.mix.product == "vinegar_salt" and relic)


@check("acid_works_on")
def acid_works_on(c: Context) -> Iterator[Evidence]:
    return when(c.plan.mix.product == "vinegar_salt")


@check("chlorine_indoors")
def chlorine_indoors(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("gas.chlorine")
    indoors = c.plan.place.where != "outdoors"
    return when(
        _salty(c) and _inert(c) and indoors,
        chlorine=c.show(made.value if made else 0.0, "mass_rate"),
        place=word(c.plan.place.where),
    )


@check("chlorine_outdoors")
def chlorine_outdoors(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("gas.chlorine")
    outdoors = c.plan.place.where == "outdoors"
    return when(
        _salty(c) and _inert(c) and outdoors,
        chlorine=c.show(made.value if made else 0.0, "mass_rate"),
    )


@check("undissolved")
def undissolved(c: Context) -> Iterator[Evidence]:
    most, dose = c.answer.of("mix.dissolves"), c.answer.concentration.value
    return when(
        most is not None and dose > 0.8 * most.value,
        dose=c.show(dose, "concentration"),
        most=c.show(most.value if most else 0.0, "concentration"),
    )


@check("cold_mix")
def cold_mix(c: Context) -> Iterator[Evidence]:
    t = c.plan.mix.temperature_c
    return when(t < 8, temperature=c.show(t, "temperature"))


@check("freezing_air")
def freezing_air(c: Context) -> Iterator[Evidence]:
    air = c.plan.place.air_c
    return when(air is not None and air < 0, air=c.show(air or 0.0, "temperature"))


@check("bake_unfinished")
def bake_unfinished(c: Context) -> Iterator[Evidence]:
    share = oven_share(c.plan.mix)
    return when(share is not None and share < 0.95, share=c.show(share or 0.0, "ratio"))


@check("bicarbonate_turns")
def bicarbonate_turns(c: Context) -> Iterator[Evidence]:
    days = param("bicarbonate_half_life_d")
    return when(
        c.plan.mix.product == "baking_soda",
        low=f"{days.low:.0f}",
        high=f"{days.high:.0f}",
    )


@check("slow_bath")
def slow_bath(c: Context) -> Iterator[Evidence]:
    window = c.answer.window
    litres = volume_at(c.plan.tank, c.fill.level.value)
    long = window is not None and window.value > 3 * _DAY
    return when(
        long and c.answer.concentration.value < 5,
        time=_time(c, window.value if window else 0.0),
        water=c.show(litres, "volume"),
        dose=c.show(c.answer.concentration.value, "concentration"),
    )


# --- Power ---------------------------------------------------------------------------------------


@check("supply_trips")
def supply_trips(c: Context) -> Iterator[Evidence]:
    supply, draws = c.plan.supply, c.answer.draws.value
    return when(
        trips(supply, draws),
        draws=c.show(draws, "current"),
        rated=c.show(supply.rated_a, "current"),
        how="its fuse blows" if supply.protection == "fuse" else "it tries and lets go, over again",
    )


@check("shared_supply")
def shared_supply(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    return when(
        supply.other_a > 0,
        other=c.show(supply.other_a, "current"),
        gives=c.show(c.answer.gives.value, "current"),
        rated=c.show(supply.rated_a, "current"),
    )


@check("manual_mode")
def manual_mode(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    return when(supply.kind == "smart" and supply.manual_mode and not supply.buffer_battery)


@check("battery_short")
def battery_short(c: Context) -> Iterator[Evidence]:
    lasts, window = c.answer.of("battery.lasts"), c.answer.window
    short = lasts is not None and window is not None and lasts.value < window.value
    return when(
        short,
        lasts=_time(c, lasts.value if lasts else 0.0),
        time=_time(c, window.value if window else 0.0),
        battery=c.show(c.plan.supply.battery_ah, "charge"),
    )


@check("fuse_small")
def fuse_small(c: Context) -> Iterator[Evidence]:
    fuse, gives = c.plan.supply.fuse_a, c.answer.gives.value
    return when(
        has_battery(c.plan.supply) and fuse is not None and gives > 0.8 * fuse,
        fuse=c.show(fuse or 0.0, "current"),
        gives=c.show(gives, "current"),
        wanted=c.show(next_fuse(param("fuse_factor").value * gives), "current"),
    )


@check("fuse_big")
def fuse_big(c: Context) -> Iterator[Evidence]:
    fuse, most = c.plan.supply.fuse_a, ampacity(c.plan.supply.lead_area_m2)
    return when(
        has_battery(c.plan.supply) and fuse is not None and fuse > most,
        fuse=c.show(fuse or 0.0, "current"),
        lead=c.show(c.plan.supply.lead_area_m2, "wire"),
        ampacity=c.show(most, "current"),
    )


@check("lead_drop")
def lead_drop(c: Context) -> Iterator[Evidence]:
    drop, volts = c.answer.drop.value, c.plan.supply.nominal_v
    return when(
        drop > 0.1 * volts and not asleep(c.plan.supply),
        drop=c.show(drop, "voltage"),
        volts=c.show(volts, "voltage"),
    )


@check("voltage_touch")
def voltage_touch(c: Context) -> Iterator[Evidence]:
    volts = c.plan.supply.nominal_v
    return when(volts > 25, volts=c.show(volts, "voltage"))


# --- Warmth and water ----------------------------------------------------------------------------


def _hottest(c: Context) -> float:
    made = c.answer.of("bath.hottest")
    return made.value if made else c.plan.mix.temperature_c


@check("too_hot")
def too_hot(c: Context) -> Iterator[Evidence]:
    hot, limit = _hottest(c), c.plan.tank.limit_c
    return when(hot > limit, hottest=c.show(hot, "temperature"), limit=c.show(limit, "temperature"))


@check("warm_bath")
def warm_bath(c: Context) -> Iterator[Evidence]:
    hot, limit = _hottest(c), c.plan.tank.limit_c
    return when(
        limit - 8 < hot <= limit,
        hottest=c.show(hot, "temperature"),
        limit=c.show(limit, "temperature"),
    )


@check("top_up")
def top_up(c: Context) -> Iterator[Evidence]:
    covers, day, window = c.answer.of("water.covers"), c.answer.of("water.day"), c.answer.window
    dry = covers is not None and window is not None and covers.value < window.value
    return when(
        dry,
        covers=_time(c, covers.value if covers else 0.0),
        day=c.show(day.value if day else 0.0, "volume"),
    )


@check("froth")
def froth(c: Context) -> Iterator[Evidence]:
    made, limit = c.answer.of("gas.surface"), param("froth_a_m2")
    high = made is not None and made.value > limit.value
    return when(
        high,
        amps=c.show(c.answer.gives.value, "current"),
        surface=c.show(made.value if made else 0.0, "density"),
    )


# --- Air -----------------------------------------------------------------------------------------


@check("room_small")
def room_small(c: Context) -> Iterator[Evidence]:
    window, room = c.answer.window, c.answer.room.value
    closed = c.plan.place.where == "closed_room"
    return when(
        closed and window is not None and room < (window.high or window.value),
        room=c.show(c.plan.place.room_m3, "room"),
        time=_time(c, room),
    )


@check("opening_small")
def opening_small(c: Context) -> Iterator[Evidence]:
    have, want = c.plan.place.opening_m2, c.answer.of("air.opening")
    indoors = c.plan.place.where != "outdoors"
    small = indoors and have is not None and want is not None and have < want.value
    return when(
        small,
        have=c.show(have or 0.0, "area"),
        want=c.show(want.value if want else 0.0, "area"),
    )


@check("filter_loop")
def filter_loop(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.filter_loop)


# --- Wear ----------------------------------------------------------------------------------------


@check("scrape")
def scrape(c: Context) -> Iterator[Evidence]:
    made, window = c.answer.of("scrap.scrape"), c.answer.window
    sooner = made is not None and window is not None and made.value < window.value
    return when(
        sooner,
        time=_time(c, made.value if made else 0.0),
        count=str(len(c.plan.anodes)),
    )


@check("scrap_worn")
def scrap_worn(c: Context) -> Iterator[Evidence]:
    life, window = c.answer.scrap_life, c.answer.window
    short = life is not None and window is not None and life.value < window.value
    return when(short, life=_time(c, life.value if life else 0.0))


@check("overrun")
def overrun(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("time.overrun")
    return when(made is not None, time=_time(c, made.value if made else 0.0))


@check("left_long")
def left_long(c: Context) -> Iterator[Evidence]:
    robust = all(p.fragility == "robust" and not limited(p) for p in c.plan.pieces)
    return when(robust)


# --- Weight and ways to hang ---------------------------------------------------------------------


@check("bar_weak")
def bar_weak(c: Context) -> Iterator[Evidence]:
    carries, mass = c.answer.of("hang.carries"), c.answer.mass.value
    return when(
        carries is not None and mass > carries.value,
        mass=c.show(mass, "mass"),
        carries=c.show(carries.value if carries else 0.0, "mass"),
    )


@check("heavy_lift")
def heavy_lift(c: Context) -> Iterator[Evidence]:
    heaviest = max(mass_of(p) for p in c.plan.pieces)
    return when(heaviest > 15, mass=c.show(heaviest, "mass"))


@check("heavy_tank")
def heavy_tank(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("tank.mass")
    return when(
        made is not None and made.value > 60, mass=c.show(made.value if made else 0.0, "mass")
    )


@check("pieces_row")
def pieces_row(c: Context) -> Iterator[Evidence]:
    return when(len(c.plan.pieces) > 1, count=str(len(c.plan.pieces)))


@check("pile_turn")
def pile_turn(c: Context) -> Iterator[Evidence]:
    return when(any(isinstance(p.shape, Pile) for p in c.plan.pieces))


@check("chain")
def chain(c: Context) -> Iterator[Evidence]:
    return when(any(p.parts == "chain" for p in c.plan.pieces))


@check("seized")
def seized(c: Context) -> Iterator[Evidence]:
    return when(any(p.parts == "seized" for p in c.plan.pieces))


@check("moving_parts")
def moving_parts(c: Context) -> Iterator[Evidence]:
    return when(any(p.parts == "moving" for p in c.plan.pieces))


@check("drilled")
def drilled(c: Context) -> Iterator[Evidence]:
    old = any(p.contact == "drilled" and p.fragility in ("relic", "thin") for p in c.plan.pieces)
    return when(old)


@check("duty")
def duty(c: Context) -> Iterator[Evidence]:
    names = {
        "load": "a load", "pressure": "pressure", "firearm": "a firearm's working part",
        "steering": "steering or brakes",
    }  # fmt: skip
    for piece in c.plan.pieces:
        yield from when(piece.duty != "none", duty=names.get(piece.duty, ""))


@check("floor_only")
def floor_only(c: Context) -> Iterator[Evidence]:
    flat = all(a.kind == "floor" for a in c.plan.anodes)
    piece = c.plan.pieces[0]
    along = max(posed(piece)[0], posed(piece)[1])
    short = flat and c.plan.anodes[0].depth_m < 0.7 * along
    return when(
        short,
        plate=c.show(c.plan.anodes[0].depth_m, "length"),
        piece=c.show(along, "length"),
    )


@check("scrap_short")
def scrap_short(c: Context) -> Iterator[Evidence]:
    piece, level = c.plan.pieces[0], c.fill.level.value
    standing = [a for a in c.plan.anodes if a.kind in ("rod", "plate")]
    foot = min((a.floor_gap_m for a in standing), default=0.0)
    reaches = foot > c.fill.piece_bottom_m + 0.02 and level > foot
    return when(
        bool(standing) and reaches,
        foot=c.show(foot, "length"),
        bottom=c.show(c.fill.piece_bottom_m, "length"),
        longest=c.show(sizes(piece)[0], "length"),
    )


@check("wheel_instead")
def wheel_instead(c: Context) -> Iterator[Evidence]:
    small = all(mass_of(p) < 0.03 for p in c.plan.pieces) and len(c.plan.pieces) == 1
    pile = any(isinstance(p.shape, Pile) for p in c.plan.pieces)
    return when(small and not pile, mass=c.show(mass_of(c.plan.pieces[0]), "mass"))
