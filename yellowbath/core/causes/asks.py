"""What can be asked of a bath, and what is to be met at each draw: one outcome each.

Texts, minutes and how often an answer is a wrong one are rows of ``data/causes.toml``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.levels import met_at_two
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.causes.at_work import HICCUPS, Predicted
from yellowbath.core.causes.rows import found_by
from yellowbath.core.data import param, table
from yellowbath.core.document.supply import Fixed, Laboratory, PlainCharger
from yellowbath.core.units import System, show

Kinds = NDArray[np.int64]
WARMS_W = 2.0  # in a joint, from which a finger feels it and it goes on growing; judged
# What the bath shows, whatever the cause; everything else is looked at for the sake of one.
SHOWS = frozenset({
    "gas", "scrap_gas", "each_piece", "lamp", "supply_v", "tank_v", "amps", "shares", "warm",
    "two_levels", "unclip", "again",
})  # fmt: skip
# What it does: that too which is looked for for the sake of one cause.
DOES = SHOWS | {"sound", "one_wire", "joint_piece", "joint_scrap", "other_supply"}
_TEXT = {"is", "minutes", "power", "errs", "by"}
CANNOT = "cannot"  # an answer to every ask: it could not be told


@dataclass(frozen=True)
class Ask:
    """One thing to ask: its outcomes in order, minutes it takes, whether it wants the power on, off
    or any, how often its answer is a wrong one, and the tool ``by`` which it is told, if any."""

    id: str
    outcomes: tuple[str, ...]
    minutes: float
    power: str
    errs: float
    by: str = ""


@dataclass(frozen=True)
class Bounds:
    """Where the outcomes of a meter part, by this bath's own figures [V, A, C]."""

    none_v: float
    low_supply_v: float
    low_tank_v: float
    joint_v: float
    none_a: float
    low_a: float
    high_a: float
    cold_c: float
    rest_v: float

    @staticmethod
    def of(loop: Loop) -> Bounds:
        held = loop.volts - min(loop.meant_a, loop.ceiling_a) * loop.inner_ohm
        tank = held - min(loop.meant_a, loop.ceiling_a) * loop.leads_ohm
        return Bounds(
            none_v=min(1.0, held / 5),
            low_supply_v=0.82 * held,
            low_tank_v=0.75 * tank,
            joint_v=0.5,
            none_a=min(0.05, loop.meant_a / 5),
            low_a=min(loop.low_a, 0.8 * loop.meant_a),
            high_a=max(loop.high_a, 1.3 * loop.meant_a),
            cold_c=loop.temperature_c - 5.0,
            rest_v=12.2 * loop.supply.nominal_v / 12,
        )


@cache
def asks() -> Mapping[str, Ask]:
    """Everything that can be asked, by its id."""
    return {
        key: Ask(key, tuple(k for k in row if k not in _TEXT), row["minutes"], row["power"],
                 row["errs"], row.get("by", ""))
        for key, row in table("causes")["ask"].items()
    }  # fmt: skip


def fitting(loop: Loop) -> list[Ask]:
    """What can be asked of a bath of this make."""
    s, gone = loop.supply, set[str]()
    if loop.far == 0:
        gone.add("each_piece")
    if loop.anodes < 2:
        gone |= {"shares", "unclip"}
    if not s.fused:
        gone.add("fuse")
    if "fan" not in loop.has:
        gone.add("fan")
    if "settings" not in loop.has:
        gone.add("two_levels")
    if s.on_battery:
        gone |= {"sound", "other_supply"}
    else:
        gone.add("battery")
    if not isinstance(s, PlainCharger | Laboratory):
        gone.add("range")
    if loop.dissolves:
        gone |= {"scrap_gas", "box"}
    return [a for key, a in asks().items() if key not in gone]


