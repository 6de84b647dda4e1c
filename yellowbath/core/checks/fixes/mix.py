"""What may be done about how much goes in, in the person's own measure."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.fixes.trying import fixes
from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Change, Context, Finding
from yellowbath.core.document import AMOUNT
from yellowbath.core.plan.results.measures import own_measure, spoken, whole


@fixes("dose_high", "dose_low")
def _usual(c: Context, finding: Finding) -> Iterator[Change]:
    """As many of the measure as the usual range begins or ends with."""
    if c.answer.product_mass.value <= 0:
        return
    usual = limit("dose_low", "dose"), limit("dose_high", "dose")
    own = own_measure(c.plan, c.answer, usual)
    high = finding.id == "dose_high"
    count = whole(own.usual[1] if high else own.usual[0], up=not high)
    if count > 0:
        dose = c.answer.concentration.value * count / own.count
        yield Change(((AMOUNT, round(dose, 4)),), f"Take {spoken(count, own.name)}")
