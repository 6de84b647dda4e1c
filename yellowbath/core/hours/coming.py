"""How a spot comes clean: the chance that it has had its need, by density and hours under power."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from yellowbath.core.dose import Need
from yellowbath.core.hours.cloud import SLOW_TWENTIETH, Cloud
from yellowbath.core.normal import ndtr

Array = NDArray[np.float64]
_COUNT = 256  # draws, of what is only coloured; judged


def chance_clean(
    need: Need, amps_sigma: float, densities: Sequence[float], hours: Sequence[float]
) -> Array:
    """Chance (h, k) that a spot at a density [A/m2] (k) is clean after so many hours (h) [-].

    ``amps_sigma``: log-spread of the amps; need, scatter and all else as believed before a look. A
    spot whose region is graded by itself stands where one of this need did after hours over its
    own need's factor.
    """
    cloud = Cloud.of(need, _COUNT)
    rates = cloud.rates(1.0, np.asarray(densities, dtype=float), amps_sigma)
    with np.errstate(divide="ignore"):
        score = np.log(rates) - np.log(cloud.need)[:, None]
        after = np.log(np.asarray(hours, dtype=float))
    out = [
        cloud.weights @ ndtr((score + t) / cloud.scatter[:, None] + SLOW_TWENTIETH) for t in after
    ]
    return np.array(out)
