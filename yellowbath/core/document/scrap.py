"""The scrap on the plus side, and how it was set out."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import Discriminator, Field, Tag

from yellowbath.core.document.base import Doc, Id, kind_or, number

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
    "zinc",
    "lead",
    "aluminium",
    "graphite",
    "coated_titanium",
    "titanium",
]


AnodeKind = Literal["rod", "plate", "floor", "ring", "bore"]
USUAL_ANODE = "rod"


class AnodeBase(Doc):
    """A piece of scrap on the plus side; ``x_m``/``y_m`` of its middle, from the centre line.

    Every form keeps the fields of all, so that a change of form and back loses nothing.
    """

    part = "anode"

    id: Id
    kind: str
    material: Scrap = "plain_steel"
    diameter_m: float = number("length", 0.012, 0.002, 0.2)
    width_m: float = number("length", 0.10, 0.005, 3.0)
    depth_m: float = number("length", 0.10, 0.005, 3.0)
    thickness_m: float = number("length", 0.004, 0.001, 0.1)
    open_share: float = number("ratio", 0.0, 0.0, 0.8)
    floor_gap_m: float = number("length", 0.02, 0.0, 1.0)
    sleeve_m: float = number("length", 0.0, 0.0, 3.0)
    x_m: float = number("length", 0.0, -3.0, 3.0)
    y_m: float = number("length", 0.0, -3.0, 3.0)
    contact_ohm: float = number("resistance", 0.0, 0.0, 5.0)
    piece: str | None = Field(default=None, max_length=40)

    sizes: ClassVar[tuple[str, ...]] = ("diameter_m",)
    """The fields that say how large it is from above."""

    @property
    def pattern(self) -> dict[str, Any]:
        """What it is, whichever place it has."""
        return self.model_dump(exclude={"id", "x_m", "y_m"})

    @property
    def stands(self) -> bool:
        """Whether it stands where ``x_m`` and ``y_m`` put it, and can be moved there."""
        return False

    @property
    def across_m(self) -> float:
        """Its broad side from above [m]."""
        return self.diameter_m

    @property
    def line_radius_m(self) -> float:
        """Radius of the round rod that draws like it [m]: a strip draws like a rod of a quarter
        its width (conformal mapping of the ellipse, two dimensions; from memory)."""
        return self.diameter_m / 2

    @property
    def outline_m(self) -> tuple[float, float]:
        """Its box from above [m], the side that faces the middle second."""
        return self.diameter_m, self.diameter_m


class Sheet(AnodeBase):
    """What has a broad side: flat bar, plate, sheet."""

    sizes: ClassVar[tuple[str, ...]] = ("width_m",)

    @property
    def across_m(self) -> float:
        return self.width_m

    @property
    def line_radius_m(self) -> float:
        return self.width_m / 4


class RodAnode(AnodeBase):
    """A rod that stands."""

    kind: Literal["rod"] = "rod"

    @property
    def stands(self) -> bool:
        return True


class PlateAnode(Sheet):
    """Flat bar, plate or sheet that stands with its broad side to the middle."""

    kind: Literal["plate"] = "plate"

    @property
    def stands(self) -> bool:
        return True

    @property
    def outline_m(self) -> tuple[float, float]:
        return self.thickness_m, self.width_m


class FloorAnode(Sheet):
    """A plate that lies on the floor or over it."""

    kind: Literal["floor"] = "floor"
    sizes: ClassVar[tuple[str, ...]] = ("width_m", "depth_m")

    @property
    def outline_m(self) -> tuple[float, float]:
        return self.depth_m, self.width_m


class RingAnode(AnodeBase):
    """A rod bent round the wall, at the height of its gap to the floor."""

    kind: Literal["ring"] = "ring"


class BoreAnode(AnodeBase):
    """A rod on spacers through the middle of the tube that ``piece`` names."""

    kind: Literal["bore"] = "bore"


Anode = Annotated[
    Annotated[RodAnode, Tag("rod")]
    | Annotated[PlateAnode, Tag("plate")]
    | Annotated[FloorAnode, Tag("floor")]
    | Annotated[RingAnode, Tag("ring")]
    | Annotated[BoreAnode, Tag("bore")],
    Discriminator(kind_or(USUAL_ANODE)),
]


class Layout(Doc):
    """How the rods were set out; the anode list is arranged from it."""

    part = "layout"

    arrangement: Literal["one_side", "opposite", "corners", "ring", "by_hand"] = "opposite"
    count: int = number("count", 6, 3, 16)
    wall_gap_m: float = number("length", 0.02, 0.002, 0.5)
    joint_clear: bool | None = None
