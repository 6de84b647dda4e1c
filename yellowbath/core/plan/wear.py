"""What the hours leave behind: crust on the scrap, sludge on the floor, and how the steel takes it.

Times [s], masses [kg].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from yellowbath.core.data import param, require_provenance, table
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure, figure, typed, uses


def scrape_figure(scrap_area: Figure, current: Figure) -> Figure | None:
    """Powered time after which all scrap is scraped together [s]; None where nothing flows."""
    if current.value <= 0 or scrap_area.value <= 0:
        return None
    k = param("cake_ah_m2")
    made = figure(
        "scrap.scrape", "Scrape all scrap after", k.value * scrap_area.value / current.value * 3600,
        "time", "k*A/I*3600", [uses("k", k), uses("A", scrap_area), uses("I", current)], "practice",
    )  # fmt: skip
    return made.with_window(made.value * k.low / k.value, made.value * k.high / k.value,
                            "Falling amps say it better.")  # fmt: skip


# rust by area over that of a moderate grade, judged
RUST = {"light": 0.1, "moderate": 1.0, "heavy": 2.5, "scaled": 8.0}


def sludge_figure(plan: Plan, wetted: Figure, iron: Figure, window: Figure | None) -> Figure:
    """Sludge that settles over the run [m3]: rust off the piece, and the scrap's iron as rust."""
    rust, water = param("rust_kg_m2"), param("sludge_water")
    grade = RUST[plan.pieces[0].grade]
    seconds = window.value if window else 0.0
    as_rust = 88.852 / 55.845  # FeOOH over Fe by molar mass
    dry = rust.value * grade * wetted.value + iron.value * seconds * as_rust
    made = figure(
        "sludge.volume", "Sludge by the end", dry * water.value, "volume",
        "(r*g*A + i*t*88.852/55.845)*w",
        [
            uses("r", rust),
            typed("g", "Times a moderate grade, judged by us", grade, "number"),
            uses("A", wetted), uses("i", iron), typed("t", "Hours under power", seconds, "time"),
            uses("w", water),
        ],
        "sludge",
    )  # fmt: skip
    return made.with_window(made.value * 0.3, made.value * 4.0, "Rust is as it is.")


def overrun_figure(plan: Plan, window: Figure | None) -> Figure | None:
    """Longest that thin relics and hard steel stay on once clean [s]; None for other pieces."""
    if window is None or not any(limited(p) for p in plan.pieces):
        return None
    k = param("overrun_relic")
    return figure(
        "time.overrun", "Not longer than this after it is clean", k.value * window.value, "time",
        "k*t", [uses("k", k), uses("t", window)], "practice",
    )  # fmt: skip


def limited(piece: Piece) -> bool:
    """Whether time on the bath is limited: thin relics, and steel that embrittles."""
    return piece.fragility in ("relic", "thin") or brittle(piece)


# --- Hydrogen in hard steel --------------------------------------------------------------------

_HRC_LIMIT = 31.5  # about 1000 MPa
_HARD = {"spring": 45.0, "hard": 38.0, "tool": 58.0}  # usual hardness where none is typed; judged


@dataclass(frozen=True)
class Bake:
    """The published relief bake: tensile [MPa], temperatures [C], hours; what limits it."""

    tensile: float
    low_c: float
    high_c: float
    hours: float
    source: str
    limit: str


def hardness(piece: Piece) -> float:
    """Rockwell C as typed, else what such steel usually has (judged); nought for soft iron."""
    if piece.hardness_hrc is not None:
        return piece.hardness_hrc
    return _HARD.get(piece.metal, 0.0)


def brittle(piece: Piece) -> bool:
    """Whether hydrogen embrittles it: hard or case-hardened steel, not grey iron."""
    if piece.metal in ("cast", "wrought") and piece.hardness_hrc is None:
        return piece.treatment == "case_hardened"
    return hardness(piece) > _HRC_LIMIT or piece.treatment == "case_hardened"


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


def relief_bake(piece: Piece) -> Bake | None:
    """The published bake after the bath; None where none is asked for.

    Never above 50 degrees under the temper: where the class asks for more, ``limit`` says so and
    the temperatures stop there.
    """
    if not brittle(piece):
        return None
    tensile = tensile_of(hardness(piece))
    case = piece.treatment == "case_hardened"
    rows = table("bake")
    for row in rows["classes"]:
        require_provenance("bake", row)
        if case == row["case"] and row["low_mpa"] <= tensile <= row["high_mpa"]:
            break
    low, high = float(row["low_c"]), float(row["high_c"])
    limit = ""
    if piece.tempered_c is not None and piece.tempered_c - 50 < high:
        high = piece.tempered_c - 50
        limit = f"Tempered at {piece.tempered_c:.0f} °C: not above {high:.0f} °C."
        if high < low:
            limit += " That is under what the class asks for: longer, and it may not relieve it."
            low = high
    return Bake(tensile, low, high, float(row["hours"]), row["source"], limit)
