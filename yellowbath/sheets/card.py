"""The bench card: one page to take to the shed, as HTML for the printer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

import segno

from yellowbath.core.checks.registry import Finding
from yellowbath.core.document import Piece, Plan
from yellowbath.core.figures import Figure
from yellowbath.core.plan.answer import Answer
from yellowbath.core.process.switch_on import Point
from yellowbath.core.units import show
from yellowbath.sheets.drawing import Layout
from yellowbath.sheets.files import svg

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
    points: Sequence[Point],
    findings: Sequence[Finding],
    reach: Reach,
    turns: Sequence[Turn] = (),
    paper: str = "a4",
    scale: float = 1.0,
) -> str:
    """The card's HTML, its type scaled; figures are written as the screen writes them."""
    layout = Layout(plan, answer)
    name = plan.title or "Bath"
    stops = [f for f in findings if f.severity == "stop"]
    return f"""<!doctype html><meta charset="utf-8"><style>{_style(paper, scale)}</style>
<h1>{escape(name)}</h1>
{_stops(stops)}
<div class="top"><div class="left">{_mix(plan, answer)}{_wiring(plan, answer)}
<h2>Scrap, from the inside edges of the rim</h2>{_scrap(layout)}{_turns(turns, plan)}
<h2>Before switching on</h2><ul>{"".join(f"<li>{escape(p.text)}</li>" for p in points)}</ul>
</div><div class="right">{svg(layout.items, 72 * scale)}{_code(reach)}</div></div>
<h2>Readings</h2>{_readings()}
<footer>Power off before hands go in. No lid, no spark, fresh air. Figures are estimates from the
sizes typed in. Local codes and licensed practice come first.</footer>"""


def written(f: Figure, plan: Plan) -> str:
    """A figure as the screen has it."""
    return str(show(f.value, f.quantity, plan.system, 2 if f.quantity == "number" else 3))


def window(f: Figure, plan: Plan) -> str:
    """A window as the screen has it; the value alone where there is none."""
    if f.low is None or f.high is None:
        return written(f, plan)
    low, high = (show(v, f.quantity, plan.system, 2, like=f.value) for v in (f.low, f.high))
    return f"{low.text} to {high.text} {high.unit}"


def _rows(rows: Sequence[tuple[str, str]]) -> str:
    cells = "".join(f"<tr><th>{escape(a)}</th><td>{escape(b)}</td></tr>" for a, b in rows)
    return f"<table class='lines'>{cells}</table>"


def _stops(stops: Sequence[Finding]) -> str:
    return "".join(f"<p class='stop'>Stop: {escape(f.title)}. {escape(f.fix)}</p>" for f in stops)


def _mix(plan: Plan, a: Answer) -> str:
    put_in = f"{written(a.product_mass, plan)}, or {written(a.spoons, plan)} level tablespoons"
    if a.scoops is not None:
        put_in += f", or {written(a.scoops, plan)} of the scoop"
    if (vinegar := a.of("mix.vinegar")) is not None:
        put_in += f", and {written(vinegar, plan)} of vinegar"
    rows = [
        ("Water", written(a.fill.water, plan)),
        ("Put in", put_in),
        ("Level, all in", f"{written(a.fill.level, plan)} above the floor"),
        *((_hangs(plan, p), _hung(plan, a, p)) for p in plan.pieces),
        ("Least gap", f"{written(a.fill.gap, plan)} between scrap and piece"),
    ]
    return f"<h2>Mix and place</h2>{_rows(rows)}"


def _hangs(plan: Plan, piece: Piece) -> str:
    return "Piece hangs" if len(plan.pieces) == 1 else f"{plan.called(piece)} hangs"


def _hung(plan: Plan, a: Answer, piece: Piece) -> str:
    low = show(a.fill.bottoms[piece.id], "length", plan.system)
    pose = {"long_across": "long side across", "long_down": "long side down", "flat": "flat"}
    turned = f", turned {piece.turn_deg:g}°" if piece.turn_deg else ""
    flipped = ", put end for end" if piece.flipped else ""
    return f"{low} above the floor, {pose[piece.hang]}{turned}{flipped}"


