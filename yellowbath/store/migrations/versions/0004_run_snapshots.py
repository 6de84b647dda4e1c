"""Snapshots of runs, so that an entry extends what its log came to; lists by what is stored."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "run_snapshots",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("at", sa.String, primary_key=True),
        sa.Column("entry_id", sa.Integer, primary_key=True),
        sa.Column("mark", sa.String(16), nullable=False),
        sa.Column("state", sa.JSON, nullable=False),
        sa.Column("newest", sa.Boolean, nullable=False),
    )
    op.create_table(
        "plan_summaries",
        sa.Column("plan_id", sa.String(32), sa.ForeignKey("plans.id"), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("mark", sa.String(24), nullable=False),
        sa.Column("summary", sa.JSON, nullable=False),
    )
    op.create_index("run_log_in_time", "run_log", ["run_id", "at", "id"])
    op.create_index("run_log_kind", "run_log", ["run_id", "kind"])
