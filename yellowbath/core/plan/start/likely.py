"""What else is asked of a piece and its vessel: only where shape, vessel or name makes it likely.

What is not asked, or not answered, stands on the list before power.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, Literal

from yellowbath.core.data import require_provenance, table
from yellowbath.core.document import OtherMetal
from yellowbath.core.ear import said_word

LikelyCoat = Literal["zinc", "chrome", "enamel", "seasoning"]
"""Plating is one of the piece's other metals; the rest are coats."""
_COATS = ("enamel", "seasoning")


def likely(kind: str, vessel: str, name: str, grade: str, aim: str) -> list[str]:
    """The questions that are likely to matter, of ``coats, parts, metals, side, vessel_of, use``.

    What it is for is asked where that changes what is done: bare iron is protected by it, and
    light rust may want no bath.
    """
    out = []
    for question, row in table("begin")["likely"].items():
        require_provenance(f"begin.likely.{question}", row)
        by_kind = kind in row.get("shapes", ()) or vessel in row.get("vessels", ())
        if by_kind or said_word(name, row["words"]):
            out.append(question)
    if grade == "light" or aim not in ("", "paint_ready"):
        out.append("use")
    return out


def coats_of(
    coats: Collection[LikelyCoat] | None, metals: Collection[OtherMetal] | None
) -> dict[str, Any]:
    """The piece's fields that the answers on coats and metals fill; none for what was not said,
    which other metals are not by coats without plating."""
    plated = [c for c in coats or () if c not in _COATS]
    known: dict[str, Any] = {}
    if coats is not None:
        known["coats"] = [c for c in coats if c in _COATS]
    if plated or metals is not None:
        known["other_metals"] = list(dict.fromkeys([*plated, *(metals or ())]))
    return known
