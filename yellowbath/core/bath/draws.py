"""Draws of a bath as it may be, sound and with each of the causes: the circuit's unknowns, and what
a cause changes of them.

The same draws stand under every cause, so that they differ by the cause alone; seeded, so that the
same bath gives the same chances.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.circuit import Flows, Wires, flows
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.data import param, require_provenance, table
from yellowbath.core.document.supply import Fixed, Laboratory, PlainCharger

Flags = NDArray[np.bool_]
COUNT = 240  # draws a cause
HICCUPS = 0.15  # of the time that a supply gives which tries and lets go; judged
_OPEN = 1e9  # ohm: does not conduct
_SEED = 20261
_COLUMNS = 16


def unknown(key: str, what: str = "value") -> float:
    """A row of how well a sound bath is known."""
    row = table("causes")["unknown"][key]
    require_provenance(f"causes.unknown.{key}", row)
    return float(row[what])


def law(key: str) -> float:
    row = table("causes")["law"][key]
    require_provenance(f"causes.law.{key}", row)
    return float(row["value"])


@dataclass
class Draws:
    """A bath as it may be, many times: its wires, and what is not a wire.

    ``gives``: share of the time that the supply gives (0 off, ``HICCUPS``); ``fuse_open``: it
    has its volts and they end at a fuse; ``temperature_c``; flags for what is seen; ``meter_a``:
    what the clamp reads where not what flows, else nan; ``area``: wet surface over the typed.
    """

    wires: Wires
    gives: Array
    fuse_open: Flags
    temperature_c: Array
    seen_a_m2: Array
    area: Array
    reversed: Flags
    blind: Flags
    pits: Flags
    far: Flags
    coated: Flags
    dry_scrap: Flags
    crusted: Flags
    one_bare: Flags
    weak_mix: Flags
    not_dry_soda: Flags
    wrong_set: Flags
    blown: Flags
    meter_a: Array


@cache
def chance(anodes: int, count: int = COUNT) -> tuple[Array, Array, Array]:
    """Standard normals (n, c), those of the joints (n, a), and even chances (n, c)."""
    rng = np.random.Generator(np.random.PCG64(_SEED))
    made = (
        rng.standard_normal((count, _COLUMNS)),
        rng.standard_normal((count, anodes)),
        rng.random((count, _COLUMNS)),
    )
    for a in made:
        a.setflags(write=False)
    return made


def sound(loop: Loop, charge_ah: float, bath_c: float | None, count: int = COUNT) -> Draws:
    """The draws of a sound bath after a charge [Ah] since its scrap was bare, at a warmth [C] that
    was read, or as planned."""
    z, zj, u = chance(loop.anodes, count)
    middle, sigma = unknown("joint_ohm"), unknown("joint_ohm", "sigma")
    warmth = np.full(count, bath_c) if bath_c is not None else (
        loop.temperature_c + unknown("warmth_k") * z[:, 1]
    )  # fmt: skip
    kappa = np.exp(unknown("kappa") * z[:, 0]) * _warmer(loop, warmth)
    liquid = loop.liquid_ohm / kappa
    side = np.minimum(unknown("scrap_side") * np.exp(unknown("scrap_side", "sigma") * z[:, 2]), 0.9)
    piece = (1 - side) * liquid
    hanger = unknown("hanger") * np.exp(unknown("hanger", "sigma") * z[:, 3])
    wet = u[:, 0] < unknown("hanger_wet")
    grown = param("cake_over").value / param("cake_ah_m2").value
    on_each = charge_ah * loop.shares / loop.scrap_m2
    cake = grown * np.exp(unknown("cake") * z[:, 4])[:, None] * on_each * loop.liquid_ohm
    ones, no = np.ones(count), np.zeros(count, dtype=bool)
    return Draws(
        wires=Wires(
            volts=loop.volts * np.exp(unknown("supply") * z[:, 5]),
            inner=np.full(count, loop.inner_ohm),
            ceiling=np.full(count, loop.ceiling_a),
            leads=np.full(count, loop.leads_ohm),
            scrap=(side * liquid)[:, None] / loop.shares,
            joints=middle * np.exp(sigma * zj),
            cake=cake / loop.shares,
            piece=piece,
            piece_joint=middle * np.exp(sigma * z[:, 6]),
            hanger_s=np.where(wet, 1 / (hanger * piece), 0.0),
            touch_s=np.zeros(count),
            start=loop.start_v + unknown("overpotential_v") * z[:, 7],
            knee=np.full(count, loop.knee_a),
        ),
        gives=ones.copy(),
        fuse_open=no.copy(),
        temperature_c=warmth,
        seen_a_m2=param("gas_seen_a_m2").value * np.exp(unknown("seen") * z[:, 8]),
        area=np.exp(0.12 * z[:, 9]),
        reversed=no.copy(), blind=no.copy(), pits=no.copy(), far=no.copy(), coated=no.copy(),
        dry_scrap=no.copy(), crusted=no.copy(), one_bare=no.copy(), weak_mix=no.copy(),
        not_dry_soda=no.copy(), wrong_set=no.copy(), blown=no.copy(),
        meter_a=np.full(count, np.nan),
    )  # fmt: skip


def _warmer(loop: Loop, at_c: Array) -> Array:
    return np.maximum(1 + law("kappa_per_k") * (at_c - loop.temperature_c), 0.2)


# --- What a cause changes ------------------------------------------------------------------------


def _size(u: Array, low: float, high: float) -> Array:
    """Sizes between two ends, even in their log."""
    made: Array = low * (high / low) ** u
    return made


def changed(cause: str, d: Draws, loop: Loop, bath_c: float | None) -> Draws:
    """The draws with a cause at work in all of them; ``d`` is changed in place."""
    _, _, u = chance(loop.anodes)
    w, size, which = d.wires, u[:, 1], u[:, 2]
    yes = np.ones(COUNT, dtype=bool)
    match cause:
        case "contact_piece":
            w.piece_joint = w.piece_joint + _size(size, 0.7, 500.0)
        case "contact_scrap":
            bad = _some(loop, which, u[:, 3], 0.5)
            w.joints = w.joints + bad * _size(size, 0.7, 500.0)[:, None]
        case "insulated":
            coat = which < 0.6
            w.piece_joint = np.where(coat, _OPEN, w.piece_joint)
            w.hanger_s = np.where(coat, 0.0, w.hanger_s)
            _more_ohm(w, np.where(coat, 1.0, _size(size, 2.5, 14.0)))
            d.coated = yes
        case "asleep":
            _asleep(d, loop, which)
        case "fuse":
            d.gives = np.zeros(COUNT)
            d.blown = yes
            d.fuse_open = np.full(COUNT, not loop.own_fuse)
        case "flat":
            w.volts = w.volts * (0.3 + 0.6 * size)
        case "sag":
            w.volts = w.volts * _size(size, 0.33, 0.75)
            w.inner = 2 * w.inner + 0.4
        case "wrong_range":
            _wrong_range(w, loop, which)
            d.wrong_set = yes
        case "thin":
            _more_ohm(w, 1 / _size(size, 0.07, 0.5))
            d.weak_mix = yes
        case "wrong_soda":
            _more_ohm(w, 1 / _size(size, 0.3, 0.6))
            d.not_dry_soda = yes
        case "cold":
            colder = _size(size, 7.0, 18.0) if bath_c is None else np.zeros(COUNT)
            if bath_c is None:
                _more_ohm(
                    w, _warmer(loop, d.temperature_c) / _warmer(loop, d.temperature_c - colder)
                )
            d.temperature_c = d.temperature_c - colder
        case "caked":
            _cake(w, loop, _size(size, 0.5, 6.0), None)
            d.crusted = yes
        case "one_clean":
            _cake(w, loop, 2 * _size(size, 0.5, 6.0), _some(loop, np.ones(COUNT), u[:, 3], 0.0))
            d.crusted = d.one_bare = yes
        case "scrap_out":
            out = _some(loop, which, u[:, 3], 0.4)
            w.scrap = np.where(out, w.scrap / _size(size, 0.02, 0.35)[:, None], w.scrap)
            d.dry_scrap = yes
        case "far_piece":
            near = w.piece / (1 - loop.far)
            other = w.piece / loop.far + _size(size, 2.0, 400.0)
            w.piece = 1 / (1 / near + 1 / other)
            d.far = yes
        case "touch":
            w.touch_s = 1 / _size(size, 0.003, 0.2)
        case "reversed":
            d.reversed = yes
        case "overload":
            _more_ohm(w, 1 / _size(size, 1.6, 4.0))
        case "blind":
            d.blind = yes
        case "pits":
            d.pits = yes
        case "meter":
            d.meter_a = np.where(which < 0.6, 0.0, -1.0)
    return d


def _some(loop: Loop, which: Array, one: Array, all_share: float) -> Flags:
    """All anodes in a share of the draws, one of them in the others (n, a)."""
    chosen = np.minimum((one * loop.anodes).astype(int), loop.anodes - 1)
    alone: Flags = np.arange(loop.anodes)[None, :] == chosen[:, None]
    return alone | (which < all_share)[:, None]


def _more_ohm(w: Wires, over: Array) -> None:
    w.scrap, w.piece, w.cake = w.scrap * over[:, None], w.piece * over, w.cake * over[:, None]
    w.hanger_s = w.hanger_s / over


def _cake(w: Wires, loop: Loop, over: Array, bare: Flags | None) -> None:
    whole = (w.scrap * loop.shares)[:, :1] + w.piece[:, None]
    grown = over[:, None] * whole / loop.shares
    w.cake = w.cake + (grown if bare is None else np.where(bare, 0.0, grown))


def _asleep(d: Draws, loop: Loop, which: Array) -> None:
    match loop.supply:
        case Fixed():
            d.gives = np.full(COUNT, HICCUPS if loop.supply.protection == "hiccup" else 0.0)
        case PlainCharger():  # a cut-out closes again by itself
            d.gives = np.where(which < 0.75, 0.0, 1.0)
        case _:
            d.gives = np.zeros(COUNT)


def _wrong_range(w: Wires, loop: Loop, which: Array) -> None:
    if isinstance(loop.supply, Laboratory):
        w.ceiling = w.ceiling * 0.25
        return
    half = which < 0.5
    w.volts = np.where(half, w.volts / 2, w.volts)
    w.inner = np.where(half, w.inner / 2, w.inner * 4)


# --- All of them ---------------------------------------------------------------------------------


@dataclass(frozen=True)
class Predicted:
    """What is to be met under every cause, one after the other, ``COUNT`` draws each: what flows on
    the mean, the draws, and the place of each draw's cause in ``causes`` (n)."""

    causes: tuple[str, ...]
    cause: NDArray[np.int64]
    draws: Draws
    flow: Flows

    def of(self, *causes: str) -> Flags:
        """The draws of some causes."""
        wanted = [k for k, c in enumerate(self.causes) if c in causes]
        made: Flags = np.isin(self.cause, wanted)
        return made


