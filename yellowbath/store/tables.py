"""The tables. Times are UTC text with offset; documents are JSON."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    Dialect,
    Float,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Integer,
    MetaData,
    String,
    Table,
    Text,
    TypeDecorator,
    UniqueConstraint,
    text,
)


class Utc(TypeDecorator[datetime]):
    """An aware time, kept as UTC text that sorts; refuses a time without a zone."""

    impl = String
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> str | None:
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a time without a zone")
        return value.astimezone(UTC).isoformat(timespec="milliseconds")

    def process_result_value(self, value: Any, dialect: Dialect) -> datetime | None:
        return None if value is None else datetime.fromisoformat(value)


metadata = MetaData()

shop = Table(
    "shop",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("settings", JSON, nullable=False),
)

plans = Table(
    "plans",
    metadata,
    Column("id", String(32), primary_key=True),
    Column("created_at", Utc, nullable=False),
    Column("head", Integer, nullable=False),
    Column("title", Text, nullable=False),
    Column("sought", Text, nullable=False),
    Column("archived", Boolean, nullable=False, default=False),
    Column("saved_at", Utc, nullable=False),
    Index("plans_listed", "archived", "saved_at", "id"),
)

plan_revisions = Table(
    "plan_revisions",
    metadata,
    Column("plan_id", String(32), ForeignKey("plans.id"), primary_key=True),
    Column("number", Integer, primary_key=True),
    Column("base", Integer, nullable=False),
    Column("created_at", Utc, nullable=False),
    Column("schema_version", Integer, nullable=False),
    Column("document", JSON, nullable=False),
)

runs = Table(
    "runs",
    metadata,
    Column("id", String(32), primary_key=True),
    Column("plan_id", String(32), nullable=False),
    Column("revision", Integer, nullable=False),
    Column("created_at", Utc, nullable=False),
    Column("state", String(16), nullable=False),
    Column("field", JSON),
    Column("title", Text, nullable=False),
    Column("sought", Text, nullable=False),
    Column("archived", Boolean, nullable=False, default=False),
    Column("over_at", Utc),
    Index("runs_state", "state"),
    Index("runs_of_plan", "plan_id", "state"),
    Index("runs_over", "archived", "over_at", "id", "sought"),
    ForeignKeyConstraint(
        ["plan_id", "revision"], ["plan_revisions.plan_id", "plan_revisions.number"]
    ),
)

run_log = Table(
    "run_log",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("run_id", String(32), ForeignKey("runs.id"), nullable=False, index=True),
    Column("client_id", String(64), nullable=False),
    Column("at", Utc, nullable=False),
    Column("recorded_at", Utc, nullable=False),
    Column("device_at", Utc),
    Column("device_now", Utc),
    Column("kind", String(32), nullable=False),
    Column("detail", JSON, nullable=False),
    UniqueConstraint("run_id", "client_id"),
    Index("run_log_in_time", "run_id", "at", "id"),
    Index("run_log_kind", "run_id", "kind"),
    Index("run_log_mended", "id", sqlite_where=text("kind = 'mended'")),
)

run_stretches = Table(
    "run_stretches",
    metadata,
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("seq", Integer, primary_key=True),
    Column("start_at", Utc, nullable=False),
    Column("end_at", Utc),
    Column("pose", Integer, nullable=False),
    Column("level_m", Float, nullable=False),
    Column("anodes", Text, nullable=False),
    Column("mix", Text, nullable=False),
    Column("supply", Text, nullable=False),
    Column("current_a", Float, nullable=False),
    Column("low_a", Float, nullable=False),
    Column("high_a", Float, nullable=False),
    Column("source", String(16), nullable=False),
    Column("plan_revision", Integer, nullable=False),
)

plan_summaries = Table(
    "plan_summaries",
    metadata,
    Column("plan_id", String(32), ForeignKey("plans.id"), primary_key=True),
    Column("number", Integer, nullable=False),
    Column("mark", String(24), nullable=False),
    Column("summary", JSON, nullable=False),
)

run_snapshots = Table(
    "run_snapshots",
    metadata,
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("at", Utc, primary_key=True),
    Column("entry_id", Integer, primary_key=True),
    Column("mark", String(16), nullable=False),
    Column("state", JSON, nullable=False),
    Column("newest", Boolean, nullable=False),
)

book_entries = Table(
    "book_entries",
    metadata,
    Column("page", String(80), primary_key=True),
    Column("run_id", String(32), ForeignKey("runs.id"), nullable=False),
    Column("closed_at", Utc, nullable=False),
    Column("entry", JSON, nullable=False),
    Index("book_entries_run", "run_id"),
)

kit = Table(
    "kit",
    metadata,
    Column("id", String(32), primary_key=True),
    Column("created_at", Utc, nullable=False),
    Column("retired", Boolean, nullable=False),
    Column("document", JSON, nullable=False),
    Column("kind", String(16), nullable=False),
    Column("title", Text, nullable=False),
    Column("sought", Text, nullable=False),
    Column("head", Integer, nullable=False),
    Index("kit_listed", "retired", "kind", "sought"),
)

kit_log = Table(
    "kit_log",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("thing_id", String(32), ForeignKey("kit.id"), nullable=False, index=True),
    Column("key", String(80), nullable=False),
    Column("event", JSON, nullable=False),
    UniqueConstraint("thing_id", "key"),
)

# What a thing's log came to, up to an event of it.
kit_folds = Table(
    "kit_folds",
    metadata,
    Column("thing_id", String(32), ForeignKey("kit.id"), primary_key=True),
    Column("upto", Integer, nullable=False),
    Column("mark", String(24), nullable=False),
    Column("state", JSON, nullable=False),
)

# What is kept by revision beside plans: the shop's settings, and each thing of the kit.
kept_revisions = Table(
    "kept_revisions",
    metadata,
    Column("of", String(32), primary_key=True),
    Column("number", Integer, primary_key=True),
    Column("created_at", Utc, nullable=False),
    Column("document", JSON, nullable=False),
)

# What this or another version (``mark``) found when it read a row; ``why`` not, else empty.
readable = Table(
    "readable",
    metadata,
    Column("kind", String(8), primary_key=True),
    Column("id", String(32), primary_key=True),
    Column("mark", String(24), nullable=False),
    Column("why", Text, nullable=False),
)

# Writes by the key that their sender made up, so that one sent twice is made once.
written = Table(
    "written",
    metadata,
    Column("key", String(64), primary_key=True),
    Column("mark", String(64), nullable=False),
    Column("result", String(64), nullable=False),
    Column("at", Utc, nullable=False),
)

doubted = Table(
    "doubted",
    metadata,
    Column("mark", String(64), primary_key=True),
    Column("at", Utc, nullable=False, index=True),
    Column("case", JSON, nullable=False),
)

# What hangs on a run's line: the address, its interlocks, and who may push samples.
links = Table(
    "links",
    metadata,
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("made_at", Utc, nullable=False),
    Column("active", Boolean, nullable=False),
    Column("document", JSON, nullable=False),
    Column("token_mark", String(64), nullable=False, unique=True),
)

# One row a moment; ``why`` says why it stands apart, empty for one that is believed.
samples = Table(
    "samples",
    metadata,
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("at_ms", Integer, primary_key=True),
    Column("amps", Float),
    Column("volts", Float),
    Column("bath_c", Float),
    Column("why", String(12), nullable=False),
    sqlite_with_rowid=False,
)

# What stretches of so many seconds came to; kept as the samples come.
sample_rolls = Table(
    "sample_rolls",
    metadata,
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("width_s", Integer, primary_key=True),
    Column("start_ms", Integer, primary_key=True),
    Column("count", Integer, nullable=False),
    Column("apart", Integer, nullable=False),
    *(
        Column(f"{channel}_{what}", kind)
        for channel in ("amps", "volts", "bath_c")
        for what, kind in (("n", Integer), ("sum", Float), ("low", Float), ("high", Float))
    ),
    sqlite_with_rowid=False,
)

# Rows of these are never changed or deleted; the migration puts triggers on them.
APPEND_ONLY = ("plan_revisions", "run_log", "kit_log", "kept_revisions", "written")
