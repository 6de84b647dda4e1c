"""How a supply is spoken to, in words for the person who hung it on."""

from __future__ import annotations

from yellowbath.core.units import show
from yellowbath.core.words import word
from yellowbath.instruments.scpi import STANDARD, Dialect

__all__ = ["Dialect", "dialect_says"]
_SLOW_S = 5.0


def dialect_says(d: Dialect) -> list[str]:
    """What it does otherwise than the standard has it, and what follows from that."""
    made = []
    if not d.together:
        made.append(word("dialect.single"))
    if not d.output:
        made.append(word("dialect.output"))
    if not d.limit:
        made.append(word("dialect.limit"))
    if not d.volts or not d.amps:
        made.append(word("dialect.volts" if not d.volts else "dialect.amps"))
    if d.ending != STANDARD.ending:
        made.append(word(f"dialect.{d.ending}"))
    if d.answer_s > _SLOW_S:
        made.append(word("dialect.slow", s=show(d.answer_s, "time")))
    return made
