"""The map's colours: even to the eye, and told apart by colour-blind ones."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

_STOPS = (
    "00224e", "1d3a6d", "434e6c", "636573", "7f7c78", "9d9576", "bdaf6e", "dfca5a", "fee838",
)  # fmt: skip


def colours(shares: NDArray[np.float64]) -> NDArray[np.uint8]:
    """Red, green, blue (n, 3) for shares of the scale (n), held within nought and one."""
    table = np.array([[int(s[i : i + 2], 16) for i in (0, 2, 4)] for s in _STOPS], dtype=float)
    at = np.clip(shares, 0, 1) * (len(table) - 1)
    made = np.stack([np.interp(at, np.arange(len(table)), c) for c in table.T], axis=1)
    return np.round(made).astype(np.uint8)
