"""What a line should show of a sound bath, channel by channel, as bands to draw it against."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yellowbath.core.bath.circuit import flows
from yellowbath.core.bath.draws import sound, unknown
from yellowbath.core.bath.loop import Loop
from yellowbath.core.plan.results.answer import Answer

Band = tuple[float, float]


def expected(loop: Loop, worked: Answer, charge_ah: float) -> Mapping[str, Band]:
    """Amps [A] as the plan has them, volts at the supply [V] of nine sound draws in ten with such a
    charge since the scrap was bare, and the bath's warmth [C] from cold to the warmest it gets.

    What was read of the bath moves none of them: by these it is seen that it runs otherwise.
    """
    volts = np.quantile(flows(sound(loop, charge_ah, None).wires).supply_v, (0.05, 0.95))
    made = {"amps": (loop.low_a, loop.high_a), "volts": (float(volts[0]), float(volts[1]))}
    hottest = worked.of("bath.hottest")
    if hottest is not None:
        made["bath_c"] = (loop.temperature_c - unknown("warmth_k"), hottest.span[1])
    return made
