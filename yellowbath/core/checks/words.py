"""Words that the checks put into their evidence, and which of several members they are about."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from yellowbath.core.checks.registry import Evidence
from yellowbath.core.document import Anode, Piece, Plan


def when(condition: bool, **evidence: str) -> Iterator[Evidence]:
    """Evidence of the bath as a whole, where a condition holds."""
    if condition:
        yield evidence


def about(members: Iterable[Piece | Anode], **evidence: str) -> Iterator[Evidence]:
    """Evidence about some of the pieces or anodes, once, where there are any."""
    ids = tuple(m.id for m in members)
    if ids:
        yield {"about": ids, **evidence}


def by_case(
    members: Iterable[Piece | Anode], case: Mapping[str, str], **evidence: str
) -> Iterator[Evidence]:
    """The same once for each of several cases: ``case`` maps a member's id to its case."""
    groups: dict[str, list[Piece | Anode]] = {}
    for member in members:
        groups.setdefault(case[member.id], []).append(member)
    for key, some in groups.items():
        yield from about(some, case=key, **evidence)


def numbers(plan: Plan, anodes: Sequence[Anode]) -> str:
    """Which of the scrap, as a sentence begins: "The scrap is", "Number 2 is"."""
    if len(anodes) == len(plan.anodes):
        return "The scrap is"
    named = [str(1 + plan.anodes.index(a)) for a in anodes]
    if len(named) == 1:
        return f"Number {named[0]} of the scrap is"
    return f"Numbers {', '.join(named[:-1])} and {named[-1]} of the scrap are"
