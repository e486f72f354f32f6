"""What was foretold of a pool, to be held against what is read."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_INSTANT = sa.dialects.mysql.DATETIME(fsp=6)


def upgrade() -> None:
    if "forecast" in sa.inspect(op.get_bind()).get_table_names():
        return
    op.create_table(
        "forecast",
        sa.Column("pool_id", sa.Uuid(), nullable=False),
        sa.Column("made_at", _INSTANT, nullable=False),
        sa.Column("measure", sa.String(20), nullable=False),
        sa.Column("for_at", _INSTANT, nullable=False),
        sa.Column("mean", sa.Float(53), nullable=False),
        sa.Column("low80", sa.Float(53), nullable=False),
        sa.Column("high80", sa.Float(53), nullable=False),
        sa.Column("assumed", sa.JSON(), nullable=False),
        sa.Column("rule_version", sa.String(40), nullable=False),
        sa.Index("ix_forecast_made_at", "made_at"),
        sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
        sa.PrimaryKeyConstraint("pool_id", "made_at", "measure", "for_at"),
    )
