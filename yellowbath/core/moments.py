"""Times as they are sent: aware, and within the calendar in every zone."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

FIRST, LAST = 1970, 2200  # years that a clock may say


def in_calendar(at: datetime) -> datetime:
    """The same time; ValueError for one that is of no bath, or falls off the calendar in UTC."""
    try:
        year = at.astimezone(UTC).year
    except OverflowError:
        year = at.year
    if not FIRST <= year <= LAST:
        raise ValueError(f"a time from {FIRST} to {LAST}: correct the year")
    return at


Moment = Annotated[AwareDatetime, AfterValidator(in_calendar)]
