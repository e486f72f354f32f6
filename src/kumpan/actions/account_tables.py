"""The tables of the open format beside those of the database: what belongs to an account, in the order in
which it can be written.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from functools import cached_property
from typing import Any
from uuid import UUID

from sqlalchemy import JSON, Select, select

from kumpan.actions import account_format as f
from kumpan.store.tables import (
    Base,
    CorrectionRow,
    DoseRow,
    EquipmentRow,
    Event,
    HappeningRow,
    PhotoRow,
    PlanRow,
    PlanStepRow,
    Pool,
    ReadingRow,
    ShelfItem,
    TaskRow,
)


@dataclass(frozen=True)
class Table:
    """One table. key: what makes a row one; refs: fields that name a row of another table."""

    name: str
    row: type[Base]
    record: type[f.Record]
    key: tuple[str, ...] = ("id",)
    refs: Mapping[str, str] = field(default_factory=dict)

    @cached_property
    def fields(self) -> tuple[str, ...]:
        """The format's fields, in its order."""
        return tuple(self.record.model_fields)

    @cached_property
    def stored(self) -> tuple[str, ...]:
        """Those that are columns of the database."""
        return tuple(name for name in self.fields if name in self.row.__table__.c)

    @cached_property
    def structured(self) -> frozenset[str]:
        """Fields that hold a structure: JSON text in a CSV cell."""
        return frozenset(n for n in self.stored if isinstance(self.row.__table__.c[n].type, JSON))

    @cached_property
    def open_fields(self) -> frozenset[str]:
        """Fields that may be left open: an empty CSV cell."""
        return frozenset(n for n in self.stored if self.row.__table__.c[n].nullable)

    def of_account(self, account_id: UUID) -> Select[Any]:
        """The account's rows, whatever their marks, in a fixed order."""
        columns = self.row.__table__.c
        query = select(*(columns[n] for n in self.stored))
        if "account_id" in columns:
            return query.where(columns.account_id == account_id).order_by(columns.created_at, columns.id)
        of_event = next((columns[n] for n in ("event_id", "plan_event_id") if n in columns), None)
        if of_event is not None:
            query = query.join(Event, Event.id == of_event).join(Pool, Pool.id == Event.pool_id)
            order = [
                Event.at,
                Event.id,
                *([columns.position] if "position" in columns else []),
                *(columns[k] for k in self.key),
            ]
        else:
            query = query.join(Pool, Pool.id == columns.pool_id)
            order = [columns.created_at if "at" not in columns else columns.at, columns.id]
        return query.where(Pool.account_id == account_id).order_by(*order)


_OF_EVENT = {"event_id": "events"}
TABLES: tuple[Table, ...] = (
    Table("pools", Pool, f.PoolRecord),
    Table("equipment", EquipmentRow, f.EquipmentRecord, refs={"pool_id": "pools"}),
    Table("shelf", ShelfItem, f.ShelfRecord),
    Table("events", Event, f.EventRecord, refs={"pool_id": "pools"}),
    Table("readings", ReadingRow, f.ReadingRecord, ("event_id", "measure"), _OF_EVENT),
    Table("plans", PlanRow, f.PlanRecord, ("event_id",), {**_OF_EVENT, "test_event_id": "events"}),
    Table("plan_steps", PlanStepRow, f.StepRecord, refs={"plan_event_id": "plans"}),
    Table("doses", DoseRow, f.DoseRecord, ("event_id",), {**_OF_EVENT, "plan_step_id": "plan_steps"}),
    Table("tasks", TaskRow, f.TaskRecord, ("event_id",), {**_OF_EVENT, "plan_step_id": "plan_steps"}),
    Table("happenings", HappeningRow, f.HappeningRecord, ("event_id",), _OF_EVENT),
    Table("corrections", CorrectionRow, f.CorrectionRecord, refs=_OF_EVENT),
    Table("photos", PhotoRow, f.PhotoRecord, refs={**_OF_EVENT, "equipment_id": "equipment"}),
)


def plain(value: Any) -> Any:
    """A value as JSON has it: ids and instants as text."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat().replace("+00:00", "Z")
    return value.isoformat() if isinstance(value, date) else str(value) if isinstance(value, UUID) else value
