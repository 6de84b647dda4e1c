"""What may be done about how much goes in, in the person's own measure."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.fixes.trying import fixes
from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Finding, Mend
from yellowbath.core.document import AMOUNT
from yellowbath.core.plan.results.measures import dose_of, needed_kg, own_measure, spoken, whole


@fixes("dose_high", "dose_low")
def _usual(c: Context, finding: Finding) -> Iterator[Mend]:
    """As many of the measure as the usual range begins or ends with."""
    mass = needed_kg(c.plan, c.answer, limit(finding.id, "dose"))
    if mass <= 0:
        return
    own = own_measure(c.plan, mass)
    count = whole(mass / own.holds_kg, up=finding.id == "dose_low")
    if count > 0:
        dose = dose_of(c.plan, c.answer, count * own.holds_kg)
        yield Mend(((AMOUNT, round(dose, 4)),), f"Take {spoken(count, own.name)}")
