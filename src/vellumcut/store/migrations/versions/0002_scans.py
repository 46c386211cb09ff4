"""Scans of bodies, and reference pictures laid under the ink.

Revision ID: 0002
Revises: 0001
"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "scan",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("wearer_id", sa.Integer, sa.ForeignKey("wearer.id"), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("file", sa.String(100), nullable=False),
        sa.Column("taken_at", sa.Float, nullable=False),
        sa.Column("triangles", sa.Integer, nullable=False),
        sa.Column("stance", sa.JSON, nullable=False),
        sa.Column("warnings", sa.JSON, nullable=False),
        sa.Column("removed", sa.Boolean, nullable=False),
    )
    op.create_index("ix_scan_wearer_id", "scan", ["wearer_id"])
    op.create_table(
        "reference_picture",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("piece_id", sa.Integer, sa.ForeignKey("piece.id"), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("file", sa.String(100), nullable=False),
        sa.Column("size", sa.JSON, nullable=False),
        sa.Column("placing", sa.JSON, nullable=False),
        sa.Column("removed", sa.Boolean, nullable=False),
    )
    op.create_index("ix_reference_picture_piece_id", "reference_picture", ["piece_id"])


def downgrade() -> None:
    op.drop_table("reference_picture")
    op.drop_table("scan")
