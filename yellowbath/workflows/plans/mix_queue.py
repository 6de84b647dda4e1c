"""Whose turn it is in one mix: plans that wait, in the order in which their pieces go through."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from yellowbath.core.chemistry.batch import Queued, in_turn
from yellowbath.core.document import Plan
from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.store import plans as plan_store
from yellowbath.store.engine import reading
from yellowbath.store.pages import MOST
from yellowbath.workflows.shop.shop import Shop

_DELICATE = {"relic": 3, "thin": 2, "sound": 1, "robust": 0}
_FOUL = {"light": 0, "moderate": 1, "heavy": 2, "scaled": 3}


def queue(shop: Shop) -> list[tuple[str, str]]:
    """The newest plans that never ran, in the order in which their pieces go through one mix; (id,
    name)."""
    with reading(shop.engine) as c:
        newest = plan_store.never_ran(c, MOST)
    plans = {r.plan_id: plan for r in newest if (plan := _readable(r.document)) is not None}
    order = in_turn([
        Queued(
            plan_id, max(_DELICATE[p.fragility] for p in plan.pieces),
            max(_FOUL[p.grade] for p in plan.pieces),
        )
        for plan_id, plan in plans.items()
    ])  # fmt: skip
    return [(q.name, plans[q.name].title) for q in order]


def _readable(document: Mapping[str, Any]) -> Plan | None:
    """A stored plan; None for one that cannot be read here, which its own row says."""
    try:
        return read_plan(document).plan
    except YellowBathError:
        return None
