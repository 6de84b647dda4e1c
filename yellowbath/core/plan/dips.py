"""The dip plan of a piece that is longer than its bath is deep: end by end, with an overlap."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document import Plan
from yellowbath.core.geometry.piece import posed
from yellowbath.core.plan.answer import Answer


@dataclass(frozen=True)
class Dip:
    """One dip: what is done, and what it covers, from the end that hangs down now [m]."""

    words: str
    low_m: float
    high_m: float


@dataclass(frozen=True)
class DipPlan:
    """Dips in order, how far two of them overlap, what between them stays dry, hours of all [s].

    ``dry_m`` is nought where two dips do; where it is not, the overlap is what is missing.
    """

    dips: Sequence[Dip]
    overlap_m: float
    dry_m: float
    seconds: float


def dip_plan(plan: Plan, answer: Answer) -> DipPlan | None:
    """The dips of a plan's first piece as it hangs; None where it is covered already."""
    share = answer.fill.wetted_share
    if share >= 0.999:
        return None
    length = posed(plan.pieces[0])[2]
    deep = share * length
    overlap, wanted = 2 * deep - length, param("dip_overlap_m").value
    dips = [
        Dip("As it hangs", 0.0, deep),
        Dip("Turned end for end, power off", length - deep, length),
    ]
    dry = max(wanted - overlap, 0.0)
    window = answer.window.value if answer.window else 0.0
    return DipPlan(dips, max(overlap, 0.0), dry, len(dips) * window)
