"""The mix: what is in the box, how much of it, what was in the water before."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, WithJsonSchema

from yellowbath.core.data import table
from yellowbath.core.document.base import Doc, Id, number

PRODUCTS = ("unknown", *table("products"))
"""What a box may say: the rows of data/products.toml, and not knowing."""


AMOUNT = "/mix/concentration_kg_m3"
"""Where an amount stands in a plan; it may be typed in any words that say how much goes in."""
VINEGAR = "/mix/vinegar_share"
"""The same for vinegar: by volume, in all, a gallon, or by the acid that it comes to."""


def _known(value: str) -> str:
    if value not in PRODUCTS:
        raise ValueError(
            f"{value} is no product that is known here; allowed: {', '.join(PRODUCTS)}"
        )
    return value


Product = Annotated[
    str, AfterValidator(_known), WithJsonSchema({"type": "string", "enum": list(PRODUCTS)})
]


class Mix(Doc):
    part = "mix"

    product: Product = "unknown"
    concentration_kg_m3: float = number("concentration", 5.0, 0.2, 60.0)
    spoon: Literal["metric", "us", "imperial"] = "metric"
    scoop_name: str = Field(default="", max_length=40)
    scoop_kg: float | None = number("mass", None, 0.0005, 2.0)
    temperature_c: float = number("temperature", 18.0, 0.0, 60.0)
    warming: bool = True
    vinegar_share: float = number("ratio", 0.036, 0.0, 0.30)
    vinegar_strength: float = number("ratio", 0.05, 0.02, 0.30)
    baked_before_kg: float | None = number("mass", None, 0.001, 20.0)
    baked_after_kg: float | None = number("mass", None, 0.001, 20.0)
    source: Literal["fresh", "reuse"] = "fresh"
    batch_id: Id | None = None
    kept_kg: float | None = number("mass", None, 0.0, 50.0)
    kept_bicarbonate_kg: float = number("mass", 0.0, 0.0, 50.0)
    kept_salt_kg: float = number("mass", 0.0, 0.0, 50.0)
    strip_ph: float | None = number("ph", None, 2.0, 14.0)
