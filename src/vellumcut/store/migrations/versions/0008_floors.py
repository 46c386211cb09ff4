"""The floor beneath a traced photograph, photographed before the pieces were laid on it.

Revision ID: 0008
Revises: 0007
"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.add_column("traced_photograph", sa.Column("floor", sa.String(100), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("traced_photograph", "floor")
