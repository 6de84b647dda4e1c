"""Baths for the tests of the simulation, by the closed form."""

from functools import cache
from typing import Any

from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.simulation.design import Design

_PIECE = {
    "id": "p1",
    "grade": "moderate",
    "shape": {"kind": "plate", "length_m": 0.25, "width_m": 0.12, "thickness_m": 0.012},
}
_RODS = [
    {"id": f"a{k}", "kind": "rod", "diameter_m": 0.012, "x_m": x, "y_m": 0.0}
    for k, x in ((1, -0.11), (2, 0.11))
]
_TANK = {"shape": {"kind": "box", "length_m": 0.40, "width_m": 0.30, "height_m": 0.32}}
SUPPLIES: dict[str, dict[str, Any]] = {
    "transformer": {"kind": "transformer", "rated_a": 6.0},
    "laboratory": {"kind": "laboratory", "rated_a": 10.0, "limit_a": 10.0},
    "hiccup": {"kind": "fixed", "rated_a": 5.0, "protection": "hiccup"},
    "fused": {"kind": "fixed", "rated_a": 5.0, "protection": "fuse"},
    "foldback": {"kind": "fixed", "rated_a": 5.0},
    "smart": {"kind": "smart", "rated_a": 8.0, "manual_mode": True},
    "battery": {"kind": "battery", "rated_a": 30.0, "battery_ah": 60.0, "fuse_a": 15.0},
}


def document(supply: str = "laboratory", **more: Any) -> dict[str, Any]:
    """Two rods about a plate in a box of soda."""
    return {
        "name": "Bath", "pieces": [_PIECE], "tank": _TANK, "anodes": _RODS,
        "layout": {"arrangement": "by_hand"},
        "mix": {"product": "soda_anhydrous", "concentration_kg_m3": 8.0, "temperature_c": 18.0},
        "supply": {"nominal_v": 12.0, **SUPPLIES[supply]}, **more,
    }  # fmt: skip


@cache
def design(supply: str = "laboratory") -> Design:
    """Its bath."""
    plan = read_plan(document(supply)).plan
    return Design.of(plan, answer(plan))
