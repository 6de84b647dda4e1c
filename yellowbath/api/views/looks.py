"""How clean a run's pieces are likely to be, spot by spot, now and as the hours go on."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.api.views.field import FacetsOut, facets_out, packed
from yellowbath.workflows.looks import Looks


class LooksOut(BaseModel):
    """Facets with the chance of being clean by now [%], and the same after each of the ``hours``
    more under power, as ``frames`` of float32 in base64; ``end_h``: when it most likely is."""

    shown: FacetsOut
    hours: list[float]
    frames: list[str]
    end_h: float | None


def looks_out(found: Looks) -> LooksOut:
    """The looks of a run for its page."""
    percent = 100 * found.chance
    return LooksOut(
        shown=facets_out(found.surface, found.origin, percent[0]), hours=list(found.hours),
        frames=[packed(row, "<f4") for row in percent], end_h=found.end_h,
    )  # fmt: skip
