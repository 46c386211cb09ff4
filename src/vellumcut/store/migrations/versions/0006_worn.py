"""Log entries of days in the costume.

Revision ID: 0006
Revises: 0005
"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("log_entry", sa.Column("worn", sa.JSON, nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("log_entry", "worn")
