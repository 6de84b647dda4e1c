"""Baths whose solved field was doubted, kept to be looked into."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "doubted",
        sa.Column("mark", sa.String(64), primary_key=True),
        sa.Column("at", sa.String, nullable=False, index=True),
        sa.Column("case", sa.JSON, nullable=False),
    )
