"""The shop's own settings."""

from typing import Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yellowbath.api.deps import BothOut, FromIn, ShopDep, attached
from yellowbath.workflows.plans import doubted as doubts
from yellowbath.workflows.plans import unread as unreadable
from yellowbath.workflows.shop import shop as work
from yellowbath.workflows.shop.shop import ShopSettings

router = APIRouter(prefix="/shop", tags=["shop"])


class SettingsOut(ShopSettings):
    """The shop's settings and their revision; ``brought``: what was changed elsewhere meanwhile."""

    revision: int
    brought: list[BothOut]


class SettingsIn(FromIn):
    """Settings, and the revision they were changed from."""

    settings: ShopSettings


def _settings_out(kept: work.KeptSettings) -> SettingsOut:
    brought = [BothOut.model_validate(b, from_attributes=True) for b in kept.brought]
    return SettingsOut(**kept.settings.model_dump(), revision=kept.revision, brought=brought)


@router.get("", operation_id="get_settings")
def show_settings(shop: ShopDep) -> SettingsOut:
    """The shop's settings."""
    return _settings_out(work.kept_settings(shop))


@router.put("", operation_id="save_settings")
def save(body: SettingsIn, shop: ShopDep) -> SettingsOut:
    """Keep the shop's settings; what was changed elsewhere meanwhile is brought together with them,
    409 with both versions where both changed the same."""
    made = work.save_settings(shop, body.settings, body.base_revision, body.choices, body.onto)
    return _settings_out(made)


class UnreadOut(BaseModel):
    """Something stored that cannot be read here, and why; ``file`` gives it as it is stored."""

    kind: Literal["plan", "run", "thing", "page"]
    id: str
    name: str
    why: str
    file: str


@router.get("/unread", operation_id="unread")
def unread(shop: ShopDep) -> list[UnreadOut]:
    """What of the shop cannot be read, row by row; the rest goes on."""
    return [
        UnreadOut(kind=u.kind, id=u.id, name=u.name, why=u.why, file=_FILES[u.kind].format(u.id))
        for u in unreadable.unread(shop)
    ]


_FILES = {
    "plan": "/api/plans/{}/stored", "thing": "/api/kit/{}/stored", "run": "/api/runs/{}/stored",
    "page": "/api/book/{}/stored",
}  # fmt: skip


class DoubtedOut(BaseModel):
    """How many baths the solver was not sure of; ``file`` gives them."""

    count: int
    file: str


@router.get("/doubted", operation_id="doubted")
def doubted(shop: ShopDep) -> DoubtedOut:
    """The log of baths whose solved field was doubted."""
    return DoubtedOut(count=len(doubts.doubted(shop)), file="/api/shop/doubted/file")


@router.get(
    "/doubted/file",
    operation_id="doubted_file",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def doubted_file(shop: ShopDep) -> Response:
    """The log with each bath's document, to be kept or sent to somebody."""
    data = doubts.doubted_file(shop)
    return Response(data, media_type="application/json", headers=attached("doubted.json"))
