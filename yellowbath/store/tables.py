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
    Column("kind", String(32), nullable=False),
    Column("detail", JSON, nullable=False),
    UniqueConstraint("run_id", "client_id"),
    Index("run_log_in_time", "run_id", "at", "id"),
    Index("run_log_kind", "run_id", "kind"),
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
    Column("run_id", String(32), ForeignKey("runs.id"), primary_key=True),
    Column("closed_at", Utc, nullable=False),
    Column("entry", JSON, nullable=False),
)

kit = Table(
    "kit",
    metadata,
    Column("id", String(32), primary_key=True),
    Column("created_at", Utc, nullable=False),
    Column("retired", Boolean, nullable=False),
    Column("document", JSON, nullable=False),
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

doubted = Table(
    "doubted",
    metadata,
    Column("mark", String(64), primary_key=True),
    Column("at", Utc, nullable=False, index=True),
    Column("case", JSON, nullable=False),
)

# Rows of these are never changed or deleted; the migration puts triggers on them.
APPEND_ONLY = ("plan_revisions", "run_log", "kit_log")
