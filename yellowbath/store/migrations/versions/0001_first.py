"""Plans as revisions, runs with log and stretches, the book."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None

_APPEND_ONLY = ("plan_revisions", "run_log")


def upgrade() -> None:
    op.create_table(
        "shop",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("settings", sa.JSON, nullable=False),
    )
    op.create_table(
        "plans",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("created_at", sa.String, nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
    )
    op.create_table(
        "plan_revisions",
        sa.Column("plan_id", sa.String(32), sa.ForeignKey("plans.id"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("base", sa.Integer, nullable=False),
        sa.Column("created_at", sa.String, nullable=False),
        sa.Column("schema_version", sa.Integer, nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
    )
    op.create_table(
        "runs",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("plan_id", sa.String(32), nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("created_at", sa.String, nullable=False),
        sa.Column("state", sa.String(16), nullable=False),
        sa.ForeignKeyConstraint(
            ["plan_id", "revision"], ["plan_revisions.plan_id", "plan_revisions.number"]
        ),
    )
    op.create_table(
        "run_log",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), nullable=False),
        sa.Column("client_id", sa.String(64), nullable=False),
        sa.Column("at", sa.String, nullable=False),
        sa.Column("recorded_at", sa.String, nullable=False),
        sa.Column("kind", sa.String(32), nullable=False),
        sa.Column("detail", sa.JSON, nullable=False),
        sa.UniqueConstraint("run_id", "client_id"),
    )
    op.create_index("ix_run_log_run_id", "run_log", ["run_id"])
    op.create_table(
        "run_stretches",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("seq", sa.Integer, primary_key=True),
        sa.Column("start_at", sa.String, nullable=False),
        sa.Column("end_at", sa.String),
        sa.Column("pose", sa.Integer, nullable=False),
        sa.Column("level_m", sa.Float, nullable=False),
        sa.Column("anodes", sa.Text, nullable=False),
        sa.Column("mix", sa.Text, nullable=False),
        sa.Column("supply", sa.Text, nullable=False),
        sa.Column("current_a", sa.Float, nullable=False),
        sa.Column("low_a", sa.Float, nullable=False),
        sa.Column("high_a", sa.Float, nullable=False),
        sa.Column("source", sa.String(16), nullable=False),
        sa.Column("plan_revision", sa.Integer, nullable=False),
    )
    op.create_table(
        "book_entries",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("closed_at", sa.String, nullable=False),
        sa.Column("entry", sa.JSON, nullable=False),
    )
    for table in _APPEND_ONLY:
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END"
            )
