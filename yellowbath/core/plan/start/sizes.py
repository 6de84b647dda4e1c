"""Sizes by tape in one phrase: ``250 x 40 x 8``, ``10 x 1 1/2 x 1/4 in``, ``1 ft by 4 by 1``."""

from __future__ import annotations

import re
from collections.abc import Sequence

from yellowbath.core.data import table
from yellowbath.core.errors import InputError, NotUnderstoodError
from yellowbath.core.units import System, parse

_BETWEEN = re.compile(r"\s*(?:×|\*|;|\bby\b|(?<![a-zA-Z])x(?![a-zA-Z])|,\s+)\s*", re.IGNORECASE)
_UNIT = re.compile(r"""[\d.)]\s*([A-Za-z'"]+)\s*$""")


def read_sizes(text: str, system: System, most: int = 3) -> list[float]:
    """Lengths [m] in the order in which they were typed; a unit counts for those before it that
    have none.

    Raises NotUnderstoodError.

    >>> [round(v, 3) for v in read_sizes("10 x 1 1/2 x 1/4 in", "metric")]
    [0.254, 0.038, 0.006]
    """
    parts = [p for p in _BETWEEN.split(text.strip()) if p]
    if not 1 <= len(parts) <= most:
        raise NotUnderstoodError(
            f"“{text[:40]}” is {len(parts)} sizes." if parts else "No size is typed.",
            allowed=f"{most} at most, with an x or “by” between.",
            remedy="Write them like 250 x 40 x 8 mm.",
        )
    unit = ""
    out = []
    for part in reversed(parts):
        own = _UNIT.search(part)
        unit = own[1] if own else unit
        out.append(_one(part if own or not unit else f"{part} {unit}", system, text))
    return out[::-1]


def _one(part: str, system: System, text: str) -> float:
    try:
        value = parse(part, "length", system)
    except InputError as error:
        raise NotUnderstoodError(
            f"“{part.strip()[:40]}” cannot be read as a size.",
            remedy="Write sizes like 250 x 40 x 8 mm, or 10 x 1 1/2 x 1/4 in.",
        ) from error
    if value <= 0:
        raise NotUnderstoodError(f"“{text[:40]}” has a size of nought.", remedy="Measure it.")
    return value


def asked(kind: str) -> Sequence[str]:
    """The sizes that a shape is asked for, in the order of the letters in its picture."""
    fields: Sequence[str] = table("begin")["shape"][kind]["asked"]
    return fields


def with_rest(kind: str, given: Sequence[float]) -> dict[str, float]:
    """Sizes of a shape by field [m]: those given in their order, and what follows from them in
    usual proportions (judged); what was not given keeps its default."""
    row = table("begin")["shape"][kind]
    out = dict(zip(row["asked"], given, strict=False))
    for name, rule in row.get("rest", {}).items():
        if rule["of"] in out:
            out[name] = out[rule["of"]] * rule["share"]
    return out
