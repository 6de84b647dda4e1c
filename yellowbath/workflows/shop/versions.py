"""Small documents changed in two places: brought together by field, as a plan's are."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

from yellowbath.core.document.merge import NOTHING, Meeting, Side, merge, pointer_of
from yellowbath.core.errors import StaleRevisionError
from yellowbath.core.plan.comparison.merged import Both
from yellowbath.core.words import word

Document = dict[str, Any]
Named = Callable[[Document, str, Any], tuple[str, str]]
"""What a field is called, by the document and its pointer, and a value of it in words."""


def together_plainly(
    versions: tuple[Document, Document, Document],
    numbers: tuple[int, int],
    choices: Mapping[str, Side],
    named: Named,
    root: str = "",
) -> tuple[Document, list[Both]]:
    """What both started from, mine and theirs, as one document, and what came from theirs.

    ``numbers``: the revision they started from and theirs. Raises StaleRevisionError where a clash
    has no choice.
    """
    was, mine, theirs = versions
    made = merge(was, mine, theirs, choices, root)

    def both(m: Meeting) -> Both:
        name = m.where
        sides = []
        for document, value in ((mine, m.mine), (theirs, m.theirs)):
            if value is NOTHING:
                sides.append(word("both.gone"))
                continue
            pointer = pointer_of(document, m.path) or f"/{m.where}"
            name, text = named(document, pointer, value)
            sides.append(text)
        return Both(m.where, name, *sides)

    if made.clashes:
        clashes = [asdict(both(m)) for m in made.clashes]
        raise StaleRevisionError(*numbers, theirs, clashes)
    return made.document, [both(m) for m in made.brought]
