"""What a run's time under power is made of: what it ran under, and the stretches."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.bath.loop import wet_shares
from yellowbath.core.chemistry.mixing import dissolving
from yellowbath.core.document import Plan
from yellowbath.core.field.model import Coverage
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.cords import ampacity
from yellowbath.core.power.supply import source_of

_HELD = 0.95  # of the limit, from which a supply holds its current; judged


@dataclass(frozen=True)
class Basis:
    """What a stretch ran under, taken from a plan revision. Areas [m2], amps [A].

    ``rated_a``, ``other_a`` and ``fuse_a``: what the supply is good for, what others take of it,
    what blows; ``open_v`` and ``limit_a``: its volts without a load and the most it gives;
    ``limit_c``: the warmest that the tank may get [C]; ``crust_ah``: the charge after
    which all scrap is scraped; ``inside``: share of the surface that lies inside a heap;
    ``lead_a``: what the leads carry; ``bath_ohm``: liquid and leads [ohm]; ``dissolves``: the scrap
    goes into solution, so that the cell itself takes few volts. ``pieces``: what each is called, by
    id; ``piece_of``: whose each region is; ``rods``: share of the current by scrap, by id; ``out``:
    pieces that are not in the bath.
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
    pieces: Mapping[str, str] = field(default_factory=dict)
    piece_of: Mapping[str, str] = field(default_factory=dict)
    rods: Mapping[str, float] = field(default_factory=dict)
    out: tuple[str, ...] = ()

    def under(self, out: tuple[str, ...]) -> Basis:
        """The same with some pieces out of the bath.

        At the same volts the amps are then no more than they were, and no fewer than what the
        others had of them: a piece that is taken away lowers no current into the others (potentials
        of a conductor with fixed electrodes rise where one of them goes). The middle of both is
        expected; a supply that holds its current goes on holding it.
        """
        if out == self.out:
            return self
        if out not in self._unders:
            least = self.share_in(out)
            middle = (1 + least) / 2
            held = self.holds(self.expected_a)
            self._unders[out] = replace(
                self,
                out=out,
                expected_a=self.expected_a * (1.0 if held else middle),
                expected_low_a=self.expected_low_a * least,
                bath_ohm=self.bath_ohm / middle,
            )
        return self._unders[out]

    def holds(self, amps: float) -> bool:
        """Whether the supply holds its current at so many amps."""
        return amps >= _HELD * self.limit_a

    @cached_property
    def _unders(self) -> dict[tuple[str, ...], Basis]:
        return {}

    @cached_property
    def here(self) -> NDArray[np.bool_]:
        """Which parts of the surface are of pieces in the bath (k); all where that is not known."""
        return self.parts_of(tuple(p for p in self.pieces if p not in self.out))

    def parts_of(self, pieces: tuple[str, ...]) -> NDArray[np.bool_]:
        """Which parts of the surface are of some pieces (k); all where that is not known."""
        places = self.coverage.places
        if not places or not self.pieces:
            return np.ones(len(self.coverage.weights), dtype=bool)
        return np.array([self.piece_of.get(place) in pieces for place in places])

    def ratios(self, pose: int, flips: int) -> NDArray[np.float64]:
        """Density over what its mean is with all pieces in, by part (k) [-]: what the pieces that
        are out had goes to the others, in proportion."""
        made = np.array(self.coverage.in_pose(pose, flips))
        if not self.out:
            return made
        share = self.share_in(self.out, pose, flips)
        return np.where(self.here, made, 0.0) / share if share > 0 else 0 * made

    def share_in(self, out: tuple[str, ...], pose: int = 0, flips: int = 0) -> float:
        """Share of the current with all pieces in that goes to those not ``out`` [-]; by their
        number where it is not known which part is whose."""
        if not out:
            return 1.0
        left = tuple(p for p in self.pieces if p not in out)
        if not self.coverage.places or not self.pieces:
            return len(left) / max(len(self.pieces), 1)
        flows = np.array(self.coverage.in_pose(pose, flips)) * np.array(self.coverage.weights)
        total = float(flows.sum())
        return float(flows[self.parts_of(left)].sum()) / total if total > 0 else 1.0

    @cached_property
    def text(self) -> str:
        """All of it in words, made once: it is long."""
        return repr(self)


def basis_of(
    plan: Plan, revision: int, worked: Answer, halves: Coverage | None = None,
    rods: Mapping[str, float] | None = None,
) -> Basis:  # fmt: skip
    """What the stretches of a run on this revision run under; ``rods``: share of the current by
    scrap as its field was solved, else by what of it is wet."""
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
        pieces={p.id: plan.called(p) for p in plan.pieces},
        piece_of={r.id: p.id for p in plan.pieces for r in p.regions},
        rods=dict(rods or wet_shares(plan, worked.fill.level.value)),
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
    """Stretches of one pose, one way of knowing the amps and the same pieces ``out``: their charge
    [Ah] and ``hours`` under power, and the amps of the newest of them with their edges."""

    pose: int
    flips: int
    source: Source
    charge_ah: float
    current_a: float
    low_a: float
    high_a: float
    hours: float = 0.0
    out: tuple[str, ...] = ()


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
