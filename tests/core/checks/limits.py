"""Cases at the limits of the checks, and whether a check or an advice speaks in one."""

import csv
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from tests.core.checks.test_rules import QUIET
from tests.core.run.test_run import BASIS, Book
from yellowbath.core.checks import judged
from yellowbath.core.checks.fixes.trying import changed
from yellowbath.core.data import params, table
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.run.interlocks import Guard, GuardStanding, Interlocks
from yellowbath.core.run.looked import nothing_gained
from yellowbath.core.run.run import replay
from yellowbath.core.run.samples import Sample, Watch, able
from yellowbath.core.run.spoken import LineHeard, to_say
from yellowbath.core.tell.advice import advise
from yellowbath.core.tell.ohms import ohms

ANSWER = answer(read_plan(dict(QUIET)).plan)
CASES = Path(__file__).parent / "limits.csv"


def cases() -> list[dict[str, str]]:
    with CASES.open(encoding="utf-8") as file:
        return list(csv.DictReader(file))


def speaks(case: dict[str, str], value: float) -> bool:
    """Whether the case's check fires, or its advice is given, with this value at its place."""
    base = json.loads(case["base"])
    if case["check"] == "advice":
        return _advised(base, value, case["speaks"])
    if case["check"] == "samples":
        return _judged(base, value) == case["speaks"]
    if case["check"] == "interlocks":
        return _tripped(base, value) == case["speaks"]
    plan = changed(read_plan({**QUIET, **base}).plan, ((case["at"], value),))
    assert plan is not None, case
    found = judged(plan, answer(plan))
    return case["check"] in {f.id for f in found}


def _advised(base: Any, value: float, words: str) -> bool:
    """A log after switching on, ``"?"`` standing for the value; what is then said first."""
    book = Book().write(0, "checklist", ticked=[]).write(1, "switch_on")
    more, entries = (base["basis"], base["log"]) if isinstance(base, dict) else ({}, base)
    for minutes, detail in entries:
        book.write(value if minutes == "?" else minutes, **_filled(detail, value))
    basis = replace(BASIS, rated_a=6.0, **more)
    run = replay(book.log, basis)
    said = advise(run, basis)
    told = [s.kind for s in run.signs] + ([said.title] if said else [])
    told += ["equal"] if nothing_gained(run) else []
    told += [o.read.key for o in ohms(run.metered, ANSWER) if o.more]
    return any(words in t for t in told)


def _filled(detail: dict[str, Any], value: float) -> dict[str, Any]:
    """A detail with the value in the place of ``"?"``, however deep."""
    return {
        k: _filled(v, value) if isinstance(v, dict) else value if v == "?" else v
        for k, v in detail.items()
    }


def _rows(rows: list[Any], value: float) -> list[Sample]:
    """Samples of [seconds, amps, volts, warmth], ``"?"`` standing for the value."""
    filled = [[value if x == "?" else x for x in row] for row in rows]
    return [Sample(round(1000 * t), *rest) for t, *rest in filled]


def _judged(rows: Any, value: float) -> str:
    """Why the last of some samples is not believed, on a supply of 6 A and 15 V; or whether the
    last of some stretches is said after the first."""
    if isinstance(rows, dict):
        heard = [LineHeard(s.at_ms, *s.values) for s in _rows(rows["heard"], value)]
        return "said" if heard[-1] in to_say(heard[1:], heard[0]) else ""
    basis = replace(BASIS, rated_a=6.0, open_v=15.0)
    watch = Watch()
    whys = [watch.judge(s, able(basis, 0, 10_000_000)) for s in _rows(rows, value)]
    return whys[-1]


def _tripped(base: dict[str, Any], value: float) -> str:
    """What a stream of samples comes to in the end, of a bath that should resist 2 ohm."""
    chosen = Interlocks(touch=True, over_amps_a=4.0, over_warm_c=40.0)
    basis = replace(BASIS, rated_a=6.0, open_v=15.0, bath_ohm=2.0,
                    dissolves=base.get("dissolves", False))  # fmt: skip
    watch, guard, found = Watch(), Guard(), None
    for s in _rows(base["rows"], value):
        why = watch.judge(s, able(basis, 0, 10_000_000))
        found = guard.judge(s, why, GuardStanding(basis), chosen)
    return found.danger.key if found and found.danger else ""


@contextmanager
def moved(check: str, name: str, by: float) -> Iterator[None]:
    """One limit a tenth further, or nearer; what is nought by a tenth of its unit's five."""
    row = table("checks")[check]["limits"][name]
    owner = table("params")[row["param"]] if "param" in row else row
    before = owner["value"]
    owner["value"] = before * (1 + by) if before else 5 * by
    low, high = owner.get("low"), owner.get("high")
    params.cache_clear()
    try:
        yield
    finally:
        owner["value"] = before
        assert (owner.get("low"), owner.get("high")) == (low, high)
        params.cache_clear()
