"""The pieces: shapes by tape or by file, what is known of the metal, how each hangs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, number


class Plate(Doc):
    kind: Literal["plate"] = "plate"
    length_m: float = number("length", 0.20, 0.005, 4.0, "Length")
    width_m: float = number("length", 0.08, 0.003, 3.0, "Width")
    thickness_m: float = number("length", 0.006, 0.0002, 0.3, "Thickness")


class Bar(Doc):
    kind: Literal["bar"] = "bar"
    length_m: float = number("length", 0.20, 0.005, 4.0, "Length")
    diameter_m: float = number("length", 0.025, 0.001, 1.0, "Diameter")


class Tube(Doc):
    kind: Literal["tube"] = "tube"
    length_m: float = number("length", 0.20, 0.005, 4.0, "Length")
    outer_diameter_m: float = number("length", 0.060, 0.003, 1.0, "Outside diameter")
    inner_diameter_m: float = number("length", 0.050, 0.001, 1.0, "Inside diameter")


class Box(Doc):
    kind: Literal["box"] = "box"
    length_m: float = number("length", 0.15, 0.005, 4.0, "Length")
    width_m: float = number("length", 0.10, 0.003, 3.0, "Width")
    height_m: float = number("length", 0.06, 0.001, 3.0, "Height")


class Angle(Doc):
    """An L-bracket: two legs of one thickness, cut from one width."""

    kind: Literal["angle"] = "angle"
    leg_m: float = number("length", 0.15, 0.01, 3.0, "Longer leg, outside")
    other_leg_m: float = number("length", 0.10, 0.01, 3.0, "Other leg, outside")
    width_m: float = number("length", 0.04, 0.003, 2.0, "Width")
    thickness_m: float = number("length", 0.006, 0.0005, 0.2, "Thickness")


class Ring(Doc):
    """A ring bent from round bar."""

    kind: Literal["ring"] = "ring"
    outer_diameter_m: float = number("length", 0.15, 0.01, 3.0, "Outside diameter")
    bar_diameter_m: float = number("length", 0.02, 0.001, 0.5, "Bar diameter")


class Wheel(Doc):
    """A wheel: flat rim, round spokes, solid hub."""

    kind: Literal["wheel"] = "wheel"
    diameter_m: float = number("length", 0.25, 0.02, 3.0, "Diameter over the rim")
    rim_width_m: float = number("length", 0.03, 0.002, 0.6, "Width of the rim")
    rim_thickness_m: float = number("length", 0.015, 0.001, 0.3, "Thickness of the rim")
    spokes: int = number("count", 5, 2, 24, "Spokes")
    spoke_diameter_m: float = number("length", 0.014, 0.002, 0.2, "Spoke diameter")
    hub_diameter_m: float = number("length", 0.05, 0.005, 1.0, "Hub diameter")
    hub_length_m: float = number("length", 0.05, 0.003, 1.0, "Hub length")


class Wrench(Doc):
    """A flat bar with a round head at either end, with or without eyes."""

    kind: Literal["wrench"] = "wrench"
    length_m: float = number("length", 0.25, 0.03, 3.0, "Length over all")
    width_m: float = number("length", 0.02, 0.002, 0.5, "Width of the shank")
    thickness_m: float = number("length", 0.008, 0.001, 0.2, "Thickness")
    head_diameter_m: float = number("length", 0.045, 0.005, 0.8, "Head diameter")
    eye_diameter_m: float = number("length", 0.02, 0.0, 0.7, "Eye diameter (0: none)")


class Stepped(Doc):
    """A block on a block, like an anvil or the body of a vice."""

    kind: Literal["stepped"] = "stepped"
    length_m: float = number("length", 0.20, 0.005, 4.0, "Length of the base")
    width_m: float = number("length", 0.10, 0.003, 3.0, "Width of the base")
    height_m: float = number("length", 0.04, 0.001, 3.0, "Height of the base")
    top_length_m: float = number("length", 0.12, 0.003, 4.0, "Length of the top")
    top_width_m: float = number("length", 0.06, 0.002, 3.0, "Width of the top")
    top_height_m: float = number("length", 0.06, 0.001, 3.0, "Height of the top")


class Pile(Doc):
    """Small hardware in a basket of wire mesh, counted and measured by one of it."""

    kind: Literal["pile"] = "pile"
    count: int = number("count", 40, 2, 5000, "Pieces")
    item_length_m: float = number("length", 0.05, 0.003, 0.5, "Length of one")
    item_diameter_m: float = number("length", 0.008, 0.0005, 0.1, "Thickness of one")
    length_m: float = number("length", 0.14, 0.02, 2.0, "Length of the basket")
    width_m: float = number("length", 0.10, 0.02, 2.0, "Width of the basket")
    height_m: float = number("length", 0.05, 0.01, 1.0, "Height of the heap")


class Mesh(Doc):
    """A piece from a mesh file, cleaned and made light; packed as geometry/packed.py says.

    ``length_m`` is what its longest side measures; the mesh is scaled to it.
    """

    kind: Literal["mesh"] = "mesh"
    file: str = Field(default="", max_length=120)
    length_m: float = number("length", 0.20, 0.005, 4.0, "Longest side")
    vertices: str = Field(max_length=300_000)
    faces: str = Field(max_length=120_000)
    notes: list[str] = Field(default_factory=list, max_length=20)


Taped = Plate | Bar | Tube | Box | Angle | Ring | Wheel | Wrench | Stepped | Pile
Shape = Annotated[Taped | Mesh, Field(discriminator="kind")]
Metal = Literal["wrought", "mild", "cast", "tool", "spring", "hard"]
OtherMetal = Literal[
    "copper", "zinc", "tin", "cadmium", "aluminium", "magnesium", "lead", "chrome"
]  # fmt: skip
Grade = Literal["light", "moderate", "heavy", "scaled"]
Fragility = Literal["relic", "thin", "sound", "robust"]
Aim = Literal["paint_ready", "patina", "black", "bright"]
Hang = Literal["long_across", "long_down", "flat"]


class Region(Doc):
    """A named part of a piece's surface that is graded and inspected on its own."""

    id: str
    name: str = Field(min_length=1, max_length=60)
    kind: Literal["outer", "recess", "bore"] = "outer"
    grade: Grade | None = Field(default=None, title="How rusty here; none: as the piece")


