"""One place that tames SQLite: foreign keys, WAL, a patient lock, explicit transactions."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event

from yellowbath.store.care import MIGRATIONS


def open_engine(path: Path) -> Engine:
    """An engine on a file, migrated to the newest schema; makes the folder and the file.

    Commits are flushed to disk (``synchronous=FULL``): a killed server loses nothing committed.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})
    event.listen(engine, "connect", _tame)
    event.listen(engine, "begin", _begin)
    migrate(engine)
    return engine


def _tame(connection: Any, _record: object) -> None:
    connection.isolation_level = None  # transactions are ours, not the driver's
    for pragma in (
        "foreign_keys=ON",
        "journal_mode=WAL",
        "synchronous=FULL",
        "busy_timeout=10000",
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
    """Bring the schema to a revision."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
