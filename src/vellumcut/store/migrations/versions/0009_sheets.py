"""Where the parts of a build lie on sheets, and which sheets were cut.

Revision ID: 0009
Revises: 0008
"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "sheet_layout",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("build_id", sa.Integer(), sa.ForeignKey("build.id"), nullable=False),
        sa.Column("material", sa.String(40), nullable=False),
        sa.Column("tool", sa.String(20), nullable=False),
        sa.Column("places", sa.JSON(), nullable=False),
        sa.Column("cut", sa.JSON(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
    )
    op.create_index("ix_sheet_layout_build_id", "sheet_layout", ["build_id"])


def downgrade() -> None:
    op.drop_table("sheet_layout")
