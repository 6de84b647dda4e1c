"""A change of a plan in words: what it sets, and what it makes of the plan."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yellowbath.core.document import Plan


@dataclass(frozen=True)
class Proposal:
    """A change in words, the parts of the plan that it sets by pointer, and the plan with it.

    ``then``: the bath that comes after it, for what the change takes out of this one.
    """

    id: str
    words: str
    sets: Mapping[str, object]
    plan: Plan
    then: Plan | None = None


def proposal(plan: Plan, name: str, words: str, **parts: object) -> Proposal:
    """A proposal that sets whole parts of the plan."""
    sets = {f"/{key}": value for key, value in parts.items()}
    return Proposal(name, words, sets, plan.model_copy(update=parts))
