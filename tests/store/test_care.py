"""Faults of the machine: what a shop's file can suffer, in words, and copies that bring it back."""

import os
import sqlite3
import subprocess
import sys
import tempfile
import unittest
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from tests.server import Server, free_port
from yellowbath.core.errors import (
    StoreBusyError,
    StoreDamagedError,
    StoreError,
    StoreFullError,
    StoreLaterError,
    StoreReadOnlyError,
    StoreTakenError,
)
from yellowbath.store.care import KEPT, back_up, backups, claimed, examine, fault_of, restore
from yellowbath.store.engine import open_engine, writing
from yellowbath.store.shop import put_shop_settings, shop_settings
from yellowbath.store.written import newest_number
from yellowbath.workflows.shop.copies import copy_if_due

AT = datetime(2026, 11, 28, 12, tzinfo=UTC)
ROOT = os.geteuid() == 0


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        made = tempfile.TemporaryDirectory()
        self.addCleanup(made.cleanup)
        self.file = Path(made.name) / "shop" / "shop.sqlite"

    def shop(self, name: str = "Withy Lock") -> None:
        engine = open_engine(self.file)
        with writing(engine) as c:
            put_shop_settings(c, newest_number(c, "shop") + 1, {"name": name}, AT)
        engine.dispose()

    def name(self) -> str:
        engine = open_engine(self.file)
        self.addCleanup(engine.dispose)
        with writing(engine) as c:
            return str(shop_settings(c)["name"])

    def damage(self) -> None:
        """A page in the middle written over, and no log beside it that would mend it."""
        with closing(sqlite3.connect(self.file)) as db:
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        with self.file.open("r+b") as f:
            f.seek(4096)
            f.write(os.urandom(8 * 4096))


class Refused(Folder):
    def test_each_fault_is_one_sentence_with_a_way_out_and_the_file_is_left(self) -> None:
        self.shop()
        sound = self.file.read_bytes()

        def later() -> None:
            with closing(sqlite3.connect(self.file)) as db:
                db.execute("UPDATE alembic_version SET version_num = '9999'")
                db.commit()

        def no_shop() -> None:
            self.file.unlink()
            with closing(sqlite3.connect(self.file)) as db:
                db.execute("CREATE TABLE birds (name TEXT)")
                db.commit()

        cases = (
            (lambda: self.file.write_bytes(b""), StoreDamagedError, "is empty"),
            (lambda: self.file.write_bytes(b"no database" * 500), StoreDamagedError, "damaged"),
            (self.damage, StoreDamagedError, "damaged"),
            (no_shop, StoreDamagedError, "no shop of Yellow Bath"),
            (later, StoreLaterError, "later version"),
        )
        for spoil, kind, words in cases:
            with self.subTest(words):
                for end in ("-wal", "-shm"):
                    self.file.with_name(self.file.name + end).unlink(missing_ok=True)
                self.file.write_bytes(sound)
                spoil()
                before = self.file.read_bytes()
                with self.assertRaises(kind) as caught:
                    examine(self.file)
                self.assertIn(words, caught.exception.problem)
                self.assertTrue(caught.exception.remedy)
                self.assertEqual(self.file.read_bytes(), before)

    def test_what_is_sound_or_not_there_yet_passes(self) -> None:
        examine(self.file)
        self.shop()
        examine(self.file)
        self.assertEqual(self.name(), "Withy Lock")

    @unittest.skipIf(ROOT, "root may write everywhere")
    def test_a_folder_that_may_not_be_written_to(self) -> None:
        self.shop()
        self.file.parent.chmod(0o500)
        self.addCleanup(self.file.parent.chmod, 0o700)
        with self.assertRaises(StoreReadOnlyError):
            examine(self.file)

    def test_one_server_a_folder(self) -> None:
        self.shop()
        taken = self.assertRaisesRegex(StoreTakenError, "Another Yellow Bath")
        with claimed(self.file), taken, claimed(self.file):
            self.fail("two have it")
        with claimed(self.file):
            pass

    def test_what_the_driver_says_by_its_own_codes(self) -> None:
        """Raised by SQLite itself: a bounded file, another writer, a file opened to read."""
        self.shop()
        engine = open_engine(self.file)
        self.addCleanup(engine.dispose)
        more = text("CREATE TABLE more AS SELECT randomblob(100000) AS b")
        for spoil, kind in (
            ("max_page_count=1", StoreFullError),
            ("query_only=1", StoreReadOnlyError),
        ):
            with self.assertRaises(DBAPIError) as caught, engine.connect() as c:
                c.exec_driver_sql(f"PRAGMA {spoil}")
                c.execute(more)
            self.assertIsInstance(fault_of(caught.exception), kind)
        with closing(sqlite3.connect(self.file, timeout=0)) as one:
            one.execute("BEGIN IMMEDIATE")
            held = self.assertRaises(sqlite3.OperationalError)
            with closing(sqlite3.connect(self.file, timeout=0)) as other, held as busy:
                other.execute("BEGIN IMMEDIATE")
        self.assertIsInstance(fault_of(busy.exception), StoreBusyError)
        self.assertIsNone(fault_of(ValueError("nothing of the store")))


