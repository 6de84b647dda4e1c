"""How a simulated supply behaves over time, by its kind: cut-outs, hiccups, fuses, a battery's
charge."""

from __future__ import annotations

import math
from dataclasses import dataclass

from yellowbath.core.data import param
from yellowbath.core.document.supply import Fixed, PlainCharger, SupplyBase

_CUT_OUT_S = 240.0  # what a bimetal takes to open at one and a half times its load; judged
_COOLS_S = 400.0  # and to close again; judged
_HICCUP_ON, _HICCUP_S = (
    0.15,
    2.0,
)  # tries so much of so many seconds; judged
_FUSE_S = 1800.0  # at 1.35 times its rating; twenty times shorter at twice; judged
_FUSE_POWER = 7.6  # of the load over the rating, by the two points above


@dataclass
class SupplyState:
    """What a supply remembers: the warmth of its cut-out [-], how far its fuse has gone [-], what
    is left in its battery [-]."""

    on: bool = False
    cut_out: bool = False
    warmth: float = 0.0
    fuse_gone: float = 0.0
    blown: bool = False
    tripped: bool = False
    charge: float = 0.9
    since_s: float = 0.0

    def gives(self) -> bool:
        """Whether volts stand at its posts."""
        return self.on and not (self.cut_out or self.blown or self.tripped)

    def hiccups(self, supply: SupplyBase, load: float) -> bool:
        """Whether a switched supply lets go and tries again at this load over its rating."""
        return (
            isinstance(supply, Fixed)
            and supply.protection == "hiccup"
            and load > param("trips_hiccup").value
        )

    def volts_share(self, supply: SupplyBase, forced: str, load: float) -> float:
        """What of its volts it gives on the mean [-]."""
        if not self.gives() or forced in ("asleep", "fuse", "tripped"):
            return 0.0
        if forced == "hiccup" or self.hiccups(supply, load):
            return _HICCUP_ON
        return 1.0

    def step(self, supply: SupplyBase, amps: float, forced: str, dt: float) -> None:
        """Go on by so many seconds at an outgoing current [A]."""
        if not self.on:
            self.warmth = max(self.warmth - dt / _COOLS_S, 0.0)
            return
        self.since_s += dt
        load = (amps + supply.other_a) / supply.rated_a
        if isinstance(supply, PlainCharger):
            self._warm(load, forced, dt)
        fuse = supply.rated_a if _fused(supply) else supply.fuse_a
        if fuse is not None:
            over = amps / fuse / param("trips_fuse").value
            self.fuse_gone += dt / _FUSE_S * over**_FUSE_POWER if over > 0.9 else 0.0
            self.blown = self.blown or self.fuse_gone >= 1 or forced == "fuse"
        if supply.on_battery and supply.battery_ah:
            out = amps + supply.other_a - supply.charges_a
            self.charge = min(max(self.charge - out * dt / 3600 / supply.battery_ah, 0.0), 1.0)
            if forced == "flat":
                self.charge = min(self.charge, 0.02)

    def _warm(self, load: float, forced: str, dt: float) -> None:
        limit = param("thermal_trip").value
        drive = 2.0 if forced == "cut_out" else max(load - limit, 0.0) / 0.35
        if self.cut_out:
            self.warmth -= dt / _COOLS_S
            self.cut_out = self.warmth > 0
        else:
            self.warmth = max(self.warmth + dt * (drive / _CUT_OUT_S - 1e-3), 0.0)
            self.cut_out = self.warmth >= 1

    def battery_v(self, supply: SupplyBase, meant_v: float) -> float:
        """Volts at rest by what is left, empty ones collapsing [V]; ``meant_v`` of a good one."""
        low, full = param("battery_empty_v").value, param("battery_full_v").value
        share = (low + (full - low) * self.charge) / param("battery_v").value
        collapse = min(self.charge / 0.05, 1.0)
        return meant_v * share * (0.4 + 0.6 * math.sqrt(collapse))


def _fused(supply: SupplyBase) -> bool:
    return isinstance(supply, Fixed) and supply.protection == "fuse"
