"""What can go wrong with a simulated bath: each fault as what it changes of the bath's condition.

A fault is drawn once, with its own size, and comes at a time of its own. Ranges are rows of
``data/simulated.toml``; common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from yellowbath.core.document.supply import Battery, Fixed, Laboratory, PlainCharger, Smart
from yellowbath.core.errors import InputError
from yellowbath.core.simulation.circuit import OPEN
from yellowbath.core.simulation.design import Design
from yellowbath.core.simulation.truth import row


@dataclass(frozen=True)
class Condition:
    """What the faults that are in force have made of a bath; the default is a sound one.

    Factors [-] on conductivity, volts, ceiling; joints added [ohm]; ``cake_over``: resistance of
    the cake over that of the liquid, by anode; ``gives``: what each anode still gives;
    ``supply_state``: how the supply is; ``coated``: the hanger does not conduct; ``meter``: what
    the clamp really reads.
    """

    kappa: float = 1.0
    colder_k: float = 0.0
    volts: float = 1.0
    inner: float = 1.0
    ceiling: float = 1.0
    conductance: float = 1.0
    in_the_way: float = 1.0
    piece_joint_ohm: float = 0.0
    scrap_joint_ohm: Mapping[str, float] = field(default_factory=dict)
    far: tuple[float, float] | None = None
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


@dataclass(frozen=True)
class BathFault:
    """One fault with its size drawn; ``id`` as the causes are called, ``grade`` how hard it is to
    find, 1 to 3."""

    id: str
    grade: int
    change: Change


def _draw(rng: np.random.Generator, key: str) -> float:
    """A size between a row's ends, even in its log."""
    r = row("fault", key)
    return float(math.exp(rng.uniform(math.log(r["low"]), math.log(r["high"]))))


def _one(design: Design, rng: np.random.Generator) -> str:
    return str(rng.choice(sorted(design.shares)))


def _contact_piece(d: Design, rng: np.random.Generator) -> Change:
    ohm = _draw(rng, "contact_ohm")
    return lambda c: replace(c, piece_joint_ohm=c.piece_joint_ohm + ohm)


def _contact_scrap(d: Design, rng: np.random.Generator) -> Change:
    """One scrap's joint, or that of the lead which all of it hangs on."""
    ohm = _draw(rng, "contact_ohm")
    some = sorted(d.shares) if rng.random() < 0.5 else [_one(d, rng)]
    return lambda c: replace(c, scrap_joint_ohm={**c.scrap_joint_ohm, **dict.fromkeys(some, ohm)})


def _insulated(d: Design, rng: np.random.Generator) -> Change:
    if rng.random() < 0.6:
        return lambda c: replace(c, piece_joint_ohm=OPEN, coated=True)
    way = _draw(rng, "wood")
    return lambda c: replace(c, in_the_way=c.in_the_way * way)


def _supply(state: str) -> Callable[[Design, np.random.Generator], Change]:
    return lambda d, rng: lambda c: replace(c, supply_state=state)


def _asleep(d: Design, rng: np.random.Generator) -> Change:
    """It stays off; a switched supply hiccups, a plain charger's cut-out comes back by itself."""
    match d.supply:
        case Fixed():
            return _supply("hiccup" if d.supply.protection == "hiccup" else "tripped")(d, rng)
        case PlainCharger():
            return _supply("cut_out")(d, rng)
        case _:
            return _supply("asleep")(d, rng)


def _sag(d: Design, rng: np.random.Generator) -> Change:
    volts = _draw(rng, "sag")
    return lambda c: replace(c, volts=c.volts * volts, inner=c.inner * 2)


def _wrong_range(d: Design, rng: np.random.Generator) -> Change:
    if isinstance(d.supply, Laboratory):
        return lambda c: replace(c, ceiling=c.ceiling * 0.25)
    if rng.random() < 0.5:
        return lambda c: replace(c, volts=c.volts * 0.5, inner=c.inner * 0.5)
    return lambda c: replace(c, inner=c.inner * 4)


def _mix(key: str) -> Callable[[Design, np.random.Generator], Change]:
    def drawn(d: Design, rng: np.random.Generator) -> Change:
        kappa = _draw(rng, key)
        return lambda c: replace(c, kappa=c.kappa * kappa)

    return drawn


def _cold(d: Design, rng: np.random.Generator) -> Change:
    colder = _draw(rng, "cold")
    return lambda c: replace(c, colder_k=c.colder_k + colder)


