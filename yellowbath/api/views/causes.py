"""What is the matter, for the page: causes with their chances, what speaks for and against each,
and the one next step."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from yellowbath.core.causes.asks import Ask, ask_words, fitting
from yellowbath.core.causes.judge import CauseOutlook, Suspect, nothing_fits
from yellowbath.core.causes.rows import causes, is_danger, mend_minutes, row
from yellowbath.core.tell.doubts import Doubts, Question, expects
from yellowbath.core.units import System
from yellowbath.workflows.runs.causes import Told


class SuspectOut(BaseModel):
    """A cause: its chance [-], how it is mended, and what of the evidence speaks for it and against
    it; ``power``: off or any, for its mend; ``sound``: nothing is wrong."""

    id: str
    title: str
    chance: float
    danger: bool
    mend: str
    minutes: float
    pro: list[str]
    con: list[str]
    power: str
    sound: bool


class PointsOut(BaseModel):
    """A cause that an outcome would point to, and its chance then."""

    title: str
    chance: float


class OutcomeOut(BaseModel):
    """One outcome of an ask: its chance, and what it would mean."""

    id: str
    text: str
    chance: float
    points_to: list[PointsOut]


class AskOut(BaseModel):
    """One thing to ask of the bath; ``power``: on, off or any."""

    id: str
    text: str
    power: str
    minutes: float
    outcomes: list[OutcomeOut]


class CausesOut(BaseModel):
    """``next``: what to ask, or null where ``mend`` names the cause to be mended first; ``danger``:
    it is for a danger's sake; ``once_more``: that was done, and is likeliest still. ``others``:
    what else can be asked. ``unknown``: the chance that it is none of these; ``fits_nothing``:
    that is likelier than any cause, or nothing is left that is worth a try; ``off_now``: what was
    answered or read and is a danger, in words."""

    in_doubt: bool
    evidence: list[str]
    suspects: list[SuspectOut]
    unknown: float
    fits_nothing: bool
    dangers: list[str]
    off_now: list[str]
    danger: bool
    next: AskOut | None
    mend: SuspectOut | None
    once_more: bool
    others: list[AskOut]
    tried: list[str]
    minutes: float
    expects: list[str]


_LEAST, _MOST = 0.03, 5  # chances that are named, and how many


def causes_out(told: Told) -> CausesOut:
    """What was judged, in words."""
    d, system = told.doubts, told.system
    j = d.judged
    named = [s for s in j.suspects if s.chance >= _LEAST][:_MOST] or list(j.suspects[:1])
    named += [s for s in j.suspects if s.id in j.dangers and s not in named]
    mend = next((s for s in j.suspects if s.id == j.mend), None)
    # what was answered can be answered anew: an eye errs
    others = [_ask(a, (), d, system) for a in fitting(d.loop) if j.ask is None or a.id != j.ask.id]
    return CausesOut(
        in_doubt=told.in_doubt,
        evidence=list(d.told),
        suspects=[_suspect(s, d) for s in named],
        unknown=j.unknown,
        fits_nothing=nothing_fits(j),
        dangers=[str(row(c)["short"]) for c in j.dangers],
        off_now=[f"{d.title}. {d.why}" for d in told.dangers if d.grave],
        danger=j.danger,
        next=_ask(j.ask, j.outlook, d, system) if j.ask else None,
        mend=_suspect(mend, d) if mend else None,
        once_more=j.mend in told.tried,
        others=others,
        tried=[str(row(c)["title"]) for c in told.tried if c in causes()],
        minutes=j.minutes,
        expects=list(expects(d.loop, system)),
    )


def _suspect(s: Suspect, d: Doubts) -> SuspectOut:
    r = row(s.id)
    return SuspectOut(
        id=s.id, title=str(r["title"]), chance=s.chance, danger=is_danger(s.id),
        mend=str(r["mend"]), minutes=mend_minutes(s.id),
        pro=[d.told[k] for k in s.pro], con=[d.told[k] for k in s.con],
        power="any" if r.get("dry") else "off", sound=s.id == "sound",
    )  # fmt: skip


def _ask(ask: Ask, outlook: Sequence[CauseOutlook], d: Doubts, system: System) -> AskOut:
    text, outcomes = ask_words(ask, d.loop, system)
    by = {o.outcome: o for o in outlook}
    return AskOut(
        id=ask.id, text=text, power=ask.power, minutes=ask.minutes,
        outcomes=[
            OutcomeOut(
                id=o, text=outcomes[o], chance=by[o].chance if o in by else 0.0,
                points_to=[
                    PointsOut(title=str(row(c)["short"]), chance=p) for c, p in by[o].points_to
                ] if o in by else [],
            )
            for o in ask.outcomes
        ],
    )  # fmt: skip


class QuestionOut(BaseModel):
    """What people ask of a bath, and what holds whatever the cause is; ``seen``: what it says of
    the bath, as the guide takes it; ``first``: what is asked first, or nothing."""

    id: str
    title: str
    says: str
    seen: list[dict[str, str | bool]]
    first: str


def question_out(q: Question) -> QuestionOut:
    """For the guide."""
    seen: list[dict[str, str | bool]] = [
        {"ask": e.ask, "outcome": e.outcome, "before": e.before} for e in q.seen
    ]
    return QuestionOut(id=q.id, title=q.title, says=q.says, seen=seen, first=q.first)
