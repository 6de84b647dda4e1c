"""What a bath's own circuit is, by what was read of it: particles that agree with every reading.

Unknown are conductivity, joints, cake, supply and what the cell takes. Amps alone do not tell a
worse joint from cake or a thinner liquid; volts at the tank or across a joint do. Amps [A], ohms.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from yellowbath.core.bath.circuit import Flows, Wires, flows, shown
from yellowbath.core.bath.draws import COLUMNS, Scores, chance, drawn_at, sound
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.normal import ndtr, ndtri
from yellowbath.core.particles import annealed, quantiles

COUNT = 800  # draws; edges of the amps within 1 % from seed to seed, but at a limit (3.5 %)
Three = tuple[float, float, float]
_SPAN = (0.1, 0.5, 0.9)  # of a belief, as it is told
_MODEL = 0.03  # amps of a circuit are not told better than this; judged
_METER_V = 0.12  # V: what a meter shows for one thing twice
# of the draws' unknowns: the normal ones that wires know of, and the even chances (hanger wet, how
# bad a joint, which)
_OF_WIRES, _EVEN = 8, [0, 12, 13]
_BAD, _LOW_OHM, _HIGH_OHM = 0.2, 0.1, 5.0  # how often a joint has some ohms more, and how many
_TOLD = 0.12  # of all ohms: where a part's own band is narrower, and than by so much
_LESS, _MORE = 0.7, 6.0  # beforehand, it is told apart; or it is clearly more than that; judged


@dataclass(frozen=True)
class Part:
    """A part of the circuit by what was read, 10, 50, 90 % [ohm], what it was thought to be
    beforehand, and whether the readings tell it apart from the others."""

    id: str
    ohm: Three
    before: Three
    told: bool


@dataclass(frozen=True)
class Estimate:
    """``amps``: what is to be expected now; ``planned``: the same before anything was read;
    ``off``: what was read newest over what a sound bath of the plan gives at that warmth and cake
    [-]; ``fits``: whether a sound bath explains it at all."""

    amps: Three
    planned: Three
    off: float
    parts: Sequence[Part]
    fits: bool


class CircuitCloud:
    """The particles of a bath after some readings, ``count`` of them, each weighing the same."""

    def __init__(self, loop: Loop, seen: Sequence[Observation], count: int = COUNT) -> None:
        self.loop, self.seen, self.count = loop, seen, count
        z, joints, even = chance(loop.anodes, count)
        self.fits = True
        self.scores: Array = np.hstack([z[:, :_OF_WIRES], joints, ndtri(even[:, _EVEN])])
        if seen:
            # by what was thought before: in the end some far-fetched circuit always agrees
            self.fits = bool(self._told(self.scores).max() > -_ODD * readings(seen))
            self.scores = annealed(self.scores, self._told)

    def wires(self, charge_ah: float, bath_c: float | None) -> Wires:
        """The particles' wires after a charge, at a warmth; some have a joint gone bad."""
        return self._wires(self.scores, charge_ah, bath_c)

    def _wires(self, scores: Array, charge_ah: float, bath_c: float | None) -> Wires:
        known = _apart(scores, self.loop.anodes)
        w, u = drawn_at(known, self.loop, charge_ah, bath_c).wires, known[2]
        more = _LOW_OHM * (_HIGH_OHM / _LOW_OHM) ** u[:, 12]
        at_piece, at_scrap = u[:, 13] < _BAD, u[:, 13] > 1 - _BAD
        return replace(
            w,
            piece_joint=w.piece_joint + at_piece * more,
            joints=w.joints + (at_scrap * more)[:, None],
        )

    def _told(self, scores: Array) -> Array:
        """The logarithm of how likely scores make all that was read (n)."""
        at = list(dict.fromkeys((o.charge_ah, o.bath_c) for o in self.seen))
        fresh = {c: self._wires(scores, 1.0, c) for c in {c for _, c in at}}
        # crust grows with the charge
        grown = [replace(fresh[c], cake=charge * fresh[c].cake) for charge, c in at]
        there = shown(flows(Wires.joined(grown)))
        logs: Array = np.zeros(len(scores))
        for o in self.seen:
            k = at.index((o.charge_ah, o.bath_c)) * len(scores)
            own = slice(k, k + len(scores))
            if o.ask == "amps":
                spread = float(np.hypot(o.error, _MODEL))
                over = np.log(np.maximum(there["amps"][own], 1e-6) / max(o.value, 1e-6))
                logs -= 0.5 * (over / spread) ** 2
            else:
                off = there[o.ask][own] - o.value
                logs -= 0.5 * (off / (_METER_V + 0.01 * o.value)) ** 2
        return logs

    def spread(self, values: Array) -> Three:
        """10, 50 and 90 % of some values of the particles."""
        low, middle, high = quantiles(values, np.full(len(values), 1 / len(values)), _SPAN)
        return low, middle, high

    def amps(self, charge_ah: float, bath_c: float | None) -> Three:
        """What is to be expected of the amps after a charge, at a warmth."""
        return self.spread(flows(self.wires(charge_ah, bath_c)).supply_a)

    def after(
        self, change: str, charge_ah: float, bath_c: float | None, liquid_over: float = 1.0
    ) -> Three:
        """What is to be expected once something was changed: ``scraped`` (the cake is gone),
        ``swapped_anodes`` (and the joints are new), ``soda_added`` (a quarter more),
        ``clip_moved`` (the piece's joint is new); any other by what the liquid then resists over
        what it does now, ``liquid_over``, as a field solved for it says."""
        w = self.wires(charge_ah, bath_c)
        fresh = sound(self.loop, 0.0, bath_c, self.count).wires
        if change in ("scraped", "swapped_anodes"):
            w.cake = np.zeros_like(w.cake)
        if change == "swapped_anodes":
            w.joints = fresh.joints
        if change == "clip_moved":
            w.piece_joint = fresh.piece_joint
        over = liquid_over
        if change == "soda_added":
            over *= (1 + QUARTER) ** -_PROPORTION
        w.scrap, w.piece, w.hanger_s = w.scrap * over, w.piece * over, w.hanger_s / over
        return self.spread(flows(w).supply_a)


