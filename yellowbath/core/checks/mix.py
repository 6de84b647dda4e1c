"""Checks of the liquid: what is in it, what got into it, what its anodes make of it."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import about, when
from yellowbath.core.chemistry import mixing
from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.chemistry.liquid import BICARBONATE
from yellowbath.core.data import param
from yellowbath.core.document import Piece
from yellowbath.core.geometry.tank import volume_at
from yellowbath.core.words import said


def _frail(c: Context) -> list[Piece]:
    return [p for p in c.plan.pieces if p.fragility in ("relic", "thin")]


def _dissolves(c: Context) -> str:
    """What on the plus side is not inert, in words."""
    return " and ".join(said("anode.material", m) for m in sorted(c.plan.metals - mixing.INERT))


@check("product_unknown")
def product_unknown(c: Context) -> Iterator[Evidence]:
    return when(c.plan.mix.product == "unknown")


@check("mix_refused")
def mix_refused(c: Context) -> Iterator[Evidence]:
    box = product(c.plan.mix.product)
    return when(bool(box.refused), name=box.name, why=box.refused)


@check("kept_ph")
def kept_ph(c: Context) -> Iterator[Evidence]:
    """A mix from before that is no soda any more, whatever its label says."""
    mix = c.plan.mix
    ph = mix.strip_ph
    if ph is None or mix.source != "reuse" or mixing.acid(mix):
        return
    sour, burns = ph < limit("kept_ph", "least"), ph > limit("kept_ph", "most")
    yield from when(sour or burns, ph=f"{ph:g}", case="sour" if sour else "lye",
                    what="sour: something acid got in" if sour else "as strong as lye")  # fmt: skip


@check("salt")
def salt(c: Context) -> Iterator[Evidence]:
    where, got_in = c.plan.place.where, _kept_salt(c)
    allowed = mixing.all_inert(c.plan) and where == "outdoors" and not _frail(c)
    table = mixing.salty(c.plan) and not mixing.acid(c.plan.mix)
    much = got_in >= limit("salt", "got_in")
    holds = f"holds {c.show(got_in, 'concentration')} of salt from before"
    return when(
        (table or much) and not allowed,
        mix="is table salt" if table else holds,
        metal=" and ".join(said("anode.material", m) for m in sorted(c.plan.metals)),
        place=said("place.where", where),
    )


@check("acid_anode")
def acid_anode(c: Context) -> Iterator[Evidence]:
    those = [a for a in c.plan.anodes if a.material not in mixing.INERT]
    return about(those, metal=_dissolves(c)) if mixing.acid(c.plan.mix) else when(False)


@check("acid_relic")
def acid_relic(c: Context) -> Iterator[Evidence]:
    return about(_frail(c)) if mixing.acid(c.plan.mix) else when(False)


@check("acid_works_on")
def acid_works_on(c: Context) -> Iterator[Evidence]:
    return when(mixing.acid(c.plan.mix))


def _kept_salt(c: Context) -> float:
    """Salt that got into a kept mix, by litre [g/L]; of a mix of salt it is no news."""
    if mixing.salty(c.plan):
        return 0.0
    return mixing.kept_chloride(c.plan.mix) / c.fill.water.value


@check("chloride_kept")
def chloride_kept(c: Context) -> Iterator[Evidence]:
    dose = _kept_salt(c)
    some = 0 < dose < limit("salt", "got_in")
    return when(some and not _frail(c), dose=c.show(dose, "concentration"))


@check("chloride_relic")
def chloride_relic(c: Context) -> Iterator[Evidence]:
    dose = _kept_salt(c)
    return about(_frail(c), dose=c.show(dose, "concentration")) if dose > 0 else when(False)


def _chlorine(c: Context) -> str:
    made = c.answer.of("gas.chlorine")
    return c.show(made.value if made else 0.0, "mass_rate")


@check("chlorine_indoors")
def chlorine_indoors(c: Context) -> Iterator[Evidence]:
    makes = mixing.chloride(c.plan) and mixing.any_inert(c.plan)
    indoors = c.plan.place.where != "outdoors"
    return when(
        makes and indoors, chlorine=_chlorine(c), place=said("place.where", c.plan.place.where)
    )


@check("chlorine_outdoors")
def chlorine_outdoors(c: Context) -> Iterator[Evidence]:
    makes = mixing.chloride(c.plan) and mixing.any_inert(c.plan)
    return when(makes and c.plan.place.where == "outdoors", chlorine=_chlorine(c))


@check("dose_high")
def dose_high(c: Context) -> Iterator[Evidence]:
    dose = c.answer.concentration.value
    return when(dose > limit("dose_high", "dose"), dose=c.show(dose, "concentration"))


@check("dose_low")
def dose_low(c: Context) -> Iterator[Evidence]:
    dose = c.answer.concentration.value
    return when(dose < limit("dose_low", "dose"), dose=c.show(dose, "concentration"))


@check("undissolved")
def undissolved(c: Context) -> Iterator[Evidence]:
    most, dose = c.answer.of("mix.dissolves"), c.answer.concentration.value
    return when(
        most is not None and dose > limit("undissolved", "share") * most.value,
        dose=c.show(dose, "concentration"),
        most=c.show(most.value if most else 0.0, "concentration"),
    )


@check("cold_mix")
def cold_mix(c: Context) -> Iterator[Evidence]:
    t = c.plan.mix.temperature_c
    return when(t < limit("cold_mix", "water"), temperature=c.show(t, "temperature"))


@check("bake_unfinished")
def bake_unfinished(c: Context) -> Iterator[Evidence]:
    share = mixing.oven_share(c.plan.mix)
    unfinished = share is not None and share < limit("bake_unfinished", "turned")
    return when(unfinished, share=c.show(share or 0.0, "ratio"))


@check("bicarbonate_turns")
def bicarbonate_turns(c: Context) -> Iterator[Evidence]:
    days = param("bicarbonate_half_life_d")
    return when(
        product(c.plan.mix.product).salt == BICARBONATE,
        low=f"{days.low:.0f}",
        high=f"{days.high:.0f}",
    )


@check("slow_bath")
def slow_bath(c: Context) -> Iterator[Evidence]:
    window, dose = c.answer.window, c.answer.concentration.value
    litres = volume_at(c.plan.tank, c.fill.level.value)
    if window is None:
        return when(False)
    long = window.value > limit("slow_bath", "time")
    return when(
        long and dose < limit("slow_bath", "dose"),
        time=c.show(window.value, "time"),
        water=c.show(litres, "volume"),
        dose=c.show(dose, "concentration"),
    )
