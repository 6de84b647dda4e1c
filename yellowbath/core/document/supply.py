"""What feeds the bath, its leads and what guards them."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, number


class Supply(Doc):
    id: str = "s1"
    kind: Literal["transformer", "laboratory", "smart", "fixed", "battery"] = "transformer"
    nominal_v: float = number("voltage", 12.0, 1.5, 48.0, "Volts")
    rated_a: float = number("current", 6.0, 0.2, 100.0, "Amps of the range in use")
    limit_a: float = number("current", 3.0, 0.05, 100.0, "Current limit")
    protection: Literal["foldback", "hiccup", "fuse"] = "foldback"
    manual_mode: bool = False
    buffer_battery: bool = False
    battery_ah: float | None = number("charge", None, 2.0, 400.0, "Battery, ampere-hours")
    start_range: bool | None = Field(default=None, title="The engine-start range is chosen")
    other_a: float = number("current", 0.0, 0.0, 100.0, "Other baths on this supply draw")
    fuse_a: float | None = number("current", None, 0.5, 200.0, "Fuse near the battery")
    line_switch: bool = False
    lead_length_m: float = number("distance", 1.5, 0.1, 30.0, "Lead length, one way")
    lead_area_m2: float = number("wire", 2.5e-6, 2e-7, 70e-6, "Lead size")
    polarity_tested: bool | None = None
    rcd: bool | None = None
