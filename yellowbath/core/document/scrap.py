"""The scrap on the plus side, and how it was set out."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, number

Scrap = Literal[
    "plain_steel",
    "cast_iron",
    "unknown",
    "painted",
    "stainless",
    "chromed",
    "galvanised",
    "copper",
    "brass",
    "lead",
    "aluminium",
    "graphite",
    "coated_titanium",
    "titanium",
]


AnodeKind = Literal["rod", "plate", "floor", "ring", "bore"]


class Anode(Doc):
    """A piece of scrap on the plus side; ``x_m``/``y_m`` of its middle, from the centre line.

    ``rod`` stands; ``plate`` (flat bar, plate, sheet) stands with its broad side to the middle;
    ``floor`` lies; ``ring`` goes round the wall at the height of its gap to the floor; ``bore``
    runs on spacers through the middle of the piece that ``piece`` names.
    """

    id: str
    kind: AnodeKind = "rod"
    material: Scrap = "plain_steel"
    diameter_m: float = number("length", 0.012, 0.002, 0.2, "Rod diameter")
    width_m: float = number("length", 0.10, 0.005, 3.0, "Plate width")
    depth_m: float = number("length", 0.10, 0.005, 3.0, "Plate length, lying")
    thickness_m: float = number("length", 0.004, 0.001, 0.1, "Plate thickness")
    open_share: float = number("ratio", 0.0, 0.0, 0.8, "Open share of a perforated sheet")
    floor_gap_m: float = number("length", 0.02, 0.0, 1.0, "Gap to the floor")
    sleeve_m: float = number("length", 0.0, 0.0, 3.0, "Insulated from the surface down")
    x_m: float = number("length", 0.0, -3.0, 3.0, "Across")
    y_m: float = number("length", 0.0, -3.0, 3.0, "Along")
    contact_ohm: float = number("resistance", 0.0, 0.0, 5.0, "Clip and lead, resistance")
    piece: str | None = Field(default=None, max_length=40, title="Through the bore of")

    @property
    def pattern(self) -> dict[str, Any]:
        """What it is, whichever place it has."""
        return self.model_dump(exclude={"id", "x_m", "y_m"})


class Placing(Doc):
    """How the rods were set out; the anode list is arranged from it."""

    arrangement: Literal["one_side", "opposite", "corners", "ring", "by_hand"] = "opposite"
    count: int = number("count", 6, 3, 16, "Rods in the ring")
    wall_gap_m: float = number("length", 0.02, 0.002, 0.5, "Rod centre to the wall")
    joint_clear: bool | None = None
