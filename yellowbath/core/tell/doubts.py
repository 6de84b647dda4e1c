"""When a bath does not do as it should: what is known of it, in words, and what is judged of it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cache

from yellowbath.core.bath.loop import Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import CANNOT, ask_words, asks
from yellowbath.core.causes.judge import Bench, Judged, Known, Mode, once
from yellowbath.core.causes.rows import row
from yellowbath.core.data import table
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.charge import crust_ah
from yellowbath.core.run.clues import Clue, Clues, odd, unnamed
from yellowbath.core.run.log import Asked, Mended
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.run import Run
from yellowbath.core.units import System, show
from yellowbath.core.words import capital, said, small, word

_ASKED_OF = ("running", "paused", "lifted")


@dataclass(frozen=True)
class Doubts:
    """What was judged, the evidence in words in its order, and the bench that it was judged on."""

    judged: Judged
    evidence: Sequence[Observation]
    told: Sequence[str]
    loop: Loop
    bench: Bench


def in_doubt(run: Run, basis: Basis) -> bool:
    """Whether anything that was read, seen or answered does not fit, and has not been mended."""
    if run.state not in _ASKED_OF:
        return False
    sure = run.heard is None or run.heard.odd or run.heard.trend.asked is None
    clues = [c for c in run.clues.now.values() if sure or c.ask != "amps"]
    return any(odd(c, basis.under(run.out)) for c in clues) or (
        run.state == "lifted" and nothing_gained(run)
    )


def was_unnamed(run: Run, basis: Basis) -> bool:
    """Whether a bath does as it should again, and nobody has said what it was."""
    return run.state in _ASKED_OF and unnamed(run.clues, basis.under(run.out))


def weigh(
    run: Run, basis: Basis, loop: Loop, mended: Mapping[str, int], mode: Mode, now: datetime,
    system: System,
) -> Doubts:  # fmt: skip
    """The causes of what is known of a run, and the next step; of a bath that does as it should
    again, of what was known until then. ``mended``: how often each cause was it in this shop."""
    clues = run.clues
    if was_unnamed(run, basis):
        clues = replace(clues, now={c.ask: c for c in clues.odd}, tried=[], change="", until=None)
    known = Known(
        charge_ah=crust_ah(run, now), bath_c=clues.bath_c, last_change=clues.change, mended=mended
    )
    evidence = evidence_of(clues)
    if nothing_gained(run):
        evidence.append(Observation("equal", "equal"))
    return judge(loop, known, evidence, mode, clues.tried, system, clues.first)


def judge(
    loop: Loop, known: Known, evidence: Sequence[Observation], mode: Mode, tried: Sequence[str],
    system: System,
    first: str = "",
) -> Doubts:  # fmt: skip
    """The same of evidence that no run holds, as in the guide."""
    bench = Bench(loop, known)
    kept, _ = once(evidence)
    told = [in_words(e, loop, system) for e in kept]
    return Doubts(bench.judge(evidence, mode, tried, first), kept, told, loop, bench)


def evidence_of(clues: Clues) -> list[Observation]:
    """What is known, the newest last; what was so before behind it."""
    every = [*clues.now.values(), *clues.lacks.values()]
    made = [_as_evidence(c, False) for c in sorted(every, key=_when)]
    return made + [_as_evidence(c, True) for c in sorted(clues.before.values(), key=_when)]


def _when(clue: Clue) -> datetime:
    return clue.at


def _as_evidence(clue: Clue, before: bool) -> Observation:
    value = math.nan if clue.value is None else clue.value
    return Observation(clue.ask, clue.outcome, value, clue.error, before)


def in_words(e: Observation, loop: Loop, system: System) -> str:
    """One thing known, as a person says it."""
    if not math.isnan(e.value):
        quantity = "current" if e.ask == "amps" else "voltage"
        what = word(f"matter.{e.ask}", value=show(e.value, quantity, system))
    elif e.ask == "gas" and e.outcome != CANNOT:
        what = capital(said("run.bubbles", e.outcome))
    else:
        _, outcomes = ask_words(asks()[e.ask], loop, system)
        what = word("matter.asked", short=word(_SHORT.get(e.ask, f"matter.short.{e.ask}")),
                    outcome=small(outcomes.get(e.outcome, word("matter.cannot_told"))))  # fmt: skip
    return word("matter.before", what=small(what)) if e.before else what


# Asks that are fields of a reading too are called what the fields are.
_SHORT = {ask: f"field.entry.{ask}" for ask in ("supply_v", "tank_v")}


def entry_words(detail: Asked | Mended, loop: Loop, system: System) -> str:
    """An answer or a mend as the log and the book have it."""
    if isinstance(detail, Asked):
        return in_words(Observation(detail.ask, detail.outcome), loop, system)
    title = cause_title(detail.cause)
    told = word("matter.mended" if detail.helped else "matter.not_it", title=small(title))
    return f"{told}: {detail.note}" if detail.note else told


def cause_title(cause: str) -> str:
    return word("matter.unknown") if cause == "unknown" else str(row(cause)["title"])


@dataclass(frozen=True)
class Question:
    """What people ask of a bath: what they see as evidence, the answer that holds whatever the
    cause is, and what is to be asked first, if anything."""

    id: str
    title: str
    says: str
    seen: Sequence[Observation]
    first: str


@cache
def questions() -> Sequence[Question]:
    """Every question, in the order in which they are offered."""
    made = []
    for key, r in table("causes")["question"].items():
        seen = [_outcome(t, False) for t in r["seen"]]
        seen += [_outcome(t, True) for t in r.get("before", [])]
        made.append(Question(key, r["title"], r["says"], tuple(seen), r.get("first", "")))
    return tuple(made)


def _outcome(text: str, before: bool) -> Observation:
    ask, outcome = text.split("=")
    return Observation(ask, outcome, before=before)


def expects(loop: Loop, system: System) -> Sequence[str]:
    """What this bath should show, by its plan."""
    low, high = (show(a, "current", system, 2) for a in (loop.low_a, loop.high_a))
    held = loop.volts - min(loop.meant_a, loop.ceiling_a) * (loop.inner_ohm + loop.leads_ohm)
    return (
        word("matter.expects", low=low, high=high),
        word("matter.expects_v", volts=show(held, "voltage", system, 2)),
    )
