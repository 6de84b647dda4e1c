"""What every route is handed."""

from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import Depends, Header, Query, Request
from pydantic import BaseModel, Field

from yellowbath.core.moments import Moment
from yellowbath.workflows.practice.practice import Practice, Practices
from yellowbath.workflows.shop.shop import Shop, Wanted
from yellowbath.workflows.shop.solver import Drag


def _practice(request: Request) -> Practice | None:
    """The practice that a request is made in, by its header; NotFoundError for one that is over."""
    named = request.headers.get("Practice", "")
    practices: Practices = request.app.state.practices
    return practices.get(named) if named else None


PracticeDep = Annotated[Practice | None, Depends(_practice)]


def _shop(request: Request, practice: PracticeDep) -> Shop:
    """The shop, or that of the practice."""
    shop: Shop = request.app.state.shop if practice is None else practice.shop
    return shop


ShopDep = Annotated[Shop, Depends(_shop)]


KeyDep = Annotated[
    str,
    Header(
        alias="Idempotency-Key", max_length=64,
        description="Made up by the sender: what is sent twice under one key is made once.",
    ),
]  # fmt: skip

DeviceNowDep = Annotated[
    Moment | None,
    Header(alias="Device-Now", description="What the sender's clock says as it sends this."),
]


def _wanted(
    find: Annotated[str, Query(max_length=200, description="Words of the title")] = "",
    after: Annotated[
        str, Query(max_length=300, description="What the page before this one says of it")
    ] = "",
    most: Annotated[int, Query(ge=1, le=100)] = 50,
    archived: bool = False,
) -> Wanted:
    return Wanted(find, after, most, archived)


WantedDep = Annotated[Wanted, Depends(_wanted)]


class BothOut(BaseModel):
    """A place that was changed elsewhere meanwhile: its name, and what stands in each version."""

    where: str
    name: str
    yours: str
    theirs: str


class FromIn(BaseModel):
    """What a change started from. ``choices``: of what both changed, by its ``where``, whose stays;
    they were made on the newest revision ``onto``."""

    base_revision: int = Field(ge=0, le=2**31)
    choices: dict[str, Literal["mine", "theirs"]] = Field(default_factory=dict, max_length=500)
    onto: int | None = Field(default=None, ge=0, le=2**31)


class DragIn(BaseModel):
    """One of a row of requests of which only the newest is wanted; 409 where a newer came in."""

    by: str = Field(min_length=1, max_length=80)
    turn: int = Field(ge=0)


def drag_of(shop: Shop, given: DragIn | None) -> Drag | None:
    """The same as the solver has it."""
    return shop.solver.drag(given.by, given.turn) if given else None


def attached(name: str) -> dict[str, str]:
    """The header that saves an answer under a name in any script (RFC 6266, RFC 8187)."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-._") else "-" for c in name)
    return {
        "Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    }
