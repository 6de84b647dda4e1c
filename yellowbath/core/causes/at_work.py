"""What is to be met of a bath with each of the causes at work: what a cause changes of its draws.

What a cause does stands in its row: ohms that it adds or times to a wire, conductivity, or a law of
this file by its name.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.circuit import Flows, Wires, flows
from yellowbath.core.bath.draws import COUNT, Draws, Flags, chance, sound, warmer
from yellowbath.core.bath.loop import Array, Loop
from yellowbath.core.causes.rows import Row, marked, row
from yellowbath.core.data import param
from yellowbath.core.document.supply import Fixed, Laboratory, PlainCharger

HICCUPS = 0.15  # of the time that a supply gives which tries and lets go; judged
_OPEN = 1e9  # ohm: does not conduct
Ends = Sequence[float]


@dataclass(frozen=True)
class _AtWork:
    """A cause at work in the draws ``d`` of a bath, which are changed in place; ``size`` and
    ``which``: even chances (n) of how much of it and of which kind."""

    d: Draws
    loop: Loop
    row: Row
    size: Array
    which: Array
    one: Array
    bath_c: float | None

    def between(self, ends: object) -> Array:
        """Sizes between two ends, even in their log (n)."""
        low, high = _ends(ends)
        made: Array = low * (high / low) ** self.size
        return made

    @property
    def sizes(self) -> Array:
        """Those of its row (n)."""
        return self.between(self.row["size"])

    def share(self, key: str) -> float:
        """How often something of its row is so."""
        return float(self.row[key])  # type: ignore[arg-type]

    def some(self, all_share: float) -> Flags:
        """All scrap in a share of the draws, one of it in the others (n, a)."""
        return _some(self.loop, self.which, self.one, all_share)

    def more_ohm(self, over: Array) -> None:
        """All liquid resists so many times as much (n)."""
        w = self.d.wires
        w.scrap, w.piece, w.cake = w.scrap * over[:, None], w.piece * over, w.cake * over[:, None]
        w.hanger_s = w.hanger_s / over

    def add(self, wire: str, ohm: Array) -> None:
        """Ohms more in a wire; of scrap in some of it."""
        w = self.d.wires
        had: Array = getattr(w, wire)
        if had.ndim == 1:
            setattr(w, wire, had + ohm)
            return
        some = self.some(float(self.row.get("all_scrap", 1.0)))  # type: ignore[arg-type]
        setattr(w, wire, had + some * ohm[:, None])

    def cake(self, over: Array, bare: Flags | None) -> None:
        """Crust grown to so many times the liquid's resistance (n), but for what is bare."""
        w = self.d.wires
        whole = (w.scrap * self.loop.shares)[:, :1] + w.piece[:, None]
        grown = over[:, None] * whole / self.loop.shares
        w.cake = w.cake + (grown if bare is None else np.where(bare, 0.0, grown))


def changed(cause: str, d: Draws, loop: Loop, bath_c: float | None) -> Draws:
    """The draws with a cause at work in all of them; ``d`` is changed in place."""
    _, _, u = chance(loop.anodes)
    at = _AtWork(d, loop, row(cause), u[:, 1], u[:, 2], u[:, 3], bath_c)
    adds: Mapping[str, Ends] = at.row.get("adds", {})  # type: ignore[assignment]
    for wire, ends in adds.items():
        at.add(wire, at.between(ends))
    if "conducts" in at.row:
        at.more_ohm(1 / at.between(at.row["conducts"]))
    if "works" in at.row:
        _WORKS[str(at.row["works"])](at)
    return d


def _ends(ends: object) -> tuple[float, float]:
    low, high = (float(e) for e in ends)  # type: ignore[attr-defined]
    return low, high


def _some(loop: Loop, which: Array, one: Array, all_share: float) -> Flags:
    chosen = np.minimum((one * loop.anodes).astype(int), loop.anodes - 1)
    alone: Flags = np.arange(loop.anodes)[None, :] == chosen[:, None]
    return alone | (which < all_share)[:, None]


# --- Laws that are more than a number ------------------------------------------------------------

_ALL = np.ones(COUNT, dtype=bool)


def _coated(at: _AtWork) -> None:
    """A coated hanger in six of ten, wood or foam in the path in the others."""
    w, coat = at.d.wires, at.which < 0.6
    w.piece_joint = np.where(coat, _OPEN, w.piece_joint)
    w.hanger_s = np.where(coat, 0.0, w.hanger_s)
    at.more_ohm(np.where(coat, 1.0, at.sizes))


def _cut_out(at: _AtWork) -> None:
    match at.loop.supply:
        case Fixed():
            gives = HICCUPS if at.loop.supply.protection == "hiccup" else 0.0
            at.d.gives = np.full(COUNT, gives)
        case PlainCharger():  # a cut-out closes again by itself
            at.d.gives = np.where(at.which < 0.75, 0.0, 1.0)
        case _:
            at.d.gives = np.zeros(COUNT)


