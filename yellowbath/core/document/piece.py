"""The pieces: shapes by tape or by file, what is known of the metal, how each hangs."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from yellowbath.core.document.base import Doc, Id, RegionId, number


class Shaped(Doc):
    """A shape, known by its kind."""

    part = "shape"


class Plate(Shaped):
    kind: Literal["plate"] = "plate"
    length_m: float = number("length", 0.20, 0.005, 4.0)
    width_m: float = number("length", 0.08, 0.003, 3.0)
    thickness_m: float = number("length", 0.006, 0.0002, 0.3)


class Bar(Shaped):
    kind: Literal["bar"] = "bar"
    length_m: float = number("length", 0.20, 0.005, 4.0)
    diameter_m: float = number("length", 0.025, 0.001, 1.0)


class Tube(Shaped):
    kind: Literal["tube"] = "tube"
    length_m: float = number("length", 0.20, 0.005, 4.0)
    outer_diameter_m: float = number("length", 0.060, 0.003, 1.0)
    inner_diameter_m: float = number("length", 0.050, 0.001, 1.0)


class Box(Shaped):
    kind: Literal["box"] = "box"
    length_m: float = number("length", 0.15, 0.005, 4.0)
    width_m: float = number("length", 0.10, 0.003, 3.0)
    height_m: float = number("length", 0.06, 0.001, 3.0)


class Angle(Shaped):
    """An L-bracket: two legs of one thickness, cut from one width."""

    kind: Literal["angle"] = "angle"
    leg_m: float = number("length", 0.15, 0.01, 3.0)
    other_leg_m: float = number("length", 0.10, 0.01, 3.0)
    width_m: float = number("length", 0.04, 0.003, 2.0)
    thickness_m: float = number("length", 0.006, 0.0005, 0.2)


class Ring(Shaped):
    """A ring bent from round bar."""

    kind: Literal["ring"] = "ring"
    outer_diameter_m: float = number("length", 0.15, 0.01, 3.0)
    bar_diameter_m: float = number("length", 0.02, 0.001, 0.5)


class Wheel(Shaped):
    """A wheel: flat rim, round spokes, solid hub."""

    kind: Literal["wheel"] = "wheel"
    diameter_m: float = number("length", 0.25, 0.02, 3.0)
    rim_width_m: float = number("length", 0.03, 0.002, 0.6)
    rim_thickness_m: float = number("length", 0.015, 0.001, 0.3)
    spokes: int = number("count", 5, 2, 24)
    spoke_diameter_m: float = number("length", 0.014, 0.002, 0.2)
    hub_diameter_m: float = number("length", 0.05, 0.005, 1.0)
    hub_length_m: float = number("length", 0.05, 0.003, 1.0)


class Wrench(Shaped):
    """A flat bar with a round head at either end, with or without eyes."""

    kind: Literal["wrench"] = "wrench"
    length_m: float = number("length", 0.25, 0.03, 3.0)
    width_m: float = number("length", 0.02, 0.002, 0.5)
    thickness_m: float = number("length", 0.008, 0.001, 0.2)
    head_diameter_m: float = number("length", 0.045, 0.005, 0.8)
    eye_diameter_m: float = number("length", 0.02, 0.0, 0.7)


class Stepped(Shaped):
    """A block on a block, like an anvil or the body of a vice."""

    kind: Literal["stepped"] = "stepped"
    length_m: float = number("length", 0.20, 0.005, 4.0)
    width_m: float = number("length", 0.10, 0.003, 3.0)
    height_m: float = number("length", 0.04, 0.001, 3.0)
    top_length_m: float = number("length", 0.12, 0.003, 4.0)
    top_width_m: float = number("length", 0.06, 0.002, 3.0)
    top_height_m: float = number("length", 0.06, 0.001, 3.0)


class Pile(Shaped):
    """Small hardware in a basket of wire mesh, counted and measured by one of it."""

    kind: Literal["pile"] = "pile"
    count: int = number("count", 40, 2, 5000)
    item_length_m: float = number("length", 0.05, 0.003, 0.5)
    item_diameter_m: float = number("length", 0.008, 0.0005, 0.1)
    length_m: float = number("length", 0.14, 0.02, 2.0)
    width_m: float = number("length", 0.10, 0.02, 2.0)
    height_m: float = number("length", 0.05, 0.01, 1.0)
    basket: Literal["steel", "galvanised", "stainless", "aluminium", "plastic"] = "steel"


class Shell(Shaped):
    """A hollow casting or housing: a box of one wall, open on one broad side."""

    kind: Literal["shell"] = "shell"
    length_m: float = number("length", 0.20, 0.01, 4.0)
    width_m: float = number("length", 0.12, 0.01, 3.0)
    height_m: float = number("length", 0.08, 0.005, 3.0)
    wall_m: float = number("length", 0.006, 0.0005, 0.2)


class Pan(Shaped):
    """A round pan, pot or lid: a floor and a rim of one wall."""

    kind: Literal["pan"] = "pan"
    diameter_m: float = number("length", 0.26, 0.02, 3.0)
    height_m: float = number("length", 0.05, 0.003, 2.0)
    wall_m: float = number("length", 0.004, 0.0003, 0.1)


class Lattice(Shaped):
    """A frame, gate or grate: a rectangle of flat bar, with bars between."""

    kind: Literal["lattice"] = "lattice"
    length_m: float = number("length", 0.40, 0.03, 4.0)
    width_m: float = number("length", 0.30, 0.03, 3.0)
    bar_m: float = number("length", 0.02, 0.002, 0.5)
    thickness_m: float = number("length", 0.008, 0.001, 0.3)
    between: int = number("count", 0, 0, 30)


class Tines(Shaped):
    """The head of a fork or rake: round tines on a square bar across."""

    kind: Literal["tines"] = "tines"
    width_m: float = number("length", 0.20, 0.02, 2.0)
    tine_length_m: float = number("length", 0.25, 0.01, 2.0)
    tine_diameter_m: float = number("length", 0.010, 0.001, 0.1)
    count: int = number("count", 4, 2, 40)
    bar_m: float = number("length", 0.018, 0.002, 0.2)


class Anvil(Shaped):
    """An anvil by three sizes over all: foot, waist, face and horn in its usual proportions.

    ``sizes`` of the parts are shares of those three (judged).
    """

    kind: Literal["anvil"] = "anvil"
    length_m: float = number("length", 0.40, 0.05, 2.0)
    width_m: float = number("length", 0.10, 0.01, 0.6)
    height_m: float = number("length", 0.24, 0.02, 1.0)

    FACE: ClassVar[tuple[float, float, float]] = (0.62, 1.0, 0.36)
    WAIST: ClassVar[tuple[float, float, float]] = (0.34, 0.72, 0.38)
    FOOT: ClassVar[tuple[float, float, float]] = (0.56, 1.12, 0.26)
    HORN: ClassVar[float] = 0.92
    """How thick the horn is where it meets the face's block, over the smaller side of that."""

    def parts(self) -> tuple[tuple[float, float, float], ...]:
        """Face, waist and foot, length by width by height [m]."""
        whole = (self.length_m, self.width_m, self.height_m)
        face, waist, foot = (
            (a[0] * whole[0], a[1] * whole[1], a[2] * whole[2])
            for a in (self.FACE, self.WAIST, self.FOOT)
        )
        return face, waist, foot

    def horn(self) -> tuple[float, float]:
        """Length and thickness at its root [m] of the horn, a cone."""
        face = self.parts()[0]
        return self.length_m - face[0], self.HORN * min(face[1], face[2])


