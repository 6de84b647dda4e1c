"""A run may have several pages of the book: one for each piece that was finished by itself."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.rename_table("book_entries", "book_entries_before")
    op.create_table(
        "book_entries",
        sa.Column("page", sa.String(80), primary_key=True),
        sa.Column("run_id", sa.String(32), sa.ForeignKey("runs.id"), nullable=False),
        sa.Column("closed_at", sa.String, nullable=False),
        sa.Column("entry", sa.JSON, nullable=False),
    )
    op.execute(
        "INSERT INTO book_entries (page, run_id, closed_at, entry) "
        "SELECT run_id, run_id, closed_at, entry FROM book_entries_before"
    )
    op.drop_table("book_entries_before")
    op.create_index("book_entries_run", "book_entries", ["run_id"])
