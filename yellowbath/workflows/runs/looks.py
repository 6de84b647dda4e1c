"""How clean each spot of a run's pieces is likely to be."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from yellowbath.core import dose
from yellowbath.core.document import Plan
from yellowbath.core.field.model import Coverage
from yellowbath.core.field.solved import FieldSummary
from yellowbath.core.run.looked import stalled
from yellowbath.core.run.progress import SurfacePlace, chance_clean, places
from yellowbath.workflows.runs.runs import view_run
from yellowbath.workflows.shop.shop import Shop


@dataclass(frozen=True)
class Looks:
    """A run's pieces as facets in place, and the chance (h, k) that each is clean after so many
    more hours; ``end_h``: when the main surface most likely is; ``places``: region by region;
    ``stalled``: more of the same gains nothing, so that no hours are told."""

    surface: Any
    origin: Any
    hours: Sequence[float]
    chance: Any
    end_h: float | None
    places: Sequence[SurfacePlace]
    plan: Plan
    stalled: bool


def looks(shop: Shop, run_id: str) -> Looks | None:
    """How clean each spot of a run's pieces is likely to be, now and later; None where its field
    was not kept facet by facet, or nothing has flowed yet."""
    view = view_run(shop, run_id)
    if view.model is None or not view.run.stretches:
        return None
    summary = view.model.summary
    left = view.progress.left_s
    end = 1.25 * max(left[2] / 3600, 1.0) if left and math.isfinite(left[2]) else 8.0
    hours = [end * k / 12 for k in range(13)]
    need = dose.need_of(dose.neediest(view.plan.pieces))
    made = chance_clean(view.run, need, view.now, hours)
    kept = Coverage.reached(summary.poses, summary.dipped) if summary.poses else []
    if made is None or made.shape[1] != len(kept):
        return None
    fill = view.answer.fill
    from yellowbath.core.field.plan_bath import hung_facets  # the numerical stack: after the page

    surface, origin = hung_facets(view.plan, fill.bottoms, fill.level.value)
    chance = np.zeros((len(hours), len(surface)))
    chance[:, kept] = made
    by_region = places(view.run, need, view.now, _shares(summary, kept))
    end_h = left[1] / 3600 if left else None
    return Looks(surface, origin, hours, chance, end_h, by_region, view.plan, stalled(view.run))


def _shares(summary: FieldSummary, kept: Sequence[int]) -> dict[str, tuple[list[float], float]]:
    """Of each region its areas on the parts of the run (k), and what none of them is [m2]."""
    regions, areas = np.array(summary.places), np.array(summary.areas)
    made = {}
    for name in dict.fromkeys(summary.places):
        inside = np.where(regions == name, areas, 0.0)
        made[name] = (inside[kept].tolist(), float(inside.sum() - inside[kept].sum()))
    return made
