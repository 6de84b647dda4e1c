"""A plan's circuit, as the draws of the causes are made about it.

Resistances [ohm], volts [V], amps [A], areas [m2], temperatures [C].
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.chemistry.cell import reversible_v
from yellowbath.core.chemistry.mixing import dissolving
from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.document.supply import Fixed, SupplyBase
from yellowbath.core.geometry import anode as anodes
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.supply import source_of

Array = NDArray[np.float64]
# Law of the cell: both Tafel slopes, natural.
_DISSOLVES_V = 0.4  # judged: iron goes into solution


@dataclass(frozen=True)
class Loop:
    """What is known of a bath before anything is read of it.

    ``shares`` of the current by anode, in the plan's order; ``edges`` and ``over``: share of the
    piece's surface whose density is over so many times the mean; ``far``: share of the piece that
    hangs last on the lead, 0 for one alone.
    """

    supply: SupplyBase
    volts: float
    inner_ohm: float
    ceiling_a: float
    leads_ohm: float
    liquid_ohm: float
    temperature_c: float
    start_v: float
    knee_a: float
    meant_a: float
    low_a: float
    high_a: float
    shares: Array
    scrap_m2: Array
    wetted_m2: float
    edges: Array
    over: Array
    far: float
    one_sided: bool
    dissolves: bool

    @staticmethod
    def of(plan: Plan, worked: Answer, rods: Mapping[str, float] | None = None) -> Loop:
        """The circuit of a plan as it was worked out; ``rods``: share of the current by scrap where
        the field was solved, else by what of it is wet. Raises nothing: an answer has a current."""
        level = worked.fill.level.value
        wet = wet_of(plan, level)
        source = source_of(plan.supply)
        meant = max(worked.gives.value, 0.02)
        dissolves = dissolving(plan)
        start = _DISSOLVES_V if dissolves else reversible_v(20.0)
        knee = max((worked.threshold.value - start) / slope_v(), 0.5)
        coverage = worked.coverage
        ratios, weights = np.array(coverage.in_pose(0, 0)), np.array(coverage.weights)
        order = np.argsort(ratios)
        parts = [worked.fill.shares[p.id] for p in plan.pieces]
        low, high = worked.gives.span
        shares = np.array([(rods or {}).get(a.id, 0.0) for a in plan.anodes])
        known = len(shares) > 0 and bool((shares > 0).all())
        return Loop(
            supply=plan.supply,
            volts=source.volts.value - plan.supply.other_a * source.inner.value,
            inner_ohm=source.inner.value,
            ceiling_a=source.ceiling.value if source.ceiling else math.inf,
            leads_ohm=max(worked.leads.value - param("contact_ohm").value, 1e-3),
            liquid_ohm=worked.resistance.value,
            temperature_c=plan.mix.temperature_c,
            start_v=start,
            knee_a=meant / (2 * math.sinh(knee)),
            meant_a=meant,
            low_a=low,
            high_a=high,
            shares=shares / shares.sum() if known else wet / wet.sum(),
            scrap_m2=wet,
            wetted_m2=worked.wetted_area.value,
            edges=ratios[order],
            over=1 - np.cumsum(weights[order]) / weights.sum(),
            far=parts[-1] / sum(parts) if len(parts) > 1 else 0.0,
            one_sided=plan.layout.arrangement == "one_side",
            dissolves=dissolves,
        )

    def less(self, share: float) -> Loop:
        """The same with some of its pieces out: ``share`` of the current went to the others. They
        have no less than that now and no more than all of it; the middle is taken."""
        if share >= 1:
            return self
        middle = (1 + share) / 2
        return replace(
            self,
            liquid_ohm=self.liquid_ohm / middle,
            knee_a=self.knee_a * middle,
            meant_a=min(self.meant_a * middle, self.ceiling_a),
            low_a=self.low_a * share,
            wetted_m2=self.wetted_m2 * share,
            far=0.0,
        )

    @property
    def anodes(self) -> int:
        return len(self.shares)

    @property
    def own_fuse(self) -> bool:
        """Whether the supply's fuse is its own, behind its posts."""
        return isinstance(self.supply, Fixed) and self.supply.protection == "fuse"

    @property
    def has(self) -> frozenset[str]:
        """What it has that can go wrong: by its supply, and more than one piece or scrap."""
        some = {"pieces"} if self.far > 0 else set()
        return self.supply.has | some | ({"scraps"} if self.anodes > 1 else set())


def wet_of(plan: Plan, level: float) -> Array:
    """Wet surface of each scrap (a) at a level [m] [m2]."""
    return np.array([max(anodes.wet(a, plan, level).area, 1e-4) for a in plan.anodes])


def wet_shares(plan: Plan, level: float) -> Mapping[str, float]:
    """Each scrap's share of what is wet of them, by id [-]."""
    wet = wet_of(plan, level)
    return {a.id: float(w) for a, w in zip(plan.anodes, wet / wet.sum(), strict=True)}


def slope_v() -> float:
    """Both Tafel slopes, natural [V]."""
    return (param("tafel_piece_v").value + param("tafel_scrap_v").value) / math.log(10)
