"""All behind the bath that is not amps and hours: mix, air, warmth, battery, wear, weight."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from yellowbath.core.chemistry import brew
from yellowbath.core.document import Plan
from yellowbath.core.figures import Figure
from yellowbath.core.plan.results import wear
from yellowbath.core.power import around
from yellowbath.core.power import supply as power
from yellowbath.core.power.heat import Bath

if TYPE_CHECKING:
    from yellowbath.core.plan.results.answer import Answer


def beyond(plan: Plan, a: Answer) -> Iterator[Figure]:
    """The further figures of an answer; those that a plan has nothing of are left out."""
    level, gives = a.fill.level.value, a.gives
    liquid = brew.liquid_of(plan.mix, a.concentration, a.fill.water)
    bath = Bath.of(plan, level)
    yield brew.ph_figure(liquid, a.temperature)
    yield brew.dissolves_figure(plan.mix)
    yield around.tank_mass_figure(a.fill.water, liquid, a.mass, plan.mix.temperature_c)
    yield around.hang_figure(plan)
    yield around.hottest_figure(plan, bath, a.heat, a.window)
    yield around.settles_figure(bath, a.heat)
    evaporates = around.evaporation_figure(bath, a.temperature)
    day = around.top_up_figure(evaporates, a.water_split)
    yield from (evaporates, day)
    if day.value > 0:
        yield around.covered_figure(plan, level, day)
    yield around.opening_figure(a.air)
    yield around.froth_figure(plan, level, gives)
    yield power.lead_heat_figure(plan.supply, a.leads, gives)
    yield power.fuse_figure(gives)
    battery = power.battery_figure(plan.supply, gives)
    some = (
        brew.chlorine_figure(plan, gives),
        brew.vinegar_figure(plan, a.fill.water),
        battery,
        power.battery_lasts_figure(plan.supply, battery),
        wear.scrape_figure(a.scrap_area, gives),
        wear.sludge_figure(plan, a.wetted_area, a.iron, a.window),
        wear.overrun_figure(plan, a.window),
    )
    yield from (f for f in some if f is not None)
