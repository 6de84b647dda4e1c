"""A solved field as the page gets it: figures, regions, and facets to draw."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from yellowbath.api.views.plan import FigureOut, ReadOut, figure_out, read_out
from yellowbath.core import units
from yellowbath.core.document import Piece, Plan
from yellowbath.core.dose import log_error, region_figure, share_by_density, wanted_by_region
from yellowbath.core.field.model import FieldNumber
from yellowbath.core.hours.coming import chance_clean
from yellowbath.core.plan.results.answer import Answer
from yellowbath.workflows.plans.field import Live, PlanField

if TYPE_CHECKING:
    from yellowbath.core.field.mesh.surfaces import Surface


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


class PieceShareOut(BaseModel):
    """What one of several pieces takes of the current [A]."""

    name: str
    amps: float


class FieldOut(BaseModel):
    """The plan answered by its field, and the field; densities in A/dm2.

    ``seen``: the share of the anodes that each facet sees, if asked for."""

    read: ReadOut
    worst: FigureOut
    worst_percent: float
    regions: list[RegionFieldOut]
    shown: FacetsOut
    dose: list[DosePoint]
    coming: ComingOut | None
    seen: FacetsOut | None
    rods: dict[str, float]
    pieces: list[PieceShareOut]
    kinds: list[KindOut]
    blind_percent: float
    sees: dict[str, float]
    facets: int
    error_percent: float
    seconds: float


class FacetsOut(BaseModel):
    """What is drawn of a surface, little-endian in base64.

    ``corners`` float32 [mm], four a flat piece, from a spot ``x_m``, ``y_m`` off the tank's centre
    line, and ``owner`` uint16, the facet of each piece where a facet has several; None where the
    page has this ``mesh``.
    ``values`` float32, one a facet. ``regions`` are region ids and ``region`` uint8 says which of
    them each facet is of; they come with the corners.
    """

    mesh: str
    corners: str | None
    owner: str | None
    regions: list[str]
    region: str | None
    x_m: float
    y_m: float
    values: str


class DosePoint(BaseModel):
    """A density [A/dm2], and the share of its need that a spot there has had when the plan's median
    time is over [-]."""

    density: float
    share: float


class ComingOut(BaseModel):
    """How spots come clean: the chance [-], row by row, after each of the ``hours`` at each of the
    ``densities`` [A/dm2]; straight between them. ``needs``: by region, what it wants over what the
    piece does, where that differs; ``window_h``: when the main surface is clean."""

    hours: list[float]
    densities: list[float]
    chance: list[list[float]]
    needs: dict[str, float]
    window_h: list[float]


class LiveFieldOut(BaseModel):
    """One mesh's field, ``shown`` in A/dm2; straight between the points of ``dose``."""

    shown: FacetsOut
    dose: list[DosePoint]
    regions: dict[str, float]
    rods: dict[str, float]
    worst_percent: float
    facets: int
    error_percent: float
    fine: bool
    seconds: float


class LiveOut(BaseModel):
    """What a move changes: the plan as read and answered, and its field where there is one."""

    read: ReadOut
    field: LiveFieldOut | None


def live_out(found: Live, known: str, brief: bool = False) -> LiveOut:
    """A live answer for the page, without the corners of the mesh that it knows."""
    read = read_out(found.answered, brief)
    f, worked = found.field, found.answered.answer
    if f is None or worked is None:
        return LiveOut(read=read, field=None)
    mean = units.plain(worked.density.value, "density")
    return LiveOut(
        read=read,
        field=LiveFieldOut(
            shown=facets_out(f.surface, f.origin, f.ratio * mean, known, f.place),
            dose=_dose_curve(worked),
            regions=dict(f.regions),
            rods=dict(f.rod_share),
            worst_percent=units.plain(f.worst, "ratio"),
            facets=f.facets,
            error_percent=units.plain(f.resistance.share, "ratio"),
            fine=f.fine,
            seconds=found.seconds,
        ),
    )


