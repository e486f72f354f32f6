"""What a new thing was first sent as."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_INSTANT = sa.dialects.mysql.DATETIME(fsp=6)


def upgrade() -> None:
    if "first_sent" in sa.inspect(op.get_bind()).get_table_names():
        return
    op.create_table(
        "first_sent",
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("at", _INSTANT, nullable=False),
        sa.Index("ix_first_sent_at", "at"),
        sa.PrimaryKeyConstraint("account_id", "id"),
    )
