"""The log of baths whose solved field was doubted, kept in the shop and given away as a file."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from functools import partial
from importlib.metadata import version
from typing import Any

from yellowbath.store.doubted import all_doubted, put_doubted
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.plans.field import PlanField, field_of
from yellowbath.workflows.plans.plans import as_file
from yellowbath.workflows.plans.which import own_things
from yellowbath.workflows.shop.shop import Shop
from yellowbath.workflows.shop.solver import Drag

MOST = 200  # cases that are kept


def settled(
    shop: Shop, document: Mapping[str, Any], quality: str, drag: Drag | None = None
) -> PlanField:
    """``field_of`` for a page, with the case kept where the field was doubted on the way. Raises
    as it does."""
    own = partial(own_things, shop)
    found = field_of(shop.solver, document, quality, drag, own=own)
    if found.doubted:
        _keep(shop, found)
    return found


def _keep(shop: Shop, found: PlanField) -> None:
    document = found.plan.model_dump(mode="json", exclude={"typed", "notes"})
    signs = [
        {"sign": d.sign, "seen": d.seen, "low": d.low, "high": d.high, "about": d.about}
        for d in found.doubted
    ]
    case = {
        "at": shop.now().isoformat(timespec="seconds"),
        "version": version("yellowbath"),
        "signs": signs,
        "trusted_after_refining": not found.answer.doubts,
        "resistance_ohm": found.answer.resistance.value,
        "claimed_error": found.answer.model_error,
        "hours_claim": found.answer.hours_claim,
        "facets": found.field.facets,
        "document": document,
    }
    about = json.dumps([document, sorted({d.sign for d in found.doubted})], sort_keys=True)
    mark = hashlib.sha256(about.encode()).hexdigest()
    with writing(shop.engine) as c:
        put_doubted(c, mark, shop.now(), case, MOST)


def doubted(shop: Shop) -> Sequence[dict[str, Any]]:
    """Every case kept, newest first."""
    with reading(shop.engine) as c:
        return all_doubted(c)


def doubted_file(shop: Shop) -> bytes:
    """The log as a file."""
    return as_file(doubted(shop))
