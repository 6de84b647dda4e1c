"""A run keeps what was solved of its field, so that its figures do not change under it."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("runs", sa.Column("field", sa.JSON))
