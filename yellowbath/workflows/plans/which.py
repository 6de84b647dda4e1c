"""Which tank for a piece: the smallest sensible one, and the kit's own."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.checks.registry import OwnThing
from yellowbath.core.document import BoxTank, Hang
from yellowbath.core.geometry.hanging import Fits, best_owned, smallest
from yellowbath.core.kit import KitSupply, KitTank
from yellowbath.core.plan.advice.other_baths import OwnTank
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.units import System
from yellowbath.workflows.plans.kit import kit
from yellowbath.workflows.shop.shop import Shop


@dataclass(frozen=True)
class Owned:
    """A tank of the kit: how it stands and how the piece goes in."""

    id: str
    name: str
    word: str
    fits: Fits


@dataclass(frozen=True)
class WhichTank:
    """The smallest sensible tank and how the piece then hangs; those owned, best first."""

    system: System
    smallest: BoxTank
    hang: Hang
    owned: Sequence[Owned]


def which_tank(shop: Shop, document: Mapping[str, Any]) -> WhichTank:
    """Ask for a document's pieces; nothing is kept."""
    plan = read_plan(document).plan
    tanks = {own.id: (own, word) for own, word in _tanks(shop)}
    box, hang = smallest(plan.pieces)
    ranked = best_owned(plan.pieces, [(k, o.tank) for k, (o, _) in tanks.items()], plan.layout)
    owned = [Owned(key, tanks[key][0].name, tanks[key][1], fits) for key, fits in ranked]
    return WhichTank(plan.system, box, hang, owned)


def free_tanks(shop: Shop) -> list[OwnTank]:
    """The kit's tanks that no bath stands in."""
    return [own for own, word in _tanks(shop) if word == "free"]


def _tanks(shop: Shop) -> Iterator[tuple[OwnTank, str]]:
    """The kit's tanks, and how each stands."""
    for v in kit(shop, "tank").rows:
        if isinstance(v.read.thing.detail, KitTank):
            tank = v.read.thing.detail.tank
            yield OwnTank(v.id, v.read.thing.name, tank), v.stands.word


def own_things(shop: Shop) -> list[OwnThing]:
    """The kit's free supplies and tanks, which may mend what a plan is told."""
    made = [OwnThing(own.id, own.name, own.tank) for own in free_tanks(shop)]
    for v in kit(shop, "supply").rows:
        detail = v.read.thing.detail
        if isinstance(detail, KitSupply) and v.stands.word == "free":
            made.append(OwnThing(v.id, v.read.thing.name, detail.supply))
    return made
