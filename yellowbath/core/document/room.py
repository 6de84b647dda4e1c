"""Where the bath stands: air, flames, who can come near."""

from __future__ import annotations

from typing import Literal

from yellowbath.core.document.base import Doc, number


class Place(Doc):
    part = "place"

    where: Literal["outdoors", "open_door", "closed_room"] = "open_door"
    room_m3: float = number("room", 40.0, 0.5, 5000.0)
    lid: bool | None = None
    flames: bool | None = None
    filter_loop: bool = False
    pump_m3: float | None = number("volume", None, 0.005, 5.0)
    cooled: bool = False
    air_c: float | None = number("temperature", None, -10.0, 45.0)
    altitude_m: float = number("distance", 0.0, -400.0, 5000.0)
    humidity: float = number("ratio", 0.6, 0.1, 1.0)
    opening_m2: float | None = number("area", None, 0.0, 20.0)
    visitors: bool | None = None
    price_kwh: float = number("money", 0.30, 0.0, 10.0)
