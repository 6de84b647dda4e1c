"""Whose turn it is in one mix: plans that wait, in the order in which their pieces go through."""

from __future__ import annotations

from functools import partial

from yellowbath.core.chemistry.batch import Queued, in_turn
from yellowbath.core.errors import YellowBathError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.store import plans as plan_store
from yellowbath.store.engine import reading
from yellowbath.store.pages import MOST
from yellowbath.store.plans import Revision
from yellowbath.workflows.shop.memo import Memo
from yellowbath.workflows.shop.shop import Shop

_DELICATE = {"relic": 3, "thin": 2, "sound": 1, "robust": 0}
_FOUL = {"light": 0, "moderate": 1, "heavy": 2, "scaled": 3}


# a revision never changes, so that its place is read once and kept a while
_READ: Memo[tuple[Queued, str] | None] = Memo(3 * MOST)


def queue(shop: Shop) -> list[tuple[str, str]]:
    """The newest plans that never ran, in the order in which their pieces go through one mix; (id,
    name)."""
    with reading(shop.engine) as c:
        newest = plan_store.never_ran(c, MOST)
    read = [_READ.get(f"{r.plan_id}/{r.number}", partial(_waiting, r)) for r in newest]
    names = {waits.name: title for waits, title in filter(None, read)}
    return [(q.name, names[q.name]) for q in in_turn([one[0] for one in read if one])]


def _waiting(revision: Revision) -> tuple[Queued, str] | None:
    """A stored plan as it waits, and its title; None for one that cannot be read here, which its
    own row says."""
    try:
        plan = read_plan(revision.document).plan
    except YellowBathError:
        return None
    delicate = max(_DELICATE[p.fragility] for p in plan.pieces)
    return Queued(revision.plan_id, delicate, max(_FOUL[p.grade] for p in plan.pieces)), plan.title
