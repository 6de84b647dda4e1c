"""How much of a long test is run: all of it by ``make long``, else a part that meets every kind;
and how long any test waits."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

T = TypeVar("T")
LONG = os.environ.get("YB_LONG") == "1"
# s, of a test for what must come: what ends it is that nothing comes, not how fast a machine is
PATIENCE_S = 240.0


def of(whole: T, usual: T) -> T:
    """The whole, or as much as the usual run has time for."""
    return whole if LONG else usual


def some(whole: Sequence[T], every: int) -> Sequence[T]:
    """The whole, or every so many of it, the first and last among them."""
    return whole if LONG else [*whole[:-1:every], whole[-1]]
