"""Delete entries of any kind, and restore them."""

from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.work import moved, progress_of


def delete_event(context: Context, event_id: UUID) -> Event:
    """Mark an event deleted; again is no change. A test keeps its accepted plan in the log."""
    event = _locked(context, event_id)
    if event.deleted_at is None:
        event.deleted_at = context.now
        event.revision += 1
    moved(context.session, event.pool_id, context.now, event.at)
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
    moved(context.session, event.pool_id, context.now, event.at)
    return event


def _locked(context: Context, event_id: UUID) -> Event:
    """An event, its pool's row locked first."""
    event = queries.event(context.session, context.account.id, event_id)
    queries.pool(context.session, context.account.id, event.pool_id, lock=True)
    return queries.event(context.session, context.account.id, event_id, lock=True)
