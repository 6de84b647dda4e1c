"""What scrap is made of, and what that means on the plus side: a row a metal, in metals.toml."""

from __future__ import annotations

from functools import cache
from typing import get_args

from yellowbath.core.data import require_provenance, table
from yellowbath.core.document import Scrap
from yellowbath.core.errors import DataTableError

_WAYS = ("sound", "asked", "refused", "inert")


@cache
def _rows() -> dict[Scrap, dict[str, str]]:
    made = {}
    for metal in get_args(Scrap):
        row = table("metals").get(metal, {})
        if row.get("way") not in _WAYS or (row["way"] == "refused") != bool(row.get("why")):
            raise DataTableError(
                f"metals.{metal} has no way, or no reason for which it is refused.",
                allowed=f"way is one of {', '.join(_WAYS)}; what is refused says why.",
            )
        require_provenance(f"metals.{metal}", row)
        made[metal] = row
    return made


def metals(way: str) -> frozenset[Scrap]:
    """Those of one way: sound, asked, refused or inert."""
    return frozenset(metal for metal, row in _rows().items() if row["way"] == way)


def why_refused(metal: Scrap) -> str:
    """Why a metal that is refused must not be on the plus side."""
    return _rows()[metal]["why"]
