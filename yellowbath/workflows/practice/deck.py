"""The deck of the practice bath: hidden faults by difficulty, each on an invented plan."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from yellowbath.core.errors import NotFoundError
from yellowbath.core.simulation.faults import fault_ids, fault_row, grade_of
from yellowbath.core.units import System


@dataclass(frozen=True)
class Card:
    """A hidden fault on a bath; ``grade`` 1 to 3, ``number`` within the grade."""

    id: str
    grade: int
    number: int
    fault: str
    bath: str
    seed: int


_PLACE = {"where": "open_door", "lid": False, "flames": False, "visitors": False}
_MIX = {"product": "soda_anhydrous", "concentration_kg_m3": 6.0, "temperature_c": 16.0}
_SAFE = {"polarity_tested": True, "rcd": True}
_STRAP = {"kind": "plate", "length_m": 0.26, "width_m": 0.05, "thickness_m": 0.008}
_TUB = {"name": "Practice tub",
        "shape": {"kind": "box", "length_m": 0.6, "width_m": 0.4, "height_m": 0.36}}  # fmt: skip
BATHS: Mapping[str, Mapping[str, Any]] = {
    "charger": {"kind": "transformer", "nominal_v": 12.0, "rated_a": 6.0, "fuse_a": 10.0, **_SAFE},
    "bench": {"kind": "laboratory", "nominal_v": 12.0, "rated_a": 10.0, "limit_a": 8.0, **_SAFE},
    "battery": {"kind": "battery", "nominal_v": 12.0, "rated_a": 30.0, "battery_ah": 60.0,
                "fuse_a": 10.0, "polarity_tested": True},
    "pair": {"kind": "transformer", "nominal_v": 12.0, "rated_a": 8.0, "fuse_a": 12.0, **_SAFE},
}  # fmt: skip


def practice_document(bath: str, system: System = "metric") -> dict[str, Any]:
    """An invented plan for practice."""
    count = 2 if bath == "pair" else 1
    names = ["Practice strap", "Second strap"][:count]
    pieces = [
        {"id": f"p{k}", "name": n, "shape": _STRAP, "metal": "mild", "grade": "moderate",
         "aim": "black"}
        for k, n in enumerate(names, 1)
    ]  # fmt: skip
    return {
        "name": "Practice strap", "system": system, "pieces": pieces, "tank": _TUB, "mix": _MIX,
        "supply": dict(BATHS[bath]), "layout": {"arrangement": "corners", "joint_clear": True},
        "place": _PLACE,
    }  # fmt: skip


@cache
def deck() -> Sequence[Card]:
    """Every card, the easiest first; within a grade in an order that tells nothing of the fault."""
    made, rng = list[Card](), np.random.default_rng(77)
    for grade in (1, 2, 3):
        names = [name for name in fault_ids() if grade_of(name) == grade]
        for number, k in enumerate(rng.permutation(len(names)), 1):
            name = names[int(k)]
            bath = fault_row(name).get("bath") or ("charger", "bench")[number % 2]
            made.append(Card(f"{grade}-{number}", grade, number, name, bath, 100 + number))
    return tuple(made)


FIRST = "first"
"""The card of the first five minutes: a contact under the rust, so from the start."""


def card_of(card_id: str) -> Card:
    """A card; raises NotFoundError for one that there is not."""
    if card_id == FIRST:
        return Card(FIRST, 1, 0, "contact_piece", "charger", 4)
    found = next((c for c in deck() if c.id == card_id), None)
    if found is None:
        raise NotFoundError(f"There is no practice card {card_id}.")
    return found
