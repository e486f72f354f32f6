"""One name for each thing: who did it and where a sample was taken, entries and steps done, units and jobs;
accepted plans say which form they are stored in; marks.

Statements of this kind each commit by themselves, so every one can be run again after a kill in between.
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

# Table, column as it was, column as it is, its definition.
RENAMED = (
    ("account", "measures", "unit_system", "VARCHAR(10) NOT NULL"),
    ("event", "who", "performed_by", "VARCHAR(80) NOT NULL"),
    ("event", "spot", "sampling_point", "VARCHAR(40) NOT NULL DEFAULT ''"),
    ("correction", "who", "actor", "VARCHAR(80) NOT NULL"),
    ("job", "given", "parameters", "JSON NOT NULL"),
    ("job", "found", "result", "JSON NOT NULL"),
)


def upgrade() -> None:
    for table, old, new, definition in RENAMED:
        op.execute(f"ALTER TABLE {table} CHANGE COLUMN IF EXISTS `{old}` `{new}` {definition}")
    op.execute("RENAME TABLE IF EXISTS happening TO entry, task TO step_done")
    if "ix_task_plan_step_id" in {i["name"] for i in sa.inspect(op.get_bind()).get_indexes("step_done")}:
        op.execute("ALTER TABLE step_done RENAME INDEX ix_task_plan_step_id TO ix_step_done_plan_step_id")
    op.execute("UPDATE event SET kind = 'step_done' WHERE kind = 'task'")
    # What an import asked about is looked through anew: its answer was in the old names.
    op.execute(
        "UPDATE job SET state = 'waiting', stage = 'check', result = '{}',"
        " parameters = JSON_REMOVE(parameters, '$.settings') WHERE state = 'asks'"
    )
    op.execute("ALTER TABLE plan ADD COLUMN IF NOT EXISTS form INT NOT NULL DEFAULT 1")
    op.execute("ALTER TABLE plan_step ADD COLUMN IF NOT EXISTS fraction DOUBLE NULL")
    op.execute("ALTER TABLE plan_step ADD COLUMN IF NOT EXISTS to_ph DOUBLE NULL")
    op.execute(
        "UPDATE plan_step JOIN plan ON plan.event_id = plan_step.plan_event_id SET"
        " fraction = JSON_VALUE(shown, '$.fraction'), to_ph = JSON_VALUE(shown, '$.to_ph')"
        " WHERE plan.form = 1"
    )
    if not sa.inspect(op.get_bind()).has_table("mark"):
        op.create_table(
            "mark",
            sa.Column("event_id", sa.Uuid(), nullable=False),
            sa.Column("sheet_id", sa.String(36), nullable=True),
            sa.Column("task_id", sa.String(36), nullable=True),
            sa.Column("key", sa.String(60), nullable=False),
            sa.Column("verb", sa.String(10), nullable=False),
            sa.Column("value", sa.String(400), nullable=False),
            sa.ForeignKeyConstraint(["event_id"], ["event.id"]),
            sa.PrimaryKeyConstraint("event_id"),
            sa.Index("ix_mark_sheet_id", "sheet_id"),
            sa.Index("ix_mark_task_id", "task_id"),
        )