def ask_words(ask: Ask, loop: Loop, system: System) -> tuple[str, Mapping[str, str]]:
    """The question and its outcomes in words, with this bath's own figures."""
    b, row = Bounds.of(loop), table("causes")["ask"][ask.id]
    low = {"supply_v": b.low_supply_v, "tank_v": b.low_tank_v}.get(ask.id)
    figures: dict[str, tuple[float, str]] = {
        "none": (b.none_a, "current") if ask.id == "amps" else (b.none_v, "voltage"),
        "low": (b.low_a, "current") if low is None else (low, "voltage"),
        "high": (b.high_a, "current"),
        "joint": (b.joint_v, "voltage"),
        "cold": (b.cold_c, "temperature"),
        "rest": (b.rest_v, "voltage"),
    }
    slots = {
        k: str(show(v, q, system, 2 if q != "voltage" else 3)) for k, (v, q) in figures.items()
    }
    return row["is"], {o: str(row[o]).format(**slots) for o in ask.outcomes}


# --- What is met ---------------------------------------------------------------------------------

Meets = Callable[[Predicted, Loop, float], Kinds]


def met(ask: Ask, p: Predicted, loop: Loop, charge_ah: float) -> Array:
    """Chance (n, k) of each outcome at each draw, the wrong answers among them."""
    meets = _MEETS.get(ask.id)
    which = meets(p, loop, charge_ah) if meets else _found(ask, p)
    made = np.full((len(which), len(ask.outcomes)), ask.errs / len(ask.outcomes))
    made[np.arange(len(which)), which] += 1 - ask.errs
    return made


def _pick(*rules: tuple[NDArray[np.bool_], int], otherwise: int) -> Kinds:
    """The first rule that holds at each draw."""
    return np.select([r for r, _ in rules], [k for _, k in rules], otherwise).astype(np.int64)


def _share_seen(p: Predicted, loop: Loop) -> Array:
    """Share of the piece's surface that gives gas to be seen."""
    mean = p.flow.piece_a / (loop.wetted_m2 * p.draws.area * p.draws.under)
    mean = np.where(p.draws.reversed, mean / 2, mean)  # oxygen: half as much for the same charge
    over = p.draws.seen_a_m2 / np.maximum(mean, 1e-9)
    share = p.draws.under * np.interp(over, loop.edges, loop.over, left=1.0, right=0.0)
    return np.where(p.draws.blind, np.minimum(share, 0.5), share)


