"""The bench card: one page to take to the shed, as HTML for the printer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import segno
from markupsafe import Markup

from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Plan
from yellowbath.core.plan.results.answer import Answer
from yellowbath.core.run.switch_on import ListPoint
from yellowbath.core.tell import bench
from yellowbath.core.units import show
from yellowbath.sheets.drawing import LayoutDrawing
from yellowbath.sheets.files import svg
from yellowbath.sheets.templates import filled

_SPARE = ("",) * 5  # lines of the table for readings without a time


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
        stops=[f for f in findings if f.severity == "stop"], mix=bench.mix_rows(plan, answer),
        wiring=bench.wiring_rows(plan, answer), others=bench.else_rows(plan, answer),
        placed=bench.placed(plan)[:_MOST], more=max(len(plan.anodes) - _MOST, 0),
        points=points, reach=reach,
        turns=[(t.words, str(show(t.seconds, "time", plan.system, 2))) for t in turns],
        drawing=Markup(svg(layout.items, 72 * scale)), code=_code(reach),
        rows=(*bench.reading_times(), *_SPARE),
    )  # fmt: skip


_MOST = 8  # anodes that the card lists


def _code(reach: Reach) -> Markup:
    """The run's address as a code of squares, drawn by its library from the address alone."""
    if not reach.url:
        return Markup("")
    made = segno.make(reach.url, error="m")
    return Markup(made.svg_inline(scale=3, border=2, dark="#000"))
