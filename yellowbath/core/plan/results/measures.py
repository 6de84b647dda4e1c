"""The same amount said in every other way, in the person's own measure, and what one more buys."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction

from yellowbath.core.chemistry.electrolyte import SPOONS, product, salt
from yellowbath.core.chemistry.phrases import PhraseSaid, read_said
from yellowbath.core.document import AMOUNT, Plan
from yellowbath.core.errors import InputError
from yellowbath.core.plan.reading.entries import locate
from yellowbath.core.plan.results.model import Answer
from yellowbath.core.units import IMPERIAL_GALLON, POUND, US_GALLON, show
from yellowbath.core.words import small

_LEVEL = ("tablespoon", "cup", "teaspoon")
_MOST, _LEAST = 40.0, 0.2  # of a measure between which an amount is said in it; judged
_ROUND = 0.1  # off at most by rounding to what a hand can measure; judged


@dataclass(frozen=True)
class OwnMeasure:
    """What a person measures with: its name, what it holds of what is in the box [kg], and whether
    that is a weight itself."""

    name: str
    holds_kg: float
    is_weight: bool = False


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


def _close(count: float) -> bool:
    """Whether a hand comes near enough to a count of a measure."""
    return count > 0 and abs(_near(count) / count - 1) <= _ROUND


def _tellable(count: float) -> bool:
    """The same, and in few enough of it."""
    return _LEAST <= count <= _MOST and _close(count)


def said_in(plan: Plan, own: OwnMeasure, mass_kg: float) -> str:
    """A mass of what is in the box in a measure; by weight where no hand comes near to it so."""
    count = mass_kg / own.holds_kg
    return spoken(count, own.name) if _close(count) else str(show(mass_kg, "mass", plan.system, 2))


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


def _said(plan: Plan) -> PhraseSaid | None:
    """The phrase that the amount was typed as; None where it is a plain concentration."""
    try:
        return read_said(plan.typed.get(AMOUNT, ""), plan.system)
    except InputError:
        return None


def as_dry(plan: Plan, answer: Answer) -> tuple[float, float] | None:
    """Dry salt and what is in the box for it [kg], where the amount is a weight per litre or per
    cent, which count dry, and what is in the box holds water besides; else None."""
    said, box = _said(plan), product(plan.mix.product)
    if (said is not None and not said.dry) or box.share > _AS_GOOD_AS_DRY:
        return None
    return answer.product_mass.value * box.share, answer.product_mass.value


_AS_GOOD_AS_DRY = 0.97  # of what is in the box; judged


def own_measure(plan: Plan, mass_kg: float) -> OwnMeasure:
    """The person's own measure; where the amount was typed as a concentration, the level spoon or
    cup in which such a mass [kg] of what is in the box is best told, or the shop's small weight."""
    said, box = _said(plan), product(plan.mix.product)
    unweighed = said is not None and said.measure == "scoop" and plan.mix.scoop_kg is None
    metric = plan.system == "metric"
    weight = OwnMeasure("gram", 1e-3, True) if metric else OwnMeasure("ounce", POUND / 16, True)
    if said is not None and said.measure == "mass" and not said.dry:
        return weight
    if said is None or said.dry or unweighed:
        level = [OwnMeasure(f"level {n}", box.bulk * SPOONS[plan.mix.spoon][n]) for n in _LEVEL]
        return next((m for m in level if _tellable(mass_kg / m.holds_kg)), weight)
    holds = replace(said, count=1.0).product_kg(box, plan.mix.spoon, plan.mix.scoop_kg)
    own = plan.mix.scoop_name or "scoop"
    return OwnMeasure(f"{said.heap} {own if said.measure == 'scoop' else said.measure}", holds)


def needed_kg(plan: Plan, answer: Answer, dose: float) -> float:
    """What goes in out of the box for a concentration [g/L as dry salt], less what is in [kg]."""
    kept = (plan.mix.kept_kg or 0.0) if plan.mix.source == "reuse" else 0.0
    dry = max(dose * answer.fill.water.value - kept, 0.0)
    return dry / product(plan.mix.product).share


def dose_of(plan: Plan, answer: Answer, mass_kg: float) -> float:
    """The concentration [g/L as dry salt] that a mass out of the box makes, with what is in."""
    kept = (plan.mix.kept_kg or 0.0) if plan.mix.source == "reuse" else 0.0
    return (mass_kg * product(plan.mix.product).share + kept) / answer.fill.water.value


def one_more(
    plan: Plan, answer: Answer, own: OwnMeasure, work: Callable[[Plan], Answer]
) -> OneMore | None:
    """One more of the measure: a tenth more where the measure is small beside what is in; None
    where that is more than any bath has.

    ``work`` answers a plan; the same way for before and after, so that what it is off falls out.
    """
    mass = answer.product_mass.value
    step = max(1, round(mass / own.holds_kg / 10))
    dose = dose_of(plan, answer, mass + step * own.holds_kg)
    field = locate(plan, AMOUNT)
    if field is None or dose > field.range()[1]:
        return None
    more = plan.mix.model_copy(update={"concentration_kg_m3": dose})
    before, after = (work(plan.model_copy(update={"mix": m})) for m in (plan.mix, more))
    amps = (answer.gives.value, answer.gives.value * after.gives.value / before.gives.value)
    if not (answer.window and before.window and after.window):
        return OneMore(step, amps, None)
    hours = answer.window.value / 3600
    return OneMore(step, amps, (hours, hours * after.window.value / before.window.value))


def in_hands(plan: Plan, answer: Answer, dose: float) -> str:
    """What goes in for a concentration [g/L] of this plan, in the person's own measure."""
    mass = needed_kg(plan, answer, dose)
    return said_in(plan, own_measure(plan, mass), mass)


def by_measure(plan: Plan, answer: Answer) -> str | None:
    """What goes in, in the person's own measure; None where that is a weight, which is told
    besides."""
    mass = needed_kg(plan, answer, answer.concentration.value)
    own = own_measure(plan, mass)
    weight = own.is_weight or not _close(mass / own.holds_kg)
    return None if weight else said_in(plan, own, mass)


def whole(count: float, up: bool) -> float:
    """The nearest count above or below that a hand can measure.

    >>> whole(15.4, up=False), whole(0.38, up=True)
    (15.0, 0.5)
    """
    step = 4 if count < 4 else 1
    return (math.ceil(count * step) if up else math.floor(count * step)) / step
