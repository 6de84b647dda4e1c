"""The store: SQLite tamed, schema migrated, history append-only."""

import sqlite3
import threading
import unittest
from datetime import datetime

from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, text
from sqlalchemy.exc import DatabaseError, IntegrityError, StatementError

from tests.shops import QUIET, START, ShopCase
from yellowbath.core.errors import StoreBusyError
from yellowbath.store.care import MIGRATIONS, revisions
from yellowbath.store.engine import migrate, open_engine, reading, writing
from yellowbath.store.runs import add_run
from yellowbath.store.tables import APPEND_ONLY, metadata, runs
from yellowbath.workflows.plans.kit import kit
from yellowbath.workflows.plans.plans import create_plan
from yellowbath.workflows.runs.runs import view_run
from yellowbath.workflows.shop.shop import ShopSettings, save_settings


class Engine(ShopCase):
    def pragma(self, name: str) -> object:
        with reading(self.shop.engine) as c:
            return c.scalar(text(f"PRAGMA {name}"))

    def test_sqlite_is_tamed(self) -> None:
        for name, value in (
            ("foreign_keys", 1),
            ("journal_mode", "wal"),
            ("synchronous", 2),
            ("busy_timeout", 10000),
        ):
            self.assertEqual(self.pragma(name), value, name)

    def test_foreign_keys_hold(self) -> None:
        with self.assertRaises(IntegrityError), writing(self.shop.engine) as c:
            add_run(c, "r", "no-such-plan", 1, START, "Latch")

    def test_an_error_inside_takes_everything_back(self) -> None:
        plan = self.plan().revision
        with self.assertRaises(RuntimeError), writing(self.shop.engine) as c:
            add_run(c, "r", plan.plan_id, 1, START, "Latch")
            raise RuntimeError
        with reading(self.shop.engine) as c:
            self.assertEqual(c.execute(runs.select()).all(), [])

    def test_a_first_start_waits_for_whoever_holds_the_file(self) -> None:
        held = self.file.parent / "held.sqlite"
        other = sqlite3.connect(held, isolation_level=None, check_same_thread=False)
        other.execute("BEGIN EXCLUSIVE")
        with self.assertRaisesRegex(StoreBusyError, "Another program"):
            open_engine(held, patience_s=0.0)
        letting_go = threading.Timer(0.5, lambda: other.execute("ROLLBACK"))
        letting_go.start()
        open_engine(held).dispose()
        letting_go.join()
        other.close()

    def test_two_writers_take_turns(self) -> None:
        """Ten threads add a run each through the same file; none is turned away or lost."""
        plan = self.plan().revision
        faults: list[BaseException] = []

        def add(k: int) -> None:
            try:
                with writing(self.shop.engine) as c:
                    add_run(c, f"r{k}", plan.plan_id, 1, START, "Latch")
            except BaseException as error:
                faults.append(error)

        threads = [threading.Thread(target=add, args=(k,)) for k in range(10)]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        with reading(self.shop.engine) as c:
            self.assertEqual(len(c.execute(runs.select()).all()), 10)
        self.assertEqual(faults, [])

    def test_a_time_without_a_zone_is_refused(self) -> None:
        plan = self.plan().revision
        with self.assertRaises(StatementError), writing(self.shop.engine) as c:
            add_run(c, "r", plan.plan_id, 1, datetime(2026, 3, 1), "Latch")


def closed(case: ShopCase) -> str:
    """A run from switching on to the book; its id."""
    run_id = case.running()
    case.write(run_id, 40, "reading", current_a=2.0)
    for minutes, kind in ((200, "lift"), (201, "clean"), (202, "finish_start"), (230, "close")):
        case.write(run_id, minutes, kind)
    return run_id


def _without_years(c: Connection) -> None:
    """What the sixth schema brought and what came after it, gone."""
    for table in ("samples", "sample_rolls", "links"):
        c.exec_driver_sql(f"DROP TABLE {table}")
    for index in (
        "plans_listed", "runs_state", "runs_of_plan", "runs_over", "kit_listed", "run_log_mended",
    ):  # fmt: skip
        c.exec_driver_sql(f"DROP INDEX {index}")
    for table in ("written", "kept_revisions", "kit_folds", "readable"):
        c.exec_driver_sql(f"DROP TABLE {table}")
    for table, names in {
        "plans": "title sought archived saved_at", "runs": "title sought archived over_at",
        "kit": "title sought kind head", "run_log": "device_at device_now",
    }.items():  # fmt: skip
        for name in names.split():
            c.exec_driver_sql(f"ALTER TABLE {table} DROP COLUMN {name}")