def _blown(at: _AtWork) -> None:
    at.d.gives = np.zeros(COUNT)
    at.d.blown = _ALL.copy()
    at.d.fuse_open = np.full(COUNT, not at.loop.own_fuse)


def _drained(at: _AtWork) -> None:
    low, high = _ends(at.row["size"])
    at.d.wires.volts = at.d.wires.volts * (low + (high - low) * at.size)


def _weak(at: _AtWork) -> None:
    w = at.d.wires
    w.volts, w.inner = w.volts * at.sizes, 2 * w.inner + 0.4


def _other_setting(at: _AtWork) -> None:
    w = at.d.wires
    if isinstance(at.loop.supply, Laboratory):
        w.ceiling = w.ceiling * 0.25
        return
    half = at.which < 0.5
    w.volts = np.where(half, w.volts / 2, w.volts)
    w.inner = np.where(half, w.inner / 2, w.inner * 4)


def _colder(at: _AtWork) -> None:
    """Colder than planned; a bath whose warmth was read is as it was read."""
    colder = at.sizes if at.bath_c is None else np.zeros(COUNT)
    if at.bath_c is None:
        warmth = at.d.temperature_c
        at.more_ohm(warmer(at.loop, warmth) / warmer(at.loop, warmth - colder))
    at.d.temperature_c = at.d.temperature_c - colder


def _caked(at: _AtWork) -> None:
    at.cake(at.sizes, None)
    at.d.crusted = _ALL.copy()


def _caked_but_one(at: _AtWork) -> None:
    at.cake(at.sizes, _some(at.loop, np.ones(COUNT), at.one, 0.0))
    at.d.crusted = at.d.one_bare = _ALL.copy()


def _dry_scrap(at: _AtWork) -> None:
    w, out = at.d.wires, at.some(float(at.row["all_scrap"]))  # type: ignore[arg-type]
    w.scrap = np.where(out, w.scrap / at.sizes[:, None], w.scrap)


def _far(at: _AtWork) -> None:
    _behind(at, at.loop.far)
    at.d.far = _ALL.copy()


def _near(at: _AtWork) -> None:
    _behind(at, 1 - at.loop.far)
    at.d.near = _ALL.copy()


def _behind(at: _AtWork, share: float) -> None:
    """A share of the pieces behind a joint of its own; no gas comes from it where that resists more
    than its liquid."""
    w = at.d.wires
    at.d.under = np.where(at.sizes > w.piece / share, 1 - share, 1.0)
    w.piece = 1 / (1 / (w.piece / (1 - share)) + 1 / (w.piece / share + at.sizes))


def _wound(at: _AtWork) -> None:
    """Wire that is wound on rust is dry, or hidden by its own turns: no gas of its own."""
    w = at.d.wires
    w.hanger_s = np.where(at.which < at.share("hidden"), 0.0, w.hanger_s)


def _dry_piece(at: _AtWork) -> None:
    """Part of it hangs out, its clip with it more often than not."""
    w = at.d.wires
    w.piece, at.d.under = w.piece / at.sizes, at.sizes
    w.hanger_s = np.where(at.which < at.share("clip_out"), 0.0, w.hanger_s)


def _sunk(at: _AtWork) -> None:
    at.more_ohm(1 / at.sizes)
    at.d.under = at.sizes


def _overheated(at: _AtWork) -> None:
    """It holds its volts down to save itself."""
    at.d.wires.volts = at.d.wires.volts * at.sizes
    at.d.hot = _ALL.copy()


def _touches(at: _AtWork) -> None:
    at.d.wires.touch_s = 1 / at.sizes


def _reversed(at: _AtWork) -> None:
    at.d.reversed = _ALL.copy()


def _blind(at: _AtWork) -> None:
    at.d.blind = _ALL.copy()


def _meter(at: _AtWork) -> None:
    """Round both wires, or on another one."""
    at.d.meter_a = np.where(at.which < 0.6, 0.0, -1.0)


_WORKS: Mapping[str, Callable[[_AtWork], None]] = {
    "coated": _coated, "cut_out": _cut_out, "blown": _blown, "drained": _drained, "weak": _weak,
    "other_setting": _other_setting, "colder": _colder, "caked": _caked,
    "caked_but_one": _caked_but_one, "dry_scrap": _dry_scrap, "far": _far, "touches": _touches,
    "reversed": _reversed, "blind": _blind, "meter": _meter, "near": _near, "wound": _wound,
    "dry_piece": _dry_piece, "sunk": _sunk, "overheated": _overheated,
}  # fmt: skip


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
    return Draws(wires=Wires.joined([d.wires for d in made]), **{
        f.name: np.concatenate([getattr(d, f.name) for d in made])
        for f in fields(one) if f.name != "wires"
    })  # fmt: skip


def _lets_go(p: Predicted, loop: Loop) -> None:
    """A short or an overload that has lasted: fuses are blown, cut-outs open, in two of three."""
    s, d, amps = loop.supply, p.draws, p.flow.supply_a
    lasted = p.of(*marked("strains")) & (np.arange(len(amps)) % 3 > 0)
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
