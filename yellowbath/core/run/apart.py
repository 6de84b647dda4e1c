"""Pieces of a bath that are taken out by themselves, looked at, finished and booked, while the
others go on.

The run's own state is that of all pieces that are not apart. One that goes back in while those lie
out leaves them apart in its turn, each with what was done to it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from yellowbath.core.errors import StepRefusedError
from yellowbath.core.run.log import Entry, FinishStep, Inspection, OfPieces
from yellowbath.core.run.moves import MOVES, State
from yellowbath.core.words import listed, small, word

_IN = ("running", "paused")
_OUT = ("lifted", "clean", "finishing")
_KINDS = ("lift", "back_in", "inspection", "clean", "finish_start", "finish_step", "close")


@dataclass
class AfterBath:
    """How what lies out of the bath stands: a piece by itself, or all that are not apart.

    ``lifted_at`` and ``looked_at``: when it came out and was looked at last, None before that;
    ``finish``: the marks of its finishing steps, by step and mark.
    """

    state: State
    since: datetime | None
    lifted_at: datetime | None = None
    looked_at: datetime | None = None
    finish: dict[str, tuple[datetime, FinishStep]] = field(default_factory=dict)


def piece_of(detail: object) -> str:
    """The piece that an entry is of by itself, by its id; empty for all that are in the bath."""
    return detail.piece if isinstance(detail, OfPieces) else ""


def allowed_apart(state: State) -> list[str]:
    """Kinds of entry that a piece which lies apart takes."""
    return [k for k in MOVES[state] if k in _KINDS and k != "lift"]


@dataclass(frozen=True)
class Pieces:
    """All pieces of a bath: what lies ``apart``, changed in place; how the ``whole`` of the others
    stands; what each is ``called``, by id."""

    apart: dict[str, AfterBath]
    whole: AfterBath
    called: Mapping[str, str]

    def put(self, piece: str, entry: Entry) -> State:
        """Put an entry of one piece on it; the state of the others after it. Raises
        StepRefusedError."""
        if piece not in self.called:
            known = word("alone.known", names=listed(list(self.called.values())))
            raise _refused(entry, word("alone.unknown"), known)
        name, kind, detail = self.called[piece], entry.detail.kind, entry.detail
        if kind == "lift":
            return self._lift(piece, entry)
        if kind == "back_in":
            return self._back_in(piece, entry)
        own = self.apart.get(piece)
        if own is None:
            raise _refused(entry, word("alone.inside", name=name), word("alone.lift_first"))
        target = MOVES[own.state].get(kind)
        if target is None:
            can = ", ".join(word(f"run.move.{k}") for k in allowed_apart(own.state))
            raise _refused(
                entry,
                f"You cannot {word(f'run.move.{kind}')} now. {name}: {_stands(own.state)}.",
                f"From here you can: {can}." if can else word("alone.booked"),
            )
        if target != own.state:
            own.state, own.since = target, entry.at
        if isinstance(detail, Inspection):
            own.looked_at = entry.at
        if isinstance(detail, FinishStep):
            own.finish[f"{detail.step}.{detail.mark}"] = (entry.at, detail)
        return self.whole.state

    def _lift(self, piece: str, entry: Entry) -> State:
        name, whole = self.called[piece], self.whole
        if piece in self.apart:
            stands = _stands(self.apart[piece].state)
            raise _refused(entry, f"{name}: {stands}.", word("alone.is_out"))
        if whole.state not in (*_IN, "lifted"):
            raise _refused(entry, f"{name}: {_stands(whole.state)}.", word("alone.lift_from"))
        if len(self.apart) + 1 >= len(self.called):
            raise _refused(entry, word("alone.last", name=name), word("alone.lift_all"))
        if whole.state == "lifted":  # it lies out with the others, and stays
            self.apart[piece] = AfterBath("lifted", whole.since, whole.lifted_at, whole.looked_at)
            return "lifted"
        self.apart[piece] = AfterBath("lifted", entry.at, entry.at)
        return "paused"

    def _back_in(self, piece: str, entry: Entry) -> State:
        whole = self.whole
        own = self.apart.get(piece, whole)
        if own.state not in _OUT:
            stands = f"{self.called[piece]}: {_stands(own.state)}."
            raise _refused(entry, stands, word("alone.lift_first"))
        if whole.state not in (*_IN, *_OUT):
            raise _refused(entry, word("alone.over"), word("alone.lift_first"))
        if whole.state in _OUT:  # the others lie out, and stay there
            for other in self.called:
                if other != piece and other not in self.apart:
                    self.apart[other] = AfterBath(
                        whole.state, whole.since, whole.lifted_at, whole.looked_at,
                        _marks_of(other, whole.finish),
                    )  # fmt: skip
        self.apart.pop(piece, None)
        return "paused"


def require_whole(apart: Mapping[str, AfterBath], pieces: Mapping[str, str], entry: Entry) -> None:
    """A run is not over before each of its pieces is. Raises StepRefusedError."""
    left = [pieces.get(p, p) for p, own in apart.items() if own.state != "closed"]
    if entry.detail.kind == "close" and left:
        raise _refused(entry, word("alone.open", names=listed(left)), word("alone.close_first"))


def require_regions(detail: object, out: Collection[str], whose: Mapping[str, str]) -> None:
    """A look tells of what it is at, and of nothing else. Raises StepRefusedError."""
    if not isinstance(detail, Inspection):
        return
    for name in detail.shares:
        piece = whose.get(name, detail.piece)
        if piece != detail.piece if detail.piece else piece in out:
            raise StepRefusedError(
                word("alone.not_its", name=name),
                allowed=word("alone.its_own"),
                remedy=word("alone.look_alone"),
            )


def _marks_of(
    piece: str, marks: Mapping[str, tuple[datetime, FinishStep]]
) -> dict[str, tuple[datetime, FinishStep]]:
    """What was done to one of several pieces: a step of only some of them names them."""
    made = {}
    for at, mark in marks.values():
        step, *names = mark.step.split(".")
        if not names or piece in names:
            made[f"{step}.{mark.mark}"] = (at, mark.model_copy(update={"step": step}))
    return made


def _stands(state: State) -> str:
    return small(word(f"run.state.{state}"))


def _refused(entry: Entry, why: str, allowed: str) -> StepRefusedError:
    error = StepRefusedError(why, allowed=allowed, remedy=word("run.wrong_time"))
    error.entry = entry.client_id
    return error
