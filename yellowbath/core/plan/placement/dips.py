"""The dip plan of a piece that is longer than its bath is deep: end by end, with an overlap."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.geometry.piece import posed
from yellowbath.core.plan.reading.filling import COVERED
from yellowbath.core.plan.results.answer import Answer


@dataclass(frozen=True)
class Dip:
    """One dip: what is done, and what it covers, from the end that hangs down now [m]."""

    words: str
    low_m: float
    high_m: float


@dataclass(frozen=True)
class DipPlan:
    """Dips of a piece in order, how far two overlap, what stays dry between, hours of all [s].

    ``dry_m`` is nought where two dips do; where it is not, the overlap is what is missing.
    """

    piece: str
    dips: Sequence[Dip]
    overlap_m: float
    dry_m: float
    seconds: float


def dip_plans(plan: Plan, answer: Answer) -> list[DipPlan]:
    """The dips of each piece that stands out of the liquid as it hangs."""
    out = [p for p in plan.pieces if answer.fill.shares[p.id] < COVERED]
    return [_dips(plan, answer, p) for p in out]


def _dips(plan: Plan, answer: Answer, piece: Piece) -> DipPlan:
    length = posed(piece)[2]
    deep = answer.fill.shares[piece.id] * length
    overlap, wanted = 2 * deep - length, param("dip_overlap_m").value
    dips = [
        Dip("As it hangs", 0.0, deep),
        Dip("Turned end for end, power off", length - deep, length),
    ]
    dry = max(wanted - overlap, 0.0)
    window = answer.window.value if answer.window else 0.0
    return DipPlan(plan.called(piece), dips, max(overlap, 0.0), dry, len(dips) * window)
