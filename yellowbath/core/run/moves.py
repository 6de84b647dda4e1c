"""The states of a run, and which entry leads from one to the next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from yellowbath.core.errors import StepRefusedError
from yellowbath.core.words import small, word

State = Literal[
    "planned", "ready", "running", "paused", "lifted", "clean", "finishing", "closed", "abandoned"
]
STATES: tuple[State, ...] = (
    "planned", "ready", "running", "paused", "lifted", "clean", "finishing", "closed", "abandoned",
)  # fmt: skip

_STAY = ("reading", "one_lead", "look", "change", "asked", "mended", "alarm", "in_bath")
MOVES: Mapping[State, Mapping[str, State]] = {
    "planned": {"checklist": "ready", "switch_on": "running", "abandon": "abandoned"},
    "ready": {
        **dict.fromkeys(("alarm", "in_bath", "checklist"), "ready"),
        "switch_on": "running", "abandon": "abandoned",
    },
    "running": {
        **dict.fromkeys(_STAY, "running"),
        "checklist": "running",
        "switch_off": "paused",
        "found_stopped": "paused",
        "lift": "lifted",
        "abandon": "abandoned",
    },
    "paused": {
        **dict.fromkeys(_STAY, "paused"),
        "checklist": "paused",
        "switch_on": "running",
        "switch_off": "paused",
        "found_stopped": "paused",
        "lift": "lifted",
        "abandon": "abandoned",
    },
    "lifted": {
        **dict.fromkeys(("alarm", "in_bath", "change", "asked", "mended"), "lifted"),
        "inspection": "lifted", "lift": "lifted", "back_in": "paused",
        "clean": "clean", "abandon": "abandoned",
    },
    "clean": {"inspection": "clean", "back_in": "paused", "finish_start": "finishing"},
    "finishing": {"finish_step": "finishing", "back_in": "paused", "close": "closed"},
    "closed": {},
    "abandoned": {},
}  # fmt: skip

OVER = tuple(s for s in STATES if not MOVES[s])
# only a bath that ran already is on before its list was gone through, and has it read meanwhile
FOUND_ON = frozenset({("planned", "switch_on"), ("running", "checklist")})
POWER_MOVES = frozenset({"switch_off", "found_stopped", "lift", "back_in", "abandon"})


def allowed(state: State) -> Sequence[str]:
    """Kinds of entry that a run in this state takes; what ran already apart."""
    kinds = [k for k in MOVES[state] if (state, k) not in FOUND_ON]
    return (*kinds, "remark")


def refused(state: State, kind: str) -> StepRefusedError:
    """The error for a step that has no place, saying what has."""
    can = ", ".join(word(f"run.move.{k}") for k in allowed(state))
    return StepRefusedError(
        f"You cannot {word(f'run.move.{kind}')} now: {small(word(f'run.state.{state}'))}.",
        allowed=f"From here you can: {can}.",
        remedy=word("run.wrong_time"),
    )
