"""How much goes in, as typed on a plan: a concentration, or any phrase that says it by measure."""

from __future__ import annotations

from yellowbath.core.chemistry.electrolyte import product
from yellowbath.core.chemistry.phrases import read_said, read_vinegar
from yellowbath.core.document import Plan
from yellowbath.core.ear import parse
from yellowbath.core.errors import NotUnderstoodError
from yellowbath.core.plan.reading.arrange import tidied
from yellowbath.core.plan.reading.filling import fill


def vinegar_of(plan: Plan, text: str) -> float:
    """What a text says of the vinegar, as its share by volume of the plan's own liquid [-].

    Raises NotUnderstoodError.
    """
    water = fill(tidied(plan.model_copy(deep=True))).water.value
    return read_vinegar(text, water, plan.mix.vinegar_strength, plan.system)


def reach_of(plan: Plan, text: str) -> tuple[float, float] | None:
    """Least and most of a measure that is loose or a range, over what it counts as; None where it
    is neither."""
    try:
        parse(text, "concentration", plan.system)
    except NotUnderstoodError:
        reach = read_said(text, plan.system).reach
        return reach if reach != (1.0, 1.0) else None
    return None


def amount_of(plan: Plan, text: str) -> float:
    """What a text says of the mix, as dry salt per litre of the plan's own water [g/L].

    Raises NotUnderstoodError, and OutOfRangeError where a scoop is named that was never weighed.
    """
    try:
        return parse(text, "concentration", plan.system)
    except NotUnderstoodError:
        said = read_said(text, plan.system)
    water = fill(tidied(plan.model_copy(deep=True))).water.value
    return said.concentration(product(plan.mix.product), water, plan.mix.spoon, plan.mix.scoop_kg)
