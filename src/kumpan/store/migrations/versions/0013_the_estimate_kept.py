"""A pool's estimate, kept where it stood a few days back."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

_INSTANT = sa.dialects.mysql.DATETIME(fsp=6)


def upgrade() -> None:
    if "estimate" in sa.inspect(op.get_bind()).get_table_names():
        return
    op.create_table(
        "estimate",
        sa.Column("pool_id", sa.Uuid(), nullable=False),
        sa.Column("since_at", _INSTANT, nullable=False),
        sa.Column("upto_at", _INSTANT, nullable=False),
        sa.Column("rule_version", sa.String(20), nullable=False),
        sa.Column("of_pool", sa.String(64), nullable=False),
        sa.Column("state", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
        sa.PrimaryKeyConstraint("pool_id"),
    )
