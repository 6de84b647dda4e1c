"""A run's samples as a strip draws them: in the shop's units, with what is expected beside."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from yellowbath.core.units import plain, show
from yellowbath.workflows.line.samples import Drawn, at_of
from yellowbath.workflows.runs.standing import expected_of
from yellowbath.workflows.shop.shop import Shop, get_settings


class SeriesOut(BaseModel):
    """A channel: times in milliseconds of the epoch, values in ``unit``; null is a gap. ``low`` and
    ``high``: what is expected of it, where something is."""

    key: str
    unit: str
    at_ms: list[int]
    values: list[float | None]
    low: float | None = None
    high: float | None = None


class DrawnOut(BaseModel):
    """``width_s``: of the stretches whose least and most are drawn, nought where each point is a
    sample; ``apart``: how many samples stand apart and are not drawn."""

    first: datetime | None
    last: datetime | None
    count: int
    apart: int
    width_s: int
    series: list[SeriesOut]


QUANTITY = {"amps": "current", "volts": "voltage", "bath_c": "temperature"}


def drawn_out(shop: Shop, run_id: str, drawn: Drawn) -> DrawnOut:
    """For the page."""
    system = get_settings(shop).system
    bands = expected_of(shop, run_id)
    out = []
    for key, s in drawn.series.items():
        quantity = QUANTITY[key]
        values = [
            None if v is None else round(plain(v, quantity, system, 1.0), 4) for v in s.values
        ]
        band = bands.get(key)
        ends = [plain(v, quantity, system, 1.0) for v in band] if band else [None, None]
        out.append(SeriesOut(
            key=key, unit=show(1.0, quantity, system).unit, at_ms=list(s.at_ms), values=values,
            low=ends[0], high=ends[1],
        ))  # fmt: skip
    return DrawnOut(
        first=None if drawn.first_ms is None else at_of(drawn.first_ms),
        last=None if drawn.last_ms is None else at_of(drawn.last_ms),
        count=drawn.count,
        apart=drawn.apart,
        width_s=drawn.width_s,
        series=out,
    )
