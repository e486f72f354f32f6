"""Entries that work under way writes: each under an id of its own, so that it is written once, anew, or taken
back.
"""

from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import today_at
from kumpan.core.log.kinds import checked_entry
from kumpan.core.log.poured import checked_dose
from kumpan.core.records import TypedField
from kumpan.store.care import ended_with
from kumpan.store.tables.log import DoseRow, EntryRow, Event
from kumpan.store.work import moved


def take_back(context: Context, id: UUID) -> None:
    """Delete an entry that was written, if it was."""
    written = context.session.get(Event, id)
    if written is not None and written.deleted_at is None:
        written.deleted_at, written.revision = context.now, written.revision + 1
        ended_with(context.session, written, context.now)
        moved(context.session, written.pool_id, context.now, written.at, kind=written.kind)


def write_entry(
    context: Context,
    sheet: Event,
    which: tuple[UUID, str, datetime],
    fields: dict[str, tuple[str, str]],
    note: str = "",
) -> None:
    """Write an entry of a sheet, or write it anew with what it says now. which: its id, kind and instant;
    fields: text and unit, by name.
    """
    id, kind, at = which
    typed = {name: TypedField(text, unit) for name, (text, unit) in fields.items()}
    details = checked_entry(kind, typed, note, today_at(sheet.pool, context.now))
    as_typed = {name: vars(one) for name, one in typed.items()}
    event = context.session.get(Event, id)
    if event is None:
        event = Event(id=id, pool=sheet.pool, kind=kind, performed_by=context.actor, created_at=context.now)
        event.detail = EntryRow(note=note)
        context.session.add(event)
    row = event.detail
    assert isinstance(row, EntryRow)
    if event.at == at and event.deleted_at is None and row.typed == as_typed and row.note == note:
        return
    if event.at is not None:
        event.revision += 1
    row.details, row.typed, row.note = details, as_typed, note
    event.at, event.deleted_at = at, None
    moved(context.session, sheet.pool_id, context.now, at, kind=kind)


def write_dose(
    context: Context, sheet: Event, which: tuple[UUID, datetime], poured: tuple[str, str, str]
) -> None:
    """Write a dose of a sheet, or write it anew. which: id and instant; poured: product, text and unit."""
    id, at = which
    product, text, unit = poured
    dose = checked_dose(product, None, text, unit)
    event = context.session.get(Event, id)
    if event is None:
        event = Event(id=id, pool=sheet.pool, kind="dose", performed_by=context.actor, created_at=context.now)
        event.detail = DoseRow.of(dose)
        context.session.add(event)
    else:
        event.revision += 1
    event.at, event.deleted_at = at, None
    moved(context.session, sheet.pool_id, context.now, at, kind="dose")