def _gas(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    share, hanger = _share_seen(p, loop), p.flow.hanger_a
    return _pick(
        ((hanger > 0.03) & (hanger > 1.5 * p.flow.piece_a), 2),
        (share >= 0.6, 0), (share >= 0.12, 1), (hanger > 0.03, 2), otherwise=3,
    )  # fmt: skip


def _scrap_gas(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    density = (p.flow.anode_a / loop.scrap_m2).max(axis=1)
    seen = (density > p.draws.seen_a_m2 / 2) | (p.draws.reversed & (p.flow.bath_a > 0.02))
    return _pick((seen, 0), otherwise=1)


def _each_piece(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    some = _share_seen(p, loop) >= 0.12
    return _pick((~some, 3), (p.draws.far, 1), (p.draws.near, 2), otherwise=0)


def _ticks(p: Predicted) -> NDArray[np.bool_]:
    made: NDArray[np.bool_] = p.draws.gives == HICCUPS
    return made


def _sound(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    s = loop.supply
    hiccups = isinstance(s, Fixed) and s.protection == "hiccup"
    trips = p.flow.supply_a > param("trips_hiccup").value * s.rated_a
    return _pick((_ticks(p) | (trips & hiccups), 0), otherwise=1)


def _lamp(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    share = p.flow.tank_v / loop.volts
    return _pick((_ticks(p), 2), (share > 0.62, 0), (share > 0.2, 1), otherwise=3)


def _supply_v(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    b = Bounds.of(loop)
    return _pick((p.flow.supply_v < b.none_v, 0), (p.flow.supply_v < b.low_supply_v, 1),
                 otherwise=2)  # fmt: skip


def _tank_v(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    b = Bounds.of(loop)
    return _pick((p.flow.tank_v < b.none_v, 0), (p.flow.tank_v < b.low_tank_v, 1), otherwise=2)


def amps_read(p: Predicted) -> Array:
    """What a clamp shows: what flows, or what a clamp on a wrong wire makes of it."""
    other = 0.35 * p.flow.supply_a + 0.3
    meter = p.draws.meter_a
    return np.where(np.isnan(meter), p.flow.supply_a, np.where(meter < 0, other, 0.0))


def _amps(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    b, amps = Bounds.of(loop), amps_read(p)
    return _pick((amps < b.none_a, 0), (amps < b.low_a, 1), (amps <= b.high_a, 2), otherwise=3)


def _one_wire(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    return _pick((~np.isnan(p.draws.meter_a), 1), otherwise=0)


def _joint_piece(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    return _pick((p.flow.piece_joint_v < Bounds.of(loop).joint_v, 0), otherwise=1)


def _joint_scrap(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    return _pick((p.flow.scrap_joint_v < Bounds.of(loop).joint_v, 0), otherwise=1)


def _shares(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    over = p.flow.anode_a / np.maximum(p.flow.bath_a, 1e-9)[:, None] / loop.shares
    least, most = over.min(axis=1), over.max(axis=1)
    return _pick((p.flow.bath_a < 0.05, 3), (least < 0.15, 2), (most > 2.5 * least, 1), otherwise=0)


def _two_levels(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    f, start = p.flow, p.draws.wires.start
    return met_at_two(f.supply_a, f.bath_a, f.supply_v, start, loop).astype(np.int64)


def _again(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    """Amps that go on falling: a supply that grows hot, or a joint that does."""
    w, f = p.draws.wires, p.flow
    joint_w = np.maximum(f.piece_a**2 * w.piece_joint, (f.anode_a**2 * w.joints).max(axis=1))
    return _pick(
        (f.supply_a < Bounds.of(loop).none_a, 2), (p.draws.hot | (joint_w > WARMS_W), 1),
        otherwise=0,
    )  # fmt: skip


def _warm(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    w, f = p.draws.wires, p.flow
    clip = np.maximum(f.piece_a**2 * w.piece_joint, (f.anode_a**2 * w.joints).max(axis=1))
    lead = f.supply_a**2 * w.leads / max(loop.supply.lead_length_m, 0.1)
    load = (f.supply_a + loop.supply.other_a) / loop.supply.rated_a
    return _pick((clip > WARMS_W, 0), (lead > 4.0, 1), (p.draws.hot | (load > 0.9), 2), otherwise=3)


def _leads(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    return _pick((p.draws.reversed, 1), (p.draws.wires.touch_s > 0, 2), otherwise=0)


def _poles(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    none = p.flow.tank_v < Bounds.of(loop).none_v
    return _pick((none, 2), (p.draws.reversed, 1), otherwise=0)


def _crust(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    had = np.full(len(p.cause), charge_ah > 0.4)
    return _pick((~had, 2), (p.draws.reversed, 1), otherwise=0)


def _found(ask: Ask, p: Predicted) -> Kinds:
    """What is looked at for the sake of causes: what their rows name, else the other outcome."""
    named = found_by(ask.id)
    other = next(k for k, o in enumerate(ask.outcomes) if o not in named)
    rules = [(p.of(*some), ask.outcomes.index(o)) for o, some in named.items()]
    return _pick(*rules, otherwise=other)


def _scrap(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    due = charge_ah > param("cake_ah_m2").value * loop.scrap_m2.sum()
    thick = p.draws.crusted | (due & (np.arange(len(p.cause)) % 2 == 0))
    return _pick((p.draws.one_bare, 1), (thick, 0), otherwise=2)


def _warmth(p: Predicted, loop: Loop, charge_ah: float) -> Kinds:
    return _pick((p.draws.temperature_c > Bounds.of(loop).cold_c, 0), otherwise=1)


_MEETS: Mapping[str, Meets] = {
    "gas": _gas,
    "scrap_gas": _scrap_gas,
    "each_piece": _each_piece,
    "sound": _sound,
    "lamp": _lamp,
    "supply_v": _supply_v,
    "tank_v": _tank_v,
    "amps": _amps,
    "one_wire": _one_wire,
    "joint_piece": _joint_piece,
    "joint_scrap": _joint_scrap,
    "shares": _shares,
    "unclip": _shares,
    "two_levels": _two_levels,
    "again": _again,
    "warm": _warm,
    "leads": _leads,
    "poles": _poles,
    "crust": _crust,
    "fuse": lambda p, loop, q: _pick((~p.draws.blown, 0), otherwise=1),
    "scrap": _scrap,
    "warmth": _warmth,
}  # fmt: skip
