"""How much goes in, said in every way that a hand can measure; what one more of it buys."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core.checks.limits import limit
from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, Answer, answer
from yellowbath.core.plan.results.measures import (
    as_dry,
    needed_kg,
    one_more,
    own_measure,
    said_in,
    spoken,
    ways,
)
from yellowbath.core.units import show
from yellowbath.core.words import small, word


class AmountOut(BaseModel):
    """The amount in every other way, the usual range in the person's own measure, and what one more
    of it makes of amps and hours; that is told with a solved answer only. ``dry``: what a weight
    per litre stands for where what is in the box is not dry."""

    dry: str
    ways: list[str]
    usual: str
    more: str


def amount_out(plan: Plan, worked: Answer) -> AmountOut | None:
    """None where nothing is put in, as with a mix that holds enough."""
    if worked.product_mass.value <= 0:
        return None
    usual = limit("dose_low", "dose"), limit("dose_high", "dose")
    own = own_measure(plan, worked.product_mass.value)
    low, high = (said_in(plan, own, needed_kg(plan, worked, edge)) for edge in usual)
    more = ""
    solved = worked.models[0] != FIELD_MODEL.name and worked.gives.value > 0
    made = one_more(plan, worked, own, answer) if solved else None
    if made is not None:
        count = spoken(made.count, own.name)
        amps = _step(plan, made.amps, "current")
        if made.hours is None:
            more = word("amount.more_amps", count=count, amps=amps)
        else:
            seconds = (made.hours[0] * 3600, made.hours[1] * 3600)
            more = word("amount.more", count=count, amps=amps, hours=_step(plan, seconds, "time"))
    dry = as_dry(plan, worked)
    box = small(word(f"choice.mix.product.{plan.mix.product}"))
    masses = [str(show(kg, "mass", plan.system, 2)) for kg in dry or ()]
    return AmountOut(
        dry=word("amount.dry", salt=masses[0], mass=masses[1], box=box) if dry else "",
        ways=list(ways(plan, worked)), usual=word("amount.usual", low=low, high=high), more=more,
    )  # fmt: skip


def _step(plan: Plan, pair: tuple[float, float], quantity: str) -> str:
    one, other = (show(v, quantity, plan.system, 2) for v in pair)
    return f"{one} → {other}"
