"""What is known of a bath, one thing at a time: whatever was read, seen, answered or tried."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Observation:
    """An outcome of an ask; or a figure of a meter [A, V], by its name in ``circuit.shown``, with
    its error as a share.

    ``before``: it was so when the bath was last looked at, before what is the matter now came, if
    it came. After a charge since the scrap was bare [Ah], at a warmth [C] if known.
    """

    ask: str
    outcome: str = ""
    value: float = math.nan
    error: float = 0.03
    before: bool = False
    charge_ah: float = 0.0
    bath_c: float | None = None

    @property
    def read(self) -> bool:
        """Whether it is a meter's figure."""
        return not math.isnan(self.value)


def read_at(
    charge_ah: float, bath_c: float | None = None, error: float = 0.03, **figures: float | None
) -> list[Observation]:
    """One reading's figures, those that were read, by their names."""
    return [
        Observation(what, value=value, error=error, charge_ah=charge_ah, bath_c=bath_c)
        for what, value in figures.items()
        if value is not None
    ]
