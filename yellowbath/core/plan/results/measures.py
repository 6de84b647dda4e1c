"""The same amount said in every other way, in the person's own measure, and what one more buys."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction

from yellowbath.core.chemistry.electrolyte import SPOONS, product, salt
from yellowbath.core.chemistry.phrases import Said, read_said
from yellowbath.core.document import AMOUNT, Plan
from yellowbath.core.errors import InputError
from yellowbath.core.plan.results.model import Answer
from yellowbath.core.units import IMPERIAL_GALLON, US_GALLON, show
from yellowbath.core.words import small

_LEVEL = ("teaspoon", "tablespoon", "cup")
_MOST, _LEAST = 40.0, 0.2  # of a measure between which an amount is said in it; judged
_ROUND = 0.1  # off at most by rounding to what a hand can measure; judged


@dataclass(frozen=True)
class Measured:
    """A measure of the person's own: how many of it the plan has, and the usual range there."""

    name: str
    count: float
    usual: tuple[float, float]


@dataclass(frozen=True)
class OneMore:
    """What so many more of the measure make of the amps [A] and of the middle hours."""

    count: int
    amps: tuple[float, float]
    hours: tuple[float, float] | None


def spoken(count: float, name: str) -> str:
    """A count of a measure as a hand can measure it: to quarters, to halves from four, to ones
    from ten.

    >>> spoken(0.51, "cup"), spoken(8.7, "tablespoon"), spoken(1.0, "scoop")
    ('1/2 cup', '8 1/2 tablespoons', '1 scoop')
    """
    near = _near(count)
    whole, rest = divmod(near, 1)
    parts = [str(whole)] if whole else []
    if rest:
        parts.append(f"{rest.numerator}/{rest.denominator}")
    return f"{' '.join(parts)} {name}{'s' if near > 1 else ''}"


def _near(count: float) -> Fraction:
    step = 4 if count < 4 else 2 if count < 10 else 1
    return Fraction(round(count * step), step) or Fraction(1, step)


def _tellable(count: float) -> bool:
    """Whether a hand comes near enough to a count of a measure, and in few enough of it."""
    return _LEAST <= count <= _MOST and abs(_near(count) / count - 1) <= _ROUND


def ways(plan: Plan, answer: Answer) -> tuple[str, ...]:
    """What is put in, said in every way that a hand can measure here: weight in all, spoons, cups,
    own scoop, by the litre and the gallon, per cent."""
    box, mass, water = product(plan.mix.product), answer.product_mass.value, answer.fill.water.value
    if mass <= 0:
        return ()
    out = [f"{show(mass, 'mass', plan.system)} in all"]
    for name in _LEVEL:
        count = mass / (box.bulk * SPOONS[plan.mix.spoon][name])
        if _tellable(count):
            out.append(spoken(count, f"level {name}"))
    if plan.mix.scoop_kg is not None:
        out.append(spoken(mass / plan.mix.scoop_kg, plan.mix.scoop_name or "level scoop"))
    gallon = IMPERIAL_GALLON if plan.system == "imperial" else US_GALLON
    if plan.system != "metric":
        spoon = box.bulk * SPOONS[plan.mix.spoon]["tablespoon"]
        each = mass / water * gallon / spoon
        if _tellable(each):
            out.append(f"{spoken(each, 'level tablespoon')} a gallon")
    what = small(str(salt(box.salt)["short"]))
    out.append(f"{show(answer.concentration.value, 'concentration', plan.system)} of dry {what}")
    out.append(f"{answer.concentration.value / 10:.2g} %")
    return tuple(out)


def _said(plan: Plan) -> Said | None:
    """The phrase that the amount was typed as; None where it is a plain concentration."""
    try:
        return read_said(plan.typed.get(AMOUNT, ""), plan.system)
    except InputError:
        return None


def own_measure(plan: Plan, answer: Answer, usual: tuple[float, float]) -> Measured:
    """The person's own measure, level tablespoons where the amount was typed as a concentration.

    ``usual``: the usual range as dry salt [g/L].
    """
    said, box, mass = _said(plan), product(plan.mix.product), answer.product_mass.value
    unweighed = said is not None and said.measure == "scoop" and plan.mix.scoop_kg is None
    if said is None or unweighed or said.measure in ("mass", "share"):
        if said is not None and not unweighed and not said.dry:
            unit, name = (1e-3, "gram") if plan.system == "metric" else (0.0283495, "ounce")
        else:
            unit, name = box.bulk * SPOONS[plan.mix.spoon]["tablespoon"], "level tablespoon"
    else:
        unit = replace(said, count=1.0).product_kg(box, plan.mix.spoon, plan.mix.scoop_kg)
        own = plan.mix.scoop_name or "scoop"
        name = f"{said.heap} {own if said.measure == 'scoop' else said.measure}"
    count = mass / unit
    c = answer.concentration.value
    low, high = (count * edge / c for edge in usual)
    return Measured(name, count, (low, high))


def one_more(plan: Plan, answer: Answer, own: Measured, work: Callable[[Plan], Answer]) -> OneMore:
    """One more of the measure: a tenth more where the measure is small beside what is in.

    ``work`` answers a plan; the same way for before and after, so that what it is off falls out.
    """
    step = max(1, round(own.count / 10))
    c = answer.concentration.value
    more = plan.mix.model_copy(update={"concentration_kg_m3": c * (own.count + step) / own.count})
    before, after = (work(plan.model_copy(update={"mix": m})) for m in (plan.mix, more))
    amps = (answer.gives.value, answer.gives.value * after.gives.value / before.gives.value)
    if not (answer.window and before.window and after.window):
        return OneMore(step, amps, None)
    hours = answer.window.value / 3600
    return OneMore(step, amps, (hours, hours * after.window.value / before.window.value))


def in_hands(plan: Plan, answer: Answer, dose: float) -> str:
    """A concentration [g/L] of this plan in the person's own measure, all of it."""
    own = own_measure(plan, answer, (dose, dose))
    return spoken(own.usual[0], own.name)


def whole(count: float, up: bool) -> float:
    """The nearest count above or below that a hand can measure.

    >>> whole(15.4, up=False), whole(0.38, up=True)
    (15.0, 0.5)
    """
    step = 4 if count < 4 else 1
    return (math.ceil(count * step) if up else math.floor(count * step)) / step
