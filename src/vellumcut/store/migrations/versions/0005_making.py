"""Steps with answers, times and notes; schools of a build; steps of a costume; photographs at the bench.

Revision ID: 0005
Revises: 0004
"""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def _what_was_done() -> list[sa.Column[Any]]:
    return [
        sa.Column("answer", sa.String(10), nullable=False, server_default=""),
        sa.Column("begun_at", sa.Float, nullable=True),
        sa.Column("took", sa.Float, nullable=True),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
        sa.Column("figures", sa.JSON, nullable=False, server_default="{}"),
    ]


def upgrade() -> None:
    op.add_column("build", sa.Column("schools", sa.JSON, nullable=False, server_default="{}"))
    with op.batch_alter_table("step_tick") as table:
        table.alter_column("step", type_=sa.String(160))
        for column in _what_was_done():
            table.add_column(column)
    op.add_column("timer", sa.Column("step", sa.String(160), nullable=False, server_default=""))
    op.create_table(
        "costume_tick",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id"), nullable=False),
        sa.Column("step", sa.String(160), nullable=False),
        sa.Column("done_at", sa.Float, nullable=True),
        *_what_was_done(),
        sa.UniqueConstraint("build_id", "step"),
    )
    op.create_index("ix_costume_tick_build_id", "costume_tick", ["build_id"])
    op.create_table(
        "bench_picture",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id"), nullable=False),
        sa.Column("step", sa.String(160), nullable=False),
        sa.Column("words", sa.String(200), nullable=False),
        sa.Column("file", sa.String(100), nullable=False),
        sa.Column("taken_at", sa.Float, nullable=False),
        sa.Column("removed", sa.Boolean, nullable=False),
    )
    op.create_index("ix_bench_picture_piece_id", "bench_picture", ["piece_id"])


def downgrade() -> None:
    op.drop_table("bench_picture")
    op.drop_table("costume_tick")
    op.drop_column("timer", "step")
    with op.batch_alter_table("step_tick") as table:
        for column in _what_was_done():
            table.drop_column(column.name)
        table.alter_column("step", type_=sa.String(40))
    op.drop_column("build", "schools")
