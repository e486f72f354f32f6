"""Files in chunks, photos of entries and equipment, and long work as jobs."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    instant = mysql.DATETIME(fsp=6)
    op.create_table(
        "file",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("media_type", sa.String(80), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("created_at", instant, nullable=False),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_file_account_id", "file", ["account_id"], if_not_exists=True)
    op.create_table(
        "file_chunk",
        sa.Column("file_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("data", mysql.MEDIUMBLOB(), nullable=False),
        sa.ForeignKeyConstraint(["file_id"], ["file.id"]),
        sa.PrimaryKeyConstraint("file_id", "position"),
        if_not_exists=True,
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("event_id", sa.Uuid()),
        sa.Column("equipment_id", sa.Uuid()),
        sa.Column("file_id", sa.Uuid(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("created_at", instant, nullable=False),
        sa.Column("removed_at", instant),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
        sa.ForeignKeyConstraint(["event_id"], ["event.id"]),
        sa.ForeignKeyConstraint(["equipment_id"], ["equipment.id"]),
        sa.ForeignKeyConstraint(["file_id"], ["file.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    for column in ("account_id", "event_id", "equipment_id"):
        op.create_index(f"ix_photo_{column}", "photo", [column], if_not_exists=True)
    op.create_table(
        "job",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("stage", sa.String(10), nullable=False),
        sa.Column("given", sa.JSON(), nullable=False),
        sa.Column("found", sa.JSON(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("worker", sa.String(60)),
        sa.Column("lease_until", instant),
        sa.Column("claims", sa.Integer(), nullable=False),
        sa.Column("cancel_asked", sa.Boolean(), nullable=False),
        sa.Column("in_file_id", sa.Uuid()),
        sa.Column("out_file_id", sa.Uuid()),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", instant, nullable=False),
        sa.Column("ended_at", instant),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
        sa.ForeignKeyConstraint(["in_file_id"], ["file.id"]),
        sa.ForeignKeyConstraint(["out_file_id"], ["file.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_job_account_id", "job", ["account_id"], if_not_exists=True)
    op.create_index("ix_job_state", "job", ["state", "created_at"], if_not_exists=True)
    op.add_column("event", sa.Column("job_id", sa.Uuid()), if_not_exists=True)
    op.add_column(
        "event", sa.Column("spot", sa.String(40), nullable=False, server_default=""), if_not_exists=True
    )
    op.create_index("ix_event_job_id", "event", ["job_id"], if_not_exists=True)
    op.create_index("ix_event_pool_kind_at", "event", ["pool_id", "kind", "at", "id"], if_not_exists=True)
