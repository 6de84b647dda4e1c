"""Random runs and what every surface says of one bath; whatever two of them say otherwise is named.

A run's page, the rack and Today, its table of regions, its question, its log and the book are each
made by what makes them for a person; nothing of how they are worked out is known here.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass
from random import Random
from typing import Any

from tests.shops import QUIET, ShopCase
from yellowbath.api.routes.book import page_out
from yellowbath.api.views.looks import LooksOut, looks_out
from yellowbath.api.views.run import RackItemOut, RunOut, rack_item_out, run_out
from yellowbath.workflows.runs.book import book_page
from yellowbath.workflows.runs.looks import looks
from yellowbath.workflows.runs.rack import rack
from yellowbath.workflows.runs.runs import RunView, start_run, view_run

Document = Mapping[str, Any]
_PLATE = {"kind": "plate", "length_m": 0.12, "width_m": 0.05, "thickness_m": 0.006}
BATHS: Mapping[str, Document] = {
    "a latch": {},
    "scrap on one side": {"layout": {"arrangement": "one_side", "joint_clear": True}},
    "three pieces": {
        "tank": {"shape": {"kind": "box"}}, "layout": {"arrangement": "corners"},
        "pieces": [{"id": f"p{k}", "shape": _PLATE, "x_m": x, "grade": grade}
                   for k, x, grade in ((1, -0.13, "light"), (2, 0.0, "heavy"), (3, 0.13, "light"))],
    },
    "a bar in two dips": {"pieces": [{"shape": {"kind": "bar", "length_m": 0.55,
                                                "diameter_m": 0.02}, "hang": "long_down"}]},
    "a tube": {"pieces": [{"shape": {"kind": "tube", "length_m": 0.25,
                                     "outer_diameter_m": 0.06, "inner_diameter_m": 0.05}}]},
    "a supply at its limit": {"supply": {**QUIET["supply"], "kind": "laboratory",
                                         "nominal_v": 15, "rated_a": 5, "limit_a": 0.8}},
}  # fmt: skip

_OFTEN = 0.1  # of the entries after which all is told


@dataclass(frozen=True)
class Told:
    """Everything that is said of one bath at one moment."""

    run: RunOut
    item: RackItemOut | None
    table: LooksOut | None
    areas: Mapping[str, float]
    book: Any = None


class AccountCase(ShopCase):
    """Random runs in a shop of their own."""

    def told(self, run_id: str) -> Told:
        view = view_run(self.shop, run_id)
        on = next((o for o in rack(self.shop) if o.row.id == run_id), None)
        found, closed = looks(self.shop, run_id), view.run.state == "closed"
        summary = view.model.summary if view.model else None
        areas: dict[str, float] = {}
        for name, area in zip(summary.places, summary.areas, strict=True) if summary else ():
            areas[name] = areas.get(name, 0.0) + area
        book = None
        if closed:
            at, entry = book_page(self.shop, run_id)
            book = page_out(run_id, "", at, entry, view.system)
        return Told(run_out(view), rack_item_out(on) if on else None,
                    looks_out(found) if found else None, areas, book)  # fmt: skip

    def random_run(self, seed: int, steps: int = 10) -> Iterator[Told]:
        """A bath drawn at random, in an empty shop, and what is said of it after every few of its
        entries."""
        self.setUp()
        rng = Random(seed)
        name = rng.choice(list(BATHS))
        view = start_run(self.shop, self.plan(**BATHS[name]).revision.plan_id)
        run_id, minutes = view.row.id, 0.0
        for _ in range(steps):
            step = _alone(rng, view) or _step(rng, view)
            if step is None:
                break
            minutes += rng.choice((1, 8, 40, 240, 600)) * rng.uniform(0.5, 1)
            kind, detail = step
            view = self.write(run_id, minutes, kind, **detail)
            self.clock.to(minutes + rng.choice((0, 0.5, 30)))
            if rng.random() < _OFTEN:
                yield self.told(run_id)
        yield self.told(run_id)


_OWN: Mapping[str, Sequence[str]] = {
    "lifted": ("inspection", "inspection", "back_in", "clean"),
    "clean": ("finish_start", "back_in"), "finishing": ("close", "back_in"),
}  # fmt: skip


def _alone(rng: Random, view: RunView) -> tuple[str, dict[str, Any]] | None:
    """Something that hands might do to one of several pieces by itself."""
    pieces, state = view.plan.pieces, view.run.state
    if len(pieces) < 2 or state in ("planned", "ready", "closed") or rng.random() < 0.6:
        return None
    piece = rng.choice(pieces)
    stands = view.run.apart.get(piece.id)
    if stands is None:
        last = len(view.run.apart) + 1 >= len(pieces)
        can = state in ("running", "paused", "lifted") and not last
        return ("lift", {"piece": piece.id}) if can else None
    if stands.state not in _OWN:
        return None
    kind = rng.choice(_OWN[stands.state])
    more: dict[str, Any] = {"piece": piece.id}
    if kind == "inspection":
        share = rng.choice((0.2, 0.6, 1.0))
        more |= {"verdict": "share", "shares": dict.fromkeys((r.id for r in piece.regions), share)}
    return kind, more


def _step(rng: Random, view: RunView) -> tuple[str, dict[str, Any]] | None:
    """The next thing that hands might do; None where a run is over."""
    amps, points, state = view.basis.expected_a, [p.id for p in view.points], view.run.state
    regions = [r.id for p in view.plan.pieces if p.id not in view.run.apart for r in p.regions]
    some = rng.sample(list(regions), rng.randint(1, len(regions)))
    near = round(amps * rng.lognormvariate(0, 0.15), 2)
    change = {"what": rng.choice(("turned", "flipped", "scraped", "topped_up", "clip_moved"))}
    change |= rng.choice(({}, {"after_a": near}, {"before_a": near, "note": "by hand"}))
    running: list[tuple[str, dict[str, Any]]] = [
        ("reading", {"current_a": near}), ("reading", {"current_a": near, "tank_v": 7.0}),
        ("reading", {"current_a": 0.0}), ("reading", {"tank_v": 0.1}),
        ("reading", {"current_a": 3 * near}), ("reading", {"current_a": 0.3 * near}),
        ("look", {"bubbles": rng.choice(("whole", "whole", "none", "one_side", "clip_only"))}),
        ("look", {"signs": ["smell"]}), ("change", change), ("remark", {"text": "crust came off"}),
        ("switch_off", {}), ("lift", {}), ("lift", {}), ("found_stopped", {"cause": "fuse"}),
    ]  # fmt: skip
    share = rng.choice((0.0, 0.2, 0.6, 0.8, 1.0))
    by: dict[str, list[tuple[str, dict[str, Any]]]] = {
        "planned": [("checklist", {"ticked": list(points)})],
        "ready": [("switch_on", {})],
        "running": running,
        "paused": [("switch_on", {}), ("switch_on", {}), ("lift", {}), ("change", change)],
        "lifted": [
            ("inspection", {"verdict": "share", "note": "a stamp",
                            "shares": {r: rng.choice((share, 0.4)) for r in some}}),
            ("inspection", {"verdict": "share", "shares": dict.fromkeys(regions, 1.0)}),
            ("inspection", {"verdict": "equal"}), ("inspection", {"verdict": "not_yet"}),
            ("back_in", {}), ("back_in", {}), ("change", change), ("clean", {}),
        ],
        "clean": [("finish_start", {}), ("back_in", {})],
        "finishing": [("close", {"remarks": "done"})],
    }  # fmt: skip
    if any(own.state != "closed" for own in view.run.apart.values()):
        by["finishing"] = [("back_in", {})]  # a bath is not closed before each of its pieces
    return rng.choice(by[state]) if state in by else None


# Pairs of which a bath says one at most, wherever on the page they stand.
_APART: Sequence[tuple[str, str]] = (
    (r"gains nothing|were alike", r"more under power"),
    (r"nothing flows", r"[Ww]eak but working|bath gases"),
    (r"[Ss]witch off now", r"holds? the amps down|gives all it has"),
    (r"nothing is left|nothing more is wanted", r"more under power"),
    (r"[Ff]ar below", r"[Mm]ore than was expected"),
    (r"Switch off now", r"Turn the piece|Scrape or swap"),
)


def against(told: Told) -> list[str]:
    """What two surfaces say otherwise of the same bath, in words; nothing where there is one
    account."""
    run, found = told.run, list[str]()
    if told.item is not None:
        pairs = {
            "state": (told.item.state, run.state),
            "next": ([a.model_dump() for a in told.item.actions],
                     [a.model_dump() for a in run.actions]),
            "window": (told.item.window, run.window),
            "share": (told.item.share_clean, run.share_clean),
        }  # fmt: skip
        found += [f"rack and run: {k}" for k, (one, other) in pairs.items() if one != other]
    found += _by_table(told)
    words = _words(told)
    found += [
        f"{one} beside {other}" for one, other in _APART
        if re.search(one, words) and re.search(other, words)
    ]  # fmt: skip
    hours = run.window is not None and run.window.left_s.high > 0
    if run.silent and (hours or run.limits or run.advice or run.actions[0].kind == "gas"):
        found.append("nothing flows, and hours, limits or advice are told")
    if run.state == "running" and any(a.danger for a in run.actions[1:]):
        found.append("a danger is not first")
    if run.window and not run.window.sides and run.share_clean == 1.0 != (
        run.window.left_s.high <= 0
    ):  # fmt: skip
        found.append("all of it is clean, and hours are told")
    spans = re.findall(r"now (\S+ to \S+ \w+)", run.looked)
    if spans and run.window and spans[-1] != run.window.left_text:
        found.append(f"the look says {spans[-1]}, the headline {run.window.left_text}")
    planned = any(f.note and "planned" in f.note for f in run.figures.values())
    if run.stretches and planned is run.amps_read:
        found.append("amps as planned and amps as read")
    if run.actions and run.actions[0].kind in ("crust", "second_look"):
        waits = [a.title for a in run.actions if a.piece and a.at and a.at <= run.now]
        found += [f"{run.actions[0].title}, and before it: {title}" for title in waits]
    if told.book is not None:
        found += _by_book(told)
    return found


def _by_table(told: Told) -> list[str]:
    """The regions' shares, by their areas, are the headline's."""
    run, table = told.run, told.table
    if table is None or not table.places:
        return []
    inside = {r.id for r in run.regions}
    whole = _mean(told, inside)
    out = []
    for piece in run.pieces:
        by_table = _mean(told, {r.id for r in piece.regions})
        if abs(by_table - 100 * piece.share_clean) > 1.0 + run.beyond_percent:
            out.append(f"{piece.name}: table {by_table:.0f} %, its own {piece.share_clean:.2f}")
    # each is rounded to a whole per cent
    if abs(whole - 100 * run.share_clean) > 1.0 + run.beyond_percent * run.nothing_gained:
        out.append(f"table {whole:.0f} %, headline {100 * run.share_clean:.0f} %")
    if run.nothing_gained and run.window is None and any(
        " to " in p.hours for p in table.places if p.id in inside
    ):  # fmt: skip
        out.append("more gains nothing, and the table tells hours")
    late = _hours(run.window.left_text)[1] if run.window else None
    if late is not None and run.window and not run.window.sides:
        for p in table.places:  # no side is slower than the main surface, of one piece
            if len(run.pieces) < 2 and " to " in p.hours and _hours(p.hours)[0] > late:
                out.append(f"table {p.name} {p.hours}, headline {run.window.left_text}")
    if len(table.places) == 1 and run.window and not run.window.sides:
        only = table.places[0].hours
        if only not in (run.window.left_text, "clean") and " to " in only:
            out.append(f"table {only}, headline {run.window.left_text}")
    return out


def _mean(told: Told, names: Set[str]) -> float:
    """Per cent clean of some regions together, by the table."""
    assert told.table is not None
    rows = [p for p in told.table.places if p.id in names]
    return sum(told.areas[p.id] * p.percent for p in rows) / sum(told.areas[p.id] for p in rows)


def _hours(said: str) -> tuple[float, float]:
    """Both edges of a window in words [h]; nought of one that says that nothing is left."""
    found = re.fullmatch(r"(\S+) to (\S+) (min|h|d)", said)
    if found is None:
        return 0.0, 0.0
    unit = {"min": 1 / 60, "h": 1.0, "d": 24.0}[found[3]]
    return float(found[1]) * unit, float(found[2]) * unit


def _by_book(told: Told) -> list[str]:
    entry, run = told.book.entry, told.run
    last = next((line for line in run.log if line.kind == "inspection"
                 and line.detail["shares"]), None)  # fmt: skip
    pairs = {
        "charge": (entry.charge_ah, run.figures["run.charge"].value_si),
        "powered": (entry.powered_s, run.figures["run.powered"].value_si),
        "amps": (entry.amps_read, run.amps_read),
        "shares": (entry.shares, last.detail["shares"] if last else {}),
    }
    out = [f"book and run: {k}" for k, (one, other) in pairs.items() if one != other]
    said = "not read" in next(p.happened for p in told.book.pairs if p.name == "Amps")
    return out + (["the book's amps"] if said is entry.amps_read else [])


def _words(told: Told) -> str:
    """All sentences that stand on the run's page at once."""
    run = told.run
    made = [run.looked, run.limits]
    if run.actions:
        first = run.actions[0]
        made += [first.title, first.why]
        made += [a.title for a in run.actions[1:]] if not first.danger else []
    if run.advice and not run.doubted:
        made += [run.advice.title, run.advice.text]
    danger = bool(run.actions) and run.actions[0].danger
    if run.window and not danger and run.window.left_s.high > 0:
        made.append(f"{run.window.left_text} more under power")
    if run.nothing_gained and run.window is None:
        made.append("gains nothing")
    return " ".join(made)
