"""What a person meets at a simulated bath: gas, warmth, sounds, colours, and meters that err.

What is so is in the bath; how an eye and a meter err is drawn here, by a generator that is handed
in. Common practice, no source.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from yellowbath.core.data import param
from yellowbath.core.document.supply import Fixed, PlainCharger
from yellowbath.core.simulation.bath import SimulatedBath

Gas = Literal["whole", "one_side", "clip_only", "none"]
Sound = Literal["silent", "hum", "hiss", "ticking"]
_MOST = 0.6  # of the parts give gas where it is said to come from the whole piece; judged
_SOME = 0.12  # share of the surface from which gas is seen at a side; judged
_WARM_W = 2.0  # in a joint, from which a finger feels it; judged
_LEAD_W_M = 4.0  # in a metre of lead; judged


@dataclass(frozen=True)
class Seen:
    """Gas at the piece and at the scrap, what is warm, what is heard, how the liquid looks and the
    lamp across the leads at the tank; ``crust``: where rust and crust grow."""

    gas: Gas
    scrap_gas: bool
    warm_clip: bool
    warm_lead: bool
    warm_supply: bool
    sound: Sound
    lamp: Literal["bright", "dim", "off", "blinking"]
    liquid: Literal["clear", "cloudy", "brown", "green"]
    piece: Literal["rusty", "darkening", "black", "browner"]
    crust: Literal["scrap", "piece", "nowhere"]


def look(bath: SimulatedBath, rng: np.random.Generator | None = None) -> Seen:
    """What is seen, heard and felt now; with a generator as a person does, who errs a little."""
    c, flow, d = bath.condition(), bath.flow, bath.design
    seen = param("gas_seen_a_m2").value
    if rng is not None:
        seen *= math.exp(0.4 * rng.standard_normal())
    joint = bath.truth.contact_piece_ohm + c.piece_joint_ohm
    joints = [
        flow.anode_a.get(k, 0.0) ** 2 * (bath.truth.contact_scrap_ohm[k] + v)
        for k, v in c.scrap_joint_ohm.items()
    ]
    clip_w = max([flow.piece_a**2 * joint, *joints])
    lead_w = flow.supply_a**2 * (d.leads_ohm + c.leads_ohm) / max(d.supply.lead_length_m, 0.1)
    load = (flow.supply_a + d.supply.other_a) / d.supply.rated_a
    scrap = max((a / d.scrap_m2[k] for k, a in flow.anode_a.items()), default=0.0)
    hiccup = c.supply_state == "hiccup" or bath.supply.hiccups(d.supply, load)
    had = float(bath.doses @ d.main) / float(bath.truth.needs @ d.main)
    litres = d.heat.volume * 1000
    return Seen(
        gas=_gas(bath, seen),
        scrap_gas=scrap > seen / 2 or (c.reversed and flow.bath_a > 0.02),
        warm_clip=clip_w > _WARM_W,
        warm_lead=lead_w > _LEAD_W_M,
        warm_supply=c.hot_supply or load > 0.9,
        sound=_sound(bath, hiccup),
        lamp="blinking" if hiccup else _lamp(flow.tank_v),
        liquid="green" if d.dissolves and bath.charge_ah > litres / 8
        else "brown" if bath.charge_ah > litres / 3
        else "cloudy" if bath.charge_ah > litres / 20 else "clear",
        piece="browner" if c.reversed and bath.charge_ah > 0.5
        else "black" if had > 0.5 else "darkening" if had > 0.12 else "rusty",
        crust="nowhere" if bath.charge_ah < 0.3 else "piece" if c.reversed else "scrap",
    )  # fmt: skip


def _gas(bath: SimulatedBath, seen: float) -> Gas:
    flow, c = bath.flow, bath.condition()
    densities = bath.densities()
    if c.reversed:
        densities = densities / 2  # oxygen: half as much of it for the same charge
    under = c.piece_under * c.level
    if c.far is not None and under * flow.piece_a > 0:
        idle, joint = c.far
        own = bath.wiring(replace(c, far=None)).piece_ohm / idle
        if flow.piece_a / bath.design.wetted_m2 * own / (own + joint) < seen:
            under *= 1 - idle
    weights = np.array(bath.design.coverage.weights)
    here = bath.here()
    share = under * float(weights[(densities / under > seen) & here].sum() / weights[here].sum())
    if c.blind:
        share = min(share, 0.5)
    if flow.hanger_a > 0.03 and flow.hanger_a > 1.5 * flow.piece_a:
        return "clip_only"
    if share >= _MOST:
        return "whole"
    if share >= _SOME:
        return "one_side"
    return "clip_only" if flow.hanger_a > 0.03 else "none"


def _lamp(volts: float) -> Literal["bright", "dim", "off"]:
    return "bright" if volts > 8 else "dim" if volts > 2.5 else "off"


def _sound(bath: SimulatedBath, hiccup: bool) -> Sound:
    supply = bath.design.supply
    if hiccup:
        return "ticking"
    if bath.flow.bath_a > 2:
        return "hiss"
    humming = isinstance(supply, PlainCharger | Fixed) and bath.supply.gives()
    return "hum" if humming and bath.flow.supply_a > 0.1 * supply.rated_a else "silent"


@dataclass(frozen=True)
class SenseRead:
    """What meters showed: amps, volts at supply and tank, warmth [C]; level under the mark [m]."""

    current_a: float
    supply_v: float
    tank_v: float
    bath_c: float
    level_down_m: float


@dataclass(frozen=True)
class BathMeter:
    """How meters err: a share of the reading for a meter's life, another each time, a last digit.

    ``dial``: a needle on the charger instead of a clamp meter.
    """

    amps: float = 0.03
    volts: float = 0.01
    each: float = 0.01
    bath_k: float = 0.5
    digit_a: float = 0.01

    def read(self, bath: SimulatedBath, rng: np.random.Generator) -> SenseRead:
        """One reading as a person takes it, the clamp on whatever wire it is on."""
        c, flow, supply = bath.condition(), bath.flow, bath.design.supply
        amps = flow.supply_a
        if c.meter == "both":
            amps = 0.0
        elif c.meter == "other":
            amps = min(supply.rated_a, 0.4 + 0.3 * flow.supply_a)

        def off(share: float) -> float:
            return 1 + share * float(rng.standard_normal()) + self.each * float(rng.normal())

        return SenseRead(
            current_a=round(abs(amps * off(self.amps)) / self.digit_a) * self.digit_a,
            supply_v=round(abs(flow.supply_v * off(self.volts)), 2),
            tank_v=round(abs(flow.tank_v * off(self.volts)), 2),
            bath_c=round(bath.temperature_c - c.colder_k + self.bath_k * float(rng.normal()), 1),
            level_down_m=max(bath.design.level_m - bath.level_m * c.level, 0.0),
        )


CLAMP = BathMeter()
DIAL = BathMeter(amps=0.12, each=0.05, digit_a=0.25)  # a needle, judged


def share_said(
    bath: SimulatedBath, rng: np.random.Generator, bias: float, error: float = 0.45
) -> float:
    """A share clean as a person says it: an eye's bias and error on the logit, in fives."""
    true = min(max(bath.share_clean(), 0.002), 0.998)
    z = math.log(true / (1 - true)) + bias + error * float(rng.standard_normal())
    return round(20 / (1 + math.exp(-z))) / 20
