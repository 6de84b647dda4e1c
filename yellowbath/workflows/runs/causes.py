"""What is the matter with a bath: of a run by its log, or without one, as in the guide."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.bath.loop import Loop
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import asks
from yellowbath.core.causes.judge import Known, Mode
from yellowbath.core.causes.rows import causes
from yellowbath.core.errors import InputError, NoAnswerError
from yellowbath.core.run.admit import require_known
from yellowbath.core.run.basis import Basis, basis_of
from yellowbath.core.run.dangers import Danger, Figures
from yellowbath.core.run.dangers import judge as judge_figures
from yellowbath.core.run.log import Asked
from yellowbath.core.run.signs import answered as answered_danger
from yellowbath.core.tell.doubts import (
    Doubts,
    in_doubt,
    judge,
    questions,
    weigh,
)
from yellowbath.core.units import System
from yellowbath.store import plans as plan_store
from yellowbath.store import runs as store
from yellowbath.store.engine import reading
from yellowbath.workflows.plans.plans import answer_document
from yellowbath.workflows.runs.standing import stand
from yellowbath.workflows.shop.shop import Shop, system_of

__all__ = ["CausesSeen", "Told", "causes_of_run", "guide", "questions"]


@dataclass(frozen=True)
class Told:
    """What is judged, whether there was a reason to ask, and what of it is a danger."""

    doubts: Doubts
    in_doubt: bool
    system: System
    tried: Sequence[str]
    dangers: Sequence[Danger] = ()


def causes_of_run(shop: Shop, run_id: str, mode: Mode) -> Told:
    """The causes of what a run's log tells, the likeliest first, and the one next step."""
    with reading(shop.engine) as c:
        found = stand(shop, c, run_id)
        mended = store.mended(c)
    doubts = weigh(found.run, found.basis, found.loop, mended, mode, shop.now(), found.system)
    return Told(doubts, in_doubt(found.run, found.basis), found.system, found.run.clues.tried)


@dataclass(frozen=True)
class CausesSeen:
    """One thing seen or read, for the guide: an outcome of an ask, or a meter's figure."""

    ask: str
    outcome: str = ""
    value: float | None = None
    before: bool = False


_FIGURES = ("amps", "supply_v", "tank_v")


def guide(
    shop: Shop, document: dict[str, Any] | None, plan_id: str, seen: Sequence[CausesSeen],
    tried: Sequence[str], hours: float, mode: Mode, first: str = "",
) -> Told:  # fmt: skip
    """The same for a plan, or the usual bath where none is named, that has run for so many hours.

    Raises NoAnswerError where no current flows by the plan, InputError for what cannot be asked.
    """
    with reading(shop.engine) as c:
        system = system_of(c)
        mended = store.mended(c)
        if plan_id:
            document = plan_store.revision(c, plan_id).document
    answered = answer_document(document or {"system": system}, fixes=False)
    if answered.answer is None:
        raise NoAnswerError(answered.trouble)
    loop = Loop.of(answered.read.plan, answered.answer)
    known = Known(charge_ah=max(hours, 0.0) * loop.meant_a, mended=mended)
    unknown = [t for t in tried if t not in causes()]
    if unknown:
        raise InputError(f"There is no cause {unknown[0]}.", allowed=", ".join(causes()))
    made = judge(loop, known, [_evidence(s) for s in seen], mode, tried, system, first)
    basis = basis_of(answered.read.plan, 0, answered.answer)
    told = [d for s in seen if not s.before for d in _dangers(s, basis, system)]
    return Told(made, bool(seen), system, tried, told)


def _dangers(seen: CausesSeen, basis: Basis, system: System) -> list[Danger]:
    if seen.value is None:
        return answered_danger(seen.ask, seen.outcome)
    return judge_figures(Figures(**{seen.ask: seen.value}), basis, system)


def _evidence(seen: CausesSeen) -> Observation:
    if seen.value is not None:
        if seen.ask not in _FIGURES or not math.isfinite(seen.value) or seen.value < 0:
            raise InputError(
                f"{seen.value} is no figure of {seen.ask}.", allowed=", ".join(_FIGURES)
            )
        return Observation(seen.ask, value=seen.value, before=seen.before)
    require_known(Asked(ask=seen.ask, outcome=seen.outcome))
    return Observation(asks()[seen.ask].id, seen.outcome, before=seen.before)
