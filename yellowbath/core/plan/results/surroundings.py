"""All behind the bath that is not amps and hours: mix, air, warmth, battery, wear, weight."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.chemistry import mixing
from yellowbath.core.document import Plan
from yellowbath.core.figures import Figure
from yellowbath.core.geometry.piece import posed
from yellowbath.core.plan.results import anode_life
from yellowbath.core.plan.results.model import Answer
from yellowbath.core.power import supply as power
from yellowbath.core.power import surroundings
from yellowbath.core.power.heat import Bath


def surrounding_figures(plan: Plan, a: Answer) -> Iterator[Figure]:
    """The further figures of an answer; those that a plan has nothing of are left out."""
    level, gives = a.fill.level.value, a.gives
    liquid = mixing.liquid_of(plan.mix, a.concentration, a.fill.water)
    bath = Bath.of(plan, level)
    yield mixing.ph_figure(liquid, a.temperature)
    yield mixing.dissolves_figure(plan.mix)
    yield surroundings.tank_mass_figure(a.fill.water, liquid, a.mass, plan.mix.temperature_c)
    yield surroundings.hang_figure(plan)
    yield surroundings.hottest_figure(plan, bath, a.heat, a.window)
    yield surroundings.settles_figure(bath, a.heat)
    evaporates = surroundings.evaporation_figure(bath, a.temperature)
    day = surroundings.top_up_figure(evaporates, a.water_split)
    yield from (evaporates, day)
    over = min(level - a.fill.bottoms[p.id] - posed(p)[2] for p in plan.pieces)
    if day.value > 0 and over > 0:
        yield surroundings.covered_figure(plan, over, level, day)
    yield surroundings.opening_figure(a.air)
    yield surroundings.froth_figure(plan, level, gives)
    yield power.lead_heat_figure(a.leads, gives, a.form)
    yield power.fuse_figure(gives)
    battery = power.battery_figure(plan.supply, gives)
    yield from anode_life.rust_charge_figures(plan.pieces)
    some = (
        mixing.chlorine_figure(plan, gives),
        mixing.vinegar_figure(plan, a.fill.water),
        battery,
        power.battery_lasts_figure(plan.supply, battery),
        anode_life.scrape_figure(a.scrap_area, gives),
        anode_life.sludge_figure(plan, a.wetted_area, a.iron, a.window),
        anode_life.overrun_figure(plan, a.window),
    )
    yield from (f for f in some if f is not None)
