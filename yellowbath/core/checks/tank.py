"""Checks of the tank: what fits, how the liquid stands, warmth, water, weight."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import about, when
from yellowbath.core.geometry.fit import piece_fits, pieces_meet
from yellowbath.core.geometry.piece import posed
from yellowbath.core.geometry.tank import plan_size
from yellowbath.core.words import word


@check("tank_metal")
def tank_metal(c: Context) -> Iterator[Evidence]:
    return when(c.plan.tank.material == "metal" and not c.plan.tank.is_piece)


@check("no_fit")
def no_fit(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        bottom = c.fill.bottoms[piece.id]
        if piece_fits(piece, c.plan.tank, bottom):
            continue
        extent = posed(piece)
        need, have = (
            f"{c.show(a, 'length')} by {c.show(b, 'length')}"
            for a, b in (extent[:2], plan_size(c.plan.tank, bottom))
        )
        yield from about([piece], need=need, have=have)


@check("own_vessel")
def own_vessel(c: Context) -> Iterator[Evidence]:
    tub = word("set_up.in_tub") if c.plan.place.cooled else ""
    return when(c.plan.tank.is_piece, water=c.show(c.fill.water.value, "volume"), tub=tub)


@check("pieces_meet")
def pieces_touch(c: Context) -> Iterator[Evidence]:
    return when(pieces_meet(c.plan, c.fill.bottoms))


@check("half_dip")
def half_dip(c: Context) -> Iterator[Evidence]:
    for piece in c.plan.pieces:
        if piece.id in c.fill.out:
            yield from about([piece], share=c.show(c.fill.shares[piece.id], "ratio"))


@check("overflow")
def overflow(c: Context) -> Iterator[Evidence]:
    tank = c.plan.tank
    over = tank.level_m is not None and tank.level_m >= tank.shape.height_m
    return when(c.fill.overflows or over)


@check("near_rim")
def near_rim(c: Context) -> Iterator[Evidence]:
    free = c.fill.freeboard.value
    over = any(True for _ in overflow(c))
    # who marked the level knows their own bath
    least = limit("near_rim", "freeboard" if c.plan.tank.level_m is None else "by_mark")
    tight = free < least and not over and not c.plan.tank.is_piece
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
    rim_level = tank.shape.height_m - limit("hole_caps", "freeboard")
    under = limit("hole_caps", "under")
    capped = hole is not None and tank.water_m3 is None and hole - under < rim_level
    return when(capped, **_hole(c))


@check("hole_drowned")
def hole_drowned(c: Context) -> Iterator[Evidence]:
    hole = c.plan.tank.hole_height_m
    return when(hole is not None and c.fill.level.value >= hole, **_hole(c))


@check("freezing_air")
def freezing_air(c: Context) -> Iterator[Evidence]:
    air = c.plan.place.air_c
    cold = air is not None and air < limit("freezing_air", "air")
    return when(cold, air=c.show(air or 0.0, "temperature"))


def _hottest(c: Context) -> float:
    made = c.answer.of("bath.hottest")
    return made.value if made else c.plan.mix.temperature_c


@check("too_hot")
def too_hot(c: Context) -> Iterator[Evidence]:
    hot, most = _hottest(c), c.plan.tank.limit_c
    return when(hot > most, hottest=c.show(hot, "temperature"), limit=c.show(most, "temperature"))


@check("warm_bath")
def warm_bath(c: Context) -> Iterator[Evidence]:
    hot, most = _hottest(c), c.plan.tank.limit_c
    return when(
        most - limit("warm_bath", "within") < hot <= most,
        hottest=c.show(hot, "temperature"),
        limit=c.show(most, "temperature"),
    )


@check("scald")
def scald(c: Context) -> Iterator[Evidence]:
    hot = _hottest(c)
    return when(hot > limit("scald", "bath"), hottest=c.show(hot, "temperature"))


@check("top_up")
def top_up(c: Context) -> Iterator[Evidence]:
    covers, day, window = c.answer.of("water.covers"), c.answer.of("water.day"), c.answer.window
    if covers is None or day is None or window is None:
        return when(False)
    return when(
        covers.value < window.value,
        covers=c.show(covers.value, "time"),
        day=c.show(day.value, "volume"),
    )


@check("bar_weak")
def bar_weak(c: Context) -> Iterator[Evidence]:
    carries, mass = c.answer.of("hang.carries"), c.answer.mass.value
    return when(
        carries is not None and mass > carries.value,
        mass=c.show(mass, "mass"),
        carries=c.show(carries.value if carries else 0.0, "mass"),
    )


@check("heavy_tank")
def heavy_tank(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("tank.mass")
    mass = made.value if made else 0.0
    return when(mass > limit("heavy_tank", "mass"), mass=c.show(mass, "mass"))


@check("wood_in_path")
def wood_in_path(c: Context) -> Iterator[Evidence]:
    return when(c.plan.tank.bar == "wood" and c.plan.tank.bar_carries)


@check("filter_loop")
def filter_loop(c: Context) -> Iterator[Evidence]:
    hourly = c.plan.place.pump_m3
    over = c.fill.water.value / hourly * 3600 if hourly else 0.0
    turnover = f", all of it in {c.show(over, 'time')}" if hourly else ""
    return when(c.plan.place.filter_loop, turnover=turnover)
