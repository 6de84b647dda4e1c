"""What every part of the document is: no unknown fields, each number with quantity and range."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, ConfigDict, Field

from yellowbath.core.words import of_field


def number(quantity: str, default: float | None, low: float, high: float) -> Any:
    """A field with its quantity and range [SI]; ``None`` as default makes it optional."""
    return Field(default=default, ge=low, le=high, json_schema_extra={"quantity": quantity})


def kind_or(usual: str) -> Callable[[Any], Any]:
    """The kind that a part of the document says it is; one that says nothing is of the usual."""

    def kind(value: Any) -> Any:
        if isinstance(value, dict):
            return value.get("kind", usual)
        return getattr(value, "kind", None)

    return kind


Id = Annotated[str, Field(max_length=40)]
"""What a thing of a list goes by."""

RegionId = Annotated[str, Field(max_length=60)]
"""The same of a part of such a thing: its id, a dot and the part's own."""

Texts = Annotated[
    dict[Annotated[str, Field(max_length=120)], Annotated[str, Field(max_length=200)]],
    Field(max_length=600),
]
"""Texts as they were typed, by the pointer of their field."""


class Doc(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    part: ClassVar[str] = ""
    """Under which its fields' words stand in data/words.toml."""

    def field_word(self, name: str, what: str = "field") -> str:
        """What a field of it is called; its own name where it has no word."""
        found = of_field(what, self.part, name, str(getattr(self, "kind", "")))
        return name if found is None else found
