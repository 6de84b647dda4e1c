"""What can go wrong with a simulated bath: each fault as what it changes of the bath's condition.

A fault is drawn once, with its own size, and comes at a time of its own. What it does is a row of
``data/simulated.toml``, its size another; common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from yellowbath.core.data import table
from yellowbath.core.document.supply import Fixed, Laboratory, PlainCharger
from yellowbath.core.errors import InputError
from yellowbath.core.simulation.circuit import OPEN
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.truth import row


@dataclass(frozen=True)
class Condition:
    """What the faults that are in force have made of a bath; the default is a sound one.

    Factors [-] on conductivity, volts, ceiling; leads and joints added [ohm]; ``cake_over``:
    resistance of the cake over that of the liquid, by anode; ``gives``: what each anode still has;
    ``supply_state``: how the supply is; ``coated``: the hanger does not conduct; ``meter``: what
    the clamp really reads; ``hidden_wire``: that on the piece gives no gas; ``piece_under``: share
    of the piece in the liquid, ``level``: depth left over meant [-].
    """

    kappa: float = 1.0
    colder_k: float = 0.0
    volts: float = 1.0
    inner: float = 1.0
    ceiling: float = 1.0
    conductance: float = 1.0
    in_the_way: float = 1.0
    leads_ohm: float = 0.0
    piece_joint_ohm: float = 0.0
    scrap_joint_ohm: Mapping[str, float] = field(default_factory=dict)
    far: tuple[float, float] | None = None
    idle: str = ""
    hidden_wire: bool = False
    piece_under: float = 1.0
    level: float = 1.0
    hot_supply: bool = False
    cake_over: Mapping[str, float] = field(default_factory=dict)
    gives: Mapping[str, float] = field(default_factory=dict)
    coated: bool = False
    touch_ohm: float = math.inf
    reversed: bool = False
    supply_state: str = ""
    blind: bool = False
    pits: float = 0.0
    meter: str = ""


SOUND = Condition()
Change = Callable[[Condition], Condition]
Maker = Callable[[Design, np.random.Generator, str], Change]


@dataclass(frozen=True)
class BathFault:
    """One fault with its size drawn; ``id`` as the causes are called, ``grade`` how hard it is to
    find, 1 to 3."""

    id: str
    grade: int
    change: Change


def fault_ids() -> tuple[str, ...]:
    """Every fault that there is, easiest first."""
    return tuple(sorted(table("simulated")["fault"], key=grade_of))


def fault_row(name: str) -> Mapping[str, Any]:
    """What stands of a fault."""
    found: Mapping[str, Any] = table("simulated")["fault"][name]
    return found


def grade_of(name: str) -> int:
    """How hard a fault is to find, 1 to 3."""
    return int(fault_row(name)["grade"])


def gone_by(what: str) -> tuple[str, ...]:
    """The faults that end when hands do something: soda, water, scraping, turning."""
    return tuple(k for k in fault_ids() if fault_row(k).get("gone_by") == what)


def possible(design: Design) -> tuple[str, ...]:
    """The faults that a design can have: no flat battery without one, no far piece of one alone."""
    has = design.has | {""}
    return tuple(k for k in fault_ids() if fault_row(k).get("needs", "") in has)


def fault(name: str, design: Design, rng: np.random.Generator) -> BathFault:
    """A fault of a design with its size drawn. Raises InputError for one it cannot have."""
    if name not in possible(design):
        raise InputError(
            f"This bath cannot have the fault {name}.",
            allowed=", ".join(possible(design)),
        )
    r = fault_row(name)
    maker = _WORKS[r["works"]] if "works" in r else _plain(r)
    return BathFault(name, grade_of(name), maker(design, rng, str(r.get("size", ""))))


def _draw(rng: np.random.Generator, key: str) -> float:
    """A size between a row's ends, even in its log."""
    r = row("size", key)
    return float(math.exp(rng.uniform(math.log(r["low"]), math.log(r["high"]))))


def _plain(r: Mapping[str, Any]) -> Maker:
    """What is added to the condition, times it, or stands instead: a size's row, or a value."""

    def drawn(d: Design, rng: np.random.Generator, _: str) -> Change:
        def values(how: str) -> dict[str, Any]:
            said: Mapping[str, Any] = r.get(how, {})
            return {k: _draw(rng, v) if isinstance(v, str) else v for k, v in said.items()}

        adds, times, sets = values("adds"), values("times"), values("sets")

        def change(c: Condition) -> Condition:
            added = {k: getattr(c, k) + v for k, v in adds.items()}
            return replace(c, **added, **{k: getattr(c, k) * v for k, v in times.items()}, **sets)

        return change

    return drawn