def _caked(d: Design, rng: np.random.Generator) -> Change:
    over = _draw(rng, "caked")
    return lambda c: replace(c, cake_over=dict.fromkeys(d.shares, over))


def _one_clean(d: Design, rng: np.random.Generator) -> Change:
    over, clean = 2 * _draw(rng, "caked"), _one(d, rng)
    return lambda c: replace(c, cake_over={k: over for k in d.shares if k != clean})


def _scrap_out(d: Design, rng: np.random.Generator) -> Change:
    gives = _draw(rng, "out")
    some = sorted(d.shares) if rng.random() < 0.4 else [_one(d, rng)]
    return lambda c: replace(c, gives={**c.gives, **dict.fromkeys(some, gives)})


def _far_piece(d: Design, rng: np.random.Generator) -> Change:
    share = d.piece_share[sorted(d.piece_share)[-1]]
    ohm = _draw(rng, "far_ohm")
    return lambda c: replace(c, far=(share, ohm))


def _touch(d: Design, rng: np.random.Generator) -> Change:
    ohm = _draw(rng, "touch_ohm")
    return lambda c: replace(c, touch_ohm=ohm)


def _reversed(d: Design, rng: np.random.Generator) -> Change:
    return lambda c: replace(c, reversed=True)


def _overload(d: Design, rng: np.random.Generator) -> Change:
    strong = _draw(rng, "strong")
    return lambda c: replace(c, conductance=c.conductance * strong)


def _blind(d: Design, rng: np.random.Generator) -> Change:
    return lambda c: replace(c, blind=True)


def _pits(d: Design, rng: np.random.Generator) -> Change:
    share = _draw(rng, "pits")
    return lambda c: replace(c, pits=share)


def _meter(d: Design, rng: np.random.Generator) -> Change:
    on = "both" if rng.random() < 0.6 else "other"
    return lambda c: replace(c, meter=on)


Maker = Callable[[Design, np.random.Generator], Change]
_MADE: Mapping[str, tuple[int, Maker]] = {
    "contact_piece": (1, _contact_piece),
    "contact_scrap": (1, _contact_scrap),
    "insulated": (2, _insulated),
    "asleep": (1, _asleep),
    "fuse": (1, _supply("fuse")),
    "flat": (2, _supply("flat")),
    "sag": (3, _sag),
    "wrong_range": (2, _wrong_range),
    "thin": (2, _mix("thin")),
    "wrong_soda": (3, _mix("wrong_soda")),
    "cold": (2, _cold),
    "caked": (1, _caked),
    "one_clean": (3, _one_clean),
    "scrap_out": (2, _scrap_out),
    "far_piece": (3, _far_piece),
    "touch": (1, _touch),
    "reversed": (2, _reversed),
    "overload": (2, _overload),
    "blind": (1, _blind),
    "pits": (3, _pits),
    "meter": (3, _meter),
}


def fault_ids() -> tuple[str, ...]:
    """Every fault that there is, easiest first."""
    return tuple(sorted(_MADE, key=lambda k: _MADE[k][0]))


def grade_of(name: str) -> int:
    """How hard a fault is to find, 1 to 3."""
    return _MADE[name][0]


def possible(design: Design) -> tuple[str, ...]:
    """The faults that a design can have: no flat battery without one, no far piece of one alone."""
    supply = design.supply
    gone = set()
    if supply.fuse_a is None and not (isinstance(supply, Fixed) and supply.protection == "fuse"):
        gone.add("fuse")
    if not supply.on_battery:
        gone.add("flat")
    if isinstance(supply, Battery | Laboratory) or supply.on_battery:
        gone |= {"asleep", "sag"}
    if isinstance(supply, Battery | Fixed) or (isinstance(supply, Smart) and supply.on_battery):
        gone.add("wrong_range")
    if len(design.piece_share) < 2:
        gone.add("far_piece")
    if len(design.shares) < 2:
        gone.add("one_clean")
    return tuple(k for k in fault_ids() if k not in gone)


def fault(name: str, design: Design, rng: np.random.Generator) -> BathFault:
    """A fault of a design with its size drawn. Raises InputError for one it cannot have."""
    if name not in possible(design):
        raise InputError(
            f"This bath cannot have the fault {name}.",
            allowed=", ".join(possible(design)),
        )
    grade, maker = _MADE[name]
    return BathFault(name, grade, maker(design, rng))
