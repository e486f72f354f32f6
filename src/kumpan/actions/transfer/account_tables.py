"""The tables of the open format beside those of the database: what belongs to an account, in the order in
which it can be written.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from functools import cached_property
from typing import Annotated, Any
from uuid import UUID

from pydantic import ConfigDict, StringConstraints, create_model
from sqlalchemy import JSON, Select, String, select

from kumpan.actions.transfer import account_format as f
from kumpan.core.log.kinds import KINDS
from kumpan.store.tables.base import Base
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.files import PaperRow, PhotoRow
from kumpan.store.tables.log import (
    CorrectionRow,
    Detail,
    DoseRow,
    EntryRow,
    Event,
    ReadingRow,
    StepDoneRow,
    detail_tables,
)
from kumpan.store.tables.pools import EquipmentRow, Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow, TickRow
from kumpan.store.tables.shelf import ShelfItem


@dataclass(frozen=True)
class Table:
    """One table. key: what makes a row one; refs: fields that name a row of another table; holds: the field
    that is a file; came_later: whether a file of this version may lack it.
    """

    name: str
    row: type[Base]
    record: type[f.Record]
    key: tuple[str, ...] = ("id",)
    refs: Mapping[str, str] = field(default_factory=dict)
    holds: str = ""
    came_later: bool = False

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
        of_event = next((columns[n] for n in ("event_id",) if n in columns), None)
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


def _record_of(row: type[Detail]) -> type[f.Record]:
    """The record of a detail table from its columns: within what they can hold."""
    fields: dict[str, Any] = {}
    for column in row.__table__.columns:  # type: ignore[attr-defined]
        kind: Any = column.type.python_type
        if isinstance(column.type, String):
            kind = Annotated[str, StringConstraints(max_length=column.type.length)]
        if kind is float:
            kind = f.Number
        fields[column.name] = (kind | None, None) if column.nullable else (kind, ...)
    name = f"{row.__tablename__.title().replace('_', '')}Record"
    made: type[f.Record] = create_model(name, __base__=f.Record, __doc__=row.__doc__, **fields)
    return made


_EVENT_DETAILS: dict[str, Table] = {
    t.row.__tablename__: t
    for t in (
        Table("readings", ReadingRow, f.ReadingRecord, ("event_id", "measure"), _OF_EVENT),
        Table("sheets", SheetRow, f.SheetRecord, ("event_id",), {**_OF_EVENT, "test_event_id": "events"}),
        Table("doses", DoseRow, f.DoseRecord, ("event_id",), _OF_EVENT),
        Table("steps_done", StepDoneRow, f.StepDoneRecord, ("event_id",), _OF_EVENT),
        Table("entries", EntryRow, f.EntryRecord, ("event_id",), _OF_EVENT),
    )
}
# A detail table that has no record of its own here gets one from its columns.
_EVENT_DETAILS |= {
    name: Table(f"{name}s", row, _record_of(row), ("event_id",), _OF_EVENT)  # type: ignore[arg-type]
    for name, row in detail_tables().items()
    if name not in _EVENT_DETAILS
}
_IN_ORDER = sorted(_EVENT_DETAILS.values(), key=lambda t: t.name not in ("readings", "sheets"))
TABLES: tuple[Table, ...] = (
    Table("pools", Pool, f.PoolRecord),
    Table("equipment", EquipmentRow, f.EquipmentRecord, refs={"pool_id": "pools"}),
    Table("shelf", ShelfItem, f.ShelfRecord),
    Table("tasks", TaskRow, f.TaskRecord, refs={"pool_id": "pools"}, came_later=True),
    Table("events", Event, f.EventRecord, refs={"pool_id": "pools"}),
    *_IN_ORDER,
    Table("sheet_steps", SheetStepRow, f.SheetStepRecord, ("event_id", "key"), {"event_id": "sheets"}),
    Table(
        "ticks", TickRow, f.TickRecord, ("event_id", "sheet_id", "key"), {**_OF_EVENT, "sheet_id": "sheets"}
    ),
    Table("corrections", CorrectionRow, f.CorrectionRecord, refs=_OF_EVENT),
    Table(
        "photos", PhotoRow, f.PhotoRecord, refs={**_OF_EVENT, "equipment_id": "equipment"}, holds="picture"
    ),
    Table(
        "papers",
        PaperRow,
        f.PaperRecord,
        refs={"equipment_id": "equipment"},
        holds="content",
        came_later=True,
    ),
)
BY_NAME: dict[str, Table] = {t.name: t for t in TABLES}


DETAIL_NAMES = frozenset(t.name for t in _EVENT_DETAILS.values())


def detail_of(kind: str) -> Table:
    """The table that holds what is particular to a kind of entry."""
    return _EVENT_DETAILS[KINDS[kind].detail]


class _Document(f.Head):
    model_config = ConfigDict(extra="forbid", title=f"Kumpan account, version {f.VERSION}")


# A whole account as one JSON document. Every table is given, empty where there is nothing; those that came
# later within this version may be missing.
_LISTS: dict[str, Any] = {
    t.name: (list[t.record], [] if t.came_later else ...)  # type: ignore[name-defined]
    for t in TABLES
}
AccountDocument = create_model("AccountDocument", __base__=_Document, **_LISTS)


def plain(value: Any) -> Any:
    """A value as JSON has it: ids and instants as text."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat().replace("+00:00", "Z")
    return value.isoformat() if isinstance(value, date) else str(value) if isinstance(value, UUID) else value
