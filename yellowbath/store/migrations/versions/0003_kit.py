"""The shop's own things; mixes kept after earlier runs become things of their own."""

import json
from datetime import UTC, datetime

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "kit",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("created_at", sa.String, nullable=False),
        sa.Column("retired", sa.Boolean, nullable=False),
        sa.Column("document", sa.JSON, nullable=False),
    )
    op.create_table(
        "kit_log",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("thing_id", sa.String(32), sa.ForeignKey("kit.id"), nullable=False, index=True),
        sa.Column("key", sa.String(80), nullable=False),
        sa.Column("event", sa.JSON, nullable=False),
        sa.UniqueConstraint("thing_id", "key"),
    )
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER kit_log_no_{verb.lower()} BEFORE {verb} ON kit_log "
            "BEGIN SELECT RAISE(ABORT, 'kit_log is append-only'); END"
        )
    rows = op.get_bind().execute(sa.text("SELECT run_id, closed_at, entry FROM book_entries"))
    for run_id, closed_at, text in rows.fetchall():
        entry = json.loads(text)
        if entry.get("mix_kept"):
            _keep(run_id, closed_at, entry)


def _keep(run_id: str, closed_at: str, entry: dict[str, object]) -> None:
    document = {
        "name": f"Kept after {entry['piece']}"[:60],
        "detail": {
            "kind": "mix",
            "product": entry["mix_product"],
            "water_m3": min(max(float(str(entry["mix_water_m3"])), 0.0005), 5.0),
            "salts_kg": min(float(str(entry["mix_dry_kg"])), 200.0),
            "bicarbonate_kg": 0.0,
        },
        "typed": {},
    }
    event = {"at": closed_at or datetime.now(UTC).isoformat(), "what": "used",
             "run_id": run_id, "charge_ah": float(str(entry["charge_ah"])),
             "seconds": float(str(entry["powered_s"]))}  # fmt: skip
    bind = op.get_bind()
    bind.execute(
        sa.text("INSERT INTO kit (id, created_at, retired, document) VALUES (:i, :c, 0, :d)"),
        {"i": run_id, "c": closed_at, "d": json.dumps(document)},
    )
    bind.execute(
        sa.text("INSERT INTO kit_log (thing_id, key, event) VALUES (:i, :k, :e)"),
        {"i": run_id, "k": f"run {run_id}", "e": json.dumps(event)},
    )
