"""Mends in one press: each is tried on the plan before it is offered.

A mend sets fields on every member that the finding is about. It is offered only where it takes the
finding away and raises no stop that was not there; the candidates come from the check's row and
from the makers of this room, the least change first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from yellowbath.core.checks.fixes.owned import owned
from yellowbath.core.checks.limits import check_rows
from yellowbath.core.checks.registry import Context, Finding, Mend, Severity, Unworded, fired
from yellowbath.core.document import (
    Plan,
)
from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import FIELD_MODEL, answer

Sets = tuple[tuple[str, Any], ...]
Maker = Callable[[Context, Finding], Iterator[Mend]]
MOST = 2  # mends that one finding offers; more is a choice to be made in the fields
_MAKERS: dict[str, Maker] = {}


def fixes(*check_ids: str) -> Callable[[Maker], Maker]:
    """Register a maker of candidates for some checks."""

    def register(maker: Maker) -> Maker:
        _MAKERS.update(dict.fromkeys(check_ids, maker))
        return maker

    return register


def offered(c: Context, found: Sequence[Finding]) -> list[Finding]:
    """The findings with those of their candidates that work on this plan."""
    before: frozenset[str] | None = None
    out = []
    for finding in found:
        changes: list[Mend] = []
        for change in _candidates(c, finding):
            if before is None:
                before = _stops(c, found)
            told = any(
                change.label == x.label or dict(change.sets) == dict(x.sets) for x in changes
            )
            if not told and len(changes) < MOST and works(c.plan, finding, change, before):
                changes.append(change)
        out.append(replace(finding, changes=tuple(changes)))
    return out


def _stops(c: Context, found: Sequence[Finding]) -> frozenset[str]:
    """Ids of the stops that are there: by the field the plan was answered by, and by the closed
    form that candidates are tried with."""
    ids = {f.id for f in found if f.severity == "stop"}
    if c.answer.models[:1] != (FIELD_MODEL.name,):
        ids |= {i for i, severity in _tried(c.plan) or () if severity == "stop"}
    return frozenset(ids)


def works(plan: Plan, finding: Finding, change: Mend, before: frozenset[str]) -> bool:
    """Whether a change takes a finding away, on every member, and raises no other stop."""
    after = changed(plan, change.sets)
    found = _tried(after) if after is not None else None
    if found is None:
        return False
    gone = finding.id not in {i for i, _ in found}
    return gone and {i for i, severity in found if severity == "stop"} <= before


def _tried(plan: Plan) -> Sequence[tuple[str, Severity]] | None:
    try:
        worked = answer(plan)
    except YellowBathError:
        return None
    return list(fired(Unworded(plan, worked.fill, worked)))


def changed(plan: Plan, sets: Sets) -> Plan | None:
    """A plan with fields set by pointer and read anew; None where that is no plan."""
    document = plan.model_dump(mode="json")
    for pointer, value in sets:
        document["typed"] = {
            k: v for k, v in document["typed"].items()
            if k != pointer and not k.startswith(f"{pointer}/")
        }  # fmt: skip
        *path, last = pointer.strip("/").split("/")
        holder: Any = document
        for part in path:
            holder = holder[int(part)] if isinstance(holder, list) else holder[part]
        holder[int(last) if isinstance(holder, list) else last] = value
    try:
        read = read_plan(document)
    except YellowBathError:
        return None
    return None if set(read.faults) - set(_faulty(plan)) else read.plan


def _faulty(plan: Plan) -> Sequence[str]:
    return list(read_plan(plan.model_dump(mode="json")).faults)


def _candidates(c: Context, finding: Finding) -> Iterator[Mend]:
    if c.own:
        yield from owned(c, finding.id)
    for row in check_rows()[finding.id].get("change", []):
        yield from _from_row(c.plan, finding, row)
    if finding.id in _MAKERS:
        yield from _MAKERS[finding.id](c, finding)


def _from_row(plan: Plan, finding: Finding, row: Mapping[str, Any]) -> Iterator[Mend]:
    """A row's change; ``{each}`` in a pointer stands for every member that it is about."""
    pointers = [row["pointer"]]
    if "{each}" in row["pointer"]:
        kind = row["pointer"].split("/")[1]
        pointers = [
            row["pointer"].format(each=k)
            for k, member in enumerate(getattr(plan, kind))
            if not finding.about or member.id in finding.about
        ]
    value = None if row.get("empty") else row["value"]
    yield Mend(tuple((p, value) for p in pointers), row["label"])
