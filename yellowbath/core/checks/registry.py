"""The registry of checks: small pure functions, their words and provenance beside them as data."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from yellowbath.core.checks.limits import check_rows
from yellowbath.core.data import HONESTY, require_provenance, table
from yellowbath.core.document import Plan, Supply, Tank
from yellowbath.core.plan.reading.filling import Fill
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.units import show

Severity = Literal["stop", "caution", "note"]
Evidence = Mapping[str, Any]
"""What a check found: texts for its words; ``about``, the ids of the pieces or anodes concerned;
``case``, which of several cases it is."""


@dataclass(frozen=True)
class OwnThing:
    """A supply or tank of the shop's own that is free: by its id in the kit, its name, and what a
    plan would say of it."""

    id: str
    name: str
    part: Supply | Tank


@dataclass(frozen=True)
class Context:
    """What a check may look at; those of where things are do with the fill. ``own``: what the shop
    has that may mend it."""

    plan: Plan
    fill: Fill
    worked: Answer | None = None
    own: Sequence[OwnThing] = ()

    @property
    def answer(self) -> Answer:
        assert self.worked is not None, "this check needs the whole answer"
        return self.worked

    def show(self, value: float, quantity: str) -> str:
        """A value in the person's own unit."""
        return str(show(value, quantity, self.plan.system))


@dataclass(frozen=True)
class Mend:
    """A mend in one press: what it sets, by pointer, on every member concerned."""

    sets: tuple[tuple[str, Any], ...]
    label: str


@dataclass(frozen=True)
class Finding:
    """What a check found: words filled with this plan's evidence, reason, fix and source; ``tick``:
    what is ticked on the list where its title is a question, empty where title and fix will do;
    ``listed``: whether a caution is ticked at all."""

    id: str
    severity: Severity
    mark: str
    title: str
    evidence: str
    reason: str
    fix: str
    source: str
    changes: tuple[Mend, ...] = ()
    differ: str = ""
    about: tuple[str, ...] = ()
    case: str = ""
    by_amps: bool = False
    tick: str = ""
    listed: bool = True


@dataclass(frozen=True)
class Unworded(Context):
    """The same where nobody reads the words."""

    def show(self, value: float, quantity: str) -> str:
        return ""


Check = Callable[[Context], Iterator[Evidence]]
_REGISTRY: dict[str, Check] = {}
_ORDER = {"stop": 0, "caution": 1, "note": 2}  # gravest first


def check(check_id: str) -> Callable[[Check], Check]:
    """Register a check under the id of its row in core/data/checks.toml."""
    require_provenance(f"checks.{check_id}", check_rows().get(check_id, {}))

    def register(function: Check) -> Check:
        _REGISTRY[check_id] = function
        return function

    return register


def registered() -> Sequence[str]:
    """Ids of all checks, in the order of their table, which is that of the work."""
    return tuple(key for key in check_rows() if key in _REGISTRY)


def run_checks(context: Context, only: Sequence[str] = ()) -> list[Finding]:
    """All findings, or those of some checks; stops first, then as they stand in the table."""
    found = [
        _finding(context, check_id, evidence)
        for check_id in registered()
        if not only or check_id in only
        for evidence in _REGISTRY[check_id](context)
    ]
    return sorted(found, key=lambda f: _ORDER[f.severity])


def fired(context: Unworded) -> Iterator[tuple[str, Severity]]:
    """Ids and severities of all findings, without their words: what a mend is tried by."""
    for check_id in registered():
        for _ in _REGISTRY[check_id](context):
            yield check_id, check_rows()[check_id]["severity"]


def stops(findings: Sequence[Finding]) -> list[Finding]:
    """Those that block switching on."""
    return [f for f in findings if f.severity == "stop"]


@cache
def differ_by_check() -> Mapping[str, str]:
    """What people differ about where a check comes up, and what is done here; by check id, or by
    ``id:case`` where it is about one case of it only."""
    out: dict[str, str] = {}
    for r in table("disagreements")["rows"]:
        for key in r["checks"]:
            said = f"Some say “{r['some']}”, others “{r['others']}” Here: {r['does']}"
            out[key] = f"{out[key]} {said}" if key in out else f"People differ. {said}"
    return out


def differ(check_id: str, case: str = "") -> str:
    """The lines of a check, and of this case of it."""
    lines = differ_by_check()
    return " ".join(lines[k] for k in (check_id, f"{check_id}:{case}") if k in lines)


def cited(row: Mapping[str, str]) -> str:
    """Where a check comes from, as one line."""
    honesty = HONESTY[row["honesty"]]
    return honesty if row["source"] == "-" else f"{row['source']} ({honesty})"


def _finding(context: Context, check_id: str, evidence: Evidence) -> Finding:
    row = check_rows()[check_id]
    concerned, case = tuple(evidence.get("about", ())), str(evidence.get("case", ""))
    words = {k: str(row[k]).format(**evidence) for k in ("title", "evidence", "reason", "fix")}
    pieces = [p for p in context.plan.pieces if p.id in concerned]
    if pieces and len(context.plan.pieces) > 1:
        names = ", ".join(context.plan.called(p) for p in pieces)
        words["evidence"] = f"{names[0].upper()}{names[1:]}: {words['evidence']}"
    return Finding(
        id=check_id,
        severity=row["severity"],
        mark=row["mark"],
        source=cited(row),
        differ=differ(check_id, case),
        about=concerned,
        case=case,
        by_amps=row.get("by_amps", False),
        title=words["title"],
        evidence=words["evidence"],
        reason=words["reason"],
        fix=words["fix"],
        tick=str(row.get("tick", "")).format(**evidence),
        listed=row.get("listed", True),
    )
