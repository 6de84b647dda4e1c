"""Checks of the place: gas, air, what sparks, who comes near."""

from __future__ import annotations

from collections.abc import Iterator

from yellowbath.core.checks.limits import limit
from yellowbath.core.checks.registry import Context, Evidence, check
from yellowbath.core.checks.words import when


@check("closed_room")
def closed_room(c: Context) -> Iterator[Evidence]:
    return when(
        c.plan.place.where == "closed_room",
        hydrogen=c.show(c.answer.hydrogen.value, "gas_rate"),
        air=c.show(c.answer.air.value, "air_flow"),
        room=c.show(c.plan.place.room_m3, "room"),
        time=c.show(c.answer.room.value, "time"),
    )


def _fills(c: Context, share: float) -> float | None:
    """When a closed room holds such a share of hydrogen [s], where that is within the run's
    longest likely hours; None where it is not."""
    window = c.answer.window
    if c.plan.place.where != "closed_room" or window is None:
        return None
    at = c.answer.room.value * share / limit("room_small", "hydrogen")
    return at if at < (window.high or window.value) else None


@check("room_small")
def room_small(c: Context) -> Iterator[Evidence]:
    some = _fills(c, limit("room_small", "hydrogen"))
    full = _fills(c, limit("room_full", "hydrogen"))
    room = c.show(c.plan.place.room_m3, "room")
    return when(some is not None and full is None, room=room, time=c.show(some or 0.0, "time"))


@check("room_full")
def room_full(c: Context) -> Iterator[Evidence]:
    full = _fills(c, limit("room_full", "hydrogen"))
    room = c.show(c.plan.place.room_m3, "room")
    return when(full is not None, room=room, time=c.show(full or 0.0, "time"))


@check("opening_small")
def opening_small(c: Context) -> Iterator[Evidence]:
    have, want = c.plan.place.opening_m2, c.answer.of("air.opening")
    if have is None or want is None or c.plan.place.where == "outdoors":
        return when(False)
    return when(have < want.value, have=c.show(have, "area"), want=c.show(want.value, "area"))


@check("froth")
def froth(c: Context) -> Iterator[Evidence]:
    made = c.answer.of("gas.surface")
    stands = made.value if made else 0.0
    return when(
        stands > limit("froth", "surface"),
        amps=c.show(c.answer.gives.value, "current"),
        surface=c.show(stands, "density"),
    )


@check("lid")
def lid(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.lid is True)


@check("flames")
def flames(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.flames is True)


@check("visitors")
def visitors(c: Context) -> Iterator[Evidence]:
    return when(c.plan.place.visitors is True)


@check("air_asked")
def air_asked(c: Context) -> Iterator[Evidence]:
    place = c.plan.place
    asked = {"a lid": place.lid, "flames or sparks": place.flames,
             "children or pets": place.visitors}  # fmt: skip
    left = [name for name, answer in asked.items() if answer is None]
    return when(bool(left), open=", ".join(left))
