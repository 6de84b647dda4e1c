"""What a figure of a bath says of danger, however it came to be known: read, said with a change,
sent by a line, brought in a file.

One judge for all of them. A figure that cannot be believed is judged like any other: it is a
danger, or a fault of the meter, and both are told. Amps, volts, temperatures [C]; amps below nought
flow backwards.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from yellowbath.core.checks.limits import limit
from yellowbath.core.run.basis import Basis
from yellowbath.core.units import System, show
from yellowbath.core.words import word

BEYOND = 999.0
"""A meter that shows its range is overrun is taken for this [A, V, C]; no bath has it."""

Key = Literal[
    "touch", "beyond", "over_rating", "over_fuse", "over_lead", "over_limit", "backwards",
    "over_amps", "wet_volts", "over_volts", "bath_hot", "over_warm", "scald", "lead_warm",
    "frozen", "swapped",
]  # fmt: skip
By = Literal["amps", "supply_v", "tank_v", "bath", "leads", "meter"]
CAUTIONS: frozenset[Key] = frozenset({"scald", "lead_warm", "frozen"})
"""Not yet a reason to switch off at once."""


@dataclass(frozen=True)
class Figures:
    """What is known of a bath at one moment; None for what is not."""

    amps: float | None = None
    supply_v: float | None = None
    tank_v: float | None = None
    bath_c: float | None = None


@dataclass(frozen=True)
class Danger:
    """One danger or caution: which, of which figure, and in words."""

    key: Key
    by: By
    why: str

    @property
    def title(self) -> str:
        return word(f"danger.{self.key}.title")

    @property
    def grave(self) -> bool:
        """Whether it has to go off at once."""
        return self.key not in CAUTIONS


def judge(f: Figures, basis: Basis, system: System = "metric") -> list[Danger]:
    """Every danger that some figures tell of; of each figure the gravest, dangers first."""
    found: list[Danger] = []
    if f.amps is not None:
        found += _first(_of_amps(f.amps, basis))
    for volts, by in ((f.supply_v, "supply_v"), (f.tank_v, "tank_v")):
        if volts is not None:
            found += _first(_of_volts(volts, by, basis))  # type: ignore[arg-type]
    if f.bath_c is not None:
        found += _first(_of_warmth(f.bath_c, basis, system))
    return sorted(found, key=lambda d: not d.grave)


def _first(found: Iterator[Danger]) -> list[Danger]:
    one = next(found, None)
    return [one] if one else []


def _of_amps(amps: float, b: Basis) -> Iterator[Danger]:
    size = min(abs(amps), BEYOND)

    def danger(key: Key, most: float = math.nan, more: str = "") -> Danger:
        slots = {
            "amps": show(size, "current"),
            "most": "" if math.isnan(most) else show(most, "current"),
        }
        return Danger(key, "amps", word(f"danger.{key}.why", **slots) + more)

    if math.isnan(amps):
        return
    if size >= BEYOND:
        yield danger("beyond")
    if size + b.other_a > limit("advice", "over_rating") * b.rated_a:
        others = show(b.other_a, "current")
        yield danger(
            "over_rating", b.rated_a, f" {word('danger.others', amps=others)}" if b.other_a else ""
        )
    if b.fuse_a is not None and size > b.fuse_a:
        yield danger("over_fuse", b.fuse_a)
    if size > limit("lead_far", "over") * b.lead_a:
        yield danger("over_lead", b.lead_a)
    if b.limit_a < b.rated_a and size > limit("advice", "over_limit") * b.limit_a:
        yield danger("over_limit", b.limit_a)
    if amps < -limit("samples", "backward_a"):
        yield danger("backwards")
    if size > limit("lead_thin", "over") * b.lead_a:
        yield danger("lead_warm", b.lead_a)


def _of_volts(volts: float, by: By, b: Basis) -> Iterator[Danger]:
    size = min(abs(volts), BEYOND)

    def danger(key: Key, most: float = math.nan) -> Danger:
        slots = {"volts": show(size, "voltage"), "where": word(f"danger.at.{by}"),
                 "most": "" if math.isnan(most) else show(most, "voltage")}  # fmt: skip
        return Danger(key, by, word(f"danger.{key}.why", **slots))

    if math.isnan(volts):
        return
    if size > limit("voltage_high", "volts"):
        yield danger("wet_volts", limit("voltage_high", "volts"))
    if size > limit("advice", "over_open") * b.open_v:
        yield danger("over_volts", b.open_v)
    if volts < -limit("samples", "backward_v"):
        yield Danger("swapped", by, word("danger.swapped.by_volts", volts=show(volts, "voltage")))


def _of_warmth(warm: float, b: Basis, system: System) -> Iterator[Danger]:
    slots = {"warm": show(warm, "temperature", system)}
    if warm > b.limit_c:
        yield Danger(
            "bath_hot", "bath",
            word("danger.bath_hot.why", most=show(b.limit_c, "temperature", system), **slots),
        )  # fmt: skip
    if warm > limit("scald", "bath"):
        yield Danger("scald", "bath", word("danger.scald.why", **slots))
