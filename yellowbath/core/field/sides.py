"""Main surface and slow places: how much each facet belongs to which, by geometry and sight.

Outer sides that see scrap are the main surface; sides turned away, undersides, recesses and bores
come later or not at all. A facet between two belongs to both in part, so that the hours have no
step where a piece is turned or a bore grows. Line of sight does not foretell the current: it names
the places, the solved density times them.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

MAIN = "main"
KINDS = (MAIN, "away", "under", "recess", "bore")
_SEEN = (0.05, 0.35)  # of an anode's length in sight: from none to all of the main surface; judged
_BORE = (0.18, 0.32)  # of its own sky open: from all bore to none; judged
_RECESS = (0.68, 0.82)  # from all recess to none; judged
_DOWN = (0.5, 0.85)  # of the way down that it looks: from side to underside; judged
GRAZING = 0.2  # cosine under which what is seen counts less and less; judged


def sides_of(open_sky: Array, seen: Array, normals: Array) -> Mapping[str, Array]:
    """Membership (n) of facets in each side, summing to one.

    ``open_sky``: share of the sky that the piece itself leaves open; ``seen``: share of the best
    seen anode in sight, what grazes counted less; ``normals`` (n, 3) as it hangs.
    """
    bore = 1 - _ramp(open_sky, *_BORE)
    outer = _ramp(open_sky, *_RECESS)
    recess = 1 - bore - outer
    main = _ramp(seen, *_SEEN)
    down = _ramp(-normals[:, 2], *_DOWN)
    return {
        MAIN: outer * main,
        "away": outer * (1 - main) * (1 - down),
        "under": outer * (1 - main) * down,
        "recess": np.maximum(recess, 0.0),
        "bore": bore,
    }


def _ramp(x: Array, low: float, high: float) -> Array:
    t = np.clip((x - low) / (high - low), 0.0, 1.0)
    made: Array = t * t * (3 - 2 * t)
    return made
