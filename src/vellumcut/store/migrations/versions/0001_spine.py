"""The first tables: wearers, builds, pieces, benches, logs and the undo journal."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "change",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.Double(), nullable=False),
        sa.Column("words", sa.String(length=200), nullable=False),
        sa.Column("rows", sa.JSON(), nullable=False),
        sa.Column("undone", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "setting",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=40), nullable=False),
        sa.Column("value", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("name"),
    )
    op.create_table(
        "wearer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "build",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("wearer_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("event_name", sa.String(length=120), nullable=False),
        sa.Column("event_on", sa.Date(), nullable=True),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["wearer_id"],
            ["wearer.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_build_wearer_id"), "build", ["wearer_id"], unique=False)
    op.create_table(
        "measurement_set",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("wearer_id", sa.Integer(), nullable=False),
        sa.Column("taken_on", sa.Date(), nullable=False),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("readings_schema", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["wearer_id"],
            ["wearer.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_measurement_set_wearer_id"), "measurement_set", ["wearer_id"], unique=False)
    op.create_table(
        "caution_seen",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("build_id", sa.Integer(), nullable=False),
        sa.Column("caution", sa.String(length=40), nullable=False),
        sa.Column("seen_at", sa.Double(), nullable=False),
        sa.ForeignKeyConstraint(
            ["build_id"],
            ["build.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("build_id", "caution"),
    )
    op.create_index(op.f("ix_caution_seen_build_id"), "caution_seen", ["build_id"], unique=False)
    op.create_table(
        "piece",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("build_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("design", sa.JSON(), nullable=False),
        sa.Column("design_schema", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["build_id"],
            ["build.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_piece_build_id"), "piece", ["build_id"], unique=False)
    op.create_table(
        "fit_session",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("fitted_at", sa.Double(), nullable=False),
        sa.Column("findings", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("accepted_version", sa.Integer(), nullable=True),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["piece_id"],
            ["piece.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_fit_session_piece_id"), "fit_session", ["piece_id"], unique=False)
    op.create_table(
        "log_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("build_id", sa.Integer(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=True),
        sa.Column("written_at", sa.Double(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["build_id"],
            ["build.id"],
        ),
        sa.ForeignKeyConstraint(
            ["piece_id"],
            ["piece.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_log_entry_build_id"), "log_entry", ["build_id"], unique=False)
    op.create_table(
        "piece_version",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("kept_at", sa.Double(), nullable=False),
        sa.Column("design", sa.JSON(), nullable=False),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["piece_id"],
            ["piece.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("piece_id", "number"),
    )
    op.create_index(op.f("ix_piece_version_piece_id"), "piece_version", ["piece_id"], unique=False)
    op.create_table(
        "step_tick",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(length=40), nullable=False),
        sa.Column("done_at", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(
            ["piece_id"],
            ["piece.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("piece_id", "step"),
    )
    op.create_index(op.f("ix_step_tick_piece_id"), "step_tick", ["piece_id"], unique=False)
    op.create_table(
        "timer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("build_id", sa.Integer(), nullable=False),
        sa.Column("piece_id", sa.Integer(), nullable=True),
        sa.Column("label", sa.String(length=200), nullable=False),
        sa.Column("started_at", sa.Double(), nullable=False),
        sa.Column("ready_after", sa.Double(), nullable=False),
        sa.Column("warn_after", sa.Double(), nullable=False),
        sa.Column("closes_after", sa.Double(), nullable=False),
        sa.Column("stopped_at", sa.Double(), nullable=True),
        sa.Column("heard", sa.String(length=20), nullable=False),
        sa.ForeignKeyConstraint(
            ["build_id"],
            ["build.id"],
        ),
        sa.ForeignKeyConstraint(
            ["piece_id"],
            ["piece.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_timer_build_id"), "timer", ["build_id"], unique=False)
