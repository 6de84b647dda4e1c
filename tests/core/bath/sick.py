"""Simulated baths whose cell, warming, crust and joints follow other laws than the estimate's, with
faults of other sizes: what the diagnosis is judged on beside its own worlds.

Three worlds, judged, made to differ, drawn by a seed. Amps by halving, not by Newton. What hands
ask and how an outcome is called are the diagnosis's own; what is met is the world's.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.simulation.circuit import Flow, Wiring
from yellowbath.core.simulation.design import Array
from yellowbath.core.simulation.faults import Condition


@dataclass(frozen=True)
class SickLaw:
    """A world: volts of its cell at amps over those that are meant, ohms of its crust over the
    liquid's by charge over what is due, the liquid's conductivity by kelvins over the first, ohms
    that joints gain by hours, and how dense gas has to be to be seen, over the usual."""

    cell: Callable[[float], float]
    crust: Callable[[float], float]
    warm: Callable[[float], float]
    joint: Callable[[float], float]
    seen: float


LAWS: Mapping[str, SickLaw] = {
    "root": SickLaw(
        cell=lambda i: 1.5 + 0.6 * math.sqrt(i),
        crust=lambda q: 0.35 * math.sqrt(q),
        warm=lambda k: math.exp(0.027 * k),
        joint=lambda h: 0.002 * h**1.3,
        seen=0.6,
    ),
    "late": SickLaw(
        cell=lambda i: 1.9 + 0.22 * math.log1p(9 * i),
        crust=lambda q: 0.5 * q**2,
        warm=lambda k: 1 + 0.012 * k,
        joint=lambda h: 0.02 if h > 5 else 0.0,
        seen=1.0,
    ),
    "stirred": SickLaw(
        cell=lambda i: 2.1 - 0.25 * math.exp(-3 * i) + 0.15 * i,
        crust=lambda q: 0.3 * (1 - math.exp(-1.5 * q)),
        warm=lambda k: 1 / (1 - 0.015 * min(k, 30)),
        joint=lambda h: 0.0,
        seen=1.7,
    ),
}


class SickBath(SimulatedBath):
    """A bath of one of these worlds."""

    law: SickLaw = LAWS["root"]

    def densities(self) -> Array:
        return super().densities() / self.law.seen

    def wiring(self, c: Condition) -> Wiring:
        w, d, t = super().wiring(c), self.design, self.truth
        gained = self.temperature_c - c.colder_k - 18.0
        own = d.conducts_at(self.temperature_c - c.colder_k) / d.conducts_at(18.0)
        over = own / self.law.warm(gained)
        due = 1.2 * sum(d.scrap_m2.values()) * 100  # Ah; judged
        share = self.charge_ah / max(due, 1e-6)
        crust = {
            k: (self.law.crust(share) * t.cake * d.liquid_ohm
                + c.cake_over.get(k, 0.0) * d.liquid_ohm / t.kappa / c.kappa) / d.shares[k]
            for k in w.scrap_ohm
        }  # fmt: skip
        more = self.law.joint(self.powered_s / 3600)
        return replace(
            w, scrap_ohm={k: r * over for k, r in w.scrap_ohm.items()},
            piece_ohm=w.piece_ohm * over, hanger_ohm=w.hanger_ohm * over, cake_ohm=crust,
            joint_ohm={k: r + more for k, r in w.joint_ohm.items()},
            piece_joint_ohm=w.piece_joint_ohm + more,
        )  # fmt: skip

    def solved(self, c: Condition) -> Flow:
        """Halved on the volts at the tank; the plan's own overpotential shifts the cell."""
        w = self.wiring(c)
        branch = {k: w.scrap_ohm[k] + w.joint_ohm[k] + w.cake_ohm[k] for k in w.scrap_ohm}
        scrap_s = sum(1 / r for r in branch.values())
        piece_s, hanger_s = 1 / (w.piece_ohm + w.piece_joint_ohm), 1 / w.hanger_ohm
        ohm, line = 1 / scrap_s + 1 / (piece_s + hanger_s), w.inner_ohm + w.leads_ohm
        touch_s, meant = 1 / w.touch_ohm, max(self.design.meant_a, 0.05)

        def volts(amps: float) -> float:
            return self.law.cell(amps / meant) + self.truth.overpotential_v + amps * ohm

        def through(tank_v: float) -> float:
            return _halved(lambda i: volts(i) - tank_v, 0.0, 1e3)

        def short(tank_v: float) -> float:
            out = through(tank_v) + tank_v * touch_s
            return out - min(max(w.volts - tank_v, 0.0) / line, w.ceiling_a)

        tank_v = _halved(short, 0.0, max(w.volts, 1e-6))
        bath_a = through(tank_v)
        supply_a = bath_a + tank_v * touch_s
        piece_a = bath_a * piece_s / (piece_s + hanger_s)
        return Flow(
            supply_a=supply_a, supply_v=tank_v + supply_a * w.leads_ohm, tank_v=tank_v,
            bath_a=bath_a, piece_a=piece_a, hanger_a=bath_a - piece_a,
            cell_v=self.law.cell(bath_a / meant),
            anode_a={k: bath_a / (r * scrap_s) for k, r in branch.items()},
            at_ceiling=supply_a >= 0.999 * w.ceiling_a,
        )  # fmt: skip


def _halved(rises: Callable[[float], float], low: float, high: float) -> float:
    if rises(low) >= 0:
        return low
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (low, middle) if rises(middle) > 0 else (middle, high)
    return (low + high) / 2


def bath_of(rng: np.random.Generator) -> Callable[..., SimulatedBath]:
    """What makes a bath of one of the worlds, at random."""
    law = LAWS[str(rng.choice(sorted(LAWS)))]

    def made(*args: Any, **more: Any) -> SimulatedBath:
        bath = SickBath(*args, **more)
        bath.law = law
        return bath

    return made
