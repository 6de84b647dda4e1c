"""What the hours leave behind: crust on the scrap, sludge on the floor, and how the steel takes it.

Times [s], masses [kg].
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from yellowbath.core.chemistry.cell import FARADAY
from yellowbath.core.data import param
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure, Input, figure, typed, uses
from yellowbath.core.geometry.piece import measure
from yellowbath.core.plan.results.relief import brittle


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


FEOOH_KG_MOL = 88.852e-3  # CIAAW atomic weights


def rust_charge_figures(pieces: Sequence[Piece]) -> Iterator[Figure]:
    """Charge that would turn a measured crust to iron, and to magnetite [Ah/m2]: FeOOH takes three
    electrons, and a third of one. For comparison, not as a least: thick scale is lifted."""
    measured = [p for p in pieces if p.crust_m is not None]
    if not measured:
        return
    thickest = max(measured, key=lambda p: p.crust_m or 0.0)
    crust = thickest.crust_m or 0.0
    rho = param("crust_kg_m3")
    for key, name, electrons in (("rust.iron", "The crust by its formula, to iron", 3.0),
                                 ("rust.magnetite", "to magnetite", 1 / 3)):  # fmt: skip
        per_kg = electrons * FARADAY / FEOOH_KG_MOL / 3600
        made = figure(
            key, name, crust * rho.value * per_kg, "charge_density", "d*r*z*F/(M*3600)",
            [
                typed("d", thickest.field_word("crust_m"), crust, "length"), uses("r", rho),
                typed("z", "Electrons for each FeOOH", electrons, "number"),
                Input("F", "Faraday's constant, C/mol", FARADAY, "number", "CODATA 2018"),
                Input("M", "FeOOH, kg/mol", FEOOH_KG_MOL, "number", "CIAAW"),
            ],
            "faraday",
        )  # fmt: skip
        yield made.with_window(made.value * rho.low / rho.value, made.value * rho.high / rho.value)


# rust by area over that of a moderate grade, judged
RUST = {"light": 0.1, "moderate": 1.0, "heavy": 2.5, "scaled": 8.0}


def rust_share(pieces: Sequence[Piece]) -> float:
    """Rust by area over that of a moderate grade, over all pieces by their surface [-]."""
    areas = [measure(p.shape).area for p in pieces]
    return sum(a * RUST[p.grade] for a, p in zip(areas, pieces, strict=True)) / sum(areas)


def sludge_figure(plan: Plan, wetted: Figure, iron: Figure, window: Figure | None) -> Figure:
    """Sludge that settles over the run [m3]: rust off the piece, and the scrap's iron as rust."""
    rust, water = param("rust_kg_m2"), param("sludge_water")
    grade = rust_share(plan.pieces)
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
