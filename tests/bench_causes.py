"""How well the diagnosis names what is wrong, on simulated baths with fresh seeds.

``python -m tests.bench_causes [COUNT] [SVG]``: matched and mismatched baths, the fixed list of
practice beside it in the same run, double faults, faults that are not in the list, and how true its
chances are, drawn into an SVG file where one is named. docs/causes.md keeps the figures.
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from collections.abc import Mapping, Sequence
from contextlib import nullcontext
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from tests.core.bath.baths import FIXED_ORDER, Case, answered, case, fixed_steps, other_ranges
from yellowbath.core.bath.draws import law
from yellowbath.core.bath.observation import Observation
from yellowbath.core.causes.asks import DOES
from yellowbath.core.causes.judge import Bench, Judged, nothing_fits, other_amps
from yellowbath.core.causes.rows import cannot, mend_minutes
from yellowbath.core.simulation.senses import CLAMP

KIN: Sequence[frozenset[str]] = (
    frozenset({"contact_scrap", "far_piece", "near_piece"}),
    frozenset({"bad_lead", "thin_lead"}),
    frozenset({"scrap_out", "dry_piece", "low_level"}),
    frozenset({"caked", "one_clean"}),
    frozenset({"thin", "wrong_soda"}),
    frozenset({"asleep", "sag", "wrong_range", "fan"}),
)
TESTS = 5
FEW = 50  # of a bin: fewer tell nothing


def alike(one: str, other: str) -> bool:
    """Whether two causes have like remedies."""
    return one == other or any({one, other} <= k for k in KIN)


@dataclass
class Score:
    """What came out over many baths."""

    baths: int = 0
    first: Counter[str] = field(default_factory=Counter)
    said: list[tuple[float, bool]] = field(default_factory=list)
    minutes: list[float] = field(default_factory=list)
    fixed_minutes: list[float] = field(default_factory=list)
    millis: list[float] = field(default_factory=list)
    missed: Counter[tuple[str, str]] = field(default_factory=Counter)
    wasted: int = 0
    thrice: int = 0

    def add(self, key: str, ranked: Sequence[str], truth: set[str]) -> None:
        self.first[f"{key}: first"] += ranked[0] in truth
        self.first[f"{key}: first three"] += bool(truth & set(ranked[:3]))
        self.first[f"{key}: first, like remedies"] += any(alike(ranked[0], t) for t in truth)


def names(j: Judged) -> list[str]:
    return [s.id for s in j.suspects]


def diagnose(c: Case, bench: Bench, score: Score, truth: set[str]) -> None:
    """Five tests, the most telling first."""
    evidence = list(c.noted)
    began = time.perf_counter()
    judged = bench.judge(evidence, "know")
    score.millis.append(1e3 * (time.perf_counter() - began))
    score.add("before", names(judged), truth)
    _said(score, judged, truth)
    for _ in range(TESTS):
        if judged.ask is None:
            break
        evidence.append(
            Observation(judged.ask.id, answered(judged.ask, c.bath, c.loop, c.rng, c.errs))
        )
        judged = bench.judge(evidence, "know")
    score.add("after five tests", names(judged), truth)
    _said(score, judged, truth)
    if names(judged)[0] not in truth:
        score.missed[(c.cause, names(judged)[0])] += 1


def _said(score: Score, judged: Judged, truth: set[str]) -> None:
    score.said += [(s.chance, s.id in truth) for s in judged.suspects]


def by_list(c: Case, score: Score, truth: set[str]) -> None:
    """The fixed list, as many tests: what it names, and what comes next on it."""
    named, over = list[str](), set[str]()
    for ask, points in fixed_steps(c.loop)[:TESTS]:
        met = answered(ask, c.bath, c.loop, c.rng, c.errs)
        if met in points:
            named.append(points[met])
        over |= {v for k, v in points.items() if k != met}
    gone = cannot(c.loop)
    rest = [x for x in FIXED_ORDER if x not in named and x not in over and x not in gone]
    score.add("fixed list, five tests", [*named, *rest, *sorted(over)], truth)


@dataclass(frozen=True)
class Way:
    """How it went by the next steps: minutes, the mends in their order, and whether it was mended
    or, if not, given up as nothing that is known."""

    minutes: float
    mends: Sequence[str]
    mended: bool
    given_up: bool


def way(c: Case, bench: Bench) -> Way:
    """From the first doubt until all of it is mended, or nothing that is known fits, step by step;
    after a mend that was not all of it amps are read again, as a run asks."""
    evidence, tried, spent = list(c.noted), list[str](), 0.0
    left, until = {c.cause, c.second} - {""}, None
    for _ in range(60):
        judged = bench.judge(evidence, "mend", tried, "amps" if until else "")
        if nothing_fits(judged):
            return Way(spent + law("call_min"), tried, False, True)
        if judged.ask is not None:
            spent += judged.ask.minutes
            if until and judged.ask.id == "amps":
                now = Observation("amps", value=CLAMP.read(c.bath, c.rng).current_a)
                if other_amps(until, now):
                    evidence = [e for e in evidence if e.before or e.ask not in DOES]
                evidence.append(now)
                until = None
                continue
            evidence.append(
                Observation(judged.ask.id, answered(judged.ask, c.bath, c.loop, c.rng, c.errs))
            )
            continue
        spent += mend_minutes(judged.mend)
        tried.append(judged.mend)
        gone = {t for t in left if alike(judged.mend, t)}
        c.bath.mended(*gone)
        c.bath.settle()
        left -= gone
        if not left:
            return Way(spent, tried, True, False)
        read = [e for e in evidence if e.ask == "amps" and e.read and not e.before]
        if read:
            until = read[-1]
            evidence = [e for e in evidence if e is not until]
    return Way(spent + law("call_min"), tried, False, False)


def mending_by_list(c: Case) -> float:
    """The same by the fixed list: what it names is mended at once, and then the list goes on."""
    spent = 0.0
    for ask, points in fixed_steps(c.loop):
        spent += ask.minutes
        met = answered(ask, c.bath, c.loop, c.rng, c.errs)
        if met in points:
            spent += mend_minutes(points[met])
            if alike(points[met], c.cause):
                return spent
    return spent + law("call_min")


def run(
    count: int, matched: bool, seed: int, second: bool = False, hidden: bool = False,
    foreign: bool = False,
) -> Score:  # fmt: skip
    """So many baths. ``hidden``: the cause of each is taken out of the list of the diagnosis;
    ``foreign``: of worlds whose laws are not its own (tests/core/bath/sick.py)."""
    rng, score = np.random.default_rng(seed), Score()
    with nullcontext() if matched else other_ranges():
        for _ in range(count):
            c = case(rng, matched, second, foreign)
            truth = {c.cause, c.second} - {""}
            bench = Bench(c.loop, c.known)
            score.baths += 1
            if hidden:
                _hide(bench, c.cause)
                _unknown(c, bench, score)
                continue
            diagnose(c, bench, score, truth)
            if not second:
                by_list(c, score, truth)
                score.fixed_minutes.append(mending_by_list(c))
            went = way(c, bench)
            score.minutes.append(went.minutes)
            score.first["mended by the next steps"] += went.mended
            score.first["first mend is right"] += bool(went.mends) and any(
                alike(went.mends[0], t) for t in truth
            )
    return score


def _hide(bench: Bench, cause: str) -> None:
    prior = dict(bench.prior)
    prior[cause] = 1e-12
    bench.prior = prior


def _unknown(c: Case, bench: Bench, score: Score) -> None:
    """What it comes to where the cause is none of the list: by five tests, and to the end."""
    evidence = list(c.noted)
    judged = bench.judge(evidence, "know")
    for _ in range(TESTS):
        if judged.ask is None:
            break
        evidence.append(
            Observation(judged.ask.id, answered(judged.ask, c.bath, c.loop, c.rng, c.errs))
        )
        judged = bench.judge(evidence, "know")
    score.first["after five tests: fits nothing known"] += nothing_fits(judged)
    score.first["after five tests: none over one half"] += judged.suspects[0].chance < 0.5
    went = way(c, bench)
    score.first["in the end: fits nothing known"] += went.given_up
    score.first["in the end: mended as something like it"] += went.mended
    score.wasted += len(went.mends) - went.mended
    score.thrice += any(went.mends.count(m) > 2 for m in went.mends)


def reliability(
    said: Sequence[tuple[float, bool]], bins: int = 10
) -> list[tuple[float, float, int]]:
    """Said chance, how often it was so, and of how many, by bins."""
    out = []
    for k in range(bins):
        here = [
            (p, t) for p, t in said if k / bins <= p < (k + 1) / bins or (k == bins - 1 and p == 1)
        ]
        if here:
            out.append((float(np.mean([p for p, _ in here])), float(np.mean([t for _, t in here])),
                        len(here)))  # fmt: skip
    return out


def report(title: str, s: Score) -> None:
    print(f"\n{title}: {s.baths} baths")
    for key, n in s.first.items():
        print(f"  {key:38s} {100 * n / s.baths:5.1f} %")
    if s.minutes:
        ours = np.mean(s.minutes)
        print(f"  minutes until mended {ours:.1f}")
        if s.fixed_minutes:
            theirs = np.mean(s.fixed_minutes)
            print(f"  by the list {theirs:.1f}: {ours / theirs:.2f}")
    if s.wasted:
        print(f"  mends that did not help, a bath: {s.wasted / s.baths:.1f}")
    if s.millis:
        middle, late = np.percentile(s.millis, (50, 95))
        print(f"  a judgement: median {middle:.0f} ms, p95 {late:.0f} ms")
    for said, was, n in reliability(s.said):
        if n >= FEW:
            print(f"    said {100 * said:5.1f} %  was {100 * was:5.1f} %  of {n}")
    print("  most missed:", ", ".join(f"{a} for {b} {n}" for (b, a), n in s.missed.most_common(8)))


def drawing(matched: Score, other: Score) -> str:
    """Said chances against how often it was so, as an SVG: solid for matched baths, hollow for
    mismatched; the grey band is ten points."""
    left, top, size = 50, 20, 260

    def at(said: float, was: float) -> tuple[float, float]:
        return left + size * said, top + size * (1 - was)

    def dots(s: Score, fill: str) -> list[str]:
        return [
            f'<circle cx="{at(a, b)[0]:.1f}" cy="{at(a, b)[1]:.1f}" r="5" fill="{fill}" '
            'stroke="#1b1a17" stroke-width="2"/>'
            for a, b, n in reliability(s.said)
            if n >= FEW
        ]

    band = " ".join(f"{x:.1f},{y:.1f}" for x, y in (
        at(0, 0.1), at(0.9, 1), at(1, 1), at(1, 0.9), at(0.1, 0), at(0, 0)))  # fmt: skip
    ticks = [
        f'<text x="{left + size * v:.0f}" y="{top + size + 18}" text-anchor="middle">'
        f"{100 * v:.0f}</text>"
        f'<text x="{left - 8}" y="{top + size * (1 - v) + 4:.0f}" text-anchor="end">'
        f"{100 * v:.0f}</text>"
        for v in (0.0, 0.25, 0.5, 0.75, 1.0)
    ]
    return "\n".join([
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 340 330" font-family="sans-serif" '
        'font-size="12" fill="#1b1a17"><rect width="340" height="330" fill="#f4f0e4"/>',
        f'<polygon points="{band}" fill="#ddd6c2"/>',
        f'<rect x="{left}" y="{top}" width="{size}" height="{size}" fill="none" stroke="#1b1a17"/>',
        *dots(matched, "#1b1a17"), *dots(other, "#f4f0e4"), *ticks,
        f'<text x="{left}" y="{top + size + 38}">Said chance [%] against how often it was so [%]; '
        "solid matched, hollow not</text>", "</svg>",
    ])  # fmt: skip


def main(count: int, svg: str = "") -> Mapping[str, Score]:
    made = {
        "matched": run(count, True, 71),
        "mismatched": run(count, False, 72),
        "two faults at once, either is right (mismatched)": run(count // 4, False, 73, second=True),
        "of other laws": run(count // 2, True, 75, foreign=True),
        "its cause not in the list (mismatched)": run(count // 4, False, 74, hidden=True),
    }
    for title, score in made.items():
        report(title, score)
    if svg:
        Path(svg).write_text(drawing(made["matched"], made["mismatched"]), "utf-8")
    return made


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000, *sys.argv[2:3])
