"""The circuit of a simulated bath at one moment: one loop, whose scrap and whose piece each have
their branches.

    supply -- leads --+-- joint, cake, liquid of each anode --+-- liquid, joint of the piece --+
                      |                                       +-- liquid of the hanger --------+
                      +-------------------------- a touch -------------------------------------+

Solved by Newton's method on the current; plain floats, since it runs at every step.
Resistances [ohm], volts [V], amps [A].
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

_STEPS = 30  # a bound; it ends when it has settled
_SETTLED = 1e-9  # V
OPEN = 1e9  # ohm: a joint that does not conduct


@dataclass
class Wiring:
    """Everything that resists, as it stands.

    ``scrap_ohm``: liquid about each anode, ``joint_ohm`` its joint, ``cake_ohm`` what has grown on
    it; ``piece_ohm``: liquid about the piece and ``piece_joint_ohm``; ``hanger_ohm``, infinite
    where it is dry or coated; ``touch_ohm``: infinite where nothing touches. ``start_v``,
    ``slope_v`` and ``knee_a``: volts that the cell takes at a current I, start + slope asinh(I/2
    knee).
    """

    volts: float
    inner_ohm: float
    ceiling_a: float
    leads_ohm: float
    scrap_ohm: Mapping[str, float]
    joint_ohm: Mapping[str, float]
    cake_ohm: Mapping[str, float]
    piece_ohm: float
    piece_joint_ohm: float
    hanger_ohm: float = math.inf
    touch_ohm: float = math.inf
    start_v: float = 1.23
    slope_v: float = 0.1
    knee_a: float = 1e-4


@dataclass(frozen=True)
class Flow:
    """What flows: out of the supply, through the bath, by anode, into the piece and the hanger.

    ``tank_v`` lies between the two leads at the tank, joints included; ``supply_v`` at the posts;
    ``cell_v`` is what the cell itself takes of it.
    """

    supply_a: float = 0.0
    supply_v: float = 0.0
    tank_v: float = 0.0
    bath_a: float = 0.0
    piece_a: float = 0.0
    hanger_a: float = 0.0
    cell_v: float = 0.0
    anode_a: Mapping[str, float] = field(default_factory=dict)
    at_ceiling: bool = False


STILL = Flow()


def solve(w: Wiring) -> Flow:
    """The steady current of a wiring; raises no error: an open loop carries next to nothing."""
    branch = {k: w.scrap_ohm[k] + w.joint_ohm[k] + w.cake_ohm[k] for k in w.scrap_ohm}
    scrap_g = sum(1 / r for r in branch.values())
    to_piece = 1 / (w.piece_ohm + w.piece_joint_ohm)
    to_hanger = 0.0 if math.isinf(w.hanger_ohm) else 1 / w.hanger_ohm
    bath_ohm = 1 / scrap_g + 1 / (to_piece + to_hanger)
    line_ohm = w.inner_ohm + w.leads_ohm
    # a touch shunts the bath: the supply as the bath sees it is a weaker one
    shunt = 0.0 if math.isinf(w.touch_ohm) else 1 / w.touch_ohm
    pull = 1 / (1 + line_ohm * shunt)
    volts, series = w.volts * pull, line_ohm * pull
    bath_a = _loop(w, volts, series + bath_ohm)
    cell_v = _cell(w, bath_a)
    tank_v = cell_v + bath_a * bath_ohm if bath_a > 1e-9 else volts
    supply_a = bath_a + tank_v * shunt
    at_ceiling = supply_a > w.ceiling_a
    if at_ceiling:
        bath_a, tank_v = _limited(w, bath_ohm, shunt)
        cell_v, supply_a = _cell(w, bath_a), w.ceiling_a
    into_piece = bath_a * to_piece / (to_piece + to_hanger)
    return Flow(
        supply_a=supply_a,
        supply_v=tank_v + supply_a * w.leads_ohm,
        tank_v=tank_v,
        bath_a=bath_a,
        piece_a=into_piece,
        hanger_a=bath_a - into_piece,
        cell_v=cell_v,
        anode_a={k: bath_a / (r * scrap_g) for k, r in branch.items()},
        at_ceiling=at_ceiling,
    )


def _cell(w: Wiring, amps: float) -> float:
    return w.start_v + w.slope_v * math.asinh(amps / (2 * w.knee_a))


def _loop(w: Wiring, volts: float, ohm: float) -> float:
    """The current at which all volts are used up [A]; concave: Newton comes from below."""
    if volts <= w.start_v:
        return 0.0
    amps = (volts - w.start_v) / ohm
    for _ in range(_STEPS):
        over = w.start_v + w.slope_v * math.asinh(amps / (2 * w.knee_a)) + amps * ohm - volts
        if abs(over) < _SETTLED:
            break
        slope = ohm + w.slope_v / math.sqrt(amps * amps + 4 * w.knee_a * w.knee_a)
        amps = max(amps - over / slope, 0.0)
    return amps


def _limited(w: Wiring, bath_ohm: float, shunt: float) -> tuple[float, float]:
    """Current through the bath and volts at the tank with the supply at its ceiling."""
    if shunt == 0:
        return w.ceiling_a, _cell(w, w.ceiling_a) + w.ceiling_a * bath_ohm
    # the ceiling is a current source; the touch makes a source of volts of it
    touch = 1 / shunt
    bath_a = _loop(w, w.ceiling_a * touch, touch + bath_ohm)
    return bath_a, (w.ceiling_a - bath_a) * touch
