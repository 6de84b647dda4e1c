"""Many circuits at once: what flows in each of the draws, by halving an interval and by slopes.

    supply -- leads --+-- joint, cake, liquid of each anode --+-- liquid, joint of the piece --+
                      |                                       +-- liquid of the hanger --------+
                      +-------------------------- a touch -------------------------------------+

Arrays are (n) over draws or (n, a) with the anodes. Resistances [ohm], volts [V], amps [A].
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields

import numpy as np

from yellowbath.core.bath.loop import Array, slope_v

_HALVINGS, _STEPS = 12, 3  # to 0.002 decades, then by the slope
_LEAST, _MOST = -6.0, 3.0  # decades of amps


@dataclass
class Wires:
    """Everything that resists in each draw; ``touch_s``: conductance of a touch [S]."""

    volts: Array
    inner: Array
    ceiling: Array
    leads: Array
    scrap: Array
    joints: Array
    cake: Array
    piece: Array
    piece_joint: Array
    hanger_s: Array
    touch_s: Array
    start: Array
    knee: Array

    @staticmethod
    def joined(some: Sequence[Wires]) -> Wires:
        """The draws of some wires one after the other."""
        return Wires(**{
            f.name: np.concatenate([getattr(w, f.name) for w in some]) for f in fields(Wires)
        })  # fmt: skip


@dataclass(frozen=True)
class Flows:
    """What flows in each draw: out of the supply, through the bath, by anode (n, a), into piece and
    hanger; volts at the posts, between the leads at the tank, across the piece's joint and the
    worst of the scrap's."""

    supply_a: Array
    bath_a: Array
    anode_a: Array
    piece_a: Array
    hanger_a: Array
    supply_v: Array
    tank_v: Array
    piece_joint_v: Array
    scrap_joint_v: Array


def shown(f: Flows) -> Mapping[str, Array]:
    """What meters show of it, by the names of observations: volts at supply and tank, and across
    the piece's joint [V]; amps out of the supply [A]."""
    return {"amps": f.supply_a, "supply_v": f.supply_v, "tank_v": f.tank_v,
            "joint_v": f.piece_joint_v}  # fmt: skip


def flows(w: Wires) -> Flows:
    """What flows; currents from 1 uA to 1 kA, to a part in a million."""
    branch = 1 / (w.scrap + w.joints + w.cake)
    scrap_s = branch.sum(axis=1)
    piece_s = 1 / (w.piece + w.piece_joint)
    bath_ohm = 1 / scrap_s + 1 / (piece_s + w.hanger_s)
    line = w.inner + w.leads
    bath = (_shunted if np.any(w.touch_s > 0) else _alone)(w, bath_ohm, line)
    tank = w.start + slope_v() * np.arcsinh(bath / (2 * w.knee)) + bath * bath_ohm
    # nothing through the bath: the touch alone makes the volts at the tank
    alone = np.minimum(w.volts / (line + 1 / np.maximum(w.touch_s, 1e-12)), w.ceiling)
    tank = np.where(bath > 0, tank, w.volts - alone * line)
    touch = np.where(bath > 0, tank * w.touch_s, alone * (w.touch_s > 0))
    supply = bath + touch
    piece = bath * piece_s / (piece_s + w.hanger_s)
    by_anode = bath[:, None] * branch / scrap_s[:, None]
    return Flows(
        supply_a=supply,
        bath_a=bath,
        anode_a=by_anode,
        piece_a=piece,
        hanger_a=bath - piece,
        supply_v=tank + supply * w.leads,
        tank_v=tank,
        piece_joint_v=piece * w.piece_joint,
        scrap_joint_v=(by_anode * w.joints).max(axis=1),
    )


def _alone(w: Wires, bath_ohm: Array, line: Array) -> Array:
    """Current through the bath where nothing touches (n): volts used up rise with it, ever less
    steeply, so that steps by the slope come from below and never pass it."""
    slope, ohm, spare = slope_v(), bath_ohm + line, np.maximum(w.volts - w.start, 0.0)
    amps = np.maximum(spare - slope * np.arcsinh(spare / ohm / (2 * w.knee)), 0.0) / ohm
    for _ in range(_STEPS + 1):
        over = slope * np.arcsinh(amps / (2 * w.knee)) + amps * ohm - spare
        rises = slope / np.sqrt(amps * amps + 4 * w.knee * w.knee) + ohm
        amps = np.maximum(amps - over / rises, 0.0)
    return np.minimum(amps, w.ceiling)


def _shunted(w: Wires, bath_ohm: Array, line: Array) -> Array:
    """The same where a touch takes its share: halved, then by the slope."""
    low, high = np.full_like(w.volts, _LEAST), np.full_like(w.volts, _MOST)
    slope = slope_v()

    def at(amps: Array) -> tuple[Array, Array]:
        """What goes through bath and touch over what comes in at the tank's volts, its slope."""
        tank = w.start + slope * np.arcsinh(amps / (2 * w.knee)) + amps * bath_ohm
        more = slope / np.sqrt(amps * amps + 4 * w.knee * w.knee) + bath_ohm
        comes = np.minimum(np.maximum(w.volts - tank, 0.0) / line, w.ceiling)
        less = np.where((comes > 0) & (comes < w.ceiling), more / line, 0.0)
        return amps + tank * w.touch_s - comes, 1 + more * w.touch_s + less

    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        too_much = at(10**middle)[0] > 0
        low, high = np.where(too_much, low, middle), np.where(too_much, middle, high)
    from_, to = 10**low, 10**high
    bath = np.sqrt(from_ * to)
    for _ in range(_STEPS):
        over, rises = at(bath)
        bath = np.clip(bath - over / rises, from_, to)
    made: Array = np.where(low < _LEAST + 1e-3, 0.0, bath)
    return made
