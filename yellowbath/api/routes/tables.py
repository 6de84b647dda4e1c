"""Tables, converters and the list of checks, to be looked up at the tub."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel

from yellowbath.core.units import System
from yellowbath.workflows.plans import lookup as work

router = APIRouter(prefix="/tables", tags=["tables"])


class SheetOut(BaseModel):
    """A table: heads, rows of text, source."""

    id: str
    title: str
    lead: str
    columns: list[str]
    rows: list[list[str]]
    source: str


class ConvertedOut(BaseModel):
    """A typed quantity in every unit."""

    quantity: str
    texts: list[str]


class CheckOut(BaseModel):
    """A check: what calls it up, why, and the mend."""

    id: str
    severity: Literal["stop", "caution", "note"]
    mark: str
    title: str
    when: str
    reason: str
    source: str
    differ: str


@router.get("", operation_id="tables")
def tables(system: System = "metric") -> list[SheetOut]:
    """Every table."""
    return [SheetOut.model_validate(s, from_attributes=True) for s in work.sheets(system)]


@router.get("/convert", operation_id="convert")
def convert(
    text: Annotated[str, Query(max_length=40)], system: System = "metric"
) -> list[ConvertedOut]:
    """What a typed quantity is in other units; nothing where it names none."""
    return [
        ConvertedOut(quantity=c.quantity, texts=list(c.texts)) for c in work.convert(text, system)
    ]


@router.get("/checks", operation_id="checks")
def checks() -> list[CheckOut]:
    """Every check and what would trigger it."""
    return [CheckOut.model_validate(c, from_attributes=True) for c in work.checks()]