class Weighed(Shaped):
    """What fits no picture: its weight and its sizes over all; surface and volume follow, in a
    wide band."""

    kind: Literal["weighed"] = "weighed"
    mass_kg: float = number("mass", 2.0, 0.005, 2000.0)
    length_m: float = number("length", 0.25, 0.01, 4.0)
    width_m: float = number("length", 0.15, 0.005, 3.0)
    height_m: float = number("length", 0.10, 0.002, 3.0)
    section_m: float | None = number("length", None, 0.0005, 0.5)


class Mesh(Shaped):
    """A piece from a mesh file, cleaned and made light; packed as geometry/packed.py says.

    ``length_m`` is what its longest side measures; the mesh is scaled to it.
    """

    kind: Literal["mesh"] = "mesh"
    file: str = Field(default="", max_length=120)
    length_m: float = number("length", 0.20, 0.005, 4.0)
    vertices: str = Field(max_length=300_000)
    faces: str = Field(max_length=120_000)
    notes: list[Annotated[str, Field(max_length=400)]] = Field(default_factory=list, max_length=20)


Taped = (
    Plate | Bar | Tube | Box | Angle | Ring | Wheel | Wrench | Stepped | Pile
    | Shell | Pan | Lattice | Tines | Anvil | Weighed
)  # fmt: skip
Shape = Annotated[Taped | Mesh, Field(discriminator="kind")]
Metal = Literal["wrought", "mild", "cast", "tool", "spring", "hard", "unknown"]
OtherMetal = Literal[
    "copper", "zinc", "tin", "cadmium", "aluminium", "magnesium", "lead", "chrome"
]  # fmt: skip
Coat = Literal["enamel", "seasoning"]
Part = Literal["moving", "seized", "chain"]
Grade = Literal["light", "moderate", "heavy", "scaled"]
Fragility = Literal["relic", "thin", "sound", "robust"]
Aim = Literal["paint_ready", "patina", "black", "bright"]
Hang = Literal["long_across", "long_down", "flat"]


