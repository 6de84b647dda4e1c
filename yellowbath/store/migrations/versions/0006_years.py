"""Many years and several hands: lists by columns, things archived, writes known by their key,
settings and kit by revision, what a thing's log comes to, and the device's own clock."""

import json
from collections.abc import Iterator
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    for table in ("plans", "runs", "kit"):
        for name in ("title", "sought"):
            op.add_column(table, sa.Column(name, sa.Text, nullable=False, server_default=""))
    for table in ("plans", "runs"):
        op.add_column(
            table, sa.Column("archived", sa.Boolean, nullable=False, server_default=sa.false())
        )
    op.add_column("plans", sa.Column("saved_at", sa.String, nullable=False, server_default=""))
    op.add_column("runs", sa.Column("over_at", sa.String))
    op.add_column("kit", sa.Column("kind", sa.String(16), nullable=False, server_default=""))
    op.add_column("kit", sa.Column("head", sa.Integer, nullable=False, server_default="1"))
    op.add_column("run_log", sa.Column("device_at", sa.String))
    op.add_column("run_log", sa.Column("device_now", sa.String))
    op.create_table(
        "written",
        sa.Column("key", sa.String(64), primary_key=True),
        sa.Column("mark", sa.String(64), nullable=False),
        sa.Column("result", sa.String(64), nullable=False),
        sa.Column("at", sa.String, nullable=False),
    )
    op.create_table(
        "kept_revisions",
        sa.Column("of", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("created_at", sa.String, nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
    )
    op.create_table(
        "kit_folds",
        sa.Column("thing_id", sa.String(32), sa.ForeignKey("kit.id"), primary_key=True),
        sa.Column("upto", sa.Integer, nullable=False),
        sa.Column("mark", sa.String(24), nullable=False),
        sa.Column("state", sa.JSON, nullable=False),
    )
    op.create_table(
        "readable",
        sa.Column("kind", sa.String(8), primary_key=True),
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("mark", sa.String(24), nullable=False),
        sa.Column("why", sa.Text, nullable=False),
    )
    _fill()
    for table in ("kept_revisions", "written"):
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END"
            )
    op.create_index("plans_listed", "plans", ["archived", "saved_at", "id"])
    op.create_index("runs_state", "runs", ["state"])
    op.create_index("runs_of_plan", "runs", ["plan_id", "state"])
    op.create_index("runs_over", "runs", ["archived", "over_at", "id", "sought"])
    op.create_index("kit_listed", "kit", ["retired", "kind", "sought"])


def _fill() -> None:
    bind = op.get_bind()

    def rows(query: str) -> Iterator[Any]:
        yield from bind.execute(sa.text(query)).fetchall()

    for plan_id, at, text in rows(
        "SELECT p.id, r.created_at, r.document FROM plans p "
        "JOIN plan_revisions r ON r.plan_id = p.id AND r.number = p.head"
    ):
        _name("plans", plan_id, _title(text), saved_at=at)
    for run_id, text, closed, last in rows(
        "SELECT u.id, r.document, b.closed_at, "
        "(SELECT max(l.at) FROM run_log l WHERE l.run_id = u.id AND "
        "u.state IN ('closed', 'abandoned')) FROM runs u "
        "JOIN plan_revisions r ON r.plan_id = u.plan_id AND r.number = u.revision "
        "LEFT JOIN book_entries b ON b.run_id = u.id"
    ):
        _name("runs", run_id, _title(text), over_at=closed or last)
    for thing_id, text in rows("SELECT id, document FROM kit"):
        thing = _read(text)
        detail = thing.get("detail")
        kind = detail.get("kind", "") if isinstance(detail, dict) else ""
        _name("kit", thing_id, str(thing.get("name", "")), kind=str(kind)[:16])
    bind.execute(sa.text(
        "INSERT INTO kept_revisions (of, number, created_at, document) "
        "SELECT id, 1, created_at, document FROM kit"
    ))  # fmt: skip
    bind.execute(sa.text(
        "INSERT INTO kept_revisions (of, number, created_at, document) "
        "SELECT 'shop', 1, '', settings FROM shop WHERE id = 1"
    ))  # fmt: skip


def _name(table: str, row: str, title: str, **more: str | None) -> None:
    sets = ", ".join(f"{k} = :{k}" for k in ("title", "sought", *more))
    values = {"row": row, "title": title[:200], "sought": title[:200].casefold(), **more}
    op.get_bind().execute(sa.text(f"UPDATE {table} SET {sets} WHERE id = :row"), values)


def _read(text: str) -> dict[str, Any]:
    """A stored document as far as it can be told; nothing is changed in it."""
    try:
        found = json.loads(text)
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


def _title(text: str) -> str:
    document = _read(text)
    pieces = document.get("pieces")
    names = [str(p["name"]) for p in pieces if isinstance(p, dict) and p.get("name")] \
        if isinstance(pieces, list) else []  # fmt: skip
    if len(names) > 2:
        return f"{names[0]}, {names[1]} and {len(names) - 2} more"
    return " and ".join(names) or str(document.get("name") or "")
