"""Baths that are listened to: what hangs on a run's line, its samples and their roll-ups."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "links",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("made_at", sa.String, nullable=False),
        sa.Column("active", sa.Boolean, nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
        sa.Column("token_mark", sa.String(64), nullable=False, unique=True),
    )
    op.create_table(
        "samples",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("at_ms", sa.Integer, primary_key=True),
        sa.Column("amps", sa.Float),
        sa.Column("volts", sa.Float),
        sa.Column("bath_c", sa.Float),
        sa.Column("why", sa.String(12), nullable=False),
        sqlite_with_rowid=False,
    )
    op.create_table(
        "sample_rolls",
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), primary_key=True),
        sa.Column("width_s", sa.Integer, primary_key=True),
        sa.Column("start_ms", sa.Integer, primary_key=True),
        sa.Column("count", sa.Integer, nullable=False),
        sa.Column("apart", sa.Integer, nullable=False),
        *(
            sa.Column(f"{channel}_{what}", kind)
            for channel in ("amps", "volts", "bath_c")
            for what, kind in (
                ("n", sa.Integer), ("sum", sa.Float), ("low", sa.Float), ("high", sa.Float),
            )
        ),
        sqlite_with_rowid=False,
    )  # fmt: skip
