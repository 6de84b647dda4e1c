"""A bath that runs: its state stepped through time, what hands do to it, what meters read.

Times [s], amps, volts, temperatures [C]. Deterministic: all chance was drawn beforehand, into the
truth and the faults; a meter's error and an eye's are the meter's and the eye's (``senses``).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.chemistry.cell import thermoneutral_v
from yellowbath.core.data import param
from yellowbath.core.dose import NORMAL
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.field.model import piece_of
from yellowbath.core.normal import ndtr
from yellowbath.core.power.heat import WATER_HEAT, evaporation
from yellowbath.core.simulation.circuit import OPEN, STILL, Flow, Wiring, solve
from yellowbath.core.simulation.design import Array, Design
from yellowbath.core.simulation.faults import SOUND, BathFault, Condition, gone_by
from yellowbath.core.simulation.supply import SupplyState
from yellowbath.core.simulation.truth import Truth, usual_share

STEP_S = 10.0  # s; judged
_SLOW_TWENTIETH = NORMAL.inv_cdf(0.95)  # of a normal
_PINNED = 50.0  # A/m2 at which a need is what the trade says; as the law of the dose has it
_WATER_KG_AH = 0.3361e-3  # split by an ampere-hour: 18.015 g over two electrons
_DENSE = 998.0  # kg/m3


@dataclass(frozen=True)
class Scheduled:
    """A fault and when it comes [s]; until then nothing of it is to be seen."""

    at_s: float
    fault: BathFault


class SimulatedBath:
    """One bath. ``time_s`` runs whether the power is on or off; ``flow`` is that of now."""

    def __init__(
        self, design: Design, truth: Truth, faults: Sequence[Scheduled] = (), start_c: float = 20.0
    ) -> None:
        self.design, self.truth = design, truth
        self.faults = sorted(faults, key=lambda f: f.at_s)
        self.time_s = 0.0
        self.temperature_c = start_c
        self.level_m = design.level_m
        self.supply = SupplyState()
        self.limit_a = design.source.ceiling_a
        self.lifted = False
        self.out: set[str] = set()
        self.turns = self.flips = 0
        self.strength = 1.0
        self.cake_ah = dict.fromkeys(design.shares, 0.0)
        self.charge_ah = self.iron_kg = self.powered_s = 0.0
        self.doses: Array = np.zeros(len(design.main))
        self.flow = STILL
        self._ratios: dict[tuple[int, int, frozenset[str]], Array] = {}
        knee = (design.threshold_v - design.start_v(20.0)) / _slope_v()
        self._knee_a = design.meant_a / (2 * math.sinh(max(knee, 0.5)))

    # --- What is so ---------------------------------------------------------------------------

    def in_force(self) -> list[BathFault]:
        """The faults that have come and were not mended."""
        return [f.fault for f in self.faults if f.at_s <= self.time_s]

    def condition(self) -> Condition:
        """What they have made of it."""
        made = SOUND
        for found in self.in_force():
            made = found.change(made)
        return made

    def reading(self) -> Flow:
        """Amps and volts as they are now."""
        return self.flow

    def share_clean(self, main: bool = True) -> float:
        """Share of the surface that is clean [-], by what each part has had against its need."""
        c = self.condition()
        with np.errstate(divide="ignore"):
            score = np.log(self.doses) - np.log(self.truth.needs)
        clean = ndtr(score / self.truth.scatter + _SLOW_TWENTIETH) * (1 - c.pits)
        weights = self.design.main if main else np.array(self.design.coverage.weights)
        return float(clean @ weights)

    def densities(self) -> Array:
        """Current density on each part of the piece [A/m2]."""
        mean = self.flow.piece_a / (self.design.wetted_m2 * self.truth.area)
        return mean * self._pose()

    def _pose(self) -> Array:
        key = (self.turns, self.flips, frozenset(self.out))
        if key not in self._ratios:
            coverage = self.design.coverage
            made = np.array(coverage.in_pose(self.turns, self.flips))
            here, weights = self.here(), np.array(coverage.weights)
            # all of the current goes to what is in
            kept = float(weights @ (made * here))
            share = kept / float(weights @ made) if kept > 0 else 1.0
            self._ratios[key] = made * here / share
        return self._ratios[key]

    def here(self) -> NDArray[np.bool_]:
        """Which parts of the surface are in the bath (k); all where it is not known whose they
        are."""
        coverage = self.design.coverage
        if not coverage.places:
            return np.ones(len(coverage.weights), dtype=bool)
        return np.array([piece_of(place) not in self.out for place in coverage.places])

    # --- Time ---------------------------------------------------------------------------------

    def advance(self, seconds: float, step_s: float = STEP_S) -> None:
        """Go on by so many seconds, in steps of at most ``step_s`` that end where a fault comes."""
        end = self.time_s + seconds
        while self.time_s < end - 1e-9:
            coming = [f.at_s for f in self.faults if f.at_s > self.time_s + 1e-9]
            self._step(min(step_s, end - self.time_s, *(at - self.time_s for at in coming)))
        self.settle()

    def settle(self) -> Flow:
        """The current at this moment, without any time passing."""
        self.flow = self._flow(self.condition())
        return self.flow

    def _step(self, dt: float) -> None:
        c = self.condition()
        flow = self.flow = self._flow(c)
        self.time_s += dt
        hours = dt / 3600
        if flow.bath_a > 0 and not c.reversed:
            # a need is what the trade has of it by amps as they are read, with a usual hanger
            mean = flow.piece_a / usual_share() / (self.design.wetted_m2 * self.truth.area)
            self.doses = self.doses + self._rates(mean * self._pose()) * hours
        for k, amps in flow.anode_a.items():
            self.cake_ah[k] += amps * hours
        self.charge_ah += flow.bath_a * hours
        self.iron_kg += self.design.iron_kg_ah * flow.bath_a * hours
        self.powered_s += dt if self.supply.on else 0.0
        self._warm(flow, dt)
        self._sink(flow, dt)
        self.supply.step(self.design.supply, flow.supply_a, c.supply_state, dt)

    def _rates(self, densities: Array) -> Array:
        js = self.truth.js_a_m2
        pin = (1 + _PINNED / js) / (1 + _PINNED / param("js_a_m2").value)
        made: Array = pin * densities / (1 + densities / js)
        return made

    def _warm(self, flow: Flow, dt: float) -> None:
        d = self.design
        away = 0.0 if d.dissolves else thermoneutral_v(self.temperature_c)
        heat = flow.bath_a * (flow.cell_v - away)
        heat += d.form**2 * flow.bath_a * max(flow.tank_v - flow.cell_v, 0.0)
        held = WATER_HEAT * d.heat.volume * max(self.level_m / d.level_m, 0.05) + d.heat.metal_j_k
        # what is lost grows with the warmth: implicit in its slope, so that no step overshoots
        lost, more = d.heat.loss(self.temperature_c), d.heat.loss(self.temperature_c + 1)
        self.temperature_c += (heat - lost) * dt / (held + max(more - lost, 0.0) * dt)
        self.temperature_c = min(self.temperature_c, 100.0)

    def _sink(self, flow: Flow, dt: float) -> None:
        d = self.design
        gone = evaporation(self.temperature_c, d.heat.around) * d.surface_m2 * dt
        gone += flow.bath_a * _WATER_KG_AH * dt / 3600
        self.level_m = max(self.level_m - gone / _DENSE / d.surface_m2, 0.02)

    # --- The circuit --------------------------------------------------------------------------

    def _flow(self, c: Condition) -> Flow:
        supply, d = self.supply, self.design
        load = (self.flow.supply_a + d.supply.other_a) / d.supply.rated_a
        share = supply.volts_share(d.supply, c.supply_state, load)
        if share == 0 and supply.on and self._fuse_open(c):
            return Flow(supply_v=self._volts(c))  # its volts end at the fuse in the lead
        if share == 0 or self.lifted:
            volts = self._volts(c) if share and self.lifted else 0.0
            return Flow(supply_v=volts, tank_v=volts)
        flow = self.solved(c)
        if share == 1.0:
            return flow
        return Flow(
            flow.supply_a * share, flow.supply_v * share, flow.tank_v * share,
            flow.bath_a * share, flow.piece_a * share, flow.hanger_a * share,
            flow.cell_v, {k: a * share for k, a in flow.anode_a.items()},
        )  # fmt: skip

    def solved(self, c: Condition) -> Flow:
        """What flows while the supply gives, by the law of the circuit."""
        return solve(self.wiring(c))

    def _fuse_open(self, c: Condition) -> bool:
        in_lead = self.design.supply.fuse_a is not None
        return in_lead and (self.supply.blown or c.supply_state == "fuse")

    def _volts(self, c: Condition) -> float:
        d = self.design
        volts = d.source.volts
        if d.supply.on_battery:
            volts = self.supply.battery_v(d.supply, volts)
        return (volts - d.supply.other_a * d.source.inner_ohm) * self.truth.supply * c.volts

    def wiring(self, c: Condition) -> Wiring:
        """Everything that resists, as it is now."""
        d, t = self.design, self.truth
        temperature = self.temperature_c - c.colder_k
        sunk = min(max(self.level_m / d.level_m, 0.05), 1.0)
        kappa = t.kappa * c.kappa * self.strength / sunk * d.conducts_at(temperature)
        liquid = d.liquid_ohm / (kappa * c.conductance * sunk * c.level) * c.in_the_way
        about_scrap, about_piece = t.scrap_side * liquid, (1 - t.scrap_side) * liquid
        about_piece /= 1 - sum(d.piece_share.get(p, 0.0) for p in self.out)
        about_piece /= c.piece_under
        scrap = {
            k: about_scrap / (s * c.gives.get(k, 1.0)) for k, s in d.shares.items() if s > 1e-6
        }
        grown = param("cake_over").value / param("cake_ah_m2").value * t.cake
        meant = d.liquid_ohm / t.kappa
        cake = {
            k: (grown * self.cake_ah[k] / d.scrap_m2[k] * meant + c.cake_over.get(k, 0.0) * liquid)
            / d.shares[k]
            for k in scrap
        }
        joints = {k: t.contact_scrap_ohm[k] + c.scrap_joint_ohm.get(k, 0.0) for k in scrap}
        hanger = math.inf if c.coated or c.hidden_wire else t.hanger * about_piece
        start = d.start_v(temperature) + t.overpotential_v
        return Wiring(
            volts=self._volts(c),
            inner_ohm=d.source.inner_ohm * c.inner + (0.4 if c.inner > 1 else 0.0),
            ceiling_a=min(self.limit_a, d.source.ceiling_a) * c.ceiling,
            leads_ohm=d.leads_ohm + c.leads_ohm,
            scrap_ohm=scrap,
            joint_ohm=joints,
            cake_ohm=cake,
            piece_ohm=_with_far(about_piece, c.far),
            piece_joint_ohm=min(t.contact_piece_ohm + c.piece_joint_ohm, OPEN),
            hanger_ohm=hanger,
            touch_ohm=c.touch_ohm,
            start_v=start,
            slope_v=_slope_v(),
            knee_a=self._knee_a * t.area,
        )

    # --- Hands --------------------------------------------------------------------------------

    def switch_on(self) -> None:
        """Hands only: nothing that a machine may do calls this."""
        self.supply.on, self.supply.tripped, self.supply.since_s = True, False, 0.0
        self.settle()

    def switch_off(self) -> None:
        self.supply.on = False
        self.settle()

    def set_limit(self, amps: float) -> None:
        """The most that the supply gives [A]; raises OutOfRangeError outside its rating."""
        if not 0 <= amps <= self.design.supply.rated_a:
            raise OutOfRangeError(
                f"{amps:g} A is no limit of this supply.",
                allowed=f"0 to {self.design.supply.rated_a:g} A.",
            )
        self.limit_a = amps
        self.settle()

    def lift(self, piece: str = "") -> None:
        """Power off, everything out; or one of several pieces, by its id."""
        self.switch_off()
        if piece:
            self.out.add(piece)
        else:
            self.lifted = True

    def back_in(self, piece: str = "") -> None:
        """What lay out together back in; or one piece, without those that lie out."""
        self.switch_off()
        if piece and self.lifted:
            self.out |= set(self.design.piece_share)
        self.out.discard(piece)
        self.lifted = False

    def scrape(self) -> None:
        """All scrap scraped or swapped for fresh."""
        self.cake_ah = dict.fromkeys(self.cake_ah, 0.0)
        self.mended(*gone_by("scraping"))

    def top_up(self) -> None:
        """Water to the line: what was lost comes back, the soda stayed in."""
        self.level_m = self.design.level_m
        self.mended(*gone_by("water"))

    def add_soda(self, share: float) -> None:
        """So much more of what was mixed in [-]; conducts nearly in proportion."""
        self.strength *= (1 + share) ** 0.9
        self.mended(*gone_by("soda"))

    def turn(self) -> None:
        self.turns += 1
        self.mended(*gone_by("turning"))

    def flip(self) -> None:
        self.flips += 1

    def mended(self, *names: str) -> None:
        """These faults are gone, where they were in force."""
        kept = [f for f in self.faults if f.fault.id not in names or f.at_s > self.time_s]
        if "fuse" in names:
            self.supply.blown, self.supply.fuse_gone = False, 0.0
        if "flat" in names:
            self.supply.charge = 0.9
        if "asleep" in names:
            self.supply.cut_out, self.supply.warmth, self.supply.tripped = False, 0.0, False
        self.faults = kept

    def with_fault(self, fault: BathFault, at_s: float) -> None:
        """One more fault that comes at a time."""
        self.faults = sorted([*self.faults, Scheduled(at_s, fault)], key=lambda f: f.at_s)


def _with_far(piece_ohm: float, far: tuple[float, float] | None) -> float:
    """The pieces' own resistance with the far one behind a joint of its own."""
    if far is None:
        return piece_ohm
    share, joint = far
    near, other = piece_ohm / (1 - share), piece_ohm / share + joint
    return 1 / (1 / near + 1 / other)


def _slope_v() -> float:
    """Both Tafel slopes, natural [V]."""
    return (param("tafel_piece_v").value + param("tafel_scrap_v").value) / math.log(10)
