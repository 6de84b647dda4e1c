"""What every part of the document is: no unknown fields, each number with quantity and range."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field


def number(quantity: str, default: float | None, low: float, high: float, title: str) -> Any:
    """A field with its quantity and range [SI]; ``None`` as default makes it optional."""
    return Field(
        default=default, ge=low, le=high, title=title, json_schema_extra={"quantity": quantity}
    )


class Doc(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
