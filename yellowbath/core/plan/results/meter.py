"""A meter reading on a plan: one factor on the bath's resistance that stays as the plan changes."""

from __future__ import annotations

from collections.abc import Callable

from yellowbath.core.document import Meter, Plan
from yellowbath.core.errors import OutOfRangeError
from yellowbath.core.figures import Figure, figure, typed, uses
from yellowbath.core.plan.results.model import Answer
from yellowbath.core.power.supply import source_of, trips

_HELD = (
    0.97  # of a supply's ceiling from which a reading shows the ceiling and not the bath; judged
)
_FACTORS = (0.1, 10.0)  # outside it is not this bath, or not this range of the meter; judged


def anchored(plan: Plan, bath: Figure) -> Figure:
    """The bath's resistance by the plan's meter [ohm]; the same figure where nothing was read."""
    if plan.meter.read_a is None:
        return bath
    factor = plan.meter.factor
    return figure(
        "bath.resistance", "Resistance of the bath, by your meter", bath.value * factor,
        "resistance", "R*f",
        [uses("R", bath), typed("f", "Bath by your meter, over what was worked out", factor,
                                "number")],
        "ohm",
    )  # fmt: skip


def meter_of(plan: Plan, read_a: float, work: Callable[[Plan], Answer]) -> Meter:
    """What a reading [A] of the bath as planned puts on its worked-out resistance.

    ``work`` answers a plan. What a bath draws also warms it, so the factor is found in a few rounds
    in which the plan comes to give what was read. Raises OutOfRangeError where the reading says
    nothing about the bath, or cannot be this bath's.
    """
    meter = Meter()
    for _ in range(_ROUNDS):
        tried = plan.model_copy(update={"meter": meter})
        worked = work(tried)
        if meter.read_a is not None and abs(worked.gives.value / read_a - 1) < _NEAR:
            break
        meter = Meter(read_a=read_a, factor=_factor(tried, worked, read_a))
    return meter


_ROUNDS, _NEAR = 6, 0.002  # it ends once the plan gives what was read, to 0.2 %


def _factor(plan: Plan, worked: Answer, read_a: float) -> float:
    """The factor with which a bath, as warm as it was worked out, gives what was read [-]."""
    supply, source = plan.supply, source_of(plan.supply)
    others = supply.other_a * source.inner.value
    drive = source.volts.value - others - worked.threshold.value
    most = drive / (worked.leads.value + source.inner.value)
    if source.ceiling is not None and read_a >= _HELD * source.ceiling.value:
        raise OutOfRangeError(
            f"The supply holds {source.ceiling.value:.3g} A here: the reading shows its limit, not "
            "the bath.",
            allowed="A reading while it is not at its limit.",
            remedy="Turn the volts down until the amps fall, or raise the limit, and read again.",
        )
    if drive <= 0 or read_a <= 0 or read_a >= most or trips(supply, read_a):
        most = max(most, 0.0)
        raise OutOfRangeError(
            f"{read_a:.3g} A cannot come out of this supply by these leads.",
            allowed=f"More than 0 and less than {most:.3g} A, which is what it gives into a short.",
            remedy="Check which lead the meter is on, its range, and the label of the supply.",
        )
    bath = drive / read_a - worked.leads.value - source.inner.value
    factor = bath / (worked.resistance.value / plan.meter.factor)
    if not _FACTORS[0] <= factor <= _FACTORS[1]:
        raise OutOfRangeError(
            f"That would be {factor:.2g} times the resistance worked out for this bath.",
            allowed=f"{_FACTORS[0]:g} to {_FACTORS[1]:g} times.",
            remedy="Check the meter's range, the contacts, and sizes and soda in the plan.",
        )
    return factor
