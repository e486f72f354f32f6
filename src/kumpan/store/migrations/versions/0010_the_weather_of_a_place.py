"""The weather of pools' places: days, and how the last asking went."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    there = sa.inspect(op.get_bind()).get_table_names()
    if "weather_day" not in there:
        op.create_table(
            "weather_day",
            sa.Column("pool_id", sa.Uuid(), nullable=False),
            sa.Column("day", sa.Date(), nullable=False),
            *(
                sa.Column(name, sa.Float(precision=53), nullable=False)
                for name in ("low_c", "high_c", "rain_mm", "sun_mj_m2", "wind_m_s", "humidity")
            ),
            sa.Column("outlook", sa.Boolean(), nullable=False),
            sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
            sa.PrimaryKeyConstraint("pool_id", "day"),
        )
    if "weather_fetch" not in there:
        op.create_table(
            "weather_fetch",
            sa.Column("pool_id", sa.Uuid(), nullable=False),
            sa.Column("tried_at", sa.dialects.mysql.DATETIME(fsp=6), nullable=False),
            sa.Column("told_at", sa.dialects.mysql.DATETIME(fsp=6), nullable=True),
            sa.Column("problem", sa.String(200), nullable=False),
            sa.Column("source", sa.String(80), nullable=False),
            sa.Column("simulated", sa.Boolean(), nullable=False),
            sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
            sa.PrimaryKeyConstraint("pool_id"),
        )
