"""The tank: its shape by tape or by jug, what it bears, how it is filled."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, Id, number


class Mark(Doc):
    """A line on the wall, found with a jug: so much liquid stands this high."""

    part = "mark"

    height_m: float = number("length", 0.1, 0.001, 3.0)
    volume_m3: float = number("volume", 0.005, 0.00001, 5.0)


class Straight(Doc):
    """A tank whose outline from above is a rectangle."""

    part = "tank"

    @property
    def is_round(self) -> bool:
        """Whether its outline from above is a circle."""
        return False


class BoxTank(Straight):
    kind: Literal["box"] = "box"
    length_m: float = number("length", 0.40, 0.03, 5.0)
    width_m: float = number("length", 0.30, 0.03, 3.0)
    top_length_m: float | None = number("length", None, 0.03, 5.0)
    top_width_m: float | None = number("length", None, 0.03, 3.0)
    height_m: float = number("length", 0.35, 0.03, 3.0)


class Upright(Doc):
    """A tank whose outline from above is a circle."""

    part = "tank"

    @property
    def is_round(self) -> bool:
        """Whether its outline from above is a circle."""
        return True


class BucketTank(Upright):
    kind: Literal["bucket"] = "bucket"
    floor_diameter_m: float = number("length", 0.26, 0.03, 3.0)
    rim_diameter_m: float = number("length", 0.29, 0.03, 3.0)
    height_m: float = number("length", 0.37, 0.03, 3.0)


class BoreTank(Upright):
    """The plan's only piece, a tube, stood upright and plugged at its foot: its bore holds the
    liquid. The sizes are the tube's own and are put here by reading."""

    kind: Literal["bore"] = "bore"
    diameter_m: float = Field(default=0.05, gt=0, le=1.0)
    height_m: float = Field(default=0.20, gt=0, le=4.0)


class DrumTank(Straight):
    """A drum lying on its side, its upper part cut away at a height."""

    kind: Literal["drum"] = "drum"
    length_m: float = number("length", 0.85, 0.05, 5.0)
    diameter_m: float = number("length", 0.57, 0.05, 3.0)
    height_m: float = number("length", 0.40, 0.03, 3.0)


class Tank(Doc):
    part = "tank"

    id: Id = "t1"
    name: str = Field(default="Bucket", max_length=60)
    shape: Annotated[BoxTank | BucketTank | DrumTank | BoreTank, Field(discriminator="kind")] = (
        Field(default_factory=BucketTank)
    )
    material: Literal["plastic", "metal"] = "plastic"
    limit_c: float = number("temperature", 50.0, 30.0, 95.0)
    bar: Literal["wood", "steel_bar", "steel_tube"] = "wood"
    bar_m: float = number("length", 0.038, 0.003, 0.3)
    bar_carries: bool = False
    marks: list[Mark] = Field(default_factory=list, max_length=12)
    hole_height_m: float | None = number("length", None, 0.005, 3.0)
    water_m3: float | None = number("volume", None, 0.0002, 5.0)
    level_m: float | None = number("length", None, 0.01, 3.0)

    @property
    def is_piece(self) -> bool:
        """Whether the piece itself is the vessel."""
        return isinstance(self.shape, BoreTank)
