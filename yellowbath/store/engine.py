"""One place that tames SQLite: foreign keys, WAL, a patient lock, explicit transactions."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, inspect
from sqlalchemy.exc import OperationalError

from yellowbath.core.errors import StoreBusyError
from yellowbath.store.care import MIGRATIONS, revisions


def open_engine(path: Path, patience_s: float = 60.0) -> Engine:
    """An engine on a file, migrated to the newest schema; makes the folder and the file.

    Waits so long for another program that holds it (StoreBusyError after that).
    Commits are flushed to disk (``synchronous=FULL``): a killed server loses nothing committed.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})
    event.listen(engine, "connect", _tame)
    event.listen(engine, "begin", _begin)
    until = time.monotonic() + patience_s
    while True:
        try:
            migrate(engine)
            return engine
        except OperationalError as error:
            busy = "locked" in str(error) or "busy" in str(error)
            if not busy:
                raise
            if time.monotonic() > until:
                raise StoreBusyError(
                    "Another program holds the shop's file.",
                    remedy="End it, or wait until it is done, and start once more.",
                ) from error
        time.sleep(0.2)


def _tame(connection: Any, _record: object) -> None:
    connection.isolation_level = None  # transactions are ours, not the driver's
    for pragma in (
        "busy_timeout=10000",
        "foreign_keys=ON",
        "journal_mode=WAL",
        "synchronous=FULL",
    ):
        connection.execute(f"PRAGMA {pragma}")


def _begin(connection: Connection) -> None:
    writing = connection.get_execution_options().get("writing", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")


@contextmanager
def writing(engine: Engine) -> Iterator[Connection]:
    """A transaction that holds the write lock from its start and commits at the end."""
    with engine.connect().execution_options(writing=True) as connection, connection.begin():
        yield connection


@contextmanager
def reading(engine: Engine) -> Iterator[Connection]:
    """A transaction that sees one moment."""
    with engine.connect() as connection, connection.begin():
        yield connection


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring the schema to a revision; a file that is at the newest is only asked."""
    if revision == "head" and _stands_at(engine) == max(revisions()):
        return
    from alembic import command  # a start that finds nothing to do does without
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)


def _stands_at(engine: Engine) -> str | None:
    with engine.connect() as connection:
        if not inspect(connection).has_table("alembic_version"):
            return None
        found: str | None = connection.exec_driver_sql(
            "SELECT version_num FROM alembic_version"
        ).scalar()
        return found
