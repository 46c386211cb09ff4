"""Photographs of pieces among marker cards.

Revision ID: 0007
Revises: 0006
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "traced_photograph",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id"), nullable=False, index=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("file", sa.String(100), nullable=False),
        sa.Column("above", sa.String(100), nullable=False),
        sa.Column("taken_at", sa.Float, nullable=False),
        sa.Column("side", sa.Float, nullable=False),
        sa.Column("found", sa.JSON, nullable=False),
        sa.Column("shapes", sa.JSON, nullable=False),
        sa.Column("removed", sa.Boolean, nullable=False, server_default=sa.false()),
    )


def downgrade() -> None:
    op.drop_table("traced_photograph")
