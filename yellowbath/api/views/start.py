"""The first questions as the page gets them back: what was understood, and what follows."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.api.views.plan import ReadOut, read_out
from yellowbath.core.plan.start.begin import First
from yellowbath.core.plan.start.sizes import asked
from yellowbath.core.units import QUANTITIES
from yellowbath.workflows.plans import begun


class BegunOut(BaseModel):
    """A first plan: ``heard`` and ``faults`` in words, by field; ``question`` is what stands before
    a plan or a better one, ``read`` the plan with its answer, where there is one yet; ``asked``
    are the sizes, by field, that the shape is asked for, ``bare`` the units of bare numbers;
    ``scoop``: whether what a level cap weighs is asked for."""

    heard: dict[str, str]
    faults: dict[str, str]
    question: str
    asked: list[str]
    bare: dict[str, str]
    scoop: bool
    read: ReadOut | None


def begun_out(first: First) -> BegunOut:
    """The first plan from the first words."""
    made, answered = begun(first)
    known = first.kind and "kind" not in made.faults
    return BegunOut(
        heard=made.heard, faults=made.faults, question=made.question,
        asked=list(asked(first.kind)) if known else [],
        bare={q: QUANTITIES[q].bare(first.system) for q in ("length", "mass")},
        scoop=made.scoop, read=read_out(answered) if answered else None,
    )  # fmt: skip
