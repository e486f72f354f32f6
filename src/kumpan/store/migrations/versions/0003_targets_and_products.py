"""A pool's own targets and fill water, and the products that stand ready."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("pool", sa.Column("settings", sa.JSON(), nullable=True), if_not_exists=True)
    op.add_column("account", sa.Column("at_hand", sa.JSON(), nullable=True), if_not_exists=True)
