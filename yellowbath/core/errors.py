"""Everything that can be refused, as one tree.

YellowBathError
├── InputError             something typed cannot be used
│   ├── NotUnderstoodError     the text is no quantity of this kind
│   ├── OutOfRangeError        a number outside what the model or the craft allows
│   ├── CaseError              a field case cannot be read
│   ├── LaterVersionError      a plan written by a later version than this one
│   └── InvalidDocumentError   a plan document does not fit its schema
├── NoAnswerError          the plan is well formed and has no current path
│   └── NoFigureError          its numbers lead nowhere: too far apart, or a fault of ours
├── NoConvergenceError     a solve that did not settle
├── StepRefusedError       a step that this run cannot take from where it is
├── StopsInForceError      findings of severity "stop" block switching on
├── StaleRevisionError     a save that started from a revision that is no longer the newest
├── NotFoundError          no such plan, run or entry
├── StoreError             the shop's file cannot be used as it is
│   ├── StoreDamagedError      it is empty, damaged or no shop at all
│   ├── StoreLaterError        a later version made it
│   ├── StoreTakenError        another server has it
│   ├── StoreFullError         the disk is full
│   ├── StoreReadOnlyError     it, or its folder, may not be written to
│   └── StoreBusyError         something else holds it for the moment
└── DataTableError         a parameter table has a row without source or honesty
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence


class YellowBathError(Exception):
    """Base: what is wrong, what is allowed and how to mend it, in words a person can use."""

    slug = "refused"

    def __init__(self, problem: str, *, allowed: str = "", remedy: str = "") -> None:
        self.problem = problem
        self.allowed = allowed
        self.remedy = remedy
        super().__init__(" ".join(part for part in (problem, allowed, remedy) if part))

    def data(self) -> Mapping[str, object]:
        """Machine-readable details for the problem document."""
        return {}


class InputError(YellowBathError):
    slug = "input"


class NotUnderstoodError(InputError):
    slug = "not-understood"


class OutOfRangeError(InputError):
    slug = "out-of-range"


class LaterVersionError(InputError):
    slug = "later-version"


class InvalidDocumentError(InputError):
    slug = "invalid-document"

    def __init__(self, faults: Sequence[tuple[str, str]]) -> None:
        self.faults = list(faults)
        first = "; ".join(f"{where}: {what.rstrip('.')}" for where, what in self.faults[:3])
        super().__init__(
            f"The plan cannot be used as it is: {first}.", remedy="Mend the marked fields."
        )

    def data(self) -> Mapping[str, object]:
        return {"faults": [{"pointer": p, "message": m} for p, m in self.faults]}


class CaseError(InputError):
    slug = "field-case"


class NoAnswerError(YellowBathError):
    slug = "no-answer"


class NoFigureError(NoAnswerError):
    slug = "no-figure"


class NoConvergenceError(YellowBathError):
    slug = "no-convergence"


class SupersededError(YellowBathError):
    slug = "superseded"


class StepRefusedError(YellowBathError):
    slug = "step-refused"


class StopsInForceError(YellowBathError):
    slug = "stops-in-force"

    def __init__(self, findings: Sequence[tuple[str, str]]) -> None:
        self.findings = list(findings)
        titles = "; ".join(title for _, title in self.findings)
        super().__init__(
            f"This bath may not be switched on: {titles}.",
            allowed="A bath is switched on only when no stop is in force.",
            remedy="Open the plan and mend each stop.",
        )

    def data(self) -> Mapping[str, object]:
        return {"findings": [{"id": i, "title": t} for i, t in self.findings]}


class StaleRevisionError(YellowBathError):
    slug = "stale-revision"

    def __init__(self, base: int, head: int, theirs: Mapping[str, object]) -> None:
        self.base, self.head, self.theirs = base, head, theirs
        super().__init__(
            f"This plan was changed elsewhere: you started from revision {base}, "
            f"the newest is {head}.",
            allowed="A save starts from the newest revision.",
            remedy="Keep yours as the newest, or take theirs; both are offered.",
        )

    def data(self) -> Mapping[str, object]:
        return {"base_revision": self.base, "head_revision": self.head, "theirs": self.theirs}


class NotFoundError(YellowBathError):
    slug = "not-found"


class StoreError(YellowBathError):
    slug = "store"


class StoreDamagedError(StoreError):
    slug = "store-damaged"


class StoreLaterError(StoreError):
    slug = "store-later"


class StoreTakenError(StoreError):
    slug = "store-taken"


class StoreFullError(StoreError):
    slug = "store-full"


class StoreReadOnlyError(StoreError):
    slug = "store-read-only"


class StoreBusyError(StoreError):
    slug = "store-busy"


class DataTableError(YellowBathError):
    slug = "data-table"
