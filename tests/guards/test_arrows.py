"""The arrows of the house, read from the imports."""

import ast
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2] / "yellowbath"
# Who may import whom, below yellowbath/.
MAY = {
    "core": {"core"},
    "store": {"store", "core"},
    "sheets": {"sheets", "core"},
    "instruments": {"instruments", "core", ""},
    "workflows": {"workflows", "store", "sheets", "instruments", "core"},
    "api": {"api", "workflows", "core", ""},
    "": {"", "api", "workflows", "store", "settings"},
}
# The core's outside world: no web, no database, no clock, no chance, no files but its tables.
CORE_FORBIDDEN = {
    "fastapi", "starlette", "uvicorn", "sqlalchemy", "alembic", "sqlite3", "httpx", "requests",
    "time", "random", "secrets", "os", "socket", "subprocess", "asyncio", "threading", "pathlib",
}  # fmt: skip
CLOCK_CALLS = {"now", "today", "utcnow"}
# Floors of the core, ground first: a room imports only from its own floor or below.
FLOORS = (
    {"errors"},
    {"data", "numerals", "units", "ear", "roots", "moments", "compiled", "normal", "particles"},
    {"words"},
    {"figures", "document"},
    {"geometry", "chemistry", "power"},
    {"field"},
    {"dose"},
    {"hours"},
    {"plan"},
    {"checks"},
    {"bath"},
    {"causes"},
    {"kit"},
    {"run"},
    {"tell", "tables"},
    {"simulation"},
)
# Rooms within a room, ground first; files of its front door may use them all.
ROOMS = {
    "core.field": ("integrals", "mesh", "assembly", "solver", "case"),
    "core.plan": ("reading", "comparison", "results", "start", "placement", "advice"),
    "workflows": ("shop", "mesh", "plans", "runs", "line", "practice"),
}
OUT_OF = {"case": {"model"}}  # what a room may take from the front door


def imports(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield from (f"{node.module}.{alias.name}" for alias in node.names)


def offences(root: Path) -> list[str]:
    """Every import or clock call under ``root`` that breaks a rule, as "file: what"."""
    found = []
    for path in sorted(root.rglob("*.py")):
        parts = path.relative_to(root).parts
        home = parts[0] if len(parts) > 1 else ""
        for name in imports(path):
            if name.startswith("yellowbath."):
                target = name.split(".")[1]
                target = target if (root / target).is_dir() else ""
                if target not in MAY.get(home, {home}):
                    found.append(f"{'/'.join(parts)}: imports {name}")
            elif home == "core" and name.split(".")[0] in CORE_FORBIDDEN:
                found.append(f"{'/'.join(parts)}: imports {name}")
        if home == "core":
            found += [f"{'/'.join(parts)}: asks the clock" for _ in clock_calls(path)]
    return found


def clock_calls(path: Path) -> Iterator[ast.Call]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if (
            isinstance(node, ast.Call)
            and isinstance(node.func, ast.Attribute)
            and node.func.attr in CLOCK_CALLS
        ):
            yield node


class Arrows(unittest.TestCase):
    def test_the_house_keeps_its_arrows(self) -> None:
        self.assertEqual(offences(ROOT), [])

    def test_a_deliberate_break_is_seen(self) -> None:
        """Each forbidden thing, put into a copy of a core file, is reported."""
        for line in (
            "import fastapi",
            "from sqlalchemy import select",
            "import time",
            "import random",
            "from yellowbath.store import engine",
            "from yellowbath.api.app import make_app",
            "from datetime import datetime\nNOW = datetime.now()",
        ):
            with self.subTest(line), tempfile.TemporaryDirectory() as folder:
                root = Path(folder)
                for room in ("core", "store", "api"):
                    (root / room).mkdir()
                (root / "core" / "dose.py").write_text(line + "\n")
                self.assertEqual(len(offences(root)), 1)

    def test_the_core_is_built_floor_on_floor(self) -> None:
        floor = {room: k for k, rooms in enumerate(FLOORS) for room in rooms}
        for path in sorted((ROOT / "core").rglob("*.py")):
            parts = path.relative_to(ROOT / "core").with_suffix("").parts
            if parts == ("__init__",):
                continue
            for name in imports(path):
                if name.startswith("yellowbath.core."):
                    target = name.split(".")[2]
                    self.assertLessEqual(floor[target], floor[parts[0]], f"{path.name}: {name}")

    def test_the_simulation_knows_nothing_of_the_estimate(self) -> None:
        """It shares the laws: what tests an estimate must not be made of it."""
        for path in sorted((ROOT / "core" / "simulation").glob("*.py")):
            for name in imports(path):
                self.assertNotRegex(name, r"core\.(run|tell|hours)\b", path.name)

    def test_rooms_within_rooms_stand_on_those_before(self) -> None:
        for house, rooms in ROOMS.items():
            home = ROOT / house.replace(".", "/")
            found = {p.name for p in home.iterdir() if (p / "__init__.py").exists()}
            self.assertEqual(found, set(rooms), house)
            for k, room in enumerate(rooms):
                below = {*rooms[: k + 1], *OUT_OF.get(room, ())}
                for path in sorted((home / room).glob("*.py")):
                    for name in imports(path):
                        inside = name.removeprefix(f"yellowbath.{house}.")
                        if inside != name:
                            self.assertIn(
                                inside.split(".")[0], below, f"{room}/{path.name}: {name}"
                            )

    def test_routes_do_not_catch(self) -> None:
        for path in (ROOT / "api" / "routes").glob("*.py"):
            tree = ast.parse(path.read_text("utf-8"))
            tries = [n for n in ast.walk(tree) if isinstance(n, ast.Try)]
            self.assertEqual(tries, [], path.name)
