"""The dose curve and the choice of tanks as the page gets them."""

from __future__ import annotations

from pydantic import BaseModel

from yellowbath.core import units
from yellowbath.core.document import Hang, Plan, Tank
from yellowbath.core.geometry.hanging import Fits
from yellowbath.core.plan.advice.dosing import Curve, CurvePoint
from yellowbath.core.units import show
from yellowbath.workflows.plans.which import WhichTank


class DosePointOut(BaseModel):
    """A dose and what it comes to, in the person's units where they have them."""

    dose: float
    gives: float
    draws: float
    load_percent: float
    least_percent: float
    edges: float
    product: str


class DoseCurveOut(BaseModel):
    """Points from weak to strong [g/L, A, A/dm2], the dose to take and why."""

    points: list[DosePointOut]
    now: DosePointOut
    dose: float
    dose_text: str
    why: str
    rated: float
    band: float


def dose_curve_out(plan: Plan, curve: Curve, band: float) -> DoseCurveOut:
    """A dose curve for the page."""

    def point(p: CurvePoint) -> DosePointOut:
        return DosePointOut(
            dose=p.dose,
            gives=p.gives,
            draws=p.draws,
            load_percent=units.plain(p.load, "ratio"),
            least_percent=units.plain(p.p5_share, "ratio"),
            edges=units.plain(p.p95, "density"),
            product=str(show(p.product_kg, "mass", plan.system)),
        )

    return DoseCurveOut(
        points=[point(p) for p in curve.points],
        now=point(curve.now),
        dose=curve.dose,
        dose_text=str(show(curve.dose, "concentration", plan.system)),
        why=curve.why,
        rated=plan.supply.rated_a,
        band=units.plain(band, "density"),
    )


class OwnedTankOut(BaseModel):
    """A tank of the kit and how the piece goes in."""

    id: str
    name: str
    fits: bool
    words: str
    water: str
    word: str
    hang: Hang
    turn_deg: float


class WhichTankOut(BaseModel):
    """The smallest sensible tank, as typed texts and in words, and those owned, best first."""

    smallest: str
    hang: Hang
    tank: Tank
    owned: list[OwnedTankOut]


def which_tank_out(found: WhichTank) -> WhichTankOut:
    """Tanks for the page."""
    system, box = found.system, found.smallest

    def lacking(fits: Fits) -> str:
        by = f" by {show(fits.short, 'length', system, 2)}" if fits.short > 0 else ""
        return fits.lacks + by

    sizes = " × ".join(
        str(show(s, "length", system)) for s in (box.length_m, box.width_m, box.height_m)
    )
    return WhichTankOut(
        smallest=sizes,
        hang=found.hang,
        tank=Tank(name="Smallest that will do", shape=box),
        owned=[
            OwnedTankOut(
                id=t.id, name=t.name, fits=t.fits.fits, hang=t.fits.hang, turn_deg=t.fits.turn_deg,
                words=t.fits.words if t.fits.fits else lacking(t.fits),
                water=str(show(t.fits.water, "volume", system)), word=t.word,
            )
            for t in found.owned
        ],
    )  # fmt: skip
