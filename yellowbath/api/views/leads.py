"""The leads of a run that can be clamped by themselves, for the page."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core.tell.account import Account
from yellowbath.core.tell.leads import leads_told


class LeadOut(BaseModel):
    """A lead that can be clamped by itself: what it should read, and, where it was read, what that
    says; ``verdict``: right, little, idle or much."""

    id: str
    name: str
    should: str
    says: str
    verdict: str


def leads_out(view: Account) -> list[LeadOut]:
    """Every one of them, the newest that was read of it with it."""
    told = leads_told(view.plan, view.run, view.basis, view.system)
    return [LeadOut.model_validate(t, from_attributes=True) for t in told]
