"""Work that comes round: tasks, the calendars of them that others read, and the papers of equipment."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

_INSTANT = sa.dialects.mysql.DATETIME(fsp=6)


def upgrade() -> None:
    there = sa.inspect(op.get_bind()).get_table_names()
    if "task" not in there:
        op.create_table(
            "task",
            sa.Column("id", sa.Uuid(), nullable=False),
            sa.Column("account_id", sa.Uuid(), nullable=False),
            sa.Column("pool_id", sa.Uuid(), nullable=False),
            sa.Column("subject", sa.String(20), nullable=False),
            sa.Column("rule_id", sa.String(40), nullable=False),
            sa.Column("anchor", sa.String(12), nullable=False),
            sa.Column("rrule", sa.String(200), nullable=False),
            sa.Column("days", sa.Integer(), nullable=False),
            sa.Column("params", sa.JSON(), nullable=False),
            sa.Column("season", sa.String(11), nullable=False),
            sa.Column("since", sa.Date(), nullable=False),
            sa.Column("own", sa.Boolean(), nullable=False),
            sa.Column("next_due", sa.Date(), nullable=True),
            sa.Column("next_why", sa.String(400), nullable=False),
            sa.Column("next_lapses", sa.Date(), nullable=True),
            sa.Column("revision", sa.Integer(), nullable=False),
            sa.Column("created_at", _INSTANT, nullable=False),
            sa.Column("off_at", _INSTANT, nullable=True),
            sa.Column("ended_at", _INSTANT, nullable=True),
            sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
            sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
            sa.PrimaryKeyConstraint("id"),
            sa.Index("ix_task_account_due", "account_id", "next_due"),
            sa.Index("ix_task_pool_id", "pool_id"),
        )
    if "feed" not in there:
        op.create_table(
            "feed",
            sa.Column("id", sa.Uuid(), nullable=False),
            sa.Column("account_id", sa.Uuid(), nullable=False),
            sa.Column("pool_id", sa.Uuid(), nullable=True),
            sa.Column("token_sha256", sa.String(64), nullable=False),
            sa.Column("created_at", _INSTANT, nullable=False),
            sa.Column("ended_at", _INSTANT, nullable=True),
            sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
            sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
            sa.PrimaryKeyConstraint("id"),
            sa.UniqueConstraint("token_sha256"),
            sa.Index("ix_feed_account_id", "account_id"),
        )
    if "paper" not in there:
        op.create_table(
            "paper",
            sa.Column("id", sa.Uuid(), nullable=False),
            sa.Column("account_id", sa.Uuid(), nullable=False),
            sa.Column("equipment_id", sa.Uuid(), nullable=False),
            sa.Column("file_id", sa.Uuid(), nullable=False),
            sa.Column("name", sa.String(200), nullable=False),
            sa.Column("media_type", sa.String(80), nullable=False),
            sa.Column("created_at", _INSTANT, nullable=False),
            sa.Column("removed_at", _INSTANT, nullable=True),
            sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
            sa.ForeignKeyConstraint(["equipment_id"], ["equipment.id"]),
            sa.ForeignKeyConstraint(["file_id"], ["file.id"]),
            sa.PrimaryKeyConstraint("id"),
            sa.Index("ix_paper_equipment_id", "equipment_id"),
            sa.Index("ix_paper_account_id", "account_id"),
        )
