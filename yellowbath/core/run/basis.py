"""What a run's time under power is made of: what it ran under, and the stretches."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Literal

from yellowbath.core.chemistry.mixing import dissolving
from yellowbath.core.document import Plan
from yellowbath.core.field.model import Coverage
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.cords import ampacity
from yellowbath.core.power.supply import source_of


@dataclass(frozen=True)
class Basis:
    """What a stretch ran under, taken from a plan revision. Areas [m2], amps [A].

    ``rated_a``, ``other_a`` and ``fuse_a``: what the supply is good for, what others take of it,
    what blows; ``open_v`` and ``limit_a``: its volts without a load and the most it gives;
    ``limit_c``: the warmest that the tank may get [C]; ``crust_ah``: the charge after
    which all scrap is scraped; ``inside``: share of the surface that lies inside a heap;
    ``lead_a``: what the leads carry; ``bath_ohm``: liquid and leads [ohm]; ``dissolves``: the scrap
    goes into solution, so that the cell itself takes few volts.
    """

    revision: int
    level_m: float
    anodes: str
    mix: str
    supply: str
    expected_a: float
    expected_low_a: float
    expected_high_a: float
    wetted_area_m2: float
    coverage: Coverage
    rated_a: float = math.inf
    other_a: float = 0.0
    fuse_a: float | None = None
    limit_c: float = math.inf
    crust_ah: float = math.inf
    inside: float = 0.0
    open_v: float = math.inf
    limit_a: float = math.inf
    lead_a: float = math.inf
    bath_ohm: float = 0.0
    dissolves: bool = False

    @cached_property
    def text(self) -> str:
        """All of it in words, made once: it is long."""
        return repr(self)


def basis_of(plan: Plan, revision: int, worked: Answer, halves: Coverage | None = None) -> Basis:
    """What the stretches of a run on this revision run under."""
    gives = worked.gives
    supply, scrape = plan.supply, worked.of("scrap.scrape")
    source = source_of(supply)
    setting = f"{supply.kind} {supply.nominal_v:g} V"
    return Basis(
        revision=revision,
        level_m=worked.fill.level.value,
        anodes=" ".join([a.id for a in plan.anodes] + sorted(plan.metals)),
        mix=f"{plan.mix.product} {worked.concentration.value:.3g} g/L",
        supply=setting,
        expected_a=gives.value,
        expected_low_a=gives.span[0],
        expected_high_a=gives.span[1],
        wetted_area_m2=worked.wetted_area.value,
        coverage=halves or worked.coverage,
        rated_a=math.inf if supply.on_battery else supply.rated_a,
        other_a=supply.other_a,
        fuse_a=supply.fuse_a,
        limit_c=plan.tank.limit_c,
        crust_ah=scrape.value * gives.value / 3600 if scrape else math.inf,
        inside=worked.inside,
        open_v=source.volts.value,
        limit_a=source.ceiling.value if source.ceiling else math.inf,
        lead_a=ampacity(supply.lead_area_m2),
        bath_ohm=worked.resistance.value + worked.leads.value,
        dissolves=dissolving(plan),
    )


@dataclass(frozen=True)
class Knot:
    """An amps figure at one end of a stretch, and how well it is known."""

    amps: float | None
    error: float
    before: bool = False
    """As they were before the power was off: nobody has read them since."""


Source = Literal["read", "between", "before", "expected", "unsure"]


@dataclass(frozen=True)
class Mixed:
    """Stretches of one pose and one way of knowing the amps: their charge [Ah], and the amps of
    the newest of them with their edges."""

    pose: int
    flips: int
    source: Source
    charge_ah: float
    current_a: float
    low_a: float
    high_a: float


@dataclass(frozen=True)
class Bank:
    """What stretches that are over came to, so that they need not be added up again.

    ``count`` of them from ``start`` on; dose by part [Ah/m2], time under power [s], charge [Ah]; of
    what is unsure the share counted, and what more it would be were all of it [Ah]; ``crust_ah``:
    the charge since all scrap was last scraped; ``mixed``: what the doses were made of.
    """

    count: int = 0
    start: datetime | None = None
    doses: tuple[float, ...] = ()
    powered_s: float = 0.0
    charge_ah: float = 0.0
    unsure_ah: float = 0.0
    unsure_more_ah: float = 0.0
    crust_ah: float = 0.0
    mixed: tuple[Mixed, ...] = ()


@dataclass(frozen=True)
class Stretch:
    """A time under power with nothing changing. ``end`` is None while it runs.

    ``pose`` counts the turns and ``flips`` the times it was put end for end; ``current_a`` is the
    mean over the stretch and ``source`` says whether it was read, lies between two readings, is as
    before the power was off, or only expected. ``counted``: the share of its time that is
    counted; where it is unsure whether current flowed at all, half, with all and nothing as its
    edges.
    """

    start: datetime
    end: datetime | None
    pose: int
    current_a: float
    low_a: float
    high_a: float
    source: Source
    basis: Basis
    flips: int = 0
    counted: float = 1.0

    def hours(self, now: datetime) -> float:
        """How long it lasted or has lasted [h], whatever of it is counted."""
        return max((min(self.end or now, now) - self.start).total_seconds(), 0.0) / 3600
