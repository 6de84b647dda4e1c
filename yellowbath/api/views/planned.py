"""What a run's page wants of the plan that it was begun on."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.api.views.bench import SetStepOut, set_up_out
from yellowbath.api.views.plan import FigureOut, figure_out
from yellowbath.workflows.runs.runs import RunView
from yellowbath.workflows.shop.memo import Memo


class PlannedOut(BaseModel):
    """What the page wants of the plan that the run was begun on: the amps to expect, the supply's
    rating [A], the steps of setting up."""

    gives: FigureOut
    rated_a: float
    set_up: list[SetStepOut]


# a run's plan and field never change, so that what they say is told once and kept a while
_PLANNED: Memo[PlannedOut] = Memo(60)


def planned_out(view: RunView) -> PlannedOut:
    """The plan of a run, as far as its page wants it."""
    return _PLANNED.get(view.row.id, lambda: _planned(view))


def _planned(view: RunView) -> PlannedOut:
    plan, answer = view.plan, view.answered.answer
    assert answer is not None  # a run has an answer, see workflows.standing
    return PlannedOut(
        gives=figure_out(answer.gives, plan.system),
        rated_a=plan.supply.rated_a,
        set_up=set_up_out(plan, answer),
    )
