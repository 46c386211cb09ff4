"""Undo takes no row away any more, and knows which window a change came from.

Revision ID: 0004
Revises: 0003
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

ABSENT = {"step_tick": {"done_at": None}, "setting": {"value": {}}}


def upgrade() -> None:
    # What had been undone took its rows away with it, so it cannot be done again; all else can still be undone.
    bind = op.get_bind()
    bind.execute(sa.text("DELETE FROM change WHERE undone"))
    for number, rows in bind.execute(sa.text("SELECT id, rows FROM change")).all():
        kept = json.loads(rows)
        for row in kept:
            if row["before"] is None:
                row["before"] = row["after"] | ABSENT.get(row["table"], {"removed": True})
        bind.execute(sa.text("UPDATE change SET rows = :rows WHERE id = :id"), {"rows": json.dumps(kept), "id": number})
    with op.batch_alter_table("change", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("tab", sa.String(40), nullable=False, server_default=""))
