"""A plan that was changed in two places: both changes in one, told as the page names things."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from yellowbath.core.document import Plan
from yellowbath.core.document.merge import NOTHING, Meeting, Path, Side, merge, pointer_of
from yellowbath.core.plan.comparison.compare import leaf_name, leaf_text, leaves
from yellowbath.core.words import small, word, words


@dataclass(frozen=True)
class Both:
    """One place that was changed elsewhere: its name, and what stands there in either version."""

    where: str
    name: str
    yours: str
    theirs: str


@dataclass(frozen=True)
class Together:
    """Two versions of a plan as one document; ``clashes`` wait for a choice and stand as mine until
    then, ``brought`` came from the other version. ``whole``: they do not go together at all."""

    document: dict[str, Any]
    clashes: Sequence[Both]
    brought: Sequence[Both]
    whole: bool = False


def together(was: Plan, mine: Plan, theirs: Plan, choices: Mapping[str, Side]) -> Together:
    """Mine and theirs, both started from ``was``, by the id of the thing and the field."""
    set_out = all(p.layout.arrangement != "by_hand" for p in (mine, theirs))

    def derived(path: Path) -> bool:
        """Where scrap stands, and how much of it, follows from the arrangement."""
        whole_anode = len(path) == 2 and not (mine.mixed_scrap or theirs.mixed_scrap)
        return path[0] == "anodes" and set_out and (whole_anode or path[-1] in ("x_m", "y_m"))

    a, b, c = (p.model_dump(mode="json") for p in (was, mine, theirs))
    made = merge(a, b, c, choices, derived=derived)
    clashes, brought = ([_both(m, was, mine, theirs) for m in some if not derived(m.path)]
                        for some in (made.clashes, made.brought))  # fmt: skip
    try:
        Plan.model_validate(made.document)
    except ValidationError:
        return Together(b, clashes, brought, whole=True)
    return Together(made.document, clashes, brought)


def _both(meeting: Meeting, was: Plan, mine: Plan, theirs: Plan) -> Both:
    sides = ((mine, meeting.mine), (theirs, meeting.theirs))
    home = next((p for p, v in (*sides, (was, meeting.was)) if v is not NOTHING), mine)
    yours, other = (_text(meeting, plan, was, value) for plan, value in sides)
    return Both(meeting.where, _name(meeting, home), yours, other)


def _pointer(plan: Plan, path: Path) -> str:
    return pointer_of(plan.model_dump(mode="json"), path) or "/" + "/".join(path)


def _name(meeting: Meeting, plan: Plan) -> str:
    pointer = _pointer(plan, meeting.path)
    match pointer.strip("/").split("/"):
        case ["pieces", k]:
            return f"{word('part.piece')}: {plan.called(plan.pieces[int(k)])}"
        case ["anodes", k]:
            return f"{word('part.scrap')} {int(k) + 1}"
    return leaf_name(plan, pointer)


def _text(meeting: Meeting, plan: Plan, was: Plan, value: Any) -> str:
    """What stands at a place; of a whole thing, what was changed in it."""
    if value is NOTHING:
        return word("both.gone")
    pointer = _pointer(plan, meeting.path)
    if not isinstance(value, dict):
        return leaf_text(plan, pointer, value)
    kind = words().get(f"choice.{meeting.path[-1]}.kind.{value.get('kind')}") or words().get(
        f"choice.{meeting.path[0].rstrip('s')}.kind.{value.get('kind')}"
    )
    before = dict(leaves(meeting.was, "")) if isinstance(meeting.was, dict) else {}
    changed = [
        f"{small(leaf_name(plan, f'{pointer}{at}').rpartition(': ')[2])} "
        f"{leaf_text(plan, f'{pointer}{at}', v)}"
        for at, v in leaves(value, "")
        if not before or before.get(at) != v
    ]
    told = [*([kind] if kind else []), *changed[:_TOLD]]
    if len(changed) > _TOLD:
        told.append(word("both.more", count=len(changed) - _TOLD))
    return ", ".join(told) or word("both.there")


_TOLD = 4  # of what stands in a thing
