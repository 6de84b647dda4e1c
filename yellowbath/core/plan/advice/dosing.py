"""How much soda: amps and evenness against dose for this tank and supply, and the dose to take."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import TYPE_CHECKING

from yellowbath.core.chemistry import mixing
from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.chemistry.liquid import dissolves
from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.power.supply import given_figure, load_figure, wanted_figure

if TYPE_CHECKING:  # brings the numerical stack, which the page does not wait for
    from yellowbath.core.field.doses import AtDose

DOSES = (1.0, 2.0, 3.0, 5.0, 7.0, 10.0, 15.0, 20.0, 30.0, 40.0)  # g/L that a curve is drawn through
_STEP = 1.15  # between doses that are looked at for the recommendation


@dataclass(frozen=True)
class CurvePoint:
    """A dose [g/L] and what it comes to: S/m, A, shares, density [A/m2] and product [kg]."""

    dose: float
    conductivity: float
    draws: float
    gives: float
    load: float
    p5_share: float
    p95: float
    product_kg: float


@dataclass(frozen=True)
class Curve:
    """Points from weak to strong, the dose to take [g/L], and why no more and no less."""

    points: tuple[CurvePoint, ...]
    dose: float
    why: str
    now: CurvePoint


def conductivities(plan: Plan, answer: Answer, doses: Sequence[float]) -> list[float]:
    """Conductivity [S/m] of the plan's mix at other doses, as warm and gassy as it is planned."""
    kappa = answer.conductivity
    gas = kappa.value / _clear(plan, answer, answer.concentration.value)
    return [_clear(plan, answer, d) * gas for d in doses]


def _clear(plan: Plan, answer: Answer, dose: float) -> float:
    concentration = replace(answer.concentration, value=dose)
    liquid = mixing.liquid_of(plan.mix, concentration, answer.fill.water)
    return liquid.conductivity(answer.temperature.value)


def curve(
    plan: Plan, answer: Answer, solve: Callable[[Sequence[float]], Sequence[AtDose]]
) -> Curve:
    """Solve the doses and choose one. ``solve`` takes conductivities [S/m]."""
    top = min(DOSES[-1], 0.8 * dissolves(product(plan.mix.product).salt, plan.mix.temperature_c))
    now = answer.concentration.value
    doses = sorted({d for d in DOSES if d <= top} | {now})
    sigmas = conductivities(plan, answer, doses)
    solved = solve(sigmas)
    made = [_point(plan, answer, d, s, at) for d, s, at in zip(doses, sigmas, solved, strict=True)]
    dose, why = recommend(plan, answer, made)
    return Curve(tuple(made), _neat(dose), why, made[doses.index(now)])


def _point(plan: Plan, answer: Answer, dose: float, sigma: float, at: AtDose) -> CurvePoint:
    bath, threshold = replace(answer.resistance, value=at.resistance), answer.threshold
    gives = given_figure(plan.supply, threshold, bath, answer.leads)
    mean = gives.value / answer.wetted_area.value
    share = answer.product_mass.value / answer.concentration.value if dose else 0.0
    return CurvePoint(
        dose=dose,
        conductivity=sigma,
        draws=wanted_figure(plan.supply, threshold, bath, answer.leads).value,
        gives=gives.value,
        load=load_figure(plan.supply, gives).value,
        p5_share=at.quantiles[4],
        p95=mean * at.quantiles[94],
        product_kg=share * dose,
    )


def recommend(plan: Plan, answer: Answer, points: Sequence[CurvePoint]) -> tuple[float, str]:
    """The strongest of doses that still brings something, within supply and band; and why.

    More is worth it while doubling it brings at least ``enough_gain`` of the amps (judged).
    """
    enough = param("enough_gain").value
    band = answer.band.p95_high
    best, why = points[0].dose, "the weakest of those looked at"
    dose = points[0].dose
    while dose <= points[-1].dose * 1.0001:
        at = _between(points, dose)
        if at.p95 > band and dose > points[0].dose:
            return best, "more would be fiercer than the band of this piece allows"
        if at.load > 1.0 and dose > points[0].dose:
            return best, "more would ask more of the supply than its rating"
        best = dose
        twice = _between(points, min(2 * dose, points[-1].dose))
        gain = twice.gives / at.gives - 1 if at.gives > 0 else 0.0
        if at.gives > 0 and gain < enough:
            share = round(100 * max(gain, 0.0))
            return best, f"doubling it would bring only {share} % more amps"
        why = "the strongest that is of use"
        dose *= _STEP
    return best, why


def _neat(dose: float) -> float:
    """Down to the half gram a litre, below three to the tenth: nobody weighs finer."""
    step = 0.5 if dose >= 3 else 0.1
    return round(math.floor(dose / step + 1e-9) * step, 2)


def _between(points: Sequence[CurvePoint], dose: float) -> CurvePoint:
    """Straight between two points."""
    for a, b in pairwise(points):
        if dose <= b.dose:
            t = max((dose - a.dose) / (b.dose - a.dose), 0.0)
            return CurvePoint(dose, *(
                x + t * (y - x) for x, y in (
                    (a.conductivity, b.conductivity), (a.draws, b.draws), (a.gives, b.gives),
                    (a.load, b.load), (a.p5_share, b.p5_share), (a.p95, b.p95),
                    (a.product_kg, b.product_kg),
                )
            ))  # fmt: skip
    return points[-1]
