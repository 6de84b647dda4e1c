"""What a practice comes to: what it was, how likely it was by what was known when, which test would
have told soonest, and what it cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from yellowbath.core.bath.loop import Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import ask_words, asks, fitting
from yellowbath.core.causes.judge import Bench, Known
from yellowbath.core.run.log import Asked, Change, Entry, Look, Mended, Reading, in_order
from yellowbath.core.run.run import replay
from yellowbath.core.simulation.asked import true_answer
from yellowbath.core.simulation.bath import SimulatedBath
from yellowbath.core.tell.doubts import entry_words, evidence_of
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.workflows.practice.practice import Met, Practice, said_gas
from yellowbath.workflows.runs.standing import stand

_IRON_G_AH = 1.0417  # iron that goes off by an ampere-hour: 55.845 g over two electrons
_STEP_S = 30.0


@dataclass(frozen=True)
class Moment:
    """A time in the debrief: what was entered or met, and how likely the true cause was by then."""

    at: datetime
    text: str
    chance: float | None


@dataclass(frozen=True)
class Debrief:
    """What it was and how it went. ``soonest``: the ask that would have told most from the start,
    and how likely the cause would have been by it; ``named``: whether the learner named it;
    minutes from its coming until it was gone, iron eaten off the piece [kg]."""

    cause: str
    grade: int
    came: datetime | None
    gone: datetime | None
    named: bool
    moments: Sequence[Moment]
    soonest: tuple[str, str, float] | None
    lost_min: float
    eaten_kg: float
    system: System


def debrief(p: Practice) -> Debrief:
    """How a practice went; raises StepRefusedError before anything was switched on."""
    bath, loop = p.hung(), p.circuit()
    p.catch_up()
    with reading(p.shop.engine) as c:
        found = stand(p.shop, c, p.run_id)
        log = in_order(store.log_of(c, p.run_id))
    bench = Bench(loop, Known(charge_ah=bath.charge_ah))
    moments = list[Moment]()
    first: list[Observation] | None = None
    for k, entry in enumerate(log):
        run = replay(log[: k + 1], found.basis)
        evidence = evidence_of(run.clues)
        chance = _chance(bench, evidence, p.fault) if evidence else None
        moments.append(Moment(entry.at, _told(entry, loop, found.system), chance))
        if first is None and evidence and (p.comes_at is None or entry.at >= p.comes_at):
            first = evidence
    moments += [Moment(m.at, _met(m, loop, found.system), None) for m in p.met if not m.kept]
    end = p.gone_at or p.now()
    came = p.comes_at if p.comes_at and p.comes_at <= p.now() else None
    named = any(
        isinstance(e.detail, Mended) and e.detail.helped and e.detail.cause == p.fault for e in log
    )
    return Debrief(
        cause=p.fault,
        grade=p.card.grade,
        came=came,
        gone=p.gone_at,
        named=named,
        moments=sorted(moments, key=lambda m: m.at),
        soonest=_soonest(bench, first or [], p, found.system),
        lost_min=max((end - came).total_seconds() / 60, 0.0) if came else 0.0,
        eaten_kg=p.eaten_ah * _IRON_G_AH / 1000,
        system=found.system,
    )


def _chance(bench: Bench, evidence: Sequence[Observation], cause: str) -> float:
    judged = bench.judge(evidence, "know")
    return next((s.chance for s in judged.suspects if s.id == cause), 0.0)


def _soonest(
    bench: Bench, first: Sequence[Observation], p: Practice, system: System
) -> tuple[str, str, float] | None:
    """What would have told most: the true answer to each ask, put to what was known first."""
    loop = p.circuit()
    twin = SimulatedBath(p.hung().design, p.hung().truth, [], start_c=p.hung().temperature_c)
    twin.with_fault(p.drawn_fault(), 0.0)
    twin.switch_on()
    twin.advance(600.0, _STEP_S)
    best: tuple[str, str, float] | None = None
    known = {e.ask for e in first if not e.before}
    for ask in fitting(loop):
        if ask.id in known:
            continue
        outcome = true_answer(ask.id, twin, loop, np.random.default_rng(0))
        chance = _chance(bench, [*first, Observation(ask.id, outcome)], p.fault)
        if best is None or chance > best[2]:
            text, outcomes = ask_words(ask, loop, system)
            best = (text, outcomes[outcome], chance)
    return best


def _told(entry: Entry, loop: Loop, system: System) -> str:
    d = entry.detail
    if isinstance(d, Asked | Mended):
        return entry_words(d, loop, system)
    if isinstance(d, Look) and d.bubbles:
        return said_gas(d.bubbles)
    if isinstance(d, Reading) and d.current_a is not None:
        return word("matter.amps", value=show(d.current_a, "current", system))
    if isinstance(d, Reading):
        for what, volts in (("supply_v", d.supply_v), ("tank_v", d.tank_v)):
            if volts is not None:
                return word(f"matter.{what}", value=show(volts, "voltage", system))
    if isinstance(d, Change):
        return word(f"choice.run.change.{d.what}")
    return word(f"run.log.{d.kind}") if d.kind != "reading" else word("run.log.look")


def _met(m: Met, loop: Loop, system: System) -> str:
    if not m.ask:
        return m.text
    return word("practice.told", ask=_asked(m, loop, system), met=m.text)


def _asked(m: Met, loop: Loop, system: System) -> str:
    return ask_words(asks()[m.ask], loop, system)[0]
