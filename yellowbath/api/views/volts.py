"""Where the volts go, as the page gets it: one bar from the supply's volts to the piece."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core import units
from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.volts import shares, where_volts_go
from yellowbath.core.units import show
from yellowbath.core.words import word


class DropOut(BaseModel):
    """A part of the loop: what it is, its volts as text, and its share of all [%]."""

    part: str
    name: str
    text: str
    percent: float


class VoltsOut(BaseModel):
    """The supply's open volts, and what takes them in the order of the loop."""

    whole: str
    drops: list[DropOut]


def volts_out(plan: Plan, worked: Answer) -> VoltsOut | None:
    """None where no current flows."""
    drops = where_volts_go(plan, worked)
    if not drops:
        return None
    return VoltsOut(
        whole=str(show(sum(d.volts for d in drops), "voltage", plan.system)),
        drops=[
            DropOut(
                part=d.part, name=word(f"volts.{d.part}"),
                text=str(show(d.volts, "voltage", plan.system, 2)), percent=units.plain(s, "ratio"),
            )
            for d, s in zip(drops, shares(drops), strict=True)
        ],
    )  # fmt: skip
