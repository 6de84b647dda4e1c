"""The hidden true values of a simulated bath, drawn about what its plan reckons.

The draws' middles and spreads are rows of ``data/simulated.toml``. ``wider`` makes them differ from
what an estimate takes them for.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np

from yellowbath.core.data import require_provenance, table
from yellowbath.core.simulation.design import Array, Design


@dataclass(frozen=True)
class Truth:
    """What is so and nobody knows. Factors are over the plan's figures [-].

    ``scrap_side``: share of the liquid's resistance about the scrap; ``hanger``: the liquid's to
    the hanger over that to the piece, infinite where it hangs dry; ``needs`` (k): of each part,
    that of its slow twentieth [Ah/m2], ``scatter`` the log-spread within it.
    """

    kappa: float
    contact_piece_ohm: float
    contact_scrap_ohm: Mapping[str, float]
    cake: float
    supply: float
    overpotential_v: float
    area: float
    scrap_side: float
    hanger: float
    needs: Array
    scatter: float
    js_a_m2: float


def row(kind: str, key: str) -> Mapping[str, float]:
    """A row of the hidden or of the sizes; raises DataTableError for one without provenance."""
    found = table("simulated")[kind][key]
    require_provenance(f"simulated.{kind}.{key}", found)
    return dict(found)


@cache
def usual_share() -> float:
    """Share of the amps that goes into the piece on the mean [-]; the hanger has the rest."""
    return 1 - row("hidden", "hanger_wet")["value"] / (1 + row("hidden", "hanger")["value"])


def meant(design: Design) -> Truth:
    """The truth of a bath that is just as its plan reckons."""
    count = len(design.main)
    return Truth(
        kappa=1.0,
        contact_piece_ohm=row("hidden", "contact_piece_ohm")["value"],
        contact_scrap_ohm={k: row("hidden", "contact_scrap_ohm")["value"] for k in design.shares},
        cake=1.0,
        supply=1.0,
        overpotential_v=0.0,
        area=1.0,
        scrap_side=row("hidden", "scrap_side")["value"],
        hanger=math.inf,
        needs=np.full(count, design.need_ah_m2),
        scatter=row("hidden", "need_scatter")["value"],
        js_a_m2=row("hidden", "js_a_m2")["value"],
    )


def drawn(
    design: Design, rng: np.random.Generator, wider: float = 1.0, patchy: float = 0.0
) -> Truth:
    """A truth at random; all spreads ``wider`` times their rows', the need of each part off by a
    log-spread ``patchy`` of its own."""

    def about(key: str) -> float:
        r = row("hidden", key)
        return float(r["value"] * math.exp(wider * r["sigma"] * rng.standard_normal()))

    need = design.need_ah_m2 * math.exp(design.need_sigma * rng.standard_normal())
    patches = np.exp(patchy * rng.standard_normal(len(design.main)))
    wet = rng.random() < row("hidden", "hanger_wet")["value"]
    return Truth(
        kappa=about("kappa"),
        contact_piece_ohm=about("contact_piece_ohm"),
        contact_scrap_ohm={k: about("contact_scrap_ohm") for k in design.shares},
        cake=about("cake"),
        supply=about("supply"),
        overpotential_v=wider * row("hidden", "overpotential_v")["sigma"] * rng.standard_normal(),
        area=about("area"),
        scrap_side=min(about("scrap_side"), 0.9),
        hanger=about("hanger") if wet else math.inf,
        needs=need * patches,
        scatter=about("need_scatter"),
        js_a_m2=about("js_a_m2"),
    )
