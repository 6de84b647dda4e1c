"""The dip plan of a piece that is longer than its bath is deep: end by end, with an overlap."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.geometry.piece import posed
from yellowbath.core.plan.results.answer import Answer


@dataclass(frozen=True)
class Dip:
    """One dip: what is done, what it covers, from the end that hangs down now [m], and its hours
    under power [s], nought where none are known."""

    words: str
    low_m: float
    high_m: float
    seconds: float


@dataclass(frozen=True)
class DipPlan:
    """Dips of a piece in order, how far two overlap, what is missing between them, all hours [s].

    ``dry_m`` is nought where two dips do; where it is not, the overlap is what is missing.
    """

    piece: str
    dips: Sequence[Dip]
    overlap_m: float
    dry_m: float

    @property
    def seconds(self) -> float:
        """Of all dips together; nought where those of one are not known."""
        each = [d.seconds for d in self.dips]
        return sum(each) if all(each) else 0.0


def dip_plans(plan: Plan, answer: Answer, other: Answer | None = None) -> list[DipPlan]:
    """The dips of each piece that stands out of the liquid as it hangs.

    ``other``: the answer of the same bath with those put end for end, where it was worked out; the
    halves are else taken to be alike.
    """
    return [_dips(plan, answer, other or answer, p) for p in dipped(plan, answer)]


def dipped(plan: Plan, answer: Answer) -> list[Piece]:
    """The pieces that stand out of the liquid."""
    return [p for p in plan.pieces if p.id in answer.fill.out]


def how_many(plan: Plan, answer: Answer) -> int:
    """How many dips the piece that stands out most wants; nought where all are covered."""
    outs = dipped(plan, answer)
    if not outs:
        return 0
    overlap = param("dip_overlap_m").value
    longest = 0
    for piece in outs:
        length = posed(piece)[2]
        each = length * answer.fill.shares[piece.id]
        left = length - each
        longest = max(longest, 1 + math.ceil(left / max(each - overlap, overlap) - 1e-9))
    return longest


def end_for_end(plan: Plan, answer: Answer) -> Plan:
    """The same plan with the pieces that stand out of the liquid put end for end."""
    which = {p.id for p in dipped(plan, answer)}
    pieces = [
        p.model_copy(update={"flipped": not p.flipped}) if p.id in which else p for p in plan.pieces
    ]
    return plan.model_copy(update={"pieces": pieces})


def _dips(plan: Plan, answer: Answer, other: Answer, piece: Piece) -> DipPlan:
    length = posed(piece)[2]
    one, two = (length * a.fill.shares[piece.id] for a in (answer, other))
    times = [a.window.value if a.window else 0.0 for a in (answer, other)]
    dips = [
        Dip("As it hangs", 0.0, one, times[0]),
        Dip("Turned end for end, power off", length - two, length, times[1]),
    ]
    overlap = one + two - length
    dry = max(param("dip_overlap_m").value - overlap, 0.0)
    return DipPlan(plan.called(piece), dips, max(overlap, 0.0), dry)
