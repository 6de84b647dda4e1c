"""The first questions as the page gets them back: what was understood, and what follows."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.api.views.plan import ReadOut, read_out
from yellowbath.core.document import AMOUNT
from yellowbath.core.plan.start.begin import First
from yellowbath.core.plan.start.likely import likely
from yellowbath.core.plan.start.sizes import asked, unlikely
from yellowbath.core.units import QUANTITIES
from yellowbath.workflows.plans.plans import Answered, begun


class BegunOut(BaseModel):
    """A first plan: ``heard`` and ``faults`` in words, by field; ``question`` is what stands before
    a plan or a better one, ``read`` the plan with its answer, where there is one yet; ``asked``
    are the sizes, by field, that the shape is asked for, ``bare`` the units of bare numbers;
    ``scoop``: whether what a level cap weighs is asked for; ``unlikely``: what is not asked of such
    a shape, and stands on the list before power; ``likely``: what is asked besides."""

    heard: dict[str, str]
    faults: dict[str, str]
    question: str
    asked: list[str]
    bare: dict[str, str]
    scoop: bool
    unlikely: list[str]
    likely: list[str]
    read: ReadOut | None


def _dose_heard(answered: Answered | None) -> dict[str, str]:
    """How far a loose measure reaches, as the plan has it."""
    if answered is None or AMOUNT not in answered.read.heard:
        return {}
    return {"dose": answered.read.heard[AMOUNT]}


def begun_out(first: First) -> BegunOut:
    """The first plan from the first words."""
    made, answered = begun(first)
    known = first.kind and "kind" not in made.faults
    return BegunOut(
        heard=made.heard | _dose_heard(answered), faults=made.faults, question=made.question,
        asked=list(asked(first.kind)) if known else [],
        bare={q: QUANTITIES[q].bare(first.system) for q in ("length", "mass")},
        scoop=made.scoop, unlikely=unlikely(first.kind) if known else [],
        likely=likely(
            first.kind, first.vessel, first.name, first.grade or "", first.aim or ""
        ) if known else [],
        read=read_out(answered) if answered else None,
    )  # fmt: skip
