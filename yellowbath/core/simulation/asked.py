"""What a simulated bath answers when something is asked of it: the outcome that is met.

The asks and the bounds of their outcomes are those of the diagnosis, whose text a person reads;
what is met comes from the simulation alone.
"""

from __future__ import annotations

import math

import numpy as np

from yellowbath.core.bath.draws import law
from yellowbath.core.bath.levels import AtLevel, levels
from yellowbath.core.bath.loop import Loop
from yellowbath.core.causes.asks import Ask, Bounds, asks
from yellowbath.core.causes.rows import found_by
from yellowbath.core.data import param
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.senses import CLAMP, look


def answered(
    ask: Ask, bath: SimulatedBath, loop: Loop, rng: np.random.Generator, errs: float
) -> str:
    """What a person answers, who errs now and then."""
    if rng.random() < errs * ask.errs:
        return str(rng.choice(ask.outcomes))
    return true_answer(ask.id, bath, loop, rng)


def true_answer(ask: str, bath: SimulatedBath, loop: Loop, rng: np.random.Generator) -> str:
    """The outcome that is so, as an eye and a meter have it. Raises KeyError for what is no ask."""
    c, flow, t = bath.condition(), bath.flow, bath.truth
    b, seen = Bounds.of(loop), look(bath, rng)
    ids = {f.id for f in bath.in_force()}
    read = CLAMP.read(bath, rng)
    match ask:
        case "gas":
            return seen.gas
        case "scrap_gas":
            return "yes" if seen.scrap_gas else "no"
        case "each_piece":
            if seen.gas == "none":
                return "none"
            return {"far": "near_only", "near": "far_only"}.get(c.idle, "all")
        case "sound":
            return "ticking" if seen.sound == "ticking" else "steady"
        case "lamp":
            share = flow.tank_v / loop.volts
            if seen.lamp == "blinking":
                return "blinking"
            return "bright" if share > 0.62 else "dim" if share > 0.2 else "off"
        case "supply_v":
            v = read.supply_v
            return "none" if v < b.none_v else "low" if v < b.low_supply_v else "right"
        case "tank_v":
            v = read.tank_v
            return "none" if v < b.none_v else "low" if v < b.low_tank_v else "right"
        case "amps":
            a = read.current_a
            return (
                "none" if a < b.none_a else "low" if a < b.low_a
                else "right" if a <= b.high_a else "high"
            )  # fmt: skip
        case "one_wire":
            return "other" if c.meter else "same"
        case "joint_piece":
            volts = flow.piece_a * (t.contact_piece_ohm + c.piece_joint_ohm)
            if c.coated:
                volts = flow.tank_v
            return "much" if volts > b.joint_v else "little"
        case "joint_scrap":
            most = max(
                (a * (t.contact_scrap_ohm[k] + c.scrap_joint_ohm.get(k, 0.0))
                 for k, a in flow.anode_a.items()), default=0.0,
            )  # fmt: skip
            return "much" if most > b.joint_v else "little"
        case "shares" | "unclip":
            return _shares(bath)
        case "two_levels":
            return _two_levels(bath, loop)
        case "again":
            if flow.supply_a < b.none_a:
                return "none"
            return "less" if seen.warm_clip or c.hot_supply else "same"
        case "warm":
            if seen.warm_clip:
                return "clip"
            return "lead" if seen.warm_lead else "supply" if seen.warm_supply else "cool"
        case "leads":
            return "swapped" if c.reversed else "right" if math.isinf(c.touch_ohm) else "touching"
        case "poles":
            if flow.tank_v < b.none_v:
                return "none"
            return "swapped" if c.reversed else "right"
        case "crust":
            return seen.crust
        case "fuse":
            return "blown" if "fuse" in ids or bath.supply.blown else "whole"
        case "battery":
            return "flat" if bath.supply.charge < 0.3 else "full"
        case "scrap":
            return _crust(bath)
        case "level":
            return "no" if c.gives or c.level < 1 else "yes"
        case "piece_under":
            return "no" if min(c.piece_under, c.level) < 1 else "yes"
        case "mark":
            return "under" if c.level < 1 else "at"
        case "fan":
            return "weak" if c.hot_supply else "blows"
        case "hanger":
            return "coated" if c.coated or c.in_the_way > 1 else "clear"
        case "warmth":
            return "right" if read.bath_c > b.cold_c else "cold"
        case "equal":
            return "equal" if c.pits else "more"
    found, outcomes = found_by(ask), asks()[ask].outcomes
    other = next(o for o in outcomes if o not in found)
    return next((o for o, some in found.items() if some & ids), other)


def _two_levels(bath: SimulatedBath, loop: Loop) -> str:
    """Stepped down as a line steps it, by the simulation's own circuit."""
    flow = bath.flow
    if flow.supply_a < loop.meant_a / 20:
        return "still"
    kept, bath.limit_a = bath.limit_a, law("step_to") * flow.supply_a
    down, bath.limit_a = bath.solved(bath.condition()), kept
    high, low = (AtLevel(f.supply_v, f.supply_a) for f in (flow, down))
    return levels(high, low, loop).outcome


def _shares(bath: SimulatedBath) -> str:
    flow = bath.flow
    if flow.bath_a < 0.05:
        return "none"
    over = [a / flow.bath_a / bath.design.shares[k] for k, a in flow.anode_a.items()]
    if min(over) < 0.15:
        return "one_idle"
    return "one_takes" if max(over) > 2.5 * min(over) else "alike"


def _crust(bath: SimulatedBath) -> str:
    c, d = bath.condition(), bath.design
    due = param("cake_ah_m2").value
    thick = {k for k in d.shares if k in c.cake_over or bath.cake_ah[k] > due * d.scrap_m2[k]}
    if not thick:
        return "thin"
    return "one_bare" if c.cake_over and len(thick) < len(d.shares) else "thick"
