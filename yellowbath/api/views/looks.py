"""How clean a run's pieces are likely to be, spot by spot, now and as the hours go on."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.api.views.field import FacetsOut, facets_out, packed, region_names
from yellowbath.core.hours.said import left_said
from yellowbath.core.run.progress import SurfacePlace
from yellowbath.core.words import word
from yellowbath.workflows.runs.looks import Looks


class RegionLeftOut(BaseModel):
    """A region of a piece: how much of it should be clean by now [%], and the hours under power
    that it still wants, in words."""

    id: str
    name: str
    percent: int
    hours: str


class LooksOut(BaseModel):
    """Facets with the chance of being clean by now [%], and the same after each of the ``hours``
    more under power, as ``frames`` of float32 in base64; ``end_h``: when it most likely is;
    ``places``: the same region by region."""

    shown: FacetsOut
    hours: list[float]
    frames: list[str]
    end_h: float | None
    places: list[RegionLeftOut]


def _left(place: SurfacePlace, found: Looks) -> str:
    if place.left_s is None:
        return word("looks.stalled" if found.stalled else "looks.not_here")
    return left_said(place.left_s, found.plan.system)


def looks_out(found: Looks) -> LooksOut:
    """The looks of a run for its page."""
    percent, names = 100 * found.chance, region_names(found.plan.pieces)
    return LooksOut(
        shown=facets_out(found.surface, found.origin, percent[0]), hours=list(found.hours),
        frames=[packed(row, "<f4") for row in percent], end_h=found.end_h,
        places=[
            RegionLeftOut(id=p.id, name=names.get(p.id, p.id), percent=round(100 * p.clean),
                     hours=_left(p, found))
            for p in found.places
        ],
    )  # fmt: skip
