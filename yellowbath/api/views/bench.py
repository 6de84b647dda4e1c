"""What the hands at the bench need, as the page gets it: the card's rows, and steps to set up."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.tell import bench


class CardRowOut(BaseModel):
    """One line of the card: what it is about, and what it says."""

    name: str
    text: str


class PlacedOut(BaseModel):
    """An anode from the rim's inside edges and the floor."""

    number: int
    kind: str
    left: str
    front: str
    foot: str


class SetStepOut(BaseModel):
    """One thing for the hands: a title, and what it takes."""

    id: str
    title: str
    lines: list[str]


class BenchOut(BaseModel):
    """The card's rows, where each anode stands, the steps of setting up, and when
    the amps are read after switching on."""

    mix: list[CardRowOut]
    wiring: list[CardRowOut]
    others: list[CardRowOut]
    placed: list[PlacedOut]
    steps: list[SetStepOut]
    times: list[str]


def set_up_out(plan: Plan, worked: Answer) -> list[SetStepOut]:
    """The steps of setting up, one after another."""
    return [
        SetStepOut(id=s.id, title=s.title, lines=list(s.lines)) for s in bench.set_up(plan, worked)
    ]


def bench_out(plan: Plan, worked: Answer) -> BenchOut:
    """Everything that the printed card has, and the set-up page."""

    def rows(found: bench.Rows) -> list[CardRowOut]:
        return [CardRowOut(name=name, text=text) for name, text in found]

    return BenchOut(
        mix=rows(bench.mix_rows(plan, worked)), wiring=rows(bench.wiring_rows(plan, worked)),
        others=rows(bench.else_rows(plan, worked)),
        placed=[PlacedOut.model_validate(p, from_attributes=True) for p in bench.placed(plan)],
        steps=set_up_out(plan, worked),
        times=list(bench.reading_times()),
    )  # fmt: skip
