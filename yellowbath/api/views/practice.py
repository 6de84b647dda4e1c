"""A practice bath for the page."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from yellowbath.core.causes.asks import ask_words, fitting
from yellowbath.core.causes.rows import cannot, causes, mend_minutes, row
from yellowbath.core.units import show
from yellowbath.core.words import word
from yellowbath.workflows.practice.debrief import Debrief
from yellowbath.workflows.practice.deck import Card
from yellowbath.workflows.practice.practice import Practice


class CardOut(BaseModel):
    """A card face down."""

    id: str
    grade: int
    number: int


def card_out(card: Card) -> CardOut:
    """A card, without what is behind it."""
    return CardOut(id=card.id, grade=card.grade, number=card.number)


class ThingToAskOut(BaseModel):
    """Something to look at or read; ``power``: on, off or any."""

    id: str
    text: str
    power: str
    minutes: float


class ThingToMendOut(BaseModel):
    """Something to mend."""

    id: str
    text: str
    minutes: float


class MetOut(BaseModel):
    """What was met when something was looked at, and when; ``value`` of a meter."""

    at: datetime
    ask: str
    question: str
    text: str
    value: float | None


class PracticeOut(BaseModel):
    """A practice as it stands; ``run_id`` is empty until its bath is set up, ``begun``: it was
    switched on once, ``on``: it is under power."""

    id: str
    card: CardOut
    now: datetime
    run_id: str
    begun: bool
    on: bool
    asks: list[ThingToAskOut]
    mends: list[ThingToMendOut]
    met: list[MetOut]


def practice_out(p: Practice) -> PracticeOut:
    """For the bar over its pages."""
    loop, system = p.loop, p.system()
    can = fitting(loop) if loop else []
    texts = {a.id: ask_words(a, loop, system)[0] for a in can} if loop else {}
    gone = cannot(loop) if loop else frozenset(causes())
    return PracticeOut(
        id=p.id,
        card=card_out(p.card),
        now=p.now(),
        run_id=p.run_id,
        begun=p.bath is not None,
        on=p.bath is not None and p.bath.supply.on,
        asks=[
            ThingToAskOut(id=a.id, text=texts[a.id], power=a.power, minutes=a.minutes) for a in can
        ],
        mends=[
            ThingToMendOut(id=c, text=str(row(c)["title"]), minutes=mend_minutes(c))
            for c in causes()
            if c not in gone and not row(c).get("by_hand")
        ],
        met=[
            MetOut(at=m.at, ask=m.ask, question=texts.get(m.ask, ""), text=m.text, value=m.value)
            for m in reversed(p.met)
        ],
    )


class MomentOut(BaseModel):
    """A time of the story; ``percent``: how likely the true cause was by what was written down."""

    at: datetime
    text: str
    percent: int | None


class DebriefOut(BaseModel):
    """What it was, in sentences, and the story."""

    cause: str
    title: str
    grade: int
    named: bool
    says: list[str]
    came: datetime | None
    gone: datetime | None
    mend: str
    moments: list[MomentOut]


def debrief_out(d: Debrief) -> DebriefOut:
    """For the page; times stay times, which the device writes."""
    says = [word("practice.named" if d.named else "practice.not_named")]
    if d.lost_min:
        says.append(word("practice.lost", minutes=round(d.lost_min)))
    if d.eaten_kg > _LEAST_KG:
        says.append(word("practice.eaten", grams=show(d.eaten_kg, "mass", d.system, 2)))
    if d.soonest is not None:
        ask, outcome, chance = d.soonest
        percent = round(100 * chance)
        says.append(word("practice.soonest", ask=ask, outcome=outcome, percent=percent))
    return DebriefOut(
        cause=d.cause,
        title=str(row(d.cause)["title"]),
        grade=d.grade,
        named=d.named,
        says=says,
        came=d.came,
        gone=d.gone,
        mend=str(row(d.cause)["mend"]),
        moments=[
            MomentOut(
                at=m.at, text=m.text, percent=None if m.chance is None else round(100 * m.chance)
            )
            for m in d.moments
        ],
    )


_LEAST_KG = 1e-5  # a hundredth of a gram is not worth a word
