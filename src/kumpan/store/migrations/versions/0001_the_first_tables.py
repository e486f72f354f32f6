"""The first tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "account",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("measures", sa.String(length=10), nullable=False),
        sa.Column("currency", sa.String(length=3), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_table(
        "pool",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("place", sa.String(length=120), nullable=False),
        sa.Column("latitude", sa.Float(precision=53), nullable=True),
        sa.Column("longitude", sa.Float(precision=53), nullable=True),
        sa.Column("time_zone", sa.String(length=64), nullable=False),
        sa.Column("volume_l", sa.Float(precision=53), nullable=False),
        sa.Column("volume_input", sa.JSON(), nullable=False),
        sa.Column("surface", sa.String(length=20), nullable=False),
        sa.Column("chlorine_source", sa.String(length=20), nullable=False),
        sa.Column("installation", sa.String(length=20), nullable=False),
        sa.Column("sanitizer", sa.String(length=20), nullable=False),
        sa.Column("school", sa.String(length=40), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("archived_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.CheckConstraint("volume_l > 0", name="pool_volume_positive"),
        sa.ForeignKeyConstraint(
            ["account_id"],
            ["account.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index(op.f("ix_pool_account_id"), "pool", ["account_id"], unique=False, if_not_exists=True)
    op.create_table(
        "event",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("pool_id", sa.Uuid(), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("who", sa.String(length=80), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("deleted_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(
            ["pool_id"],
            ["pool.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_event_pool_at", "event", ["pool_id", "at", "id"], unique=False, if_not_exists=True)
    op.create_table(
        "plan",
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("test_event_id", sa.Uuid(), nullable=False),
        sa.Column("rule_version", sa.String(length=20), nullable=False),
        sa.Column("headline", sa.String(length=400), nullable=False),
        sa.Column("swim", sa.String(length=400), nullable=False),
        sa.Column("inputs", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["event_id"],
            ["event.id"],
        ),
        sa.ForeignKeyConstraint(
            ["test_event_id"],
            ["event.id"],
        ),
        sa.PrimaryKeyConstraint("event_id"),
        if_not_exists=True,
    )
    op.create_index(
        op.f("ix_plan_test_event_id"), "plan", ["test_event_id"], unique=False, if_not_exists=True
    )
    op.create_table(
        "reading",
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("measure", sa.String(length=20), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("value", sa.Float(precision=53), nullable=False),
        sa.Column("text", sa.String(length=40), nullable=False),
        sa.Column("unit", sa.String(length=10), nullable=False),
        sa.Column("method", sa.String(length=20), nullable=False),
        sa.Column("drop_count", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(
            ["event_id"],
            ["event.id"],
        ),
        sa.PrimaryKeyConstraint("event_id", "measure"),
        if_not_exists=True,
    )
    op.create_table(
        "plan_step",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("plan_event_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("due_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("product_id", sa.String(length=40), nullable=True),
        sa.Column("strength", sa.Float(precision=53), nullable=True),
        sa.Column("amount", sa.Float(precision=53), nullable=True),
        sa.Column("shown", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["plan_event_id"],
            ["plan.event_id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index(
        op.f("ix_plan_step_plan_event_id"), "plan_step", ["plan_event_id"], unique=False, if_not_exists=True
    )
    op.create_table(
        "dose",
        sa.Column("event_id", sa.Uuid(), nullable=False),
        sa.Column("product_id", sa.String(length=40), nullable=False),
        sa.Column("strength", sa.Float(precision=53), nullable=True),
        sa.Column("amount", sa.Float(precision=53), nullable=False),
        sa.Column("text", sa.String(length=40), nullable=False),
        sa.Column("unit", sa.String(length=20), nullable=False),
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
    op.create_index(op.f("ix_dose_plan_step_id"), "dose", ["plan_step_id"], unique=False, if_not_exists=True)
