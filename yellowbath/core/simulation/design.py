"""What a simulated bath is built from: a plan's geometry and laws, without anything that is hidden.

Resistances [ohm], volts [V], areas [m2], temperatures [C].
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.chemistry import mixing
from yellowbath.core.chemistry.cell import reversible_v
from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.document.supply import SupplyBase
from yellowbath.core.dose import need_of, neediest
from yellowbath.core.field.model import Coverage
from yellowbath.core.field.sides import MAIN
from yellowbath.core.geometry import anode as anodes
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.heat import Bath
from yellowbath.core.power.supply import source_of

Array = NDArray[np.float64]
TABLE_C = np.arange(0.0, 101.0, 2.0)  # C; between them straight


@dataclass(frozen=True)
class DesignSource:
    """A supply as an open-circuit voltage [V], an inner resistance [ohm] and a ceiling [A]."""

    volts: float
    inner_ohm: float
    ceiling_a: float


@dataclass(frozen=True)
class Design:
    """A plan's bath as it is meant to be.

    ``liquid_ohm`` at ``conductivity_s_m``, of all scrap together; ``shares`` of the current by
    anode and ``scrap_m2`` its surface; ``conducts`` [S/m] at the temperatures of ``TABLE_C``;
    ``threshold_v`` at 20 C and ``meant_a``; ``coverage`` says where the current goes on the
    piece, ``main`` how much of each part's area belongs to the main surface.
    """

    supply: SupplyBase
    source: DesignSource
    leads_ohm: float
    liquid_ohm: float
    conductivity_s_m: float
    conducts: Array
    threshold_v: float
    meant_a: float
    form: float
    dissolves: bool
    shares: Mapping[str, float]
    scrap_m2: Mapping[str, float]
    piece_share: Mapping[str, float]
    wetted_m2: float
    coverage: Coverage
    main: Array
    need_ah_m2: float
    need_sigma: float
    heat: Bath
    level_m: float
    surface_m2: float
    freeboard_m: float
    limit_c: float
    iron_kg_ah: float

    @property
    def has(self) -> frozenset[str]:
        """What it has that can go wrong: by its supply, and more than one piece or scrap."""
        several = {"pieces": self.piece_share, "scraps": self.shares}
        return self.supply.has | {what for what, of in several.items() if len(of) > 1}

    @staticmethod
    def of(plan: Plan, worked: Answer, rod_share: Mapping[str, float] | None = None) -> Design:
        """The design of a plan as it was worked out; ``rod_share``: of the current by anode, where
        its field was solved, else by the scrap's surface."""
        level = worked.fill.level.value
        wet = {a.id: max(anodes.wet(a, plan, level).area, 1e-4) for a in plan.anodes}
        shares = dict(rod_share or wet)
        total = sum(shares.values())
        liquid = mixing.liquid_of(plan.mix, worked.concentration, worked.fill.water)
        line = np.array([liquid.conductivity(min(t, 60.0)) for t in TABLE_C])
        heat = Bath.of(plan, level)
        source = source_of(plan.supply)
        need, coverage = need_of(neediest(plan.pieces)), worked.coverage
        main = np.array(coverage.shares(MAIN))
        sizes = {p.id: worked.fill.shares[p.id] for p in plan.pieces}
        return Design(
            supply=plan.supply,
            source=DesignSource(
                source.volts.value,
                source.inner.value,
                source.ceiling.value if source.ceiling else math.inf,
            ),
            leads_ohm=worked.leads.value - param("contact_ohm").value,
            liquid_ohm=worked.resistance.value,
            conductivity_s_m=worked.conductivity.value,
            conducts=line,
            threshold_v=worked.threshold.value,
            meant_a=max(worked.gives.value, 0.05),
            form=worked.form.value,
            dissolves=mixing.dissolving(plan),
            shares={k: v / total for k, v in shares.items()},
            scrap_m2=wet,
            piece_share={k: v / sum(sizes.values()) for k, v in sizes.items()},
            wetted_m2=worked.wetted_area.value,
            coverage=coverage,
            main=main / main.sum() if main.sum() > 0 else np.array(coverage.weights),
            need_ah_m2=need.median,
            need_sigma=need.sigma,
            heat=heat,
            level_m=level,
            surface_m2=heat.surface,
            freeboard_m=worked.fill.freeboard.value,
            limit_c=plan.tank.limit_c,
            iron_kg_ah=worked.iron.value * 3600 / max(worked.gives.value, 1e-9),
        )

    def conducts_at(self, temperature_c: float) -> float:
        """Conductivity at a temperature over that of the plan [-]."""
        at = min(max(temperature_c / 2.0, 0.0), 49.999)
        k = int(at)
        row = self.conducts
        value = row[k] + (row[k + 1] - row[k]) * (at - k)
        return float(value) / self.conductivity_s_m

    def start_v(self, temperature_c: float) -> float:
        """Volts below which nothing flows [V]; the reversible voltage of water, or none to speak of
        where the scrap dissolves."""
        return 0.4 if self.dissolves else reversible_v(temperature_c)
