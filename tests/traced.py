"""The walk of a call through the house: which rooms the workflows call on the way, in turn."""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import cache
from itertools import pairwise
from pathlib import Path
from types import FrameType
from typing import Any

from tests.guards.test_arrows import FLOORS, ROOT

# the store stands on the whole core: who meets it after a room of the core has climbed
_FLOOR = {f"core.{room}": k for k, rooms in enumerate(FLOORS) for room in rooms}
_FLOOR["store"] = len(FLOORS)


def walk(call: Callable[[], object]) -> list[str]:
    """Rooms of the core and the store that workflows call while ``call`` runs, one after another;
    what those call themselves is theirs."""
    rooms: list[str] = []

    def watch(frame: FrameType, event: str, _: Any) -> None:
        if event != "call":
            return
        room = _room(frame.f_code.co_filename)
        if room is None or room not in _FLOOR or _caller(frame) != "workflows":
            return
        if rooms[-1:] != [room]:
            rooms.append(room)

    sys.setprofile(watch)
    try:
        call()
    finally:
        sys.setprofile(None)
    return rooms


def climbs(rooms: list[str]) -> int:
    """How often a walk goes up."""
    return sum(_FLOOR[a] < _FLOOR[b] for a, b in pairwise(rooms))


def _caller(frame: FrameType) -> str | None:
    """The house that calls, over whatever is not ours between."""
    back = frame.f_back
    while back is not None:
        room = _room(back.f_code.co_filename)
        if room is not None:
            return room
        back = back.f_back
    return None


@cache
def _room(filename: str) -> str | None:
    path = Path(filename)
    if not path.is_relative_to(ROOT):
        return None
    house, *rest = path.relative_to(ROOT).with_suffix("").parts
    return f"core.{rest[0]}" if house == "core" and rest else house
