"""The shop's own settings, and the mixes it kept."""

from fastapi import APIRouter
from pydantic import BaseModel

from yellowbath.api.deps import ShopDep
from yellowbath.core.units import show
from yellowbath.workflows import runs
from yellowbath.workflows import shop as work
from yellowbath.workflows.shop import ShopSettings

router = APIRouter(prefix="/shop", tags=["shop"])


class BatchOut(BaseModel):
    """A mix that was kept after a run."""

    batch_id: str
    label: str
    kept_kg: float
    kept_text: str
    product: str


@router.get("", operation_id="get_settings")
def show_settings(shop: ShopDep) -> ShopSettings:
    """The shop's settings."""
    return work.get_settings(shop)


@router.put("", operation_id="save_settings")
def save(body: ShopSettings, shop: ShopDep) -> ShopSettings:
    """Keep the shop's settings."""
    return work.save_settings(shop, body)


@router.get("/batches", operation_id="batches")
def batches(shop: ShopDep) -> list[BatchOut]:
    """Mixes kept after finished runs, newest first."""
    system = work.get_settings(shop).system
    return [
        BatchOut(
            batch_id=run_id,
            label=f"after {entry.piece}, {show(entry.mix_water_m3, 'volume', system)}, "
            f"{show(entry.charge_ah, 'charge')} through it",
            kept_kg=entry.mix_dry_kg,
            kept_text=str(show(entry.mix_dry_kg, "mass", system)),
            product=entry.mix_product,
        )
        for run_id, _, entry in runs.book(shop)
        if entry.mix_kept
    ]
