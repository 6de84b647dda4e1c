"""The causes that have a name: what each is, does and is found by; rows of ``data/causes.toml``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache

from yellowbath.core.bath.loop import Loop
from yellowbath.core.data import table

Row = Mapping[str, object]


def causes() -> Sequence[str]:
    """Every cause that has a name."""
    return tuple(table("causes")["cause"])


def row(cause: str) -> Row:
    """Title, mend and figures of a cause."""
    found: Row = table("causes")["cause"][cause]
    return found


def mend_minutes(cause: str) -> float:
    """To mend it and to see that it was that."""
    return float(row(cause)["mend_min"])  # type: ignore[arg-type]


def is_danger(cause: str) -> bool:
    """Whether it hurts, and is tested before what is likelier."""
    return bool(row(cause).get("danger"))


def marked(mark: str) -> Sequence[str]:
    """The causes whose rows have a mark."""
    return tuple(c for c in causes() if row(c).get(mark))


def cannot(loop: Loop) -> frozenset[str]:
    """Causes that a bath of this make cannot have."""
    has = loop.has
    return frozenset(c for c in causes() if row(c).get("needs", "") not in has | {""})


def tests_of(danger: str) -> frozenset[str]:
    """The asks that test a danger."""
    found: Sequence[str] = row(danger).get("tests", ())  # type: ignore[assignment]
    return frozenset(found)


@cache
def sighted() -> Mapping[tuple[str, str], str]:
    """By an ask and its outcome the cause that was seen with one's own eyes."""
    made = dict[tuple[str, str], str]()
    for cause in causes():
        outcomes: Mapping[str, str] = row(cause).get("seen", {})  # type: ignore[assignment]
        made |= dict.fromkeys(outcomes.items(), cause)
    return made


@cache
def found_by(ask: str) -> Mapping[str, frozenset[str]]:
    """By each outcome of an ask the causes that it finds."""
    made: dict[str, set[str]] = {}
    for cause in causes():
        outcomes: Mapping[str, str] = row(cause).get("found", {})  # type: ignore[assignment]
        if ask in outcomes:
            made.setdefault(outcomes[ask], set()).add(cause)
    return {outcome: frozenset(some) for outcome, some in made.items()}
