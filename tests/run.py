"""Run every test and end with the line ``N passed, N failed`` that the build reads.

``python -m tests.run [PATTERN ...]`` runs the tests whose dotted name contains a PATTERN; ``quick``
is the pure rules, the guards and the page's own units; ``longer`` all modules of which the usual
run takes a part. Classes are
shared out over three processes, the long ones first and those that drive a browser apart from one
another; the page's own unit tests, which Node runs, go beside them.
"""

from __future__ import annotations

import io
import itertools
import multiprocessing
import os
import re
import subprocess
import sys
import tempfile
import time
import unittest
import warnings
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from tests import page_units
from tests.server import SEEDED, described
from tests.solving import FIELDS

WORKERS = 4  # on two cores: whoever drives a browser or a line waits for it most of the time
SLOWEST = 12  # how many classes are named with their time
_WARM = """
from tests.solving import SOLVER
from yellowbath.workflows.plans.field import warm_up
warm_up(SOLVER)
"""
_DEMO = """
import sys
from pathlib import Path
from tests.solving import share_fields
from yellowbath.store.engine import open_engine
from yellowbath.workflows.demo import seed
share_fields()
engine = open_engine(Path(sys.argv[1]) / "shop.sqlite")
seed(engine)
engine.dispose()
"""
# what takes longest is begun first, so that no worker is left alone with it
PAGE = "page_units"  # the pattern that runs them alone
Patterns = tuple[str, ...]
# under a minute on two cores: no field is solved, no server and no browser is started
QUICK: Patterns = (
    PAGE, "tests.guards.test_arrows", "tests.guards.test_lists", "tests.guards.test_words",
    "tests.core.run", "tests.core.tell", "tests.core.bath", "tests.core.power",
    "tests.core.chemistry", "tests.core.geometry", "tests.core.data", "tests.core.test_ear",
    "tests.core.test_units", "tests.core.test_dose", "tests.core.test_tables",
    "tests.core.test_figures", "tests.core.checks.test_limits", "tests.workflows.test_turns",
)  # fmt: skip
LONG = ("browser", "OnALine", "RandomCases", "field", "workflows", "search")


@dataclass(frozen=True)
class Outcome:
    """What became of one class: tests run, ids that failed, how many skipped, what was said, how
    long it took, and what of it the processor was busy here (servers and browsers are not here)."""

    ran: int
    failed: frozenset[str]
    skipped: int
    text: str
    took_s: float = 0.0
    name: str = ""
    busy_s: float = 0.0


def main(*patterns: str) -> int:
    named = {("quick",): QUICK, ("longer",): tuple(longer_modules())}
    wanted = named.get(patterns) or patterns or ("",)
    with tempfile.TemporaryDirectory() as made:
        return _all_of(wanted, made)


def longer_modules() -> list[str]:
    """Those that take something else where ``YB_LONG`` is set."""
    takes = re.compile(r"^from tests\.longer import .*\b(of|some|LONG)\b", re.MULTILINE)
    files = sorted(Path("tests").rglob("test_*.py"))
    return [".".join(f.with_suffix("").parts) for f in files if takes.search(f.read_text("utf-8"))]


def _all_of(patterns: Patterns, made: str) -> int:
    started = time.monotonic()
    every = (t for tests in _loaded().values() for t in tests)
    names = _apart(sorted({_class_of(t) for t in every if _asked(t, patterns)}, key=_rank))
    if any(p in PAGE for p in patterns):
        names = [*names[:WORKERS], PAGE, *names[WORKERS:]]
    os.environ[FIELDS] = tempfile.mkdtemp(dir=made)
    ready: Callable[[], None] = lambda: None  # noqa: E731
    if patterns == ("",):
        described()  # before the workers, which then have it
        seeded = os.environ.setdefault(SEEDED, tempfile.mkdtemp(dir=made))
        getting = ThreadPoolExecutor(1).submit(_get_ready, seeded)
        ready = getting.result
    outcomes = []
    with multiprocessing.Pool(min(WORKERS, max(len(names), 1))) as pool:
        for outcome in pool.imap_unordered(run_class, _tasks(names, patterns, ready)):
            print(outcome.text, end="", flush=True)
            outcomes.append(outcome)
    ran, failed, skipped = (
        sum(o.ran for o in outcomes),
        sum(len(o.failed) for o in outcomes),
        sum(o.skipped for o in outcomes),
    )
    for o in sorted(outcomes, key=lambda o: -o.took_s)[:SLOWEST]:
        print(f"\n{o.took_s:6.1f} s, {o.busy_s:5.1f} s busy  {o.name}", end="")
    print(f"\ntests took {time.monotonic() - started:.0f} s")
    extra = f", {skipped} skipped" if skipped else ""
    print(f"{ran - failed - skipped} passed, {failed} failed{extra}")
    return 1 if failed or not ran else 0


