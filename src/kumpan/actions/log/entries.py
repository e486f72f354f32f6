"""Log entries of the kinds that are described by fields, and correct them."""

from dataclasses import dataclass
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import inspect

from kumpan.actions.context import Context
from kumpan.actions.log.writing import Correction, NewEvent, begin, keep, kept, reopen
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.log.kinds import KINDS, checked_entry
from kumpan.core.records import TypedField
from kumpan.store.tables.log import Detail, EntryRow, Event, detail_tables


@dataclass(frozen=True)
class TypedEntry:
    """An entry as typed: its kind, fields by id, and a note."""

    kind: str
    details: dict[str, TypedField]
    note: str = ""


def log_entry(context: Context, pool_id: UUID, new: NewEvent, typed: TypedEntry) -> Event:
    """Store an entry. Sending it again returns the first result."""
    event, known = begin(context, pool_id, typed.kind, new)
    if known:
        return event
    event.detail = _detail(context, event, typed)
    return keep(context, event)


def correct_entry(context: Context, correction: Correction, typed: TypedEntry) -> Event:
    """Correct an entry, if nobody changed it since; what it said stays in its history."""
    event, was_at = reopen(context, None, correction)
    if event.kind != typed.kind:
        text = "An entry keeps its kind: delete it and write another."
        raise InvalidInput(FieldProblem("kind", "fixed", text))
    row, held = _detail(context, event, typed), event.detail
    for column in inspect(type(row)).columns:
        if column.key != "event_id":
            setattr(held, column.key, getattr(row, column.key))
    return kept(context, event, was_at)


def _detail(context: Context, event: Event, typed: TypedEntry) -> Detail:
    """The row of what was typed: in the kind's own table where it has one."""
    today = context.now.astimezone(ZoneInfo(event.pool.time_zone)).date()
    values = checked_entry(typed.kind, typed.details, typed.note, today)
    kind = KINDS[typed.kind]
    table = detail_tables()[kind.detail]
    if table is EntryRow:
        as_typed = {name: vars(t) for name, t in typed.details.items() if t.text.strip()}
        return EntryRow(details=values, typed=as_typed, note=typed.note.strip())
    open_ended = {f.id: "" for f in kind.fields if f.kind == "text"} | {
        f.id: None for f in kind.fields if f.kind == "id"
    }
    return table(**(open_ended | values))
