"""The relief bake of a piece: one rule for the check, the finishing step, the clock and the book.

Hours and temperatures come from the published table by strength, and from nothing else: beyond its
last class, or where the hardness of hardened steel is not known, the answer is that it is not in
the table. Temperatures [C], tensile strength [MPa].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from yellowbath.core.data import HONESTY, param, require_provenance, table
from yellowbath.core.document import Piece
from yellowbath.core.units import System, show

Verdict = Literal["bake", "not_in_table", "not_at_home"]


@dataclass(frozen=True)
class Relief:
    """What hydrogen asks of a piece after the bath.

    ``hours`` and temperatures are those of the table's class, None where it has none; ``temper``
    says whether the temper is known and, where it is, whether it leaves room for the class.
    """

    verdict: Verdict
    tensile: float | None
    hardness: float | None
    typed: bool
    case: bool
    low_c: float | None
    high_c: float | None
    hours: float | None
    temper: Literal["not_known", "leaves_room", "limits", "forbids"]
    tempered_c: float | None
    source: str

    @property
    def duration_s(self) -> float:
        """How long it bakes [s]; nought where the table has no class for it."""
        return (self.hours or 0.0) * 3600

    def steel(self) -> str:
        """How hard it is and how that is known."""
        if self.case:
            return "case-hardened"
        if self.hardness is None:
            return "its hardness not known"
        known = "" if self.typed else ", taken as usual for it"
        return f"{self.hardness:.0f} HRC{known}, some {self.tensile:.0f} MPa"

    def words(self, system: System) -> str:
        """The bake as one or two sentences, the same wherever it is said."""
        if self.verdict == "not_at_home":
            return "Do not bake it yourself: a plating of cadmium, zinc, tin or lead is on it."
        if self.verdict == "not_in_table":
            why = "its hardness is not known" if self.hardness is None else "it is beyond the last"
            return f"Not in the table: {why}. Ask a competent person; do not guess hours."
        assert self.low_c is not None and self.high_c is not None
        low, high = (str(show(t, "temperature", system)) for t in (self.low_c, self.high_c))
        at = f"{low} to {high}" if low != high else low
        return f"Bake at {at} for at least {self.hours:.0f} h. {self._temper(system)}"

    def _temper(self, system: System) -> str:
        if self.tempered_c is None:
            return (
                "Its temper is not known: the bake must stay 50 °C (90 °F) under it. "
                "If nobody can say, do not bake: ask a competent person."
            )
        was = show(self.tempered_c, "temperature", system)
        if self.temper == "leaves_room":
            return f"Tempered at {was}, which leaves room."
        if self.temper == "limits":
            return f"Tempered at {was}: not a degree more."
        return (
            f"Tempered at {was}: no more is allowed, and that is under what its class asks for. "
            "It may not relieve it: ask a competent person."
        )


_PLATED = {"cadmium", "zinc", "tin", "lead"}


def limit_hrc() -> float:
    """Rockwell C above which steel counts as one that hydrogen embrittles."""
    return param("brittle_hrc").value


def hardness(piece: Piece) -> float | None:
    """Rockwell C as typed, else what such steel usually has (judged); None where it or the metal
    is not known, nought for soft iron."""
    if piece.hardness_hrc is not None:
        return piece.hardness_hrc
    if piece.metal == "unknown":
        return None
    usual = table("hardness").get(piece.metal)
    if usual is not None:
        require_provenance(f"hardness.{piece.metal}", usual)
        return float(usual["hrc"])
    return None if piece.treatment == "hardened" else 0.0


def brittle(piece: Piece) -> bool:
    """Whether hydrogen embrittles it: hard or case-hardened steel, not grey iron as cast."""
    hrc = hardness(piece)
    return hrc is None or hrc > limit_hrc() or piece.treatment == "case_hardened"


def tensile_of(hrc: float) -> float:
    """Tensile strength [MPa] by Rockwell C, 20 to 60; ISO 18265's table for unalloyed steel, from
    memory, straight between its rows.

    >>> round(tensile_of(31.5))
    1000
    """
    rows: Sequence[tuple[float, float]] = [
        (20.0, 770.0), (25.0, 850.0), (31.5, 1000.0), (35.0, 1095.0), (40.0, 1250.0),
        (45.0, 1420.0), (50.0, 1645.0), (55.0, 1950.0), (60.0, 2300.0),
    ]  # fmt: skip
    if hrc <= rows[0][0]:
        return rows[0][1]
    for (h0, m0), (h1, m1) in pairwise(rows):
        if hrc <= h1:
            return m0 + (m1 - m0) * (hrc - h0) / (h1 - h0)
    return rows[-1][1]


def relief(piece: Piece) -> Relief | None:
    """What hydrogen asks of a piece; None for one that it does not embrittle.

    Never above 50 degrees under the temper: where that leaves less than the class asks for,
    ``temper`` says so and the temperatures stop there.
    """
    if not brittle(piece):
        return None
    hrc, case = hardness(piece), piece.treatment == "case_hardened"
    tensile = None if hrc is None or (case and piece.hardness_hrc is None) else tensile_of(hrc)
    row = _class(tensile, case)
    low = high = hours = None
    temper: Literal["not_known", "leaves_room", "limits", "forbids"] = "not_known"
    if row is not None:
        low, high, hours = float(row["low_c"]), float(row["high_c"]), float(row["hours"])
        low, high, temper = _under_temper(low, high, piece.tempered_c)
    verdict: Verdict = "bake" if row is not None else "not_in_table"
    if _PLATED & set(piece.other_metals):
        verdict = "not_at_home"
    source = table("bake")["classes"][-1]
    cite = f"{source['source']} ({HONESTY[source['honesty']]})"
    return Relief(
        verdict, tensile, hrc, piece.hardness_hrc is not None, case, low, high, hours, temper,
        piece.tempered_c, cite,
    )  # fmt: skip


def _class(tensile: float | None, case: bool) -> dict[str, float] | None:
    """The table's row of a strength [MPa]; a case on a core of unknown strength has its own."""
    if tensile is None and not case:
        return None
    for row in table("bake")["classes"]:
        require_provenance("bake", row)
        inside = tensile is None or row["low_mpa"] <= tensile <= row["high_mpa"]
        if row["case"] == case and inside:
            return dict(row)
    return None


def _under_temper(
    low: float, high: float, tempered: float | None
) -> tuple[float, float, Literal["not_known", "leaves_room", "limits", "forbids"]]:
    if tempered is None:
        return low, high, "not_known"
    most = tempered - param("bake_under_temper").value
    if most >= high:
        return low, high, "leaves_room"
    if most >= low:
        return low, most, "limits"
    return most, most, "forbids"
