"""What may be done about warmth, weight, water and air."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.fixes.power import dosed, laboratory
from yellowbath.core.checks.fixes.scrap import fresh_soda
from yellowbath.core.checks.fixes.trying import Sets, fixes
from yellowbath.core.checks.registry import Context, Finding, Mend
from yellowbath.core.chemistry import mixing
from yellowbath.core.units import show


@fixes("too_hot", "warm_bath", "scald")
def _cooler(c: Context, _: Finding) -> Iterator[Mend]:
    plan, gives = c.plan, c.answer.gives.value
    if plan.mix.temperature_c > plan.tank.limit_c - 10:
        yield Mend((("/mix/temperature_c", 18.0),), "Let the water cool down first")
    if not plan.place.cooled:
        yield Mend((("/place/cooled", True),), "Stand it in a larger tub of cold water")
    for share in (0.8, 0.6, 0.4, 0.25, 0.15, 0.08):
        yield from dosed(c, share * gives)
    for share in (0.8, 0.6, 0.4, 0.25, 0.15, 0.08):
        for change in laboratory(c, share * gives):
            yield change
            cool: Sets = (*change.sets, ("/mix/temperature_c", 18.0))
            yield Mend(cool, f"{change.label}, and cool water")


@fixes("bar_weak")
def _stronger_bar(c: Context, _: Finding) -> Iterator[Mend]:
    for kind, word in (("wood", "wood"), ("steel_bar", "steel")):
        for thick in (0.012, 0.016, 0.02, 0.025, 0.032, 0.038, 0.05, 0.07, 0.1, 0.15, 0.2, 0.3):
            if kind == c.plan.tank.bar and thick <= c.plan.tank.bar_m:
                continue
            size = show(thick, "length", c.plan.system)
            sets: Sets = (("/tank/bar", kind), ("/tank/bar_m", thick))
            yield Mend(sets, f"A bar of {word}, {size} thick")


@fixes("hole_drowned", "overflow", "near_rim", "hole_caps")
def _let_it_be_set(_: Context, __: Finding) -> Iterator[Mend]:
    sets: Sets = (("/tank/water_m3", None), ("/tank/level_m", None))
    yield Mend(sets, "Let the plan set the water")
    yield Mend((*sets, ("/tank/hole_height_m", None)), "The hole is plugged")


@fixes("room_small", "opening_small")
def _outdoors(_: Context, __: Finding) -> Iterator[Mend]:
    yield Mend((("/place/where", "outdoors"),), "Stand it outdoors")


@fixes("undissolved", "freezing_air")
def _warmer(_: Context, finding: Finding) -> Iterator[Mend]:
    if finding.id == "freezing_air":
        yield Mend((("/place/air_c", 15.0),), "Bring it in, where it is 15 °C")
        return
    for warm in (25.0, 35.0, 45.0):
        yield Mend((("/mix/temperature_c", warm),), f"Water of {warm:g} °C")


@fixes("froth")
def _less_froth(c: Context, _: Finding) -> Iterator[Mend]:
    for share in (0.8, 0.6, 0.4):
        yield from laboratory(c, share * c.answer.gives.value)


@fixes("kept_ph", "salt", "acid_relic", "chloride_relic", "chlorine_indoors")
def _soda(c: Context, _: Finding) -> Iterator[Mend]:
    yield Mend(fresh_soda(), "Use washing soda, mixed fresh")
    steel = tuple(
        (f"/anodes/{k}/material", "plain_steel")
        for k, a in enumerate(c.plan.anodes)
        if a.material not in mixing.INERT
    )
    yield Mend((*fresh_soda(), *steel), "Use washing soda, mixed fresh, and plain steel")
