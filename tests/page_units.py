"""The unit tests of the page's own TypeScript, run by Node and counted with the others."""

from __future__ import annotations

import re
import subprocess
import time
from pathlib import Path

WEB = Path(__file__).parents[1] / "web"
BUILT = WEB / "node_modules" / ".page-units"


def run() -> tuple[int, frozenset[str], str, float]:
    """How many ran, which failed, what was said of those, and the seconds it took."""
    began = time.monotonic()
    subprocess.run(
        ["npx", "vite", "build", "-c", "vite.tests.config.ts", "--logLevel", "error"],
        cwd=WEB, check=True, capture_output=True,
    )  # fmt: skip
    units = sorted(str(p) for p in BUILT.glob("*.test.js"))
    done = subprocess.run(
        ["node", "--import", str(BUILT / "browser.js"), "--test", "--test-reporter=tap", *units],
        cwd=WEB, capture_output=True, text=True, check=False,
    )  # fmt: skip
    counted = re.search(r"^# tests (\d+)$", done.stdout, re.M)
    ran = int(counted[1]) if counted else 0
    names = re.findall(r"^\s*not ok \d+ - (.*)$", done.stdout, re.M)
    failed = frozenset(f"page: {name}" for name in names)
    if not ran or (done.returncode and not failed):
        failed = frozenset({"page: Node did not run them"})
    said = done.stdout + done.stderr if failed else "." * ran
    return max(ran, len(failed)), failed, said, time.monotonic() - began