class Copies(Folder):
    def test_a_damaged_shop_comes_back_from_its_newest_copy(self) -> None:
        self.shop("Before")
        back_up(self.file, AT)
        self.shop("Newest")
        copy = back_up(self.file, AT + timedelta(hours=1))
        self.damage()
        with self.assertRaisesRegex(StoreDamagedError, copy.name):
            examine(self.file)
        spoilt = self.file.read_bytes()
        with self.assertRaisesRegex(StoreError, "already"):
            back_up(copy, AT, to=self.file)
        self.assertEqual(self.file.read_bytes(), spoilt)
        aside = restore(copy, self.file, AT + timedelta(hours=2))
        assert aside is not None
        self.assertEqual((self.name(), aside.read_bytes()), ("Newest", spoilt))
        with claimed(self.file), self.assertRaises(StoreTakenError):
            restore(copy, self.file, AT)

    def test_a_copy_of_what_is_being_written_is_whole_and_ten_are_kept(self) -> None:
        self.shop()
        engine = open_engine(self.file)
        self.addCleanup(engine.dispose)
        with writing(engine) as c:
            put_shop_settings(c, 99, {"name": "not committed yet"}, AT)
            for k in range(KEPT + 3):
                back_up(self.file, AT + timedelta(minutes=k))
        kept = backups(self.file)
        self.assertEqual(len(kept), KEPT)
        self.assertIn(f"{AT + timedelta(minutes=KEPT + 2):%H%M%S}", kept[0].name)
        restore(kept[0], self.file, AT)
        self.assertEqual(self.name(), "Withy Lock")

    def test_daily_and_not_at_every_start(self) -> None:
        self.shop()
        now = datetime.now(UTC)
        self.assertIsNotNone(copy_if_due(self.file, now))
        self.assertIsNone(copy_if_due(self.file, now + timedelta(hours=1)))
        self.assertIsNotNone(copy_if_due(self.file, now + timedelta(hours=30)))


class Terminal(Folder):
    def said(self, *args: str) -> tuple[int, str]:
        run = subprocess.run(
            [sys.executable, "-m", "yellowbath.cli", *args], capture_output=True, text=True,
            timeout=60, check=False,
        )  # fmt: skip
        self.assertNotIn("Traceback", run.stderr)
        return run.returncode, run.stdout + run.stderr

    def test_a_start_that_cannot_be_says_why_and_nothing_of_running(self) -> None:
        data = str(self.file.parent)
        server = Server(self.file.parent).start()
        self.addCleanup(server.kill)
        code, out = self.said("serve", "--data", data, "--port", str(free_port()))
        self.assertEqual((code, "Another Yellow Bath" in out, "http" in out), (2, True, False))
        taken = str(self.file.parent.parent / "second")
        code, out = self.said("serve", "--data", taken, "--port", str(server.port))
        self.assertEqual((code, f"Port {server.port}" in out, "http" in out), (2, True, False))
        code, out = self.said("backup", "--data", data)
        self.assertEqual(code, 0, out)
        copy = backups(self.file)[0]
        self.assertEqual(self.said("restore", str(copy), "--data", data)[0], 2)
        server.kill()
        self.file.write_bytes(b"")
        code, out = self.said("serve", "--data", data)
        self.assertIn(f"yellowbath restore {copy}", out)
        self.assertEqual((code, self.file.stat().st_size), (2, 0))
        code, out = self.said("restore", str(copy), "--data", data)
        self.assertEqual(code, 0, out)
        Server.start(server)
        self.assertIn("system", server.get("/shop"))

    def test_a_port_and_a_file_that_cannot_be_are_one_sentence(self) -> None:
        for port in ("70000", "0", "-5", "lots"):
            code, out = self.said("serve", "--data", str(self.file.parent), "--port", port)
            self.assertEqual((code, "is no port" in out), (2, True), out)
        deep = self.file.parent.parent / "deep.json"
        deep.write_text('{"name": ' * 60_000, "utf-8")
        for command in ("plan", "field"):
            code, out = self.said(command, str(deep))
            self.assertEqual((code, len(out.splitlines()) <= 3), (2, True), out[:300])


if __name__ == "__main__":
    unittest.main()
