"""The plan as a document: one versioned model, SI with unit suffixes, lists with stable ids.

Positions are from the tank's centre line, z up from its floor [m]. Every number carries its
quantity and its range, so that typed text can be read, refused and shown without a second list.
A field that is added, dropped or renamed is a step of the schema: a function in ``upgrade.py``, and
documents of the version before it under ``tests/stored``.
"""

from yellowbath.core.document.base import Doc, number
from yellowbath.core.document.mix import PRODUCTS, Mix, Product
from yellowbath.core.document.piece import (
    Aim,
    Angle,
    Bar,
    Box,
    Fragility,
    Grade,
    Hang,
    Mesh,
    Metal,
    OtherMetal,
    Piece,
    Pile,
    Plate,
    Region,
    Ring,
    Shape,
    Stepped,
    Taped,
    Tube,
    Wheel,
    Wrench,
)
from yellowbath.core.document.plan import SCHEMA_VERSION, KitRef, Plan
from yellowbath.core.document.room import Place
from yellowbath.core.document.scrap import Anode, AnodeKind, Placing, Scrap
from yellowbath.core.document.supply import (
    Battery,
    Fixed,
    Laboratory,
    PlainCharger,
    Selector,
    Smart,
    Supply,
    SupplyBase,
    Transformer,
)
from yellowbath.core.document.tank import BoxTank, BucketTank, DrumTank, Mark, Tank

__all__ = [
    "PRODUCTS",
    "SCHEMA_VERSION",
    "Aim",
    "Angle",
    "Anode",
    "AnodeKind",
    "Bar",
    "Battery",
    "Box",
    "BoxTank",
    "BucketTank",
    "Doc",
    "DrumTank",
    "Fixed",
    "Fragility",
    "Grade",
    "Hang",
    "KitRef",
    "Laboratory",
    "Mark",
    "Mesh",
    "Metal",
    "Mix",
    "OtherMetal",
    "Piece",
    "Pile",
    "Place",
    "Placing",
    "PlainCharger",
    "Plan",
    "Plate",
    "Product",
    "Region",
    "Ring",
    "Scrap",
    "Selector",
    "Shape",
    "Smart",
    "Stepped",
    "Supply",
    "SupplyBase",
    "Tank",
    "Taped",
    "Transformer",
    "Tube",
    "Wheel",
    "Wrench",
    "number",
]
