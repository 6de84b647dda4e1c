"""Cases at the limits of the checks, and whether a check or an advice speaks in one."""

import csv
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from tests.core.checks.test_rules import QUIET
from tests.core.process.test_run import BASIS, Book
from yellowbath.core.checks import find
from yellowbath.core.checks.fixes.trying import changed
from yellowbath.core.data import params, table
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.core.plan.results.answer import answer
from yellowbath.core.process.advice import advise
from yellowbath.core.process.run import replay

CASES = Path(__file__).parent / "limits.csv"


def cases() -> list[dict[str, str]]:
    with CASES.open(encoding="utf-8") as file:
        return list(csv.DictReader(file))


def speaks(case: dict[str, str], value: float) -> bool:
    """Whether the case's check fires, or its advice is given, with this value at its place."""
    base = json.loads(case["base"])
    if case["check"] == "advice":
        return _advised(base, value, case["speaks"])
    plan = changed(read_plan({**QUIET, **base}).plan, ((case["at"], value),))
    assert plan is not None, case
    found = find(plan, answer(plan), fixes=False)
    return case["check"] in {f.id for f in found}


def _advised(entries: list[Any], value: float, words: str) -> bool:
    """A log after switching on, ``"?"`` standing for the value; what is then said first."""
    book = Book().write(0, "checklist", ticked=[]).write(1, "switch_on")
    for minutes, detail in entries:
        filled = {k: value if v == "?" else v for k, v in detail.items()}
        book.write(value if minutes == "?" else minutes, **filled)
    basis = replace(BASIS, rated_a=6.0)
    run = replay(book.log, basis)
    said = advise(run, basis)
    told = [s.kind for s in run.signs] + ([said.title] if said else [])
    return any(words in t for t in told)


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
