"""Steps done that are no dose: fresh water and aeration."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "task",
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("what", sa.String(length=20), nullable=False),
        sa.Column("fraction", sa.Float(precision=53), nullable=True),
        sa.Column("to_ph", sa.Float(precision=53), nullable=True),
        sa.Column("note", sa.Text(), nullable=True),
        sa.Column("plan_step_id", sa.Uuid(), nullable=True),
        sa.ForeignKeyConstraint(
            ["event_id"],
            ["event.id"],
        ),
        sa.ForeignKeyConstraint(
            ["plan_step_id"],
            ["plan_step.id"],
        ),
        sa.PrimaryKeyConstraint("event_id"),
        if_not_exists=True,
    )
    op.create_index(op.f("ix_task_plan_step_id"), "task", ["plan_step_id"], unique=False, if_not_exists=True)
