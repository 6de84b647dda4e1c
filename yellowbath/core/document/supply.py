"""What feeds the bath, its leads and what guards them: a class for each kind of supply.

A new kind is a class here, its source in ``core/power/supply.py`` and its words; an unknown one is
refused when a document is read, and by the type checker where it is handled.
"""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Discriminator, Tag

from yellowbath.core.document.base import Doc, Id, kind_or, number

USUAL_KIND = "transformer"


class SupplyBase(Doc):
    """What every supply has. What a kind does otherwise stands in its class.

    Every kind keeps the fields of all, so that a change of kind and back loses nothing.
    """

    part = "supply"

    id: Id = "s1"
    kind: str
    nominal_v: float = number("voltage", 12.0, 1.5, 48.0)
    rated_a: float = number("current", 6.0, 0.2, 100.0)
    limit_a: float = number("current", 3.0, 0.05, 100.0)
    protection: Literal["foldback", "hiccup", "fuse"] = "foldback"
    manual_mode: bool = False
    buffer_battery: bool = False
    battery_ah: float | None = number("charge", None, 2.0, 400.0)
    start_range: bool | None = None
    other_a: float = number("current", 0.0, 0.0, 100.0)
    fuse_a: float | None = number("current", None, 0.5, 200.0)
    line_switch: bool = False
    rectifier: Literal["two_way", "one_way"] = "two_way"
    lead_length_m: float = number("distance", 1.5, 0.1, 30.0)
    lead_area_m2: float = number("wire", 2.5e-6, 2e-7, 70e-6)
    polarity_tested: bool | None = None
    rcd: bool | None = None

    @property
    def on_mains(self) -> bool:
        """Whether it is plugged into the wall."""
        return True

    @property
    def on_battery(self) -> bool:
        """Whether the bath hangs on a battery, which has no limit and no switch of its own."""
        return False

    @property
    def may_have_battery(self) -> bool:
        """Whether a battery belongs to this kind, or may."""
        return False

    @property
    def asleep(self) -> bool:
        """Whether it finds no battery and stays off (common practice, no source)."""
        return False

    @property
    def kind_unknown(self) -> bool:
        """Whether nobody knows if it waits for a battery."""
        return False

    @property
    def by_hand(self) -> bool:
        """Whether it is a charger of its own mind that was put into manual mode."""
        return False

    @property
    def sags(self) -> bool:
        """Whether nothing but its own droop holds its amps."""
        return False

    @property
    def rectified(self) -> bool:
        """Whether its current comes in the pulses of a rectifier."""
        return False

    @property
    def limited(self) -> bool:
        """Whether it holds a limit of current that was set."""
        return False

    @property
    def lets_go(self) -> bool:
        """Whether it gives up over its rating, and holds no current."""
        return False

    @property
    def fused(self) -> bool:
        """Whether a fuse of its own or in its lead can blow."""
        return self.fuse_a is not None

    @property
    def cuts_out(self) -> bool:
        """Whether it switches itself off, or sags, when something is the matter with it."""
        return not self.on_battery

    @property
    def set_by_hand(self) -> bool:
        """Whether it has a range or a limit that can be set otherwise."""
        return True

    @property
    def fanned(self) -> bool:
        """Whether a fan keeps it cool; common practice, no source."""
        return False

    @property
    def has(self) -> frozenset[str]:
        """What it has that can go wrong, as the rows of causes and faults call it."""
        said = {
            "fuse": self.fused, "battery": self.on_battery, "cut_out": self.cuts_out,
            "settings": self.set_by_hand, "fan": self.fanned,
        }  # fmt: skip
        return frozenset(what for what, so in said.items() if so)

    @property
    def charges_a(self) -> float:
        """What is charged into a battery behind it [A]."""
        return self.rated_a

    @property
    def other_settings_v(self) -> tuple[float, ...]:
        """The other settings [V] that such a supply has, or usually has."""
        return ()


class PlainCharger(SupplyBase):
    """Open volts that droop with the amps; the settings [V] that such a one has."""

    settings_v: ClassVar[tuple[float, ...]]

    @property
    def sags(self) -> bool:
        return True

    @property
    def rectified(self) -> bool:
        return True

    @property
    def other_settings_v(self) -> tuple[float, ...]:
        known = self.nominal_v in self.settings_v
        return tuple(v for v in self.settings_v if v != self.nominal_v) if known else ()


class Transformer(PlainCharger):
    """A plain charger; many have a 6 V setting."""

    kind: Literal["transformer"] = "transformer"
    settings_v = (6.0, 12.0)


class Selector(PlainCharger):
    """A plain charger with a selector; ``nominal_v`` and ``rated_a`` are those of its position."""

    kind: Literal["selector"] = "selector"
    settings_v = (6.0, 12.0, 24.0)


class UnknownCharger(PlainCharger):
    """A charger of which nobody knows whether it waits for a battery; reckoned as a plain one."""

    kind: Literal["unknown"] = "unknown"
    settings_v = (6.0, 12.0)

    @property
    def kind_unknown(self) -> bool:
        return True


class Laboratory(SupplyBase):
    """Constant volts up to a limit that was set."""

    kind: Literal["laboratory"] = "laboratory"

    @property
    def limited(self) -> bool:
        return True

    @property
    def cuts_out(self) -> bool:
        return False

    @property
    def fanned(self) -> bool:
        return True


class Smart(SupplyBase):
    """An automatic charger: off without a battery, unless it has a manual mode."""

    kind: Literal["smart"] = "smart"

    @property
    def on_battery(self) -> bool:
        return self.buffer_battery

    @property
    def may_have_battery(self) -> bool:
        return True

    @property
    def asleep(self) -> bool:
        return not (self.buffer_battery or self.manual_mode)

    @property
    def by_hand(self) -> bool:
        return self.manual_mode and not self.buffer_battery

    @property
    def sags(self) -> bool:
        return self.by_hand

    @property
    def rectified(self) -> bool:
        return not self.buffer_battery

    @property
    def set_by_hand(self) -> bool:
        return not self.buffer_battery


class Fixed(SupplyBase):
    """A fixed or computer supply: holds its rating, or lets go over it."""

    kind: Literal["fixed"] = "fixed"

    @property
    def lets_go(self) -> bool:
        return self.protection != "foldback"

    @property
    def fused(self) -> bool:
        return super().fused or self.protection == "fuse"

    @property
    def set_by_hand(self) -> bool:
        return False

    @property
    def fanned(self) -> bool:
        return True


class Battery(SupplyBase):
    """A battery or bank with nothing that charges it."""

    kind: Literal["battery"] = "battery"

    @property
    def on_mains(self) -> bool:
        return False

    @property
    def on_battery(self) -> bool:
        return True

    @property
    def may_have_battery(self) -> bool:
        return True

    @property
    def set_by_hand(self) -> bool:
        return False

    @property
    def charges_a(self) -> float:
        return 0.0


Supply = Annotated[
    Annotated[Transformer, Tag("transformer")]
    | Annotated[Selector, Tag("selector")]
    | Annotated[Laboratory, Tag("laboratory")]
    | Annotated[Smart, Tag("smart")]
    | Annotated[Fixed, Tag("fixed")]
    | Annotated[Battery, Tag("battery")]
    | Annotated[UnknownCharger, Tag("unknown")],
    Discriminator(kind_or(USUAL_KIND)),
]
