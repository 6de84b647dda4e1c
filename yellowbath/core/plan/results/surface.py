"""The pieces' surface and mass: all of it, and what the liquid touches. Areas [m2], masses [kg]."""

from __future__ import annotations

from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.geometry import piece as pieces
from yellowbath.core.plan.reading.filling import Fill, wetted_share


def area_figure(plan: Plan) -> Figure:
    """Total surface [m2] of the piece, or of all pieces."""
    areas = [pieces.area_figure(p) for p in plan.pieces]
    if len(areas) == 1:
        return areas[0]
    symbols = [
        typed(f"A{k}", f"Surface of piece {k}", a.value, "area")
        for k, a in enumerate(areas, start=1)
    ]
    return figure(
        "piece.area", "Surface of the pieces", sum(a.value for a in areas), "area",
        " + ".join(i.symbol for i in symbols), symbols, "geometry",
    )  # fmt: skip


def wetted_figure(plan: Plan, area: Figure, filled: Fill) -> Figure:
    """Surface in the liquid [m2]; what stands out counts by height, what is taped over not."""
    level = filled.level.value
    wet = sum(
        pieces.area_figure(p).value * wetted_share(plan, p, level) * _bare(plan, p)
        for p in plan.pieces
    )
    share = wet / area.value
    taped = any(plan.covered(p) for p in plan.pieces)
    said = "Share of it in the liquid and bare" if taped else "Share of its height in the liquid"
    return figure(
        "piece.wetted_area", "Surface in the liquid", area.value * share, "area", "A*w",
        [uses("A", area), typed("w", said, share, "ratio")],
        "geometry",
    )  # fmt: skip


def _bare(plan: Plan, piece: Piece) -> float:
    """Share of its surface that is not taped over [-]; the mesher is loaded only where it asks."""
    if not plan.covered(piece):
        return 1.0
    from yellowbath.core.field.plan_bath import bare_share

    return bare_share(plan, piece)


def mass_figure(plan: Plan) -> Figure:
    """Mass [kg] as weighed, else as if solid iron of the sizes given."""
    rho = param("steel_kg_m3")
    volume = sum(pieces.volume(p) for p in plan.pieces)
    return figure(
        "piece.mass", "Mass of the piece", volume * rho.value, "mass",
        "V*rho", [typed("V", "Metal volume", volume, "volume"), uses("rho", rho)], "geometry",
    )  # fmt: skip
