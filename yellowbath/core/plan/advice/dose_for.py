"""The dose that brings the amps where they are wanted, for checks of over- and underload.

What films and what liquid have of the resistance is asked of the closed form, at two
conductivities; the answer's own resistance is split alike. A proposal to be solved, not a result.
"""

from __future__ import annotations

from dataclasses import replace

from yellowbath.core.document import Plan
from yellowbath.core.field.estimate import ClosedFormEstimate
from yellowbath.core.plan.advice.dosing import conductivities
from yellowbath.core.plan.results.answer import Answer, layout
from yellowbath.core.power.supply import source_of
from yellowbath.core.roots import invert

_WEAKEST, _STRONGEST = 0.5, 15.0  # g/L between which a dose is proposed; stronger only wastes soda


def dose_for(plan: Plan, answer: Answer, amps: float) -> float | None:
    """Dose [g/L] at which this supply would give these amps, to the tenth; None where no dose
    between 0.5 and 15 g/L does."""
    if amps <= 0 or answer.gives.value <= 0:
        return None
    source, kappa = source_of(plan.supply), answer.conductivity
    drive = source.volts.value - plan.supply.other_a * source.inner.value
    wanted = (drive - answer.threshold.value) / amps - answer.leads.value - source.inner.value
    seen = layout(plan, answer.fill, answer.wetted_area.value)
    one, two = (
        ClosedFormEstimate().solve(seen, replace(kappa, value=k * kappa.value)).resistance.value
        for k in (1.0, 2.0)
    )
    liquid = min(max(2 * (one - two) / one, 0.0), 1.0) * answer.resistance.value
    films = answer.resistance.value - liquid
    if wanted <= films:
        return None
    sigma = kappa.value * liquid / (wanted - films)
    low, high = _WEAKEST, _STRONGEST
    ends = conductivities(plan, answer, [low, high])
    if not ends[0] <= sigma <= ends[1]:
        return None
    found = invert(lambda c: conductivities(plan, answer, [c])[0], sigma, low, high)
    return round(found, 1)
