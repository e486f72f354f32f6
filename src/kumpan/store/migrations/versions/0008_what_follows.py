"""What an accepted plan told of later visits and of the whole way; what a person counts in."""

from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE plan ADD COLUMN IF NOT EXISTS follows JSON NULL")
    op.execute("ALTER TABLE account ADD COLUMN IF NOT EXISTS own_measures JSON NULL")