_ODD = 8.0  # a reading further from every particle than four of its errors
QUARTER = 0.25  # more soda, as the change is told beforehand
_PROPORTION = 0.9  # conductivity grows a little less than the soda; judged


def estimate(cloud: CircuitCloud, charge_ah: float, bath_c: float | None) -> Estimate:
    """What is believed of the circuit now; without readings what the plan has."""
    seen = cloud.seen
    before = CircuitCloud(cloud.loop, (), cloud.count)
    now, then = (c.wires(charge_ah, bath_c) for c in (cloud, before))
    flow, first = flows(now), flows(then)
    planned = before.spread(first.supply_a)
    amps = [o.value for o in seen if o.ask == "amps"]
    newest = amps[-1] if amps else planned[1]
    return Estimate(
        amps=cloud.spread(flow.supply_a),
        planned=planned,
        off=newest / max(planned[1], 1e-9),
        parts=_told_apart(cloud, _parts(now, flow), _parts(then, first)),
        fits=cloud.fits,
    )


def readings(seen: Sequence[Observation]) -> int:
    """How many readings some figures are of."""
    return len({o.charge_ah for o in seen})


def _parts(w: Wires, f: Flows) -> dict[str, Array]:
    """Ohms of the liquid, of the joints and of the cake, each as it lies in the one loop."""
    share = f.anode_a / np.maximum(f.bath_a, 1e-9)[:, None]
    return {
        "liquid": w.piece + (share**2 * w.scrap).sum(axis=1),
        "joint_piece": w.piece_joint,
        "joint_scrap": (share**2 * w.joints).sum(axis=1),
        "cake": (share**2 * w.cake).sum(axis=1),
    }


def _told_apart(
    cloud: CircuitCloud, parts: dict[str, Array], thought: dict[str, Array]
) -> Sequence[Part]:
    whole = cloud.spread(sum(parts.values(), np.zeros(cloud.count)))[1]
    by_volts = any(o.ask in ("tank_v", "joint_v") for o in cloud.seen)
    made = []
    for key, ohm in parts.items():
        after, before = cloud.spread(ohm), cloud.spread(thought[key])
        narrow = after[2] - after[0] < min(_TOLD * whole, _LESS * (before[2] - before[0]))
        made.append(Part(key, after, before, by_volts and (narrow or after[0] > before[1] * _MORE)))
    return made


def _apart(scores: Array, anodes: int) -> Scores:
    """Scores of a particle as the draws take them; what no wire knows of stands in the middle."""
    count = len(scores)
    z, even = np.zeros((count, COLUMNS)), np.zeros((count, COLUMNS))
    z[:, :_OF_WIRES] = scores[:, :_OF_WIRES]
    even[:, _EVEN] = ndtr(scores[:, _OF_WIRES + anodes :])
    return z, scores[:, _OF_WIRES : _OF_WIRES + anodes], even


def separated_by(known: Sequence[Observation]) -> str:
    """The figure that would tell most of the parts apart: ``tank_v``, ``joint_v``, or nothing."""
    newest = {o.ask for o in known if o.charge_ah == known[-1].charge_ah}
    return next((what for what in ("tank_v", "joint_v") if what not in newest), "")
