"""Delete entries of any kind, and restore them."""

from uuid import UUID, uuid5

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict
from kumpan.store import queries
from kumpan.store.care import ended_with
from kumpan.store.tables.log import Event
from kumpan.store.work import WRITTEN_FOR_MARKS, WRITTEN_FOR_STEPS, moved, progress_of


def delete_event(context: Context, event_id: UUID) -> Event:
    """Mark an event deleted; again is no change. A test keeps its accepted plan in the log."""
    event = _locked(context, event_id)
    if event.deleted_at is None:
        event.deleted_at = context.now
        event.revision += 1
    _with_it(context, event)
    moved(context.session, event.pool_id, context.now, event.at, kind=event.kind)
    return event


def restore_event(context: Context, event_id: UUID) -> Event:
    """Undo a deletion, unless its step was ticked again meanwhile."""
    event = _locked(context, event_id)
    if event.deleted_at is not None:
        for tick in event.ticks:
            sheet = context.session.get(Event, tick.sheet_id)
            if sheet is None or sheet.deleted_at is not None:
                continue  # the sheet itself was taken back: there is nothing to tick twice
            if progress_of(context.session, sheet, context.now).by_key[tick.key].closed_at:
                text = "This step was ticked off again meanwhile, so the earlier tick stays deleted."
                raise Conflict("already_done", text)
        event.deleted_at = None
        event.revision += 1
    _with_it(context, event)
    moved(context.session, event.pool_id, context.now, event.at, kind=event.kind)
    return event


def _with_it(context: Context, event: Event) -> None:
    """What was written because of it goes and comes back with it: the entry a mark wrote, and what was to be
    followed up of a finding.
    """
    for id in _written_with(event):
        written = context.session.get(Event, id)
        if written is not None and (written.deleted_at is None) != (event.deleted_at is None):
            written.deleted_at, written.revision = event.deleted_at, written.revision + 1
            _with_it(context, written)
            moved(context.session, written.pool_id, context.now, written.at, kind=written.kind)
    if event.kind == "inspection":
        ended_with(context.session, event, context.now)


def _written_with(event: Event) -> list[UUID]:
    """Ids of the entries that a mark wrote: by itself, or as the tick of a walk's step."""
    if event.kind != "mark":
        return []
    ids = [uuid5(event.id, name) for name in WRITTEN_FOR_MARKS]
    sheet_id, key = getattr(event.detail, "sheet_id", None), getattr(event.detail, "key", "")
    return ids + (
        [uuid5(UUID(sheet_id), WRITTEN_FOR_STEPS[key])] if sheet_id and key in WRITTEN_FOR_STEPS else []
    )


def _locked(context: Context, event_id: UUID) -> Event:
    """An event, its pool's row locked first."""
    event = queries.event(context.session, context.account.id, event_id)
    queries.pool(context.session, context.account.id, event.pool_id, lock=True)
    return queries.event(context.session, context.account.id, event_id, lock=True)
