"""Shops in throwaway folders, with a clock that tests move."""

from __future__ import annotations

import atexit
import shutil
import tempfile
import unittest
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any
from uuid import uuid4

from tests.solving import SOLVER
from yellowbath.core.run.log import Entry
from yellowbath.store.engine import open_engine
from yellowbath.workflows.plans.plans import SavedPlan, create_plan
from yellowbath.workflows.runs.runs import RunView, enter, start_run, view_run
from yellowbath.workflows.shop.shop import Shop

START = datetime(2026, 3, 1, 18, 0, tzinfo=UTC)
QUIET: Mapping[str, Any] = {
    "pieces": [{"name": "Gate latch"}],
    "mix": {"product": "soda_anhydrous"},
    "supply": {"polarity_tested": True, "rcd": True},
    "layout": {"joint_clear": True},
    "place": {"lid": False, "flames": False, "visitors": False},
}
STAINLESS: Mapping[str, Any] = {**QUIET, "anodes": [{"id": "a1", "material": "stainless"}]}


class Clock:
    """A clock that stands still until it is moved."""

    def __init__(self) -> None:
        self.at = START

    def __call__(self) -> datetime:
        return self.at

    def to(self, minutes: float) -> datetime:
        self.at = START + timedelta(minutes=minutes)
        return self.at


@cache
def empty_shop() -> Path:
    """The file of an empty shop, migrated once a process."""
    folder = Path(tempfile.mkdtemp())
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    engine = open_engine(folder / "shop.sqlite")
    engine.dispose()
    return folder / "shop.sqlite"


class ShopCase(unittest.TestCase):
    """A test with an empty shop of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "shop.sqlite"
        shutil.copyfile(empty_shop(), self.file)
        self.clock = Clock()
        self.shop = self.open()

    def open(self) -> Shop:
        """The shop as a newly started server opens it."""
        engine = open_engine(self.file)
        self.addCleanup(engine.dispose)
        return Shop(engine, self.clock, SOLVER)

    def plan(self, **changes: Any) -> SavedPlan:
        return create_plan(self.shop, {**QUIET, **changes})

    def write(self, run_id: str, minutes: float, kind: str, **detail: Any) -> RunView:
        at = self.clock.to(minutes)
        return enter(self.shop, run_id, entry(at, kind, **detail))

    def running(self, **changes: Any) -> str:
        """A run that was switched on at minute one; its id."""
        self.clock.to(0)
        run_id = start_run(self.shop, self.plan(**changes).revision.plan_id).row.id
        ticked = [p.id for p in view_run(self.shop, run_id).points]
        self.write(run_id, 0, "checklist", ticked=ticked)
        self.write(run_id, 1, "switch_on")
        return run_id


def entry(at: datetime, kind: str, client_id: str = "", **detail: Any) -> Entry:
    return Entry.model_validate(
        {"client_id": client_id or uuid4().hex, "at": at, "detail": {"kind": kind, **detail}}
    )
