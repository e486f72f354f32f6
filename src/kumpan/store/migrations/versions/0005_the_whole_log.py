"""Everything that happens, beside tests and doses, and the history of corrections."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    instant = mysql.DATETIME(fsp=6)
    op.create_table(
        "happening",
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("details", sa.JSON(), nullable=False),
        sa.Column("typed", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["event_id"], ["event.id"]),
        sa.PrimaryKeyConstraint("event_id"),
        if_not_exists=True,
    )
    op.create_table(
        "correction",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("at", instant, nullable=False),
        sa.Column("who", sa.String(80), nullable=False),
        sa.Column("was_at", instant, nullable=False),
        sa.Column("was", sa.Text(), nullable=False),
        sa.Column("before", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["event_id"], ["event.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_correction_event_id", "correction", ["event_id"], if_not_exists=True)
