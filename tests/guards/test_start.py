"""What a start may import before the first page: whatever is heavy comes after it."""

import json
import subprocess
import sys
import unittest

# by what it is wanted: the API, the store, the passcode, figures
ALLOWED = {
    "annotated_doc", "annotated_types", "anyio", "argon2", "charset_normalizer", "click", "fastapi",
    "h11", "httptools", "idna", "itsdangerous", "numpy", "opentelemetry", "pydantic",
    "pydantic_core", "sqlalchemy", "starlette", "typing_extensions", "typing_inspection",
    "uvicorn", "uvloop",
}  # fmt: skip
START = """
import json, sys
import uvicorn, yellowbath.api.app, yellowbath.cli, yellowbath.store.engine
import yellowbath.workflows.shop.solver, yellowbath.workflows.line.demo_line
print(json.dumps([n for n, m in sys.modules.items()
                  if "site-packages" in (getattr(m, "__file__", None) or "")]))
"""


class Imports(unittest.TestCase):
    def test_nothing_heavy_is_imported_before_the_first_page(self) -> None:
        ran = subprocess.run(
            [sys.executable, "-c", START], capture_output=True, text=True, check=True
        )
        found = json.loads(ran.stdout)
        tops = {name.partition(".")[0] for name in found}
        self.assertEqual({t for t in tops if not t.startswith("_")} - ALLOWED, set())
