"""The registry of checks: small pure functions, their words and provenance beside them as data."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from yellowbath.core.data import HONESTY, require_provenance, table
from yellowbath.core.document import Plan
from yellowbath.core.plan.answer import Answer
from yellowbath.core.plan.filling import Fill
from yellowbath.core.units import show

Severity = Literal["stop", "caution", "note"]
Evidence = Mapping[str, str]


@dataclass(frozen=True)
class Context:
    """What a check may look at; those of where things are do with the fill."""

    plan: Plan
    fill: Fill
    worked: Answer | None = None

    @property
    def answer(self) -> Answer:
        assert self.worked is not None, "this check needs the whole answer"
        return self.worked

    def show(self, value: float, quantity: str) -> str:
        """A value in the person's own unit."""
        return str(show(value, quantity, self.plan.system))


@dataclass(frozen=True)
class Change:
    """A one-click mend: set this field to this value."""

    pointer: str
    value: str | bool
    label: str


@dataclass(frozen=True)
class Finding:
    """What a check found: words filled with this plan's evidence, reason, fix and source."""

    id: str
    severity: Severity
    mark: str
    title: str
    evidence: str
    reason: str
    fix: str
    source: str
    changes: tuple[Change, ...] = ()
    differ: str = ""


Check = Callable[[Context], Iterator[Evidence]]
_REGISTRY: dict[str, Check] = {}
_ORDER = {"stop": 0, "caution": 1, "note": 2}


def check(check_id: str) -> Callable[[Check], Check]:
    """Register a check under the id of its row in core/data/checks.toml."""
    require_provenance(f"checks.{check_id}", table("checks").get(check_id, {}))

    def register(function: Check) -> Check:
        _REGISTRY[check_id] = function
        return function

    return register


def registered() -> Sequence[str]:
    """Ids of all checks."""
    return tuple(_REGISTRY)


def run_checks(context: Context, only: Sequence[str] = ()) -> list[Finding]:
    """All findings, or those of some checks; stops first, in registry order within a severity."""
    found = [
        _finding(check_id, evidence)
        for check_id, function in _REGISTRY.items()
        if not only or check_id in only
        for evidence in function(context)
    ]
    return sorted(found, key=lambda f: _ORDER[f.severity])


def stops(findings: Sequence[Finding]) -> list[Finding]:
    """Those that block switching on."""
    return [f for f in findings if f.severity == "stop"]


@cache
def differ_by_check() -> Mapping[str, str]:
    """What people differ about where a check comes up, in one line, by check id."""
    out: dict[str, str] = {}
    for r in table("disagreements")["rows"]:
        for check_id in r["checks"]:
            said = f"{r['topic']}: some say “{r['some']}”, others “{r['others']}”"
            before = out.get(check_id, "People differ.")
            out[check_id] = f"{before} {said}"
    return out


def cited(row: Mapping[str, str]) -> str:
    """Where a check comes from, as one line."""
    honesty = HONESTY[row["honesty"]]
    return honesty if row["source"] == "-" else f"{row['source']} ({honesty})"


def _changes(row: Mapping[str, Any], evidence: Evidence) -> Iterator[Change]:
    """The row's changes with this plan's evidence put in; one left empty is none."""
    for made in row.get("change", []):
        value = made["value"]
        if isinstance(value, str):
            value = value.format(**evidence)
            if not value:
                continue
        yield Change(made["pointer"], value, made["label"].format(**evidence))


def _finding(check_id: str, evidence: Evidence) -> Finding:
    row = table("checks")[check_id]
    words = {k: str(row[k]).format(**evidence) for k in ("title", "evidence", "reason", "fix")}
    return Finding(
        id=check_id,
        severity=row["severity"],
        mark=row["mark"],
        source=cited(row),
        changes=tuple(_changes(row, evidence)),
        differ=differ_by_check().get(check_id, ""),
        **words,
    )
