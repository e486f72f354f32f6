"""One sheet for all work: accepted plans become sheets, their steps are keyed within them, ticks are rows.

Statements of this kind each commit by themselves, so every one can be run again after a kill in between; what
was is dropped last, and only once as much stands in the new tables.
"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("RENAME TABLE IF EXISTS plan TO sheet")
    for column in (
        "subject VARCHAR(20) NOT NULL DEFAULT 'dose'",
        "ended_at DATETIME(6) NULL",
        "state VARCHAR(12) NOT NULL DEFAULT 'under_way'",
        "next_at DATETIME(6) NULL",
        "next_line VARCHAR(200) NOT NULL DEFAULT ''",
    ):
        op.execute(f"ALTER TABLE sheet ADD COLUMN IF NOT EXISTS {column}")
    _let_test_be_none()
    if any(i["name"] == "ix_plan_test_event_id" for i in sa.inspect(op.get_bind()).get_indexes("sheet")):
        op.execute("ALTER TABLE sheet RENAME INDEX ix_plan_test_event_id TO ix_sheet_test_event_id")
    _make_tables()
    if _has("plan_step"):
        op.execute(
            "INSERT IGNORE INTO sheet_step (event_id, `key`, position, due_at, shown)"
            " SELECT plan_event_id, LOWER(CAST(id AS CHAR)), position, due_at,"
            " JSON_SET(shown, '$.act', JSON_OBJECT('kind', kind, 'product_id', product_id,"
            " 'strength', strength, 'amount', amount, 'fraction', fraction, 'to_ph', to_ph)) FROM plan_step"
        )
        for table in ("dose", "step_done"):
            if _has_column(table, "plan_step_id"):
                op.execute(
                    "INSERT IGNORE INTO tick (event_id, sheet_id, `key`) SELECT d.event_id, s.plan_event_id,"
                    f" LOWER(CAST(s.id AS CHAR)) FROM {table} d JOIN plan_step s ON s.id = d.plan_step_id"
                )
        _as_much("SELECT COUNT(*) FROM plan_step", "SELECT COUNT(*) FROM sheet_step")
    for table in ("dose", "step_done"):
        if _has_column(table, "plan_step_id"):
            _as_much(
                f"SELECT COUNT(*) FROM {table} WHERE plan_step_id IS NOT NULL",
                f"SELECT COUNT(*) FROM tick JOIN {table} USING (event_id)",
            )
            for key in sa.inspect(op.get_bind()).get_foreign_keys(table):
                if key["constrained_columns"] == ["plan_step_id"]:
                    op.execute(f"ALTER TABLE {table} DROP FOREIGN KEY {key['name']}")
            op.execute(f"ALTER TABLE {table} DROP COLUMN plan_step_id")
    op.execute("DROP TABLE IF EXISTS plan_step")


def _has(table: str) -> bool:
    return sa.inspect(op.get_bind()).has_table(table)


def _has_column(table: str, column: str) -> bool:
    return any(c["name"] == column for c in sa.inspect(op.get_bind()).get_columns(table))


def _as_much(before: str, after: str) -> None:
    was, is_ = (op.get_bind().execute(sa.text(query)).scalar_one() for query in (before, after))
    if is_ < was:
        raise RuntimeError(f"{is_} rows of {was} were brought over: {before}")


def _let_test_be_none() -> None:
    """A guide follows from no test."""
    column = next(c for c in sa.inspect(op.get_bind()).get_columns("sheet") if c["name"] == "test_event_id")
    if not column["nullable"]:
        op.execute("ALTER TABLE sheet MODIFY test_event_id UUID NULL")


def _make_tables() -> None:
    if not _has("sheet_step"):
        op.create_table(
            "sheet_step",
            sa.Column("event_id", sa.Uuid(), nullable=False),
            sa.Column("key", sa.String(60), nullable=False),
            sa.Column("position", sa.Integer(), nullable=False),
            sa.Column("due_at", sa.dialects.mysql.DATETIME(fsp=6), nullable=False),
            sa.Column("shown", sa.JSON(), nullable=False),
            sa.ForeignKeyConstraint(["event_id"], ["sheet.event_id"]),
            sa.PrimaryKeyConstraint("event_id", "key"),
        )
    if not _has("tick"):
        op.create_table(
            "tick",
            sa.Column("event_id", sa.Uuid(), nullable=False),
            sa.Column("sheet_id", sa.Uuid(), nullable=False),
            sa.Column("key", sa.String(60), nullable=False),
            sa.ForeignKeyConstraint(["event_id"], ["event.id"]),
            sa.ForeignKeyConstraint(["sheet_id", "key"], ["sheet_step.event_id", "sheet_step.key"]),
            sa.PrimaryKeyConstraint("event_id", "sheet_id", "key"),
        )
