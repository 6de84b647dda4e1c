"""How the meters of a bath err: rows of ``data/causes.toml``, judged."""

from __future__ import annotations

from functools import cache
from typing import Literal, NamedTuple

from yellowbath.core.data import require_provenance, table

Method = Literal["clamp", "dial", "line", "none"]


class MeterError(NamedTuple):
    """What a meter errs by: ``own`` all day and ``each`` at a reading, as deviations of the log
    [-]; ``alone``: how far one reading may be out that stands by itself, as a share."""

    own: float
    each: float
    alone: float


@cache
def meter_error(method: Method) -> MeterError:
    row = table("causes")["meter"][method]
    require_provenance(f"causes.meter.{method}", row)
    return MeterError(*(float(row[key]) for key in MeterError._fields))
