"""How much of the code is tests: ``python -m tests.share``; between a quarter and a third.

Lines of hand-written Python and TypeScript under version control, tests over all of them.
"""

from __future__ import annotations

import subprocess
from pathlib import Path

ROOT = Path(__file__).parents[1]
GENERATED = ("web/src/shared/api/schema.d.ts",)
LEAST, MOST = 0.25, 0.33


def counted() -> tuple[int, int]:
    """Lines of tests, and lines of all."""
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard", "*.py", "*.ts", "*.tsx"],
        cwd=ROOT, check=True, capture_output=True, text=True,
    )  # fmt: skip
    tests = total = 0
    for name in listed.stdout.split():
        if name in GENERATED or not (ROOT / name).is_file():
            continue
        lines = len((ROOT / name).read_text("utf-8").splitlines())
        total += lines
        tests += lines if name.startswith(("tests/", "web/tests/")) else 0
    return tests, total


if __name__ == "__main__":
    tests, total = counted()
    print(f"{tests:,} of {total:,} lines are tests: {100 * tests / total:.1f} %")
