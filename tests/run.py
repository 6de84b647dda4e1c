"""Run every test and end with the line ``N passed, N failed`` that the build reads.

``python -m tests.run [PATTERN]`` runs the test modules whose dotted name contains PATTERN.
"""

from __future__ import annotations

import sys
import time
import unittest
import warnings
from collections.abc import Iterator


def main(pattern: str = "") -> int:
    suite = unittest.TestSuite(
        test
        for test in _flat(unittest.defaultTestLoader.discover("tests", top_level_dir="."))
        if pattern in test.id() or isinstance(test, unittest.loader._FailedTest)
    )
    warnings.simplefilter("error")
    started = time.monotonic()
    result = unittest.TextTestRunner(verbosity=1, warnings="error").run(suite)
    bad = [test for test, _ in (*result.failures, *result.errors)]
    failed = len({getattr(test, "test_case", test).id() for test in bad})
    print(f"tests took {time.monotonic() - started:.0f} s")
    skipped = f", {len(result.skipped)} skipped" if result.skipped else ""
    print(f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed{skipped}")
    return 1 if failed or not result.testsRun else 0


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for item in suite:
        if isinstance(item, unittest.TestSuite):
            yield from _flat(item)
        else:
            yield item


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
