"""Where the supply's volts go: one after another round the loop, adding up to its open volts.

Volts [V]. The liquid is parted half-way between scrap and piece: what a rod's own neighbourhood
takes is that of a line in a cylinder as wide as half the gap, the rest is the piece's; the films
belong to the surface they lie on.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.geometry import anode as anodes
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.supply import source_of

Part = Literal["supply", "limit", "leads", "contacts", "threshold", "scrap", "piece"]


@dataclass(frozen=True)
class Drop:
    """A part of the loop and the volts that it takes."""

    part: Part
    volts: float


def where_volts_go(plan: Plan, worked: Answer) -> tuple[Drop, ...]:
    """From the supply's open volts down to nought, in the order of the loop; empty where no current
    flows."""
    amps = worked.gives.value
    if amps <= 0:
        return ()
    source = source_of(plan.supply)
    inner = (amps + plan.supply.other_a) * source.inner.value
    contacts = amps * min(param("contact_ohm").value, worked.leads.value)
    scrap, piece = _liquid(plan, worked)
    drops: list[Drop] = [
        Drop("supply", inner),
        Drop("leads", amps * worked.leads.value - contacts),
        Drop("contacts", contacts),
        Drop("threshold", worked.threshold.value),
        Drop("scrap", scrap),
        Drop("piece", piece),
    ]
    held = source.volts.value - sum(d.volts for d in drops)
    if held > _LEAST:  # a limit in force holds it back
        drops.insert(1, Drop("limit", held))
    return tuple(d for d in drops if d.volts > _LEAST)


_LEAST = 1e-6  # V; rounding


def _liquid(plan: Plan, worked: Answer) -> tuple[float, float]:
    """Volts in the liquid and film by the scrap, and by the piece."""
    whole = worked.gives.value * worked.resistance.value
    level, kappa = worked.fill.level.value, worked.conductivity.value
    apart = max(worked.fill.gap.value, 0.0) / 2
    conducts = 0.0
    for a in plan.anodes:
        wet, radius = anodes.wet(a, plan, level), a.line_radius_m
        if wet.length <= 0:
            continue
        near = math.log1p(apart / radius) / (2 * math.pi * kappa * wet.length)
        conducts += 1 / (near + param("film_anode_ohm_m2").value / wet.area)
    if conducts <= 0:
        return 0.0, whole
    scrap = min(worked.gives.value / conducts, whole)
    return scrap, whole - scrap


def shares(drops: Sequence[Drop]) -> list[float]:
    """Each over all of them [-]."""
    total = sum(d.volts for d in drops)
    return [d.volts / total for d in drops]
