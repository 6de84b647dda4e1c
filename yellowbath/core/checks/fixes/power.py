"""What may be done about the supply, its leads and what guards them."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.fixes.trying import Sets, fixes
from yellowbath.core.checks.registry import Context, Finding, Mend
from yellowbath.core.data import param
from yellowbath.core.document import AMOUNT
from yellowbath.core.plan.advice.dose_for import dose_for
from yellowbath.core.plan.results.measures import in_hands, needed_kg
from yellowbath.core.power.cords import ampacity, thickness_for
from yellowbath.core.power.supply import next_fuse, standard_fuses
from yellowbath.core.units import show


def dosed(c: Context, amps: float) -> Iterator[Mend]:
    dose = dose_for(c.plan, c.answer, amps)
    if dose is not None:
        words = show(dose, "concentration", c.plan.system)
        more = needed_kg(c.plan, c.answer, dose) > 0
        much = f": {in_hands(c.plan, c.answer, dose)}" if more else ""
        yield Mend(((AMOUNT, dose),), f"Dose {words}{much}")


def laboratory(c: Context, amps: float) -> Iterator[Mend]:
    """A supply with a limit of its own, set to so many amps."""
    supply = c.plan.supply
    free = max(min(amps, supply.rated_a - supply.other_a), 0.05)
    words = show(free, "current", c.plan.system)
    sets: Sets = (
        ("/supply/kind", "laboratory"), ("/supply/limit_a", round(free, 2)),
        ("/supply/nominal_v", min(c.plan.supply.nominal_v, 30.0)),
    )  # fmt: skip
    yield Mend(sets, f"Use a supply with a current limit, set to {words}")


@fixes("overload", "overload_far", "supply_trips")
def _less(c: Context, _: Finding) -> Iterator[Mend]:
    supply = c.plan.supply
    free = supply.rated_a - supply.other_a
    for share in (0.8, 0.5, 0.3):
        yield from dosed(c, share * free)
    if supply.other_a > 0:
        yield Mend((("/supply/other_a", 0.0),), "Nothing else on this supply")
        yield Mend(
            (("/supply/other_a", 0.0), ("/supply/kind", "laboratory"),
             ("/supply/limit_a", round(0.8 * supply.rated_a, 2))),
            "Nothing else on this supply, and one with a current limit",
        )  # fmt: skip
    yield from laboratory(c, 0.8 * free)


@fixes("underload")
def _more(c: Context, finding: Finding) -> Iterator[Mend]:
    density, low = c.answer.density.value, c.answer.band.low
    amps = c.answer.gives.value * param("underload_aim").value * low / density
    supply = c.plan.supply
    free = supply.rated_a - supply.other_a
    if amps > free:
        return
    if supply.limited and amps > supply.limit_a:
        words = show(amps, "current", c.plan.system)
        yield Mend((("/supply/limit_a", round(amps, 2)),), f"Limit at {words}")
        return
    yield from dosed(c, amps)


@fixes("start_range")
def _usual_range(c: Context, _: Finding) -> Iterator[Mend]:
    sets: Sets = (("/supply/start_range", False),)
    for rated in (c.plan.supply.rated_a, 10.0, 6.0):
        words = show(rated, "current", c.plan.system)
        yield Mend((*sets, ("/supply/rated_a", rated)), f"Use the {words} range")
    yield Mend(
        (*sets, ("/supply/rated_a", 10.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", 4.0)),
        "Use a supply with a current limit",
    )  # fmt: skip


@fixes("no_current")
def _enough_volts(c: Context, _: Finding) -> Iterator[Mend]:
    supply = c.plan.supply
    yield Mend((("/supply/nominal_v", 12.0),), "Use 12 V")
    yield Mend((("/supply/other_a", 0.0),), "Nothing else on this supply")
    yield Mend(
        (("/supply/nominal_v", 12.0), ("/supply/other_a", 0.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", round(0.8 * supply.rated_a, 2))),
        "Use a laboratory supply at 12 V, for this bath alone",
    )  # fmt: skip


@fixes("smart_alone")
def _plain_charger(c: Context, _: Finding) -> Iterator[Mend]:
    wanted = next_fuse(param("fuse_factor").value * max(c.answer.draws.value, 1.0))
    words = show(wanted, "current", c.plan.system)
    yield Mend(
        (("/supply/buffer_battery", True), ("/supply/fuse_a", wanted),
         ("/supply/line_switch", True)),
        f"A 12 V battery between, with a {words} fuse and a switch at it",
    )  # fmt: skip
    yield Mend((("/supply/kind", "transformer"),), "Use a plain transformer charger")
    yield from laboratory(c, 0.8 * c.plan.supply.rated_a)


@fixes("too_fierce")
def _gentler(c: Context, _: Finding) -> Iterator[Mend]:
    fitting = c.answer.gives.value * c.answer.band.p95_high / max(c.answer.p95.value, 1e-9)
    for share in (1.0, 0.9, 0.8):
        yield from laboratory(c, share * fitting)


@fixes("battery_flat", "battery_short")
def _lasting(c: Context, _: Finding) -> Iterator[Mend]:
    supply, gives = c.plan.supply, c.answer.gives.value
    if supply.on_mains:
        for rated in (6.0, 10.0, 15.0):
            if rated > supply.rated_a:
                words = show(rated, "current", c.plan.system)
                yield Mend((("/supply/rated_a", rated),), f"A charger of {words}")
    for ah in (60.0, 100.0, 150.0, 220.0):
        if ah > (supply.battery_ah or 0.0):
            words = show(ah, "charge", c.plan.system)
            yield Mend((("/supply/battery_ah", ah),), f"A battery of {words}")
    for share in (0.6, 0.4):
        yield from dosed(c, share * gives)


@fixes("lead_drop")
def _less_lost(c: Context, _: Finding) -> Iterator[Mend]:
    supply = c.plan.supply
    for factor in (1.6, 2.4, 4.0):
        area = min(supply.lead_area_m2 * factor, 70e-6)
        yield Mend((("/supply/lead_area_m2", area),),
                     f"Leads of {show(area, 'wire', c.plan.system)}")  # fmt: skip
    short = max(supply.lead_length_m / 2, 0.3)
    yield Mend((("/supply/lead_length_m", short),),
                 f"Leads of {show(short, 'distance', c.plan.system)}, one way")  # fmt: skip


@fixes("voltage_high", "voltage_touch")
def _low_volts(c: Context, _: Finding) -> Iterator[Mend]:
    for volts in (24.0, 12.0):
        yield Mend((("/supply/nominal_v", volts),), f"Use {volts:g} V")
    yield Mend(
        (("/supply/nominal_v", 12.0), ("/supply/kind", "laboratory"),
         ("/supply/limit_a", round(0.5 * c.plan.supply.rated_a, 2))),
        "Use a laboratory supply at 12 V",
    )  # fmt: skip


@fixes("battery_bare", "fuse_big", "fuse_small")
def _fused(c: Context, finding: Finding) -> Iterator[Mend]:
    supply, gives = c.plan.supply, c.answer.gives.value
    most = ampacity(supply.lead_area_m2)
    switch: Sets = (("/supply/line_switch", True),) if finding.id == "battery_bare" else ()
    also = " and a switch in the line" if switch else ""
    wanted = next_fuse(param("fuse_factor").value * gives)
    fitting = [f for f in standard_fuses() if f <= most]
    if wanted <= most:
        words = show(wanted, "current", c.plan.system)
        yield Mend((*switch, ("/supply/fuse_a", wanted)), f"Fit a {words} fuse{also}")
    area = thickness_for(wanted)
    if area is not None and area > supply.lead_area_m2:
        size, words = (show(area, "wire", c.plan.system), show(wanted, "current", c.plan.system))
        sets: Sets = (*switch, ("/supply/fuse_a", wanted), ("/supply/lead_area_m2", area))
        yield Mend(sets, f"Leads of {size} and a {words} fuse{also}")
    if fitting:
        words = show(fitting[-1], "current", c.plan.system)
        yield Mend((*switch, ("/supply/fuse_a", fitting[-1])), f"Fit a {words} fuse{also}")
    if switch and supply.fuse_a is not None:
        yield Mend(switch, "Put a switch in the line")


@fixes("lead_thin", "lead_far")
def _thicker(c: Context, _: Finding) -> Iterator[Mend]:
    area = thickness_for(c.answer.gives.value * 1.1)  # a thicker lead draws a little more
    if area is not None:
        size = show(area, "wire", c.plan.system)
        yield Mend((("/supply/lead_area_m2", area),), f"Leads of {size}")
    yield from laboratory(c, 0.9 * ampacity(c.plan.supply.lead_area_m2))
