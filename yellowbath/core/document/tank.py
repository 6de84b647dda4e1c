"""The tank: its shape by tape or by jug, what it bears, how it is filled."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, number


class Mark(Doc):
    """A line on the wall, found with a jug: so much liquid stands this high."""

    height_m: float = number("length", 0.1, 0.001, 3.0, "Height of the mark")
    volume_m3: float = number("volume", 0.005, 0.00001, 5.0, "Litres at the mark")


class Straight(Doc):
    """A tank whose outline from above is a rectangle."""

    @property
    def is_round(self) -> bool:
        """Whether its outline from above is a circle."""
        return False


class BoxTank(Straight):
    kind: Literal["box"] = "box"
    length_m: float = number("length", 0.40, 0.03, 5.0, "Inside length at the floor")
    width_m: float = number("length", 0.30, 0.03, 3.0, "Inside width at the floor")
    top_length_m: float | None = number("length", None, 0.03, 5.0, "Inside length at the rim")
    top_width_m: float | None = number("length", None, 0.03, 3.0, "Inside width at the rim")
    height_m: float = number("length", 0.35, 0.03, 3.0, "Inside height")


class BucketTank(Doc):
    kind: Literal["bucket"] = "bucket"
    floor_diameter_m: float = number("length", 0.26, 0.03, 3.0, "Inside diameter at the floor")
    rim_diameter_m: float = number("length", 0.29, 0.03, 3.0, "Inside diameter at the rim")
    height_m: float = number("length", 0.37, 0.03, 3.0, "Inside height")

    @property
    def is_round(self) -> bool:
        """Whether its outline from above is a circle."""
        return True


class DrumTank(Straight):
    """A drum lying on its side, its upper part cut away at a height."""

    kind: Literal["drum"] = "drum"
    length_m: float = number("length", 0.85, 0.05, 5.0, "Inside length")
    diameter_m: float = number("length", 0.57, 0.05, 3.0, "Inside diameter")
    height_m: float = number("length", 0.40, 0.03, 3.0, "Height of the cut above the lowest point")


class Tank(Doc):
    id: str = "t1"
    name: str = Field(default="Bucket", max_length=60)
    shape: Annotated[BoxTank | BucketTank | DrumTank, Field(discriminator="kind")] = Field(
        default_factory=BucketTank
    )
    material: Literal["plastic", "metal"] = "plastic"
    limit_c: float = number("temperature", 50.0, 30.0, 95.0, "Warmest the tank may get")
    bar: Literal["wood", "steel_bar", "steel_tube"] = "wood"
    bar_m: float = number("length", 0.038, 0.003, 0.3, "Bar across the rim, thickness")
    marks: list[Mark] = Field(default_factory=list, max_length=12)
    hole_height_m: float | None = number("length", None, 0.005, 3.0, "Lowest hole above the floor")
    water_m3: float | None = number("volume", None, 0.0002, 5.0, "Water put in")
    level_m: float | None = number("length", None, 0.01, 3.0, "Liquid to stand, piece in")