class Piece(Doc):
    id: str = "p1"
    name: str = Field(default="", max_length=200, title="What it is")
    shape: Shape = Field(default_factory=Plate)
    metal: Metal = "mild"
    other_metals: list[OtherMetal] = Field(default_factory=list, max_length=8)
    grade: Grade = "moderate"
    fragility: Fragility = "sound"
    aim: Aim = "black"
    hang: Hang = "long_across"
    turn_deg: float = number("angle", 0.0, -180.0, 180.0, "Turned about the upright")
    tilt_deg: float = number("angle", 0.0, -90.0, 90.0, "Tilted about its length")
    flipped: bool = Field(default=False, title="Hung by its other end")
    x_m: float = number("length", 0.0, -3.0, 3.0, "Across, from the middle")
    y_m: float = number("length", 0.0, -3.0, 3.0, "Along, from the middle")
    bottom_m: float | None = number("length", None, 0.0, 3.0, "Lower edge above the floor")
    contact_ohm: float = number("resistance", 0.0, 0.0, 5.0, "Clip and hanger, resistance")
    masked: list[str] = Field(default_factory=list, title="Regions painted or taped over")
    hanger: Literal["soft_steel", "hard_wire", "chain", "copper", "galvanised"] = "soft_steel"
    grease: Literal["none", "some"] = "none"
    paint: Literal["none", "patches", "most"] = "none"
    lead_paint: bool | None = Field(default=None, title="Lead in the paint; none: not known")
    hollow: Literal["none", "vented", "sealed"] = "none"
    ordnance: Literal["none", "fragment", "whole"] = "none"
    hardness_hrc: float | None = number("hardness", None, 0.0, 70.0, "Hardness, Rockwell C")
    treatment: Literal["none", "hardened", "case_hardened"] = "none"
    tempered_c: float | None = number("temperature", None, 100.0, 700.0, "Tempered at")
    parts: Literal["one", "seized", "moving", "chain"] = "one"
    duty: Literal["none", "load", "pressure", "firearm", "steering"] = "none"
    contact: Literal["clamp", "drilled"] = "clamp"
    regions: list[Region] = Field(default_factory=list)
