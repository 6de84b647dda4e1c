"""What was mended is found without reading every log."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_index("run_log_mended", "run_log", ["id"], sqlite_where=sa.text("kind = 'mended'"))
