"""A solved field as the page gets it: figures, regions, and facets to draw."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel

from yellowbath.api.shown import FigureOut, figure_out
from yellowbath.core.document import Piece
from yellowbath.core.dose import region_figure
from yellowbath.core.field.model import Number
from yellowbath.workflows.field import PlanField


class RegionFieldOut(BaseModel):
    """A region's mean density, and its ratio to the mean with the error claimed [-]."""

    id: str
    name: str
    density: FigureOut
    ratio: float
    error: float


class KindOut(BaseModel):
    """Outer surface, recesses or bores: share of the wet surface, and its tails in A/dm2."""

    kind: Literal["outer", "recess", "bore"]
    area_percent: float
    p5: float
    p95: float


class FieldOut(BaseModel):
    """Densities in A/dm2; facet corners in mm from the tank's centre line, four points each."""

    resistance: FigureOut
    gives: FigureOut
    density: FigureOut
    p5: float
    p95: float
    worst: FigureOut
    worst_percent: float
    regions: list[RegionFieldOut]
    corners: list[float]
    values: list[float]
    rods: dict[str, float]
    kinds: list[KindOut]
    blind_percent: float
    sees: dict[str, float]
    facets: int
    error_percent: float
    seconds: float


def _region_names(pieces: Sequence[Piece]) -> dict[str, str]:
    """Region names by id, with the piece's own name before it where there are several."""
    several = len(pieces) > 1
    return {
        r.id: f"{p.name or f'Piece {k}'}: {r.name.lower()}" if several else r.name
        for k, p in enumerate(pieces, start=1)
        for r in p.regions
    }


def field_out(solved: PlanField) -> FieldOut:
    """A solved field for the page."""
    system = solved.plan.system
    figures = solved.answer
    mean = figures.density.value / 100
    found = solved.field
    corners = (found.surface.corners - found.origin) * 1000
    names = _region_names(solved.plan.pieces)
    return FieldOut(
        resistance=figure_out(figures.resistance, system),
        gives=figure_out(figures.gives, system),
        density=figure_out(figures.density, system),
        p5=mean * found.p5.value,
        p95=mean * found.p95.value,
        worst=figure_out(
            region_figure(
                figures.density,
                "worst",
                "Worst patch of 2 % of the surface",
                Number(found.worst, 0.0),
            ),
            system,
        ),
        worst_percent=100 * found.worst,
        regions=[
            RegionFieldOut(
                id=key,
                name=names[key],
                density=figure_out(region_figure(figures.density, key, names[key], n), system),
                ratio=n.value,
                error=n.error,
            )
            for key, n in found.regions.items()
        ],
        corners=[round(float(c), 2) for c in corners.ravel()],
        values=[round(float(v) * mean, 5) for v in found.ratio],
        rods={k: float(v) for k, v in found.rod_share.items()},
        kinds=[
            KindOut.model_validate(
                {"kind": k, "area_percent": 100 * a, "p5": mean * low, "p95": mean * high}
            )
            for k, (a, low, high) in found.carried.tails().items()
        ],
        blind_percent=100 * found.sight.blind,
        sees=dict(found.sight.seen),
        facets=found.facets,
        error_percent=100 * found.resistance.error / found.resistance.value,
        seconds=solved.seconds,
    )
