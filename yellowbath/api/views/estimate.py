"""What is believed of a run's circuit, in words and figures."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core.bath.estimate import Part, Three, readings, separated_by
from yellowbath.core.units import System, show
from yellowbath.core.words import word
from yellowbath.workflows.runs.estimate import LATER_H, Believed, Fresh


class PartOut(BaseModel):
    """A part of the circuit: what it resists by what was read, and as it was thought."""

    name: str
    read: str
    planned: str


class AfterOut(BaseModel):
    """What a change would make of the amps; ``warning`` where they would be too many."""

    what: str
    name: str
    text: str
    warning: str


class EstimateOut(BaseModel):
    """``low``, ``mid``, ``high``: the amps to expect now [A], by ``count`` readings; ``says``: that
    in sentences; ``parts``: what the readings tell apart."""

    low: float
    mid: float
    high: float
    count: int
    fits: bool
    says: list[str]
    parts: list[PartOut]
    after: list[AfterOut]


_OFF = 0.05  # of the amps: less is not worth a word


def estimate_out(b: Believed) -> EstimateOut:
    """For the page."""
    e, system = b.found, b.system
    low, mid, high = e.amps
    return EstimateOut(
        low=low, mid=mid, high=high, count=readings(b.seen), fits=e.fits, says=_says(b),
        parts=[_part(p, system) for p in e.parts if p.told],
        after=[_after(what, three, b) for what, three in b.after.items()],
    )  # fmt: skip


def _span(three: Three, quantity: str, system: System) -> str:
    low, high = (show(v, quantity, system, 2, like=three[2]) for v in (three[0], three[2]))
    return f"{low.text} to {high}"


def _says(b: Believed) -> list[str]:
    e, system = b.found, b.system
    if not b.seen:
        return [word("estimate.none", planned=_span(e.planned, "current", system))]
    if not e.fits:
        return [word("estimate.fits_not")]
    made = [word("estimate.amps", amps=_span(e.amps, "current", system),
                 planned=_span(e.planned, "current", system))]  # fmt: skip
    if b.later is not None:
        made.append(word("estimate.later", hours=f"{LATER_H:g}",
                         amps=_span(b.later, "current", system)))  # fmt: skip
    if abs(e.off - 1) > _OFF:
        percent = round(100 * abs(e.off - 1))
        made.append(word("estimate.less" if e.off < 1 else "estimate.more", percent=percent))
        apart = separated_by(b.seen)
        if apart and not all(p.told for p in e.parts):
            made.append(word(f"estimate.by.{apart}"))
    return made


def _part(p: Part, system: System) -> PartOut:
    return PartOut(
        name=word(f"estimate.part.{p.id}"),
        read=_span(p.ohm, "resistance", system),
        planned=_span(p.before, "resistance", system),
    )


def _after(what: str, three: Three, b: Believed) -> AfterOut:
    warning = ""
    fuse = b.fuse_a
    if fuse is not None and three[2] > fuse:
        warning = word("estimate.over_fuse", fuse=show(fuse, "current", b.system))
    elif three[2] > b.rated_a:
        warning = word("estimate.over_rating", rated=show(b.rated_a, "current", b.system))
    return AfterOut(
        what=what, name=word(f"choice.run.change.{what}"), warning=warning,
        text=word("estimate.after", amps=_span(three, "current", b.system)),
    )  # fmt: skip


class FreshOut(BaseModel):
    """What scrap that goes in would make of a bath, before it does: the most amps in words, and
    what of it must not be."""

    text: str
    warnings: list[str]


def fresh_out(f: Fresh) -> FreshOut:
    """For the page."""
    return FreshOut(
        text=word("estimate.at_most", amps=show(f.most_a, "current", f.system, 2)),
        warnings=[
            *(f"{s.title}. {s.evidence} {s.fix}" for s in f.stops),
            *(word("estimate.would", title=d.title) for d in f.dangers),
        ],
    )