def facets_out(
    surface: Surface,
    origin: NDArray[np.float64],
    values: NDArray[np.float64],
    known: str = "",
    place: tuple[float, float] | None = None,
) -> FacetsOut:
    """A surface to draw, without the corners of a mesh that the page has. They are counted from the
    ``place`` [m] to which a surface was shifted, if it was: the mesh is then the same elsewhere."""
    name = surface.digest if place is None else surface.still
    mesh = hashlib.sha256(name + origin.tobytes()).hexdigest()[:16]
    at = place or (0.0, 0.0)
    corners, owner, region = None, None, None
    names: dict[str, int] = {}
    if mesh != known:
        names = {name: k for k, name in enumerate(dict.fromkeys(surface.patch))}
        region = packed(np.array([names[name] for name in surface.patch]), "u1")
        corners = packed((surface.corners - origin - [*at, 0.0]) * units.mm(1.0), "<f4")
        if surface.first is not None:
            owner = packed(surface.owners, "<u2")
    return FacetsOut(
        mesh=mesh, corners=corners, owner=owner, values=packed(values, "<f4"),
        regions=list(names), region=region, x_m=at[0], y_m=at[1],
    )  # fmt: skip


def packed(values: NDArray[Any], kind: str) -> str:
    """An array as the page reads it: little-endian, in base64."""
    return base64.b64encode(np.ascontiguousarray(values, dtype=kind).tobytes()).decode()


def _dose_curve(worked: Answer) -> list[DosePoint]:
    """Dose over need by density; empty where no current flows."""
    if worked.window is None:
        return []
    hours, top = units.hours(worked.window.value), 4 * worked.band.p95_high
    return [
        DosePoint(density=units.plain(j, "density"), share=share)
        for j, share in share_by_density(hours, worked.need.value, top)
    ]


def _coming(plan: Plan, worked: Answer) -> ComingOut | None:
    window = worked.outlook.main.hours if worked.outlook else None
    if window is None:
        return None
    top, end = 4 * worked.band.p95_high, 1.25 * window[2]
    densities = [top * (k / 24) ** 2 for k in range(25)]
    hours = [end * (k / 30) ** 1.5 for k in range(1, 31)]
    made = chance_clean(worked.prior, log_error(worked.density), densities, hours)
    return ComingOut(
        hours=hours, densities=[units.plain(j, "density") for j in densities],
        chance=np.round(made, 4).tolist(), needs=wanted_by_region(plan.pieces),
        window_h=list(window),
    )  # fmt: skip


def region_names(pieces: Sequence[Piece]) -> dict[str, str]:
    """Region names by id, with the piece's own name before it where there are several."""
    several = len(pieces) > 1
    return {
        r.id: f"{p.name or f'Piece {k}'}: {r.name.lower()}" if several else r.name
        for k, p in enumerate(pieces, start=1)
        for r in p.regions
    }


def field_out(solved: PlanField, sight: bool = False) -> FieldOut:
    """A solved field for the page; ``sight`` adds what each facet sees of the scrap."""
    system = solved.plan.system
    figures = solved.answer
    mean = units.plain(figures.density.value, "density")
    found = solved.field
    names = region_names(solved.plan.pieces)
    return FieldOut(
        read=read_out(solved.answered),
        worst=figure_out(
            region_figure(
                figures.density,
                "worst",
                "Worst patch of 2 % of the surface",
                FieldNumber(found.worst, 0.0),
            ),
            system,
        ),
        worst_percent=units.plain(found.worst, "ratio"),
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
        shown=facets_out(found.surface, found.origin, found.ratio * mean),
        dose=_dose_curve(figures),
        coming=_coming(solved.plan, figures),
        seen=facets_out(found.sight.facets, found.origin, found.sight.share) if sight else None,
        rods={k: float(v) for k, v in found.rod_share.items()},
        pieces=[
            PieceShareOut(
                name=p.name or f"Piece {k}",
                amps=found.piece_share.get(p.id, 0.0) * figures.gives.value,
            )
            for k, p in enumerate(solved.plan.pieces, start=1)
            if len(solved.plan.pieces) > 1
        ],
        kinds=[
            KindOut.model_validate(
                {
                    "kind": k,
                    "area_percent": units.plain(a, "ratio"),
                    "p5": mean * low,
                    "p95": mean * high,
                }
            )
            for k, (a, low, high) in found.carried.tails().items()
        ],
        blind_percent=units.plain(found.sight.blind, "ratio"),
        sees=dict(found.sight.seen),
        facets=found.facets,
        error_percent=units.plain(found.resistance.share, "ratio"),
        seconds=solved.seconds,
    )
