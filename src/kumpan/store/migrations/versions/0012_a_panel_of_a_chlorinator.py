"""A chlorinator's panel that a pool is bound to, and what it told last."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

_INSTANT = sa.dialects.mysql.DATETIME(fsp=6)


def upgrade() -> None:
    if "panel" in sa.inspect(op.get_bind()).get_table_names():
        return
    op.create_table(
        "panel",
        sa.Column("pool_id", sa.Uuid(), nullable=False),
        sa.Column("address", sa.String(200), nullable=False),
        sa.Column("bound_at", _INSTANT, nullable=False),
        sa.Column("tried_at", _INSTANT, nullable=True),
        sa.Column("told_at", _INSTANT, nullable=True),
        sa.Column("problem", sa.String(200), nullable=False),
        sa.Column("source", sa.String(80), nullable=False),
        sa.Column("simulated", sa.Boolean(), nullable=False),
        sa.Column("told", sa.JSON(), nullable=False),
        sa.Column("poured_at", _INSTANT, nullable=False),
        sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
        sa.PrimaryKeyConstraint("pool_id"),
    )