class Region(Doc):
    """A named part of a piece's surface that is graded and inspected on its own."""

    id: RegionId
    name: str = Field(min_length=1, max_length=60)
    kind: Literal["outer", "recess", "bore"] = "outer"
    grade: Grade | None = None


class Piece(Doc):
    part = "piece"

    id: Id = "p1"
    name: str = Field(default="", max_length=200)
    shape: Shape = Field(default_factory=Plate)
    metal: Metal = "mild"
    other_metals: list[OtherMetal] = Field(default_factory=list, max_length=8)
    grade: Grade = "moderate"
    between: bool = False
    crust_m: float | None = number("length", None, 0.00001, 0.03)
    fragility: Fragility = "sound"
    aim: Aim = "black"
    hang: Hang = "long_across"
    turn_deg: float = number("angle", 0.0, -180.0, 180.0)
    tilt_deg: float = number("angle", 0.0, -90.0, 90.0)
    flipped: bool = False
    x_m: float = number("length", 0.0, -3.0, 3.0)
    y_m: float = number("length", 0.0, -3.0, 3.0)
    bottom_m: float | None = number("length", None, 0.0, 3.0)
    contact_ohm: float = number("resistance", 0.0, 0.0, 5.0)
    masked: list[RegionId] = Field(default_factory=list, max_length=20)
    hanger: Literal["soft_steel", "hard_wire", "chain", "copper", "galvanised"] = "soft_steel"
    mass_kg: float | None = number("mass", None, 0.002, 2000.0)
    grease: Literal["none", "some", "unknown"] = "none"
    paint: Literal["none", "patches", "most", "unknown"] = "none"
    lead_paint: bool | None = None
    hollow: Literal["none", "vented", "sealed", "unknown"] = "none"
    ordnance: Literal["none", "fragment", "whole"] = "none"
    solid: bool | None = None
    meant: str = Field(default="", max_length=200)
    hardness_hrc: float | None = number("hardness", None, 0.0, 70.0)
    treatment: Literal["none", "hardened", "case_hardened"] = "none"
    tempered_c: float | None = number("temperature", None, 100.0, 700.0)
    coats: list[Coat] = Field(default_factory=list, max_length=2)
    parts: list[Part] = Field(default_factory=list, max_length=3)
    use: Literal["used", "shown"] | None = None
    duty: Literal["none", "load", "pressure", "firearm", "steering"] = "none"
    contact: Literal["clamp", "drilled"] = "clamp"
    regions: list[Region] = Field(default_factory=list, max_length=20)
