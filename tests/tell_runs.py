"""Runs told step by step, as every surface tells them: ``python -m tests.tell_runs`` writes
docs/one-account.md. Each step is held to one account too."""

from __future__ import annotations

import sys
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from tests.accounts import BATHS, AccountCase, Told, against
from yellowbath.workflows.runs.runs import start_run

Steps = Sequence[tuple[float, str, Mapping[str, Any]]]  # minutes, kind of entry, what it says
_ON: Steps = ((0, "checklist", {}), (1, "switch_on", {}))
_GAS: Steps = ((2, "look", {"bubbles": "whole"}),)


def _looked(minutes: float, share: float | None, verdict: str = "share", **more: Any) -> Steps:
    """Lifted and looked at, the same share on every region."""
    said = {"verdict": verdict, "all": share, **more}
    return ((minutes, "lift", {}), (minutes + 2, "inspection", said))


def _again(minutes: float) -> Steps:
    return ((minutes, "back_in", {}), (minutes + 1, "switch_on", {}),
            (minutes + 2, "look", {"bubbles": "whole"}))  # fmt: skip


RUNS: Mapping[str, tuple[str, Steps]] = {
    "A dip turned": ("a bar in two dips", (
        *_ON, *_GAS, (40, "reading", {"current_a": 2.0}), (400, "switch_off", {}),
        (405, "change", {"what": "flipped"}), (410, "switch_on", {}),
        (412, "reading", {"current_a": 2.0}), (800, "look", {"bubbles": "whole"}))),
    "All clean at once": ("a latch", (*_ON, *_GAS, *_looked(60, 1.0))),
    "Two like looks": ("a latch", (
        *_ON, *_GAS, *_looked(240, 0.6), *_again(244), *_looked(480, 0.6))),
    "Nought amps after a night": ("a latch", (
        *_ON, *_GAS, (600, "reading", {"current_a": 0.0}), (605, "look", {"bubbles": "none"}),
        (610, "found_stopped", {"cause": "socket", "at": 200}))),
    "Three pieces": ("three pieces", (
        *_ON, *_GAS, (40, "reading", {"current_a": 4.0}), (60, "lift", {"piece": "p1"}),
        (61, "switch_on", {}), (62, "look", {"bubbles": "whole"}),
        (64, "inspection", {"piece": "p1", "verdict": "share", "all": 1.0}),
        (66, "clean", {"piece": "p1"}), (67, "finish_start", {"piece": "p1"}),
        (90, "close", {"piece": "p1"}), (100, "reading", {"current_a": 3.2}),
        *_looked(300, 0.8))),
    "A supply at its limit": ("a supply at its limit", (
        *_ON, *_GAS, (40, "reading", {"current_a": 0.8, "tank_v": 5.0}))),
    "A tube": ("a tube", (*_ON, *_GAS, (40, "reading", {"current_a": 3.0}), *_looked(300, 0.8))),
    "A bath found off": ("a latch", (
        *_ON, *_GAS, (300, "found_stopped", {"cause": "a tripped socket"}), (305, "switch_on", {}),
        (306, "look", {"bubbles": "whole"}))),
    "A bath found running": ("a latch", (
        (0, "switch_on", {"already": True}), (240, "look", {"bubbles": "whole"}))),
    "One wrong look corrected": ("a latch", (
        *_ON, *_GAS, *_looked(60, 1.0), (64, "void", {"target": "look"}),
        (65, "inspection", {"verdict": "share", "all": 0.2}))),
}  # fmt: skip


class Teller(AccountCase):
    def play(self, bath: str, steps: Steps) -> Iterator[tuple[str, Told]]:
        """Each step in words with what is then told; the list and switching on as one."""
        self.setUp()
        view = start_run(self.shop, self.plan(**BATHS[bath]).revision.plan_id)
        run_id, ids = view.row.id, {}
        owners = {r.id: p.id for p in view.plan.pieces for r in p.regions}
        newest = 0.0
        for minutes, kind, said in steps:
            detail = {k: v for k, v in said.items() if k not in ("all", "at")}
            if said.get("all") is not None:
                alone = view.run.apart if "piece" not in said else set(owners.values())
                names = [r for r, p in owners.items() if p not in alone or p == said.get("piece")]
                detail["shares"] = dict.fromkeys(names, said["all"])
            if kind == "checklist":
                detail["ticked"] = [p.id for p in view.points]
            if kind == "void":
                detail["target"] = ids["inspection"]
            self.clock.to(max(newest, minutes))
            view = self.write(run_id, said.get("at", minutes), kind, **detail)
            newest = max(newest, minutes)
            self.clock.to(newest)
            ids[kind] = next(
                e.client_id for e in view.lines if e.detail.kind == kind or kind == "void"
            )
            if kind != "checklist":
                yield _step(minutes, kind, said), self.told(run_id)


def _step(minutes: float, kind: str, said: Mapping[str, Any]) -> str:
    what = ", ".join(f"{k} {v}" for k, v in said.items() if v is not None)
    return f"{minutes / 60:.1f} h, {kind.replace('_', ' ')}{f' ({what})' if what else ''}"


def lines(told: Told) -> Iterator[str]:
    """What the surfaces say, one a line."""
    run, item = told.run, told.item
    first = run.actions[0] if run.actions else None
    window = run.window
    left = "no hours" if window is None else f"{window.left_text} more"
    beside = "".join(f"; {s.name.lower()} {s.hours or 'not in this bath'}"
                     for s in window.sides) if window else ""  # fmt: skip
    yield f"Next, on run, rack and Today: {first.title if first else 'nothing'}"
    yield f"Headline: about {round(100 * run.share_clean)} % clean, {left}{beside}"
    if item is not None and item.window is not None:
        yield f"Rack: about {round(100 * item.share_clean)} % clean, {item.window.left_text}"
    if told.table is not None:
        yield "Table: " + "; ".join(f"{p.name} {p.percent} %, {p.hours}" for p in told.table.places)
    for name, text in (("Look", run.looked), ("What limits", run.limits),
                       ("Advice", run.advice.title if run.advice and not run.doubted else ""),
                       ("Beside the hours", run.apart)):  # fmt: skip
        if text:
            yield f"{name}: {text}"
    if run.pieces:
        yield "Pieces: " + "; ".join(
            f"{p.name} {p.state}, {round(100 * p.share_clean)} % clean"
            f"{f', {p.left_text} more' if p.left_text else ''}" for p in run.pieces
        )  # fmt: skip
    if run.stopped:
        yield "Counted until the likeliest moment, half-way between the last sign of life and then"


_HEAD = """# One bath, one account

What the run's page, the rack, Today and the table of regions say of ten runs, step by step.
Written by `python -m tests.tell_runs`, which fails where two of them say otherwise;
`tests/workflows/test_account.py` holds random runs to the same.
"""


def main() -> int:
    teller, out = Teller("told"), [_HEAD]
    for title, (bath, steps) in RUNS.items():
        out.append(f"## {title}\n")
        for said, told in teller.play(bath, steps):
            wrong = against(told)
            assert not wrong, (title, said, wrong)
            out.append(f"- {said}")
            out += [f"  - {line}" for line in lines(told)]
        out.append("")
    teller.doCleanups()
    page = Path(__file__).parents[1] / "docs" / "one-account.md"
    page.write_text("\n".join(out).rstrip() + "\n", "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