def predicted(
    loop: Loop, causes: Sequence[str], charge_ah: float, bath_c: float | None
) -> Predicted:
    """What is to be met under each cause; all circuits are solved in one go."""
    made = [changed(c, sound(loop, charge_ah, bath_c), loop, bath_c) for c in causes]
    whole = _joined(made)
    flow = flows(whole.wires)
    place = np.repeat(np.arange(len(made)), COUNT)
    p = Predicted(tuple(causes), place, whole, flow)
    _lets_go(p, loop)
    return Predicted(p.causes, place, whole, _as_given(flow, whole))


def _joined(made: Sequence[Draws]) -> Draws:
    """Draws one after the other."""
    one = made[0]
    wires = Wires(**{
        f.name: np.concatenate([getattr(d.wires, f.name) for d in made]) for f in fields(Wires)
    })  # fmt: skip
    return Draws(wires=wires, **{
        f.name: np.concatenate([getattr(d, f.name) for d in made])
        for f in fields(one) if f.name != "wires"
    })  # fmt: skip


def _lets_go(p: Predicted, loop: Loop) -> None:
    """A short or an overload that has lasted: fuses are blown, cut-outs open, in two of three."""
    s, d, amps = loop.supply, p.draws, p.flow.supply_a
    lasted = p.of("touch", "overload") & (np.arange(len(amps)) % 3 > 0)
    rating = s.rated_a if loop.own_fuse else s.fuse_a
    if rating is not None:
        gone = lasted & (amps > param("trips_fuse").value * rating)
        d.gives, d.blown = np.where(gone, 0.0, d.gives), d.blown | gone
        d.fuse_open = d.fuse_open | (gone & (not loop.own_fuse))
    elif isinstance(s, PlainCharger):
        gone = lasted & (amps > param("thermal_trip").value * s.rated_a)
        d.gives = np.where(gone, 0.0, d.gives)
    elif isinstance(s, Fixed) and s.protection == "hiccup":
        tries = lasted & (amps > param("trips_hiccup").value * s.rated_a)
        d.gives = np.where(tries, HICCUPS, d.gives)


def _as_given(f: Flows, d: Draws) -> Flows:
    """The mean of a supply that gives for a share of the time; volts that end at a fuse."""
    g = d.gives
    supply_v = np.where(d.fuse_open, d.wires.volts, f.supply_v * g)
    return Flows(
        f.supply_a * g, f.bath_a * g, f.anode_a * g[:, None], f.piece_a * g, f.hanger_a * g,
        supply_v, f.tank_v * g, f.piece_joint_v * g, f.scrap_joint_v * g,
    )  # fmt: skip
