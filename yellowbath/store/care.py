"""A shop's file before it is opened, whose it is, its copies, and what the disk does to it.

A file that cannot be used is refused in words and left as it is: nothing is made anew over it.
"""

from __future__ import annotations

import fcntl
import os
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

from sqlalchemy.exc import DBAPIError

from yellowbath.core.errors import (
    StoreBusyError,
    StoreDamagedError,
    StoreError,
    StoreFullError,
    StoreLaterError,
    StoreReadOnlyError,
    StoreTakenError,
)

MIGRATIONS = Path(__file__).parent / "migrations"
KEPT = 10  # copies
_STAMP = "%Y-%m-%d-%H%M%S"
_BESIDE = ("", "-wal", "-shm")


def examine(path: Path) -> None:
    """Look at a shop's file before it is opened; one that is not there yet is fine.

    Raises StoreDamagedError, StoreLaterError, StoreReadOnlyError, StoreBusyError.
    """
    with _told(path):
        _writable(path)
        if not path.exists():
            return
        if path.stat().st_size == 0:
            raise _damaged(path, "is empty")
        with closing(sqlite3.connect(f"file:{path}?mode=rw", uri=True, timeout=10)) as db:
            found = db.execute("PRAGMA quick_check(1)").fetchone()
            if found[0] != "ok":
                raise _damaged(path, "is damaged")
            _known(path, db)


def revisions() -> frozenset[str]:
    """Every migration there is: their files are numbered, so that none is loaded to be counted."""
    return frozenset(f.name[:4] for f in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def _known(path: Path, db: sqlite3.Connection) -> None:
    tables = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    if not tables:
        raise _damaged(path, "holds nothing")
    if "alembic_version" not in tables:
        raise _damaged(path, "is no shop of Yellow Bath")
    version = db.execute("SELECT version_num FROM alembic_version").fetchone()
    if version and version[0] not in revisions():
        raise StoreLaterError(
            f"The shop in {path} was made by a later version of Yellow Bath.",
            allowed="This version reads what it or an earlier one wrote.",
            remedy="Bring Yellow Bath up to date; the shop is left as it is.",
        )


def _writable(path: Path) -> None:
    folder = path.parent
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _read_only(folder) from error
    may = os.access(folder, os.W_OK | os.X_OK) and (not path.exists() or os.access(path, os.W_OK))
    if not may:
        raise _read_only(folder)


@contextmanager
def claimed(path: Path) -> Iterator[None]:
    """Hold a shop for one server; the hold goes with the process, however it ends.

    Raises StoreTakenError where another has it.
    """
    beside = path.with_suffix(".lock")
    with _told(path), beside.open("a+") as held:
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise StoreTakenError(
                f"Another Yellow Bath serves the shop in {path.parent}.",
                allowed="One server a folder; as many devices as you like on that one.",
                remedy="Use the one that runs, end it first, or give another folder with --data.",
            ) from None
        yield


# --- Copies -----------------------------------------------------------------------------------


def backups(path: Path) -> Sequence[Path]:
    """The copies of a shop, newest first."""
    return sorted((path.parent / "backups").glob(f"{path.stem}-*.sqlite"), reverse=True)


def back_up(path: Path, at: datetime, to: Path | None = None) -> Path:
    """A whole copy of a shop, while it is served or not; beyond ten the oldest is dropped.

    ``to`` is a file of its own, which is not counted. Raises StoreError.
    """
    with _told(path):
        if not path.exists():
            raise StoreDamagedError(
                f"There is no shop in {path.parent}.", remedy="Give its folder with --data."
            )
        target = to or path.parent / "backups" / f"{path.stem}-{at:{_STAMP}}.sqlite"
        if target.exists():  # it might be the shop itself
            raise StoreError(
                f"There is a file at {target} already.", remedy="Give the copy another name."
            )
        target.parent.mkdir(parents=True, exist_ok=True)
        half = target.with_suffix(".part")
        with closing(sqlite3.connect(path)) as one, closing(sqlite3.connect(half)) as other:
            one.backup(other)
            other.execute("PRAGMA journal_mode=DELETE")
        half.replace(target)
        if to is None:
            for old in backups(path)[KEPT:]:
                old.unlink(missing_ok=True)
        return target


def restore(copy: Path, path: Path, at: datetime) -> Path | None:
    """Put a copy in a shop's place; what stood there is moved aside, and told where to.

    Raises StoreError where the copy is none, or the shop is being served.
    """
    if not copy.is_file():
        raise StoreDamagedError(
            f"There is no copy at {copy}.", remedy="Look in the backups folder."
        )
    examine(copy)
    path.parent.mkdir(parents=True, exist_ok=True)
    with claimed(path), _told(path):
        half = path.with_suffix(".part")
        with closing(sqlite3.connect(copy)) as one, closing(sqlite3.connect(half)) as other:
            one.backup(other)
        aside = path.with_name(f"{path.stem}-put-aside-{at:{_STAMP}}.sqlite")
        stood = path.exists()
        for end in _BESIDE:
            old = path.with_name(path.name + end)
            if old.exists():
                old.rename(aside.with_name(aside.name + end))
        half.replace(path)
        return aside if stood else None


# --- What the disk does -----------------------------------------------------------------------


def fault_of(error: BaseException, path: Path | None = None) -> StoreError | None:
    """What a driver's or the system's error says of the shop's file; None where nothing."""
    if isinstance(error, DBAPIError):
        error = error.orig or error
    name = getattr(error, "sqlite_errorname", "")
    where = path or Path("the shop's folder")
    if name.startswith("SQLITE_FULL") or getattr(error, "errno", None) == 28:
        return StoreFullError(
            "The disk is full: nothing more can be written down.",
            remedy="Make room on the disk, then try again; what was typed waits on this device.",
        )
    if name.startswith(("SQLITE_READONLY", "SQLITE_CANTOPEN", "SQLITE_PERM")):
        return _read_only(where)
    if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return StoreBusyError(
            "Something else holds the shop's file for the moment.",
            remedy="Try again; end whatever else has it open, as a copying program.",
        )
    if name.startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB")):
        return _damaged(where, "is damaged")
    if name.startswith("SQLITE_IOERR"):
        return StoreError(
            "The disk does not do what it is told.", remedy="Look after the disk, and make a copy."
        )
    if isinstance(error, PermissionError):
        return _read_only(where)
    return None


@contextmanager
def _told(path: Path) -> Iterator[None]:
    try:
        yield
    except (sqlite3.Error, OSError) as error:
        found = fault_of(error, path)
        if found is None:
            raise
        raise found from error


def _damaged(path: Path, how: str) -> StoreDamagedError:
    newest = next(iter(backups(path)), None)
    way = f"yellowbath restore {newest} --data {path.parent}" if newest else ""
    return StoreDamagedError(
        f"The shop's file {path} {how}.",
        allowed="It is left as it is; no new shop is made over it.",
        remedy=f"Take the newest copy: {way}" if way
        else "Put a copy in its place with yellowbath restore, or move it away to begin anew.",
    )  # fmt: skip


def _read_only(folder: Path) -> StoreReadOnlyError:
    return StoreReadOnlyError(
        f"Nothing may be written in {folder}.",
        remedy="Give the folder back its permission to be written to, or another with --data.",
    )