# --- What is more than a number ------------------------------------------------------------------


def _one(design: Design, rng: np.random.Generator) -> str:
    return str(rng.choice(sorted(design.shares)))


def _scrap_joint(d: Design, rng: np.random.Generator, size: str) -> Change:
    """One scrap's joint, or that of the lead which all of it hangs on."""
    ohm = _draw(rng, size)
    some = sorted(d.shares) if rng.random() < 0.5 else [_one(d, rng)]
    return lambda c: replace(c, scrap_joint_ohm={**c.scrap_joint_ohm, **dict.fromkeys(some, ohm)})


def _insulated(d: Design, rng: np.random.Generator, size: str) -> Change:
    if rng.random() < 0.6:
        return lambda c: replace(c, piece_joint_ohm=OPEN, coated=True)
    way = _draw(rng, size)
    return lambda c: replace(c, in_the_way=c.in_the_way * way)


def _supply(state: str) -> Maker:
    return lambda d, rng, size: lambda c: replace(c, supply_state=state)


def _asleep(d: Design, rng: np.random.Generator, size: str) -> Change:
    """It stays off; a switched supply hiccups, a plain charger's cut-out comes back by itself."""
    match d.supply:
        case Fixed():
            hiccup = d.supply.protection == "hiccup"
            return _supply("hiccup" if hiccup else "tripped")(d, rng, size)
        case PlainCharger():
            return _supply("cut_out")(d, rng, size)
        case _:
            return _supply("asleep")(d, rng, size)


def _wrong_range(d: Design, rng: np.random.Generator, size: str) -> Change:
    if isinstance(d.supply, Laboratory):
        return lambda c: replace(c, ceiling=c.ceiling * 0.25)
    if rng.random() < 0.5:
        return lambda c: replace(c, volts=c.volts * 0.5, inner=c.inner * 0.5)
    return lambda c: replace(c, inner=c.inner * 4)


def _caked(d: Design, rng: np.random.Generator, size: str) -> Change:
    over = _draw(rng, size)
    return lambda c: replace(c, cake_over=dict.fromkeys(d.shares, over))


def _one_clean(d: Design, rng: np.random.Generator, size: str) -> Change:
    over, clean = 2 * _draw(rng, size), _one(d, rng)
    return lambda c: replace(c, cake_over={k: over for k in d.shares if k != clean})


def _scrap_out(d: Design, rng: np.random.Generator, size: str) -> Change:
    gives = _draw(rng, size)
    some = sorted(d.shares) if rng.random() < 0.4 else [_one(d, rng)]
    return lambda c: replace(c, gives={**c.gives, **dict.fromkeys(some, gives)})


def _piece_joint(d: Design, rng: np.random.Generator, size: str) -> Change:
    """Rust under clip or wire; some wires that are wound on it give no gas of their own."""
    ohm, hidden = _draw(rng, size), rng.random() < row("size", "wound_dry")["low"]
    return lambda c: replace(
        c, piece_joint_ohm=c.piece_joint_ohm + ohm, hidden_wire=c.hidden_wire or hidden
    )


def _far_piece(d: Design, rng: np.random.Generator, size: str) -> Change:
    share = d.piece_share[sorted(d.piece_share)[-1]]
    ohm = _draw(rng, size)
    return lambda c: replace(c, far=(share, ohm), idle="far")


def _near_piece(d: Design, rng: np.random.Generator, size: str) -> Change:
    share = 1 - d.piece_share[sorted(d.piece_share)[-1]]
    ohm = _draw(rng, size)
    return lambda c: replace(c, far=(share, ohm), idle="near")


def _meter(d: Design, rng: np.random.Generator, size: str) -> Change:
    on = "both" if rng.random() < 0.6 else "other"
    return lambda c: replace(c, meter=on)


_WORKS: Mapping[str, Maker] = {
    "scrap_joint": _scrap_joint, "insulated": _insulated, "asleep": _asleep,
    "blown": _supply("fuse"), "drained": _supply("flat"), "wrong_range": _wrong_range,
    "caked": _caked, "one_clean": _one_clean, "scrap_out": _scrap_out, "far_piece": _far_piece,
    "near_piece": _near_piece, "piece_joint": _piece_joint,
    "meter": _meter,
}  # fmt: skip
