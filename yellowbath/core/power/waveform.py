"""The pulses of a plain charger into the bath's own back voltage.

Rectified but not smoothed, its volts are half sines. Current flows only while they stand above the
bath's threshold U0 and follows what is over: i(x) = (Up sin x - U0)/R from a = asin(U0/Up) to
pi - a, nothing between. R is whatever makes the mean of that the amps of the droop line, which is
what a meter shows and what the charge follows; heat follows the RMS. Elementary integrals.
"""

from __future__ import annotations

import math

from yellowbath.core.data import Param, param
from yellowbath.core.document import SupplyBase
from yellowbath.core.figures import Figure, Input, figure, typed

_LATEST = 0.95  # of the peak: a threshold above that is as good as no current


def start_angle(back_v: float, peak_v: float) -> float:
    """Angle at which a half sine of a peak [V] passes a back voltage [V], [rad], 0 to 1.25."""
    return math.asin(min(max(back_v / peak_v, 0.0), _LATEST))


def form_factor(start: float, one_way: bool = False) -> float:
    """RMS over mean of the current [-] that starts at an angle [rad], 0 to 1.25, and ends as far
    before pi; ``one_way`` where every other half is missing, which makes it the root of two larger.

    >>> round(form_factor(0.0), 4)  # no back voltage: pi / (2 sqrt 2)
    1.1107
    """
    g, s, c = math.pi / 2 - start, math.sin(start), math.cos(start)
    square, mean = g / 2 - 1.5 * s * c + g * s * s, c - g * s
    return math.sqrt((2 if one_way else 1) * math.pi / 2 * square) / mean


def form_figure(supply: SupplyBase, threshold: Figure | Param) -> Figure:
    """RMS over mean of the current [-]: one of a smooth supply, else by the waveform."""
    name = "RMS of the amps over their mean"
    if not supply.rectified:
        smooth = typed("f", "Smooth current", 1.0, "number")
        return figure("power.form", name, 1.0, "number", "f", [smooth], "waveform")
    peak, one_way = param("charger_peak"), supply.rectifier == "one_way"
    back, label = threshold.value, supply.nominal_v

    def at(share: float) -> float:
        return form_factor(start_angle(back, share * label), one_way)

    start = start_angle(back, peak.value * label)
    made = figure(
        "power.form", name, at(peak.value), "number",
        "sqrt(w*pi/2*((pi/2 - a)/2 - 1.5*sin(a)*sin(pi/2 - a) + (pi/2 - a)*sin(a)**2))"
        "/(sin(pi/2 - a) - (pi/2 - a)*sin(a))",
        [
            Input("a", f"Angle at which a wave with a peak of {peak.value * label:.1f} V passes "
                  f"the bath's own {back:.1f} V, rad", start, "number", peak.cite()),
            typed("w", "Two where every other half-wave is missing", 2 if one_way else 1, "count"),
        ],
        "waveform",
    )  # fmt: skip
    return made.with_window(at(peak.high), at(peak.low))
