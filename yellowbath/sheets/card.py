"""The bench card: one page to take to the shed, as HTML for the printer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import segno
from markupsafe import Markup

from yellowbath.core import units
from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure
from yellowbath.core.hours.said import outlook_said
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.plan.results.measures import in_hands
from yellowbath.core.process.switch_on import ListPoint
from yellowbath.core.units import show
from yellowbath.core.words import said, word
from yellowbath.sheets.drawing import LayoutDrawing
from yellowbath.sheets.files import svg
from yellowbath.sheets.templates import filled

Rows = list[tuple[str, str]]
ROWS = ("10 s", "1 min", "35 min", "", "", "", "", "")


@dataclass(frozen=True)
class Turn:
    """A pose of the turn plan: its words and its time under power [s]."""

    words: str
    seconds: float


@dataclass(frozen=True)
class Reach:
    """Where a phone finds the run: an address, or why it finds none."""

    url: str
    why_not: str


def card(
    plan: Plan,
    answer: Answer,
    points: Sequence[ListPoint],
    findings: Sequence[Finding],
    reach: Reach,
    turns: Sequence[Turn] = (),
    paper: str = "a4",
    scale: float = 1.0,
) -> str:
    """The card's HTML, its type scaled; figures are written as the screen writes them."""
    layout = LayoutDrawing(plan, answer)
    return filled(
        "card.html", name=plan.title or "Bath", scale=scale, size="A4" if paper == "a4" else paper,
        stops=[f for f in findings if f.severity == "stop"], mix=_mix(plan, answer),
        wiring=_wiring(plan, answer), placed=layout.placed[:_MOST],
        more=max(len(layout.placed) - _MOST, 0), points=points, reach=reach,
        turns=[(t.words, str(show(t.seconds, "time", plan.system, 2))) for t in turns],
        drawing=Markup(svg(layout.items, 72 * scale)), code=_code(reach), rows=ROWS,
    )  # fmt: skip


_MOST = 8  # anodes that the card lists


def written(f: Figure, plan: Plan) -> str:
    """A figure as the screen has it."""
    if f.low is not None and f.high is not None:
        return str(units.window(f.value, f.low, f.high, f.quantity, plan.system)[0])
    return str(show(f.value, f.quantity, plan.system, 2 if f.quantity == "number" else 3))


def window(f: Figure, plan: Plan) -> str:
    """A window as the screen has it; the value alone where there is none."""
    if f.low is None or f.high is None:
        return written(f, plan)
    _, low, high = units.window(f.value, f.low, f.high, f.quantity, plan.system)
    return f"{low.text} to {high.text} {high.unit}"


def _mix(plan: Plan, a: Answer) -> Rows:
    put_in = written(a.product_mass, plan)
    if a.product_mass.value > 0:
        put_in += f", which is {in_hands(plan, a, a.concentration.value)}"
    if a.scoops is not None:
        put_in += f", or {written(a.scoops, plan)} of the scoop"
    if (vinegar := a.of("mix.vinegar")) is not None:
        put_in += f", and {written(vinegar, plan)} of vinegar in place of as much water"
    return [
        ("Water", written(a.fill.water, plan)),
        (word("line.name.put_in"), put_in),
        ("Level, all in", f"{written(a.fill.level, plan)} above the floor"),
        *((_hangs(plan, p), _hung(plan, a, p)) for p in plan.pieces),
        ("Least gap", f"{written(a.fill.gap, plan)} between scrap and piece"),
    ]


def _hangs(plan: Plan, piece: Piece) -> str:
    return "Piece hangs" if len(plan.pieces) == 1 else f"{plan.called(piece)} hangs"


def _hung(plan: Plan, a: Answer, piece: Piece) -> str:
    low = show(a.fill.bottoms[piece.id], "length", plan.system)
    turned = f", turned {piece.turn_deg:g}°" if piece.turn_deg else ""
    flipped = ", put end for end" if piece.flipped else ""
    return f"{low} above the floor, {said('piece.hang', piece.hang)}{turned}{flipped}"


def _wiring(plan: Plan, a: Answer) -> Rows:
    s = plan.supply
    length, area = (show(s.lead_length_m, "distance", plan.system),
                    show(s.lead_area_m2, "wire", plan.system))  # fmt: skip
    return [
        ("Plus (red)", f"to the scrap, all {len(plan.anodes)} joined outside the liquid"),
        ("Minus (black)", "to the piece, on bright metal"),
        ("Supply", f"{s.nominal_v:g} V, {s.rated_a:g} A; leads {length}, {area}"),
        ("Expect", f"{window(a.gives, plan)} (middle {written(a.gives, plan)})"),
        *_clean(plan, a),
    ]


def _clean(plan: Plan, a: Answer) -> Rows:
    """The hours as the screen says them, side by side."""
    if a.outlook is None:
        return [(word("side.after"), "no current")]
    (name, first), *slow = outlook_said(a.outlook, plan.system)
    return [(f"{name}, under power", first), *slow]


def _code(reach: Reach) -> Markup:
    """The run's address as a code of squares, drawn by its library from the address alone."""
    if not reach.url:
        return Markup("")
    made = segno.make(reach.url, error="m")
    return Markup(made.svg_inline(scale=3, border=2, dark="#000"))
