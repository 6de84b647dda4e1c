"""The plan as a document: one versioned model, SI with unit suffixes, lists with stable ids.

Positions are from the tank's centre line, z up from its floor [m]. Every number carries its
quantity and its range, so that typed text can be read, refused and shown without a second list.
A plan is a value: workflows store it as immutable revisions.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.units import System

SCHEMA_VERSION: Literal[2] = 2
"""What is written now; older documents are brought up by core/upgrade.py."""


def number(quantity: str, default: float | None, low: float, high: float, title: str) -> Any:
    """A field with its quantity and range [SI]; ``None`` as default makes it optional."""
    return Field(
        default=default, ge=low, le=high, title=title, json_schema_extra={"quantity": quantity}
    )


class Doc(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


# --- Piece -----------------------------------------------------------------------------------


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


# --- Tank ------------------------------------------------------------------------------------


class Mark(Doc):
    """A line on the wall, found with a jug: so much liquid stands this high."""

    height_m: float = number("length", 0.1, 0.001, 3.0, "Height of the mark")
    volume_m3: float = number("volume", 0.005, 0.00001, 5.0, "Litres at the mark")


class BoxTank(Doc):
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


class DrumTank(Doc):
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


# --- Mix -------------------------------------------------------------------------------------

Product = Literal[
    "unknown",
    "soda_anhydrous",
    "soda_monohydrate",
    "soda_decahydrate",
    "soda_light_ash",
    "soda_baked",
    "baking_soda",
    "table_salt",
    "vinegar_salt",
]


class Mix(Doc):
    product: Product = "unknown"
    dose_kg_m3: float = number("concentration", 5.0, 0.2, 60.0, "Dose, as dry soda")
    spoon: Literal["metric", "us", "imperial"] = "metric"
    scoop_name: str = Field(default="", max_length=40, title="My scoop is")
    scoop_kg: float | None = number("mass", None, 0.0005, 2.0, "One level scoop weighs")
    temperature_c: float = number("temperature", 18.0, 0.0, 60.0, "Water temperature")
    warming: bool = True
    vinegar_share: float = number("ratio", 0.036, 0.0, 0.30, "Household vinegar, by volume")
    baked_before_kg: float | None = number("mass", None, 0.001, 20.0, "Before the oven")
    baked_after_kg: float | None = number("mass", None, 0.001, 20.0, "After the oven")
    source: Literal["fresh", "reuse"] = "fresh"
    batch_id: str | None = None
    kept_kg: float | None = number("mass", None, 0.0, 50.0, "Soda already in it, as dry soda")
    kept_bicarbonate_kg: float = number("mass", 0.0, 0.0, 50.0, "Baking soda left in it")
    kept_chloride_kg: float = number("mass", 0.0, 0.0, 50.0, "Salt that got into it")
    strip_ph: float | None = number("ph", None, 2.0, 14.0, "pH by a strip")


# --- Anodes ----------------------------------------------------------------------------------

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


# --- Supply, place ---------------------------------------------------------------------------


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


class Place(Doc):
    where: Literal["outdoors", "open_door", "closed_room"] = "open_door"
    room_m3: float = number("room", 40.0, 0.5, 5000.0, "Room")
    lid: bool | None = None
    flames: bool | None = None
    filter_loop: bool = False
    air_c: float | None = number("temperature", None, -10.0, 45.0, "Air")
    humidity: float = number("ratio", 0.6, 0.1, 1.0, "Humidity of the air")
    opening_m2: float | None = number("area", None, 0.0, 20.0, "Opening to the outside")
    visitors: bool | None = None
    price_kwh: float = number("money", 0.30, 0.0, 10.0, "Price of a kilowatt-hour")


class KitRef(Doc):
    """A thing of the shop's own that the plan was made with."""

    role: Literal["tank", "supply", "lead", "anode", "chemical", "scoop", "batch"]
    ref: str


class Plan(Doc):
    """A plan for one bath; the unit of saving, comparing and running.

    Pieces and anodes are asked for by what is wanted of them; nothing else reads a list by number.
    """

    schema_version: Literal[2] = SCHEMA_VERSION
    name: str = Field(default="", max_length=200)
    system: System = "metric"
    pieces: list[Piece] = Field(default_factory=lambda: [Piece()], min_length=1, max_length=20)
    tank: Tank = Field(default_factory=Tank)
    mix: Mix = Field(default_factory=Mix)
    placing: Placing = Field(default_factory=Placing)
    anodes: list[Anode] = Field(
        default_factory=lambda: [Anode(id="a1")], min_length=1, max_length=40
    )
    supply: Supply = Field(default_factory=Supply)
    place: Place = Field(default_factory=Place)
    kit: list[KitRef] = Field(default_factory=list)
    typed: dict[str, str] = Field(default_factory=dict)

    @property
    def title(self) -> str:
        """What a person would call the bath: by its pieces, else by the plan's own name."""
        names = [p.name for p in self.pieces if p.name]
        if len(names) > 2:
            return f"{names[0]}, {names[1]} and {len(self.pieces) - 2} more"
        return " and ".join(names) or self.name

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id."""
        return next((p for p in self.pieces if p.id == piece_id), None)

    def called(self, piece: Piece) -> str:
        """A piece by its name, else by where it stands in the list."""
        return piece.name or f"piece {1 + self.pieces.index(piece)}"

    def bored(self, anode: Anode) -> Piece | None:
        """The piece whose bore an anode runs through: as named, else the only tube."""
        if anode.piece is not None:
            return self.piece(anode.piece)
        tubes = [p for p in self.pieces if isinstance(p.shape, Tube)]
        return tubes[0] if len(tubes) == 1 else None

    @property
    def metals(self) -> frozenset[Scrap]:
        """Everything that hangs on the plus side."""
        return frozenset(a.material for a in self.anodes)

    @property
    def mixed_scrap(self) -> bool:
        """Whether the anodes are not all alike."""
        return len({repr(a.pattern) for a in self.anodes}) > 1

    @property
    def sample(self) -> Anode:
        """One of the anodes, where they are all alike."""
        return next(iter(self.anodes))
