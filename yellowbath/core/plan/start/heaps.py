"""How many lie in a heap: by number, by their weight in all, or by how much room they take up."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.ear import hear
from yellowbath.core.errors import InputError, NotUnderstoodError, OutOfRangeError
from yellowbath.core.plan.start.nouns import VESSELS, part_full
from yellowbath.core.units import System

LOOSE = 0.25  # share of a heap that is metal, lying loosely (judged)
_MOST = 5000  # screws; judged


@dataclass(frozen=True)
class Heap:
    """So many of one thing, and by what that is known: ``count``, ``mass`` or ``volume``."""

    count: int
    by: str


def read_many(text: str, long: float, thick: float, system: System) -> Heap:
    """How many there are of a thing so long and so thick [m].

    ``40``, ``two dozen``; ``3 kg in all``; ``2 litres``, ``a 1 L jar half full``. Raises
    NotUnderstoodError, and OutOfRangeError for fewer than two or more than five thousand.

    >>> read_many("3 kg", 0.05, 0.008, "metric")
    Heap(count=153, by='mass')
    """
    one = math.pi / 4 * thick**2 * long
    plain = re.sub(r"\b(?:in all|in total|altogether|all told|of (?:them|it))\b", "", text).strip()
    try:
        return _within(Heap(round(hear(plain, "count", system).value), "count"))
    except NotUnderstoodError:
        pass
    try:
        mass = hear(plain, "mass", system).value
        return _within(Heap(round(mass / (one * param("steel_kg_m3").value)), "mass"))
    except NotUnderstoodError:
        pass
    share, left = part_full(plain)
    left = re.sub(rf"\b(?:{'|'.join(VESSELS)}|basket|jar|tin|can|box)s?\b", "", left).strip()
    try:
        room = hear(left, "volume", system).value
    except InputError:
        raise NotUnderstoodError(
            f"“{text[:40]}” does not say how many.",
            allowed="Their number, their weight in all, or the room they take up.",
            remedy="Write it like 40, 3 kg, or 2 L.",
        ) from None
    return _within(Heap(round(LOOSE * room * share / one), "volume"))


def _within(heap: Heap) -> Heap:
    if not 2 <= heap.count <= _MOST:
        raise OutOfRangeError(
            f"That comes to {heap.count} of them.",
            allowed=f"A heap is 2 to {_MOST}.",
            remedy="Check the number, and the sizes of one.",
        )
    return heap
