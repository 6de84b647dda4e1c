"""Which tank for a piece: the smallest sensible one, and the kit's own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yellowbath.core.document import BoxTank, Hang
from yellowbath.core.kit import KitTank
from yellowbath.core.plan.placement.fitting import Fits, best_owned, smallest
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.units import System
from yellowbath.workflows.kit import kit
from yellowbath.workflows.shop import Shop


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
    things = {v.id: v for v in kit(shop) if isinstance(v.read.thing.detail, KitTank)}
    tanks = [
        (key, v.read.thing.detail.tank) for key, v in things.items()
        if isinstance(v.read.thing.detail, KitTank)
    ]  # fmt: skip
    box, hang = smallest(plan.pieces)
    ranked = best_owned(plan.pieces, tanks, plan.layout)
    owned = [Owned(k, things[k].read.thing.name, things[k].stands.word, f) for k, f in ranked]
    return WhichTank(plan.system, box, hang, owned)
