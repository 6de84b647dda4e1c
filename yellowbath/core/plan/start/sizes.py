"""Sizes by tape in one phrase: ``250 x 40 x 8``, ``10 x 1 1/2 x 1/4 in``, ``1 ft by 4 by 1``."""

from __future__ import annotations

import re
from collections.abc import Sequence

from yellowbath.core.data import table
from yellowbath.core.ear import parse
from yellowbath.core.errors import InputError, NotUnderstoodError
from yellowbath.core.numerals import figured, tidied
from yellowbath.core.units import System

_BETWEEN = re.compile(
    r"\s*(?:×|\*|;|\bby\b|(?<![a-wyzA-WYZ])x(?![a-wyzA-WYZ])|,\s+|\s/\s|(?<=\d)/(?=\d+/))\s*",
    re.IGNORECASE,
)
_SPACED = re.compile(r"\d+(?:\.\d+)?")
_SPACES = re.compile(r"\d+(?:\.\d+)?(?:\s+\d+(?:\.\d+)?){1,2}\s*[A-Za-z]*")
# longest size that a bare set may come to before its unit is doubted, least and most [m] (judged)
_LIKELY = {"vessel": (0.10, 3.0), "pile": (0.008, 0.5), "piece": (0.04, 3.0)}
_UNIT = re.compile(r"""[\d.)]\s*([A-Za-z'"]+)\s*$""")


def read_sizes(text: str, system: System, most: int = 3) -> list[float]:
    """Lengths [m] in the order in which they were typed; a unit counts for those before it that
    have none.

    Raises NotUnderstoodError.

    >>> [round(v, 3) for v in read_sizes("10 x 1 1/2 x 1/4 in", "metric")]
    [0.254, 0.038, 0.006]
    """
    text = tidied(text)
    parts = [figured(p) for p in _BETWEEN.split(text) if p]
    if len(parts) == 1 and len(bare := _SPACED.findall(text)) > 1 and len(bare) <= most:
        parts = [*bare[:-1], text[text.rindex(bare[-1]) :]] if _SPACES.fullmatch(text) else parts
    if not 1 <= len(parts) <= most:
        raise NotUnderstoodError(
            f"“{text[:40]}” is {len(parts)} sizes." if parts else "No size is typed.",
            allowed=f"{most} at most, with an x or “by” between.",
            remedy="Write them like 250 x 40 x 8 mm.",
        )
    if between := _between_units(parts):
        raise NotUnderstoodError(
            f"“{text[:40]}”: which unit has {between}?",
            allowed="A unit counts for those before it that have none of their own.",
            remedy="Write the unit at each size.",
        )
    unit = ""
    out = []
    for part in reversed(parts):
        own = _UNIT.search(part)
        unit = own[1] if own else unit
        out.append(_one(part if own or not unit else f"{part} {unit}", system, text))
    return out[::-1]


def _between_units(parts: Sequence[str]) -> str:
    """A bare size that stands between two units, and so may be of either; none where none does."""
    units = [found[1].lower() if (found := _UNIT.search(p)) else "" for p in parts]
    for k, unit in enumerate(units):
        before = [u for u in units[:k] if u]
        after = [u for u in units[k + 1 :] if u]
        if not unit and before and after and before[-1] != after[0]:
            return parts[k].strip()
    return ""


def doubted(text: str, kind: str, system: System) -> str:
    """How a bare set of sizes was more likely meant, with its unit; empty where nothing speaks
    against it.

    >>> doubted("60 x 40 x 30", "vessel", "metric"), doubted("250 x 40 x 8", "plate", "metric")
    ('60 x 40 x 30 cm', '')
    """
    plain = text.strip()
    if re.search(r"[A-Za-z'\"]", plain.replace("x", " ").replace("by", " ")):
        return ""
    low, high = _LIKELY.get(kind, _LIKELY["piece"])
    longest = max(read_sizes(plain, system))
    if low <= longest <= high:
        return ""
    units = ("cm", "in", "mm") if system == "metric" else ("cm", "mm")
    return next(
        (f"{plain} {u}" for u in units if low <= max(read_sizes(f"{plain} {u}", system)) <= high),
        "",
    )


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


def unlikely(kind: str) -> list[str]:
    """What need not be asked of a shape before the first answer (judged): a pan is not hollow."""
    return list(table("begin")["shape"][kind].get("unlikely", []))


def with_rest(kind: str, given: Sequence[float]) -> dict[str, float]:
    """Sizes of a shape by field [m]: those given in their order, and what follows from them in
    usual proportions (judged); what was not given keeps its default."""
    row = table("begin")["shape"][kind]
    out = dict(zip(row["asked"], given, strict=False))
    for name, rule in row.get("rest", {}).items():
        if rule["of"] in out:
            out[name] = out[rule["of"]] * rule["share"]
    return out
