"""What the shop has already, before anything is bought."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from yellowbath.core.checks.registry import Context, Mend
from yellowbath.core.document import Tank

Sets = tuple[tuple[str, Any], ...]

_PLACE = ("id", "kind", "lead_length_m", "lead_area_m2", "polarity_tested", "rcd", "other_a")
SUPPLY = (
    "overload", "overload_far", "supply_trips", "underload", "no_current", "smart_alone",
    "start_range", "voltage_high", "voltage_touch", "too_fierce", "battery_flat", "battery_short",
    "battery_bare",
)  # fmt: skip
TANK = ("no_fit", "half_dip", "near_rim", "overflow", "too_hot", "tank_metal", "hole_drowned")


MENDS = frozenset({*SUPPLY, *TANK})


def owned(c: Context, check_id: str) -> Iterator[Mend]:
    """Each of the shop's free supplies or tanks that the plan is not made with."""
    taken = {k.ref for k in c.plan.kit}
    for thing in c.own:
        tank = isinstance(thing.part, Tank)
        if thing.id in taken or check_id not in (TANK if tank else SUPPLY):
            continue
        sets = _tank(thing.part) if isinstance(thing.part, Tank) else _supply(c, thing.part)
        yield Mend((*sets, _kit(c, thing.id, "tank" if tank else "supply")),
                     f"Use your {thing.name or ('tank' if tank else 'supply')}")  # fmt: skip


def _kit(c: Context, ref: str, role: str) -> tuple[str, Sequence[dict[str, Any]]]:
    kept = [k.model_dump(mode="json") for k in c.plan.kit if k.role != role]
    return ("/kit", [*kept, {"role": role, "ref": ref}])


def _supply(c: Context, supply: Any) -> Sets:
    """The supply as it is; leads, socket and what else hangs on the line stay the plan's."""
    now = c.plan.supply
    fields = supply.model_dump(mode="json")
    kept = {name: getattr(now, name) for name in _PLACE if name != "kind"}
    return (("/supply", {**fields, **kept, "kind": supply.kind}),)


def _tank(tank: Tank) -> Sets:
    return (("/tank", {**tank.model_dump(mode="json"), "water_m3": None, "level_m": None}),)