def _wiring(plan: Plan, a: Answer) -> str:
    s = plan.supply
    length, area = (show(s.lead_length_m, "distance", plan.system),
                    show(s.lead_area_m2, "wire", plan.system))  # fmt: skip
    rows = [
        ("Plus (red)", f"to the scrap, all {len(plan.anodes)} joined outside the liquid"),
        ("Minus (black)", "to the piece, on bright metal"),
        ("Supply", f"{s.nominal_v:g} V, {s.rated_a:g} A; leads {length}, {area}"),
        ("Expect", f"{window(a.gives, plan)} (middle {written(a.gives, plan)})"),
        ("Clean after", window(a.window, plan) + " under power" if a.window else "no current"),
    ]
    return f"<h2>Wiring and time</h2>{_rows(rows)}"


def _scrap(layout: Layout) -> str:
    head = "<tr><th>No.</th><th>Kind</th><th>From left</th><th>From front</th><th>Foot</th></tr>"
    body = "".join(
        f"<tr><td>+{p.number}</td><td>{p.kind}</td><td>{escape(p.left)}</td>"
        f"<td>{escape(p.front)}</td><td>{escape(p.foot)}</td></tr>"
        for p in layout.placed[:8]
    )
    more = len(layout.placed) - 8
    rest = f"<p>and {more} more: see the layout.</p>" if more > 0 else ""
    return f"<table class='grid'>{head}{body}</table>{rest}"


def _turns(turns: Sequence[Turn], plan: Plan) -> str:
    if not turns:
        return ""
    rows = [(t.words, str(show(t.seconds, "time", plan.system, 2))) for t in turns]
    return f"<h2>Turns, power off each time</h2>{_rows(rows)}"


def _readings() -> str:
    cells = "<td></td>" * 3
    body = "".join(f"<tr><td class='when'>{t}&nbsp;</td>{cells}</tr>" for t in ROWS)
    return (
        "<table class='grid readings'><tr><th>Time</th><th>Amps</th><th>Volts at the tank</th>"
        f"<th class='said'>Seen, done</th></tr>{body}</table>"
    )


def _code(reach: Reach) -> str:
    if not reach.url:
        return f"<div class='code'><p>{escape(reach.why_not)}</p></div>"
    made = segno.make(reach.url, error="m")
    picture = made.svg_inline(scale=3, border=2, dark="#000")
    return f"<div class='code'>{picture}<p>The run on a phone: {escape(reach.url)}</p></div>"


def _style(paper: str, scale: float) -> str:
    size = "A4" if paper == "a4" else "letter"
    return f"""
@page {{ size: {size}; margin: 10mm }}
body {{ font: {8.4 * scale:.2f}pt/1.28 'Atkinson Hyperlegible Next', sans-serif; margin: 0 }}
h1 {{ font: 600 2.6em/1 'Barlow Condensed', sans-serif; margin: 0 0 2mm;
      border-bottom: 1.2mm solid #f2c200; padding-bottom: 1mm }}
h2 {{ font: 600 1.4em/1 'Barlow Condensed', sans-serif; margin: .6em 0 .2em }}
.top {{ display: flex; gap: 6mm }} .left {{ flex: 1 }} .right {{ width: {74 * scale:.1f}mm }}
table {{ border-collapse: collapse; width: 100% }}
.lines th {{ text-align: left; font-weight: 400; color: #444; width: 24mm; padding: .1em 0 }}
.lines tr {{ border-bottom: .2mm solid #bbb }}
.grid th, .grid td {{ border: .25mm solid #000; padding: .12em 1.2mm; text-align: left }}
.readings td {{ height: 1.75em }} .when {{ width: 14mm }} .said {{ width: 48% }}
ul {{ margin: 0; padding: 0; list-style: none }}
li {{ padding-left: 5mm; position: relative; margin-bottom: .15em }}
li::before {{ content: ''; position: absolute; left: 0; top: .15em; width: .8em; height: .8em;
              border: .3mm solid #000 }}
.stop {{ border: .6mm solid #b3121d; padding: 1mm 2mm; margin: 1mm 0; font-weight: 600 }}
.code {{ display: flex; gap: 3mm; align-items: center; font-size: .9em; margin-top: 3mm;
         overflow-wrap: anywhere }}
.code svg {{ width: 30mm; height: 30mm; flex: none }}
footer {{ margin-top: 2mm; font-size: .88em }}
"""
