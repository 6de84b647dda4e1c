"""The shop's own settings."""

from fastapi import APIRouter

from yellowbath.api.deps import ShopDep
from yellowbath.workflows import shop as work
from yellowbath.workflows.shop import ShopSettings

router = APIRouter(prefix="/shop", tags=["shop"])


@router.get("", operation_id="get_settings")
def show_settings(shop: ShopDep) -> ShopSettings:
    """The shop's settings."""
    return work.get_settings(shop)


@router.put("", operation_id="save_settings")
def save(body: ShopSettings, shop: ShopDep) -> ShopSettings:
    """Keep the shop's settings."""
    return work.save_settings(shop, body)
