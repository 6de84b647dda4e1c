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
├── StaleRevisionError     a save that changes what another save changed otherwise meanwhile
├── KnownKeyError          other content under the key of a write that was made already
├── CrowdedError           more is asked of the solver at once than it can serve
├── NotFoundError          no such plan, run or entry
├── InstrumentError        a supply or meter on a line
│   ├── LinkLostError          it does not answer
│   ├── BadAnswerError         what it answers is no figure
│   └── InstrumentRefusedError it says itself that it will not
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
        # a whole sentence says by itself what it is about; its place goes along as data
        first = " ".join(
            what if what.endswith(".") else f"{where}: {what}." for where, what in self.faults[:3]
        )
        super().__init__(
            f"It cannot be used as it is. {first}", remedy="Mend that; all else stays as it is."
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
    """``entry``: the client id of the one that has no place, which may be another than was sent."""

    slug = "step-refused"
    entry = ""


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
    """A save that another came before; ``clashes`` are the places where both versions differ from
    what they started from and from one another, none where they do not go together at all."""

    slug = "stale-revision"

    def __init__(
        self, base: int, head: int, theirs: Mapping[str, object],
        clashes: Sequence[Mapping[str, str]] = (),
    ) -> None:  # fmt: skip
        self.base, self.head, self.theirs, self.clashes = base, head, theirs, list(clashes)
        super().__init__(
            f"This was changed elsewhere: you started from revision {base}, the newest is {head}.",
            allowed="Changes to different fields go together by themselves.",
            remedy="Where both changed the same, choose; both are offered.",
        )

    def data(self) -> Mapping[str, object]:
        return {
            "base_revision": self.base, "head_revision": self.head, "theirs": self.theirs,
            "clashes": self.clashes,
        }  # fmt: skip


class KnownKeyError(YellowBathError):
    slug = "known-key"

    def __init__(self) -> None:
        super().__init__(
            "Something else was written down under this name.",
            allowed="One name, one write: what is sent once more is the same.",
            remedy="Do it once more; it then goes by a name of its own.",
        )


class CrowdedError(YellowBathError):
    slug = "crowded"

    def __init__(self) -> None:
        super().__init__(
            "Too many ask for a solved bath at once.",
            allowed="Everybody's newest is served in turn.",
            remedy="Wait a moment and ask again.",
        )


class NotFoundError(YellowBathError):
    slug = "not-found"


class InstrumentError(YellowBathError):
    slug = "instrument"


class LinkLostError(InstrumentError):
    slug = "link-lost"


class BadAnswerError(InstrumentError):
    slug = "bad-answer"


class InstrumentRefusedError(InstrumentError):
    slug = "instrument-refused"


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
