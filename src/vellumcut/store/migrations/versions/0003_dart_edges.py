"""How a build's darts are cut: square, bevelled, or by the fold across them.

Revision ID: 0003
Revises: 0002
"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.add_column("build", sa.Column("dart_edges", sa.String(20), nullable=False, server_default="by fold"))


def downgrade() -> None:
    op.drop_column("build", "dart_edges")
