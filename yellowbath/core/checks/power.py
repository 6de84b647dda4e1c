"""Checks of supply, battery, leads and fuses."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import when
from yellowbath.core.data import param
from yellowbath.core.power.cords import ampacity
from yellowbath.core.power.supply import next_fuse, trips


@check("polarity")
def polarity(c: Context) -> Iterator[Evidence]:
    return when(not c.plan.supply.polarity_tested)


def _load(c: Context) -> dict[str, str]:
    return {
        "load": c.show(c.answer.load.value, "ratio"),
        "gives": c.show(c.answer.gives.value, "current"),
        "rated": c.show(c.plan.supply.rated_a, "current"),
        "low": c.show(_edges(c)[0], "ratio"),
        "high": c.show(_edges(c)[1], "ratio"),
    }


def _edges(c: Context) -> tuple[float, float]:
    """Load at the edges of what the bath may take [-]; nought where the supply cannot give more
    than its rating, or has a battery before it."""
    supply, gives = c.plan.supply, c.answer.gives
    if not supply.sags:
        return 0.0, 0.0
    low, high = (
        (gives.value if edge is None else edge) + supply.other_a for edge in (gives.low, gives.high)
    )
    return low / supply.rated_a, high / supply.rated_a


@check("overload")
def overload(c: Context) -> Iterator[Evidence]:
    low, high = _edges(c)
    perhaps = high > limit("overload", "perhaps")
    return when(perhaps and low <= limit("overload_far", "surely"), **_load(c))


@check("overload_far")
def overload_far(c: Context) -> Iterator[Evidence]:
    return when(_edges(c)[0] > limit("overload_far", "surely"), **_load(c))


@check("start_range")
def start_range(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    big = supply.sags and supply.rated_a >= limit("start_range", "rating")
    return when(
        big or supply.start_range is True, rated=c.show(supply.rated_a, "current")
    )  # fmt: skip


@check("underload")
def underload(c: Context) -> Iterator[Evidence]:
    density, low = c.answer.density.value, c.answer.band.low
    return when(
        0 < density < low,
        density=c.show(density, "density"),
        low=c.show(low, "density"),
    )


@check("no_current")
def no_current(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    silent = supply.asleep or trips(supply, c.answer.draws.value)
    return when(
        c.answer.gives.value <= 0 and not silent,
        volts=c.show(c.plan.supply.nominal_v, "voltage"),
        threshold=c.show(c.answer.threshold.value, "voltage"),
    )


@check("too_fierce")
def too_fierce(c: Context) -> Iterator[Evidence]:
    p95, bound = c.answer.p95.value, c.answer.band.p95_high
    gives = c.answer.gives.value
    return when(
        p95 > bound,
        p95=c.show(p95, "density"),
        bound=c.show(bound, "density"),
        fragility=c.answer.band.name,
        limit=c.show(gives * bound / p95 if p95 else 0.0, "current"),
    )


@check("charger_unknown")
def charger_unknown(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    return when(
        supply.kind_unknown,
        volts=c.show(supply.nominal_v, "voltage"),
        rated=c.show(supply.rated_a, "current"),
    )


@check("battery_left")
def battery_left(c: Context) -> Iterator[Evidence]:
    """Another kind of supply was chosen since, and the battery was not taken back."""
    supply = c.plan.supply
    return when(supply.buffer_battery and not supply.may_have_battery)


@check("smart_alone")
def smart_alone(c: Context) -> Iterator[Evidence]:
    return when(c.plan.supply.asleep)


@check("manual_mode")
def manual_mode(c: Context) -> Iterator[Evidence]:
    return when(c.plan.supply.by_hand)


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


@check("voltage_touch")
def voltage_touch(c: Context) -> Iterator[Evidence]:
    volts = c.plan.supply.nominal_v
    some = limit("voltage_touch", "volts") < volts <= limit("voltage_high", "volts")
    return when(some, volts=c.show(volts, "voltage"))


@check("voltage_high")
def voltage_high(c: Context) -> Iterator[Evidence]:
    volts = c.plan.supply.nominal_v
    return when(volts > limit("voltage_high", "volts"), volts=c.show(volts, "voltage"))


@check("rcd")
def rcd(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    said = "The mains socket is marked as having none."
    if supply.rcd is None:
        said = "Whether the mains socket has one is not answered yet."
    return when(supply.on_mains and not supply.rcd, said=said)


# --- Battery ----------------------------------------------------------------------------------


@check("battery_bare")
def battery_bare(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    parts = [
        *(["a fuse"] if supply.fuse_a is None else []),
        *([] if supply.line_switch else ["a switch"]),
    ]
    return when(supply.on_battery and bool(parts), missing=" and ".join(parts))


@check("battery_unknown")
def battery_unknown(c: Context) -> Iterator[Evidence]:
    return when(c.plan.supply.on_battery and c.plan.supply.battery_ah is None)


@check("battery_flat")
def battery_flat(c: Context) -> Iterator[Evidence]:
    supply = c.plan.supply
    return when(
        supply.on_battery and supply.on_mains and c.answer.gives.value > supply.rated_a, **_load(c)
    )


@check("battery_only")
def battery_only(c: Context) -> Iterator[Evidence]:
    return when(not c.plan.supply.on_mains, **_load(c))


@check("battery_short")
def battery_short(c: Context) -> Iterator[Evidence]:
    lasts, window = c.answer.of("battery.lasts"), c.answer.window
    if lasts is None or window is None:
        return when(False)
    return when(
        lasts.value < window.value,
        lasts=c.show(lasts.value, "time"),
        time=c.show(window.value, "time"),
        battery=c.show(c.plan.supply.battery_ah or 0.0, "charge"),
    )


@check("fuse_small")
def fuse_small(c: Context) -> Iterator[Evidence]:
    fuse, gives = c.plan.supply.fuse_a, c.answer.gives.value
    return when(
        fuse is not None and gives > limit("fuse_small", "share") * fuse,
        fuse=c.show(fuse or 0.0, "current"),
        gives=c.show(gives, "current"),
        wanted=c.show(next_fuse(param("fuse_factor").value * gives), "current"),
    )


@check("fuse_big")
def fuse_big(c: Context) -> Iterator[Evidence]:
    fuse, most = c.plan.supply.fuse_a, ampacity(c.plan.supply.lead_area_m2)
    return when(
        fuse is not None and fuse > limit("fuse_big", "over") * most,
        fuse=c.show(fuse or 0.0, "current"),
        lead=c.show(c.plan.supply.lead_area_m2, "wire"),
        ampacity=c.show(most, "current"),
    )


# --- Leads --------------------------------------------------------------------------------------


def _carried(c: Context) -> tuple[float, dict[str, str]]:
    """Amps through the lead over what it carries [-], and both in words."""
    area, amps = c.plan.supply.lead_area_m2, c.answer.gives.value
    most = ampacity(area)
    return amps / most, {
        "gives": c.show(amps, "current"),
        "lead": c.show(area, "wire"),
        "ampacity": c.show(most, "current"),
    }


@check("lead_thin")
def lead_thin(c: Context) -> Iterator[Evidence]:
    over, words = _carried(c)
    return when(limit("lead_thin", "over") < over <= limit("lead_far", "over"), **words)


@check("lead_far")
def lead_far(c: Context) -> Iterator[Evidence]:
    over, words = _carried(c)
    return when(over > limit("lead_far", "over"), **words)


@check("lead_drop")
def lead_drop(c: Context) -> Iterator[Evidence]:
    drop, volts = c.answer.drop.value, c.plan.supply.nominal_v
    return when(
        drop > limit("lead_drop", "share") * volts and not c.plan.supply.asleep,
        drop=c.show(drop, "voltage"),
        volts=c.show(volts, "voltage"),
    )


@check("pieces_row")
def pieces_row(c: Context) -> Iterator[Evidence]:
    several = len(c.plan.pieces) > 1
    return when(several, count=str(len(c.plan.pieces)))
