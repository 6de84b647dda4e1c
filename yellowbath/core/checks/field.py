"""The check of the solved field itself: whether it is to be believed yet."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.words import word


@check("field_doubted")
def field_doubted(c: Context) -> Iterator[Evidence]:
    for doubt in c.answer.doubts:
        quantity = "number" if doubt.sign == "closed_form" else "ratio"
        seen, low, high = (c.show(x, quantity) for x in (doubt.seen, doubt.low, doubt.high))
        why = word(f"doubt.{doubt.sign}", seen=seen, low=low, high=high, about=doubt.about)
        yield {"case": doubt.sign, "why": why}
