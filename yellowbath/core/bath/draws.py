"""Draws of a sound bath as it may be: the circuit's unknowns.

The same draws stand under every cause, so that they differ by the cause alone; seeded, so that the
same bath gives the same chances.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.circuit import Wires
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.data import param, require_provenance, table

Flags = NDArray[np.bool_]
COUNT = 240  # draws a cause
_SEED = 20261  # any; the same bath gives the same chances
COLUMNS = 16  # more than there are unknowns, so that one more changes none of the others


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
    what the clamp reads where not what flows, else nan; ``area``: wet surface over the typed;
    ``under``: share of the piece that takes part; ``far``, ``near``: that piece gets nothing.
    """

    wires: Wires
    gives: Array
    fuse_open: Flags
    temperature_c: Array
    seen_a_m2: Array
    area: Array
    under: Array
    reversed: Flags
    blind: Flags
    far: Flags
    near: Flags
    hot: Flags
    crusted: Flags
    one_bare: Flags
    blown: Flags
    meter_a: Array


Scores = tuple[Array, Array, Array]


@cache
def chance(anodes: int, count: int = COUNT) -> Scores:
    """Standard normals (n, c), those of the joints (n, a), and even chances (n, c)."""
    rng = np.random.Generator(np.random.PCG64(_SEED))
    made = (
        rng.standard_normal((count, COLUMNS)),
        rng.standard_normal((count, anodes)),
        rng.random((count, COLUMNS)),
    )
    for a in made:
        a.setflags(write=False)
    return made


def sound(loop: Loop, charge_ah: float, bath_c: float | None, count: int = COUNT) -> Draws:
    """The draws of a sound bath after a charge [Ah] since its scrap was bare, at a warmth [C] that
    was read, or as planned."""
    return drawn_at(chance(loop.anodes, count), loop, charge_ah, bath_c)


def drawn_at(scores: Scores, loop: Loop, charge_ah: float, bath_c: float | None) -> Draws:
    """The same at scores of everything that is unknown, as :func:`chance` gives them."""
    z, zj, u = scores
    count = len(z)
    middle, sigma = unknown("joint_ohm"), unknown("joint_ohm", "sigma")
    warmth = np.full(count, bath_c) if bath_c is not None else (
        loop.temperature_c + unknown("warmth_k") * z[:, 1]
    )  # fmt: skip
    kappa = np.exp(unknown("kappa") * z[:, 0]) * warmer(loop, warmth)
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
        under=ones.copy(),
        reversed=no.copy(), blind=no.copy(), far=no.copy(), near=no.copy(), hot=no.copy(),
        crusted=no.copy(), one_bare=no.copy(),
        blown=no.copy(),
        meter_a=np.full(count, np.nan),
    )  # fmt: skip


def warmer(loop: Loop, at_c: Array) -> Array:
    """How much better the liquid conducts at a warmth [C] than as planned."""
    return np.maximum(1 + law("kappa_per_k") * (at_c - loop.temperature_c), 0.2)
