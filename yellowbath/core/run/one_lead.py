"""A clamp round one lead: what that scrap or piece takes, against what the field says it should."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from yellowbath.core.bath.draws import law
from yellowbath.core.bath.meters import meter_error
from yellowbath.core.errors import InputError
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.clues import Clue, Clues, put
from yellowbath.core.run.log import (
    BackIn,
    Change,
    Entry,
    Lift,
    Mended,
    OneLead,
    Reading,
)
from yellowbath.core.run.signs import amps_stand
from yellowbath.core.words import word


@dataclass(frozen=True)
class LeadAmps:
    """Amps of one lead, when, with their error as a share."""

    at: datetime
    amps: float
    error: float


@dataclass(frozen=True)
class LeadShare:
    """What a lead takes against what it should: amps of it and ``of`` the whole bath [A], what it
    should take of them with its edges; ``verdict``: as it should, too little, next to none, or too
    much."""

    lead: str
    amps: float
    of_a: float
    should_a: float
    low_a: float
    high_a: float
    verdict: str


def hear_lead(
    leads: Mapping[str, LeadAmps], clues: Clues, entry: Entry, total_a: float | None, basis: Basis,
    powered: bool,
) -> dict[str, LeadAmps]:  # fmt: skip
    """The newest amps of each lead after an entry, and what they tell of the causes, put to the
    ``clues``; what is read without power tells nothing. Raises InputError for a lead that there is
    not."""
    require_lead(entry.detail, basis)
    if isinstance(entry.detail, OneLead) and not powered:
        return dict(leads)  # without power it tells nothing of a lead
    made = heard_leads(leads, entry.detail, entry.at)
    if isinstance(entry.detail, OneLead):
        clue = clue_of(told_leads(made, total_a, basis), basis, entry.at)
        if clue is not None:
            put(clues, clue, basis)
    return made


def heard_leads(leads: Mapping[str, LeadAmps], detail: object, at: datetime) -> dict[str, LeadAmps]:
    """The newest amps of each lead after an entry: whatever hands do, and amps of the whole a good
    while later, make those of before worthless."""
    if isinstance(detail, Change | BackIn | Lift | Mended):
        return {}
    kept = {k: a for k, a in leads.items() if at - a.at <= amps_stand()}
    if isinstance(detail, OneLead):
        kept[detail.lead] = LeadAmps(at, detail.current_a, meter_error(detail.method).alone)
    if isinstance(detail, Reading):
        return kept
    return {**leads, **kept}


def lead_shares(basis: Basis) -> Mapping[str, float]:
    """Share of the bath's amps by lead [-]: of every scrap, and of every piece of several that is
    in; by the solved field where there is one, else by what is wet."""
    pieces = [p for p in basis.pieces if p not in basis.out]
    several = pieces if len(pieces) > 1 else []
    all_in = basis.share_in(basis.out)
    own = {p: basis.share_in(tuple(q for q in basis.pieces if q != p)) / all_in for p in several}
    return {**(basis.rods if len(basis.rods) > 1 else {}), **own}


def require_lead(detail: object, basis: Basis) -> None:
    """Raises InputError for amps of a lead that this bath does not have by itself."""
    had = lead_shares(basis)
    if isinstance(detail, OneLead) and detail.lead not in had:
        raise InputError(word("lead.none", lead=detail.lead), allowed=", ".join(had) or "-")


def told_leads(
    leads: Mapping[str, LeadAmps], total_a: float | None, basis: Basis
) -> list[LeadShare]:
    """What each lead that was read takes of the bath's amps, by those that were read of the whole
    (``total_a``), or by all of one side together."""
    shares, made = lead_shares(basis), list[LeadShare]()
    for side in (basis.rods, basis.pieces):
        here = {k: a for k, a in leads.items() if k in side and k in shares}
        whole = sum(a.amps for a in here.values()) if len(here) == _of(side, basis) else total_a
        made += [_judged(k, a, whole, shares[k]) for k, a in here.items() if whole]
    return made


def _of(side: Mapping[str, object], basis: Basis) -> int:
    return len([k for k in side if k not in basis.out])


def _judged(lead: str, read: LeadAmps, whole_a: float, share: float) -> LeadShare:
    should, ratio = share * whole_a, read.amps / max(share * whole_a, 1e-9)
    spread = 2 * math.hypot(read.error, law("lead_share"))
    low, high = should * math.exp(-spread), should * math.exp(spread)
    if ratio < law("lead_idle"):
        verdict = "idle"
    elif read.amps < low:
        verdict = "little"
    else:
        verdict = "much" if read.amps > high else "right"
    return LeadShare(lead, read.amps, whole_a, should, low, high, verdict)


def clue_of(told: list[LeadShare], basis: Basis, at: datetime) -> Clue | None:
    """What it tells of the causes: of scrap how it shares, of pieces which one gets nothing."""
    by = {t.lead: t.verdict for t in told}
    rods = [by.get(k) for k in basis.rods]
    pieces = {k: by[k] for k in basis.pieces if k in by}
    if "idle" in pieces.values():
        last = list(basis.pieces)[-1]
        outcome = "near_only" if pieces.get(last) == "idle" else "far_only"
        return Clue("each_piece", at, outcome)
    if "idle" in rods:
        return Clue("shares", at, "one_idle")
    if "much" in rods:
        return Clue("shares", at, "one_takes")
    return Clue("shares", at, "alike") if rods and all(r == "right" for r in rods) else None