def _get_ready(seeded: str) -> None:
    """Compiled code is made once and kept on disk, or all workers would wait for it, and a page; a
    demo shop is made once."""
    subprocess.run([sys.executable, "-c", _WARM], check=True)
    subprocess.run([sys.executable, "-c", _DEMO, seeded], check=True)


def _tasks(
    names: Sequence[str], patterns: Patterns, ready: Callable[[], None]
) -> Iterator[tuple[str, Patterns]]:
    """What needs nothing made goes first, so that no core waits meanwhile."""
    needless = [n for n in names if patterns == ("",) and any(p in n for p in QUICK)]
    yield from ((n, patterns) for n in needless)
    ready()
    yield from ((n, patterns) for n in names if n not in needless)


def _apart(names: Sequence[str]) -> list[str]:
    """The same order with two others after each class that drives a browser, as far as they go."""
    browsers = [n for n in names if "browser" in n]
    others = iter([n for n in names if "browser" not in n])
    out: list[str] = []
    for name in browsers:
        out += [name, *itertools.islice(others, 2)]
    return [*out, *others]


def run_class(task: tuple[str, Patterns]) -> Outcome:
    """Run the tests of one class whose names hold a pattern."""
    name, patterns = task
    if name == PAGE:
        ran, failed, said_of_them, took = page_units.run()
        return Outcome(ran, failed, 0, said_of_them, took, "the page's own units")
    chosen = [t for t in _loaded()[name] if _asked(t, patterns)]
    began, busy = time.monotonic(), time.process_time()
    said = io.StringIO()
    warnings.simplefilter("error")
    runner = unittest.TextTestRunner(said, verbosity=0, warnings="error")
    result = runner.run(unittest.TestSuite(chosen))
    bad = [test for test, _ in (*result.failures, *result.errors)]
    failed = frozenset(getattr(test, "test_case", test).id() for test in bad)
    text = said.getvalue() if failed else "." * result.testsRun
    took = time.monotonic() - began
    busy = time.process_time() - busy
    return Outcome(result.testsRun, failed, len(result.skipped), text, took, name, busy)


def _asked(test: unittest.TestCase, patterns: Patterns) -> bool:
    return any(p in test.id() for p in patterns) or _broken(test)


def _class_of(test: unittest.TestCase) -> str:
    return test.id().rsplit(".", 1)[0]


def _broken(test: unittest.TestCase) -> bool:
    """A module that does not import stands as a test that fails, whatever the pattern."""
    return isinstance(test, unittest.loader._FailedTest)


def _rank(name: str) -> tuple[int, str]:
    return next((k for k, part in enumerate(LONG) if part in name), len(LONG)), name


@cache
def _loaded() -> Mapping[str, Sequence[unittest.TestCase]]:
    """Every test by its class; found once, and a worker has what its parent found."""
    made: dict[str, list[unittest.TestCase]] = {}
    for test in _all():
        made.setdefault(_class_of(test), []).append(test)
    return made


def _all() -> Iterator[unittest.TestCase]:
    yield from _flat(unittest.defaultTestLoader.discover("tests", top_level_dir="."))


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for item in suite:
        if isinstance(item, unittest.TestSuite):
            yield from _flat(item)
        else:
            yield item


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
