"""Every lead that a clamp can go round by itself: what it should read, and what was read of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from yellowbath.core.document import Plan
from yellowbath.core.run.basis import Basis
from yellowbath.core.run.one_lead import LeadShare, lead_shares, told_leads
from yellowbath.core.run.run import Run
from yellowbath.core.units import System, show
from yellowbath.core.words import word


@dataclass(frozen=True)
class LeadTold:
    """A lead by its id: its name, what it should read, and what was read of it, if anything."""

    id: str
    name: str
    should: str
    says: str
    verdict: str


def leads_told(plan: Plan, run: Run, basis: Basis, system: System) -> Sequence[LeadTold]:
    """Scraps in the plan's order, then pieces; none where there is one of each."""
    here = basis.under(run.out)
    read = {t.lead: t for t in told_leads(run.leads, run.last_current_a, here)}
    names = {a.id: word("lead.scrap", n=n) for n, a in enumerate(plan.anodes, 1)}
    names |= {p.id: plan.called(p) for p in plan.pieces}
    whole = run.last_current_a or here.expected_a
    made = []
    for lead, share in lead_shares(here).items():
        told = read.get(lead)
        should = show(told.should_a if told else share * whole, "current", system, 2)
        made.append(LeadTold(
            lead, names[lead], str(should), _says(told, names[lead], system) if told else "",
            told.verdict if told else "",
        ))  # fmt: skip
    return made


def lead_doubted(plan: Plan, run: Run, basis: Basis, system: System) -> str:
    """The lead that takes least or most against its share, as a title; empty where all do well."""
    told = leads_told(plan, run, basis, system)
    odd = [t for verdict in ("idle", "much", "little") for t in told if t.verdict == verdict]
    return word(f"lead.is_{odd[0].verdict}", name=odd[0].name) if odd else ""


def _says(t: LeadShare, name: str, system: System) -> str:
    amps, of, low, high = (
        show(a, "current", system, 2) for a in (t.amps, t.of_a, t.low_a, t.high_a)
    )
    return word(f"lead.{t.verdict}", name=name, amps=amps, of=of, low=low, high=high)