def _without_snapshots(c: Connection) -> None:
    """What the fourth schema brought and what came after it, gone."""
    _without_years(c)
    for gone in ("TABLE doubted", "TABLE plan_summaries", "TABLE run_snapshots",
                 "INDEX run_log_in_time", "INDEX run_log_kind"):  # fmt: skip
        c.exec_driver_sql(f"DROP {gone}")


class Schema(ShopCase):
    def test_migrations_lead_to_the_tables_as_written(self) -> None:
        with reading(self.shop.engine) as c:
            drift = compare_metadata(MigrationContext.configure(c), metadata)
        self.assertEqual([d for d in drift if d[0] != "modify_type"], [])

    def test_migrations_are_numbered_as_their_files_are(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        found = ScriptDirectory.from_config(config)
        self.assertEqual({s.revision for s in found.walk_revisions()}, revisions())
        self.assertEqual(found.get_current_head(), max(revisions()))

    def test_migrating_again_changes_nothing(self) -> None:
        plan = self.plan().revision
        migrate(self.shop.engine)
        again = self.open()
        with reading(again.engine) as c:
            self.assertEqual(c.scalar(text("SELECT count(*) FROM plans")), 1)
            self.assertEqual(c.scalar(text("SELECT id FROM plans")), plan.plan_id)

    def test_a_shop_of_the_first_schema_is_brought_along(self) -> None:
        """Migrated from the release before: the run is still there and still answers."""
        run_id = self.running()
        before = view_run(self.shop, run_id).answer.gives.value
        with self.shop.engine.connect() as c:
            c.exec_driver_sql("ALTER TABLE runs DROP COLUMN field")
            _without_snapshots(c)
            c.exec_driver_sql("DROP TABLE kit_log")
            c.exec_driver_sql("DROP TABLE kit")
            c.exec_driver_sql("UPDATE alembic_version SET version_num = '0001'")
            c.commit()
        again = self.open()
        view = view_run(again, run_id)
        self.assertEqual((view.run.state, view.model), ("running", None))
        self.assertAlmostEqual(view.answer.gives.value / before, 1.0, delta=0.25)

    def test_mixes_kept_before_there_was_a_kit_are_in_it(self) -> None:
        """Migrated from the second schema: the mix of a closed run, with what went through it."""
        run_id = closed(self)
        before = kit(self.shop).rows[0].stands.batch
        with self.shop.engine.connect() as c:
            _without_snapshots(c)
            c.exec_driver_sql("DROP TABLE kit_log")
            c.exec_driver_sql("DROP TABLE kit")
            c.exec_driver_sql("UPDATE alembic_version SET version_num = '0002'")
            c.commit()
        (thing,) = kit(self.open())
        self.assertEqual(thing.id, run_id)
        assert before is not None and thing.stands.batch is not None
        self.assertAlmostEqual(thing.stands.batch.charge, before.charge)
        self.assertAlmostEqual(thing.stands.batch.soda / before.soda, 1, places=3)

    def test_history_cannot_be_changed_or_deleted(self) -> None:
        closed(self)
        save_settings(self.shop, ShopSettings(name="Withy Lock"))
        create_plan(self.shop, QUIET, "a-key-of-its-own")
        for table in APPEND_ONLY:
            for verb in (f"UPDATE {table} SET created_at = 'x'", f"DELETE FROM {table}"):
                named = {"run_log": "kind", "kit_log": "key", "written": "key"}
                column = named.get(table, "created_at")
                verb = verb.replace("created_at", column)
                with (
                    self.subTest(verb),
                    self.assertRaises(DatabaseError) as caught,
                    writing(self.shop.engine) as c,
                ):
                    c.execute(text(verb))
                self.assertIn("append-only", str(caught.exception))


if __name__ == "__main__":
    unittest.main()
