"""A watch on the solved field: whether what it says is to be believed yet.

Independent signs of a fault that its own claimed error would not show: the closed form says what it
has said of no layout of this class; a finer solve lies beyond what the coarser one claimed; two
meshes differ by more than a sound solve's do, in the amps or in the hours. Limits:
core/data/layouts.toml, and the parameters ``doubt_meshes`` and ``doubt_hours``.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from yellowbath.core.data import param, require_provenance, table
from yellowbath.core.document import Plan
from yellowbath.core.field.model import FieldAnswer

Sign = Literal["closed_form", "meshes", "refined", "hours"]


@dataclass(frozen=True)
class Doubt:
    """A sign that the field is not to be trusted yet: what was seen, and what was allowed."""

    sign: Sign
    seen: float
    low: float
    high: float
    about: str = ""


def class_of(plan: Plan, gap_m: float) -> str:
    """Key of the plan's class of layout in ``layouts.toml``; ``gap_m`` is the least gap of scrap
    and piece [m]."""
    kinds = {a.kind for a in plan.anodes}
    if plan.tank.is_piece and kinds == {"rod"}:
        return "own"
    if kinds & {"floor", "bore"}:
        return "floor"
    if kinds - {"rod"}:
        return "sheets"
    if len(plan.pieces) > 1:
        return "several"
    thick = max(a.diameter_m for a in plan.anodes)
    return "near" if gap_m < _NEAR * thick else "standing"


_NEAR = 1.5  # thicknesses of a rod from the piece: the closed form knows no gap; judged


def layout_row(key: str) -> Mapping[str, Any]:
    """The row of a class of layout; refuses one without provenance."""
    row: Mapping[str, Any] = table("layouts")[key]
    require_provenance(f"layouts.{key}", row)
    return row


def doubts(
    plan: Plan, gap_m: float, closed_ohm: float, solved: FieldAnswer, hours_claim: float
) -> tuple[Doubt, ...]:
    """Every sign against a solved field, in the order of what they weigh.

    ``gap_m`` [m] is the least gap of scrap and piece, ``closed_ohm`` [ohm] the closed form's
    resistance of the same bath at the same conductivity; ``hours_claim`` [-] what the meshes leave
    open of the hours.
    """
    out = []
    row, ohm = layout_row(class_of(plan, gap_m)), solved.resistance.value
    ratio = closed_ohm / ohm
    if not row["low"] <= ratio <= row["high"]:
        out.append(Doubt("closed_form", ratio, row["low"], row["high"], row["name"]))
    if solved.earlier is not None:
        before, claim = solved.earlier
        off = abs(before / ohm - 1)
        most = claim * before / ohm + solved.error
        if off > most:
            out.append(Doubt("refined", off, 0.0, most))
    claims: tuple[tuple[Sign, float], ...] = (("meshes", solved.error), ("hours", hours_claim))
    for sign, claim in claims:
        if claim > (most := param(f"doubt_{sign}").value):
            out.append(Doubt(sign, claim, 0.0, most))
    return tuple(out)
