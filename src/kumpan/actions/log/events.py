"""Delete entries of any kind, and restore them."""

from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict
from kumpan.store import queries
from kumpan.store.tables.log import Event


def delete_event(context: Context, event_id: UUID) -> Event:
    """Mark an event deleted; again is no change. A test keeps its accepted plan in the log."""
    event = queries.event(context.session, context.account.id, event_id, lock=True)
    if event.deleted_at is None:
        event.deleted_at = context.now
        event.revision += 1
    context.session.flush()
    return event


def restore_event(context: Context, event_id: UUID) -> Event:
    """Undo a deletion, unless its plan step was ticked again meanwhile."""
    event = queries.event(context.session, context.account.id, event_id, lock=True)
    if event.deleted_at is not None:
        step = getattr(event.detail, "plan_step_id", None)
        if step and queries.done_events(context.session, [step]):
            text = "This step was ticked off again meanwhile, so the earlier tick stays deleted."
            raise Conflict("already_done", text)
        event.deleted_at = None
        event.revision += 1
    context.session.flush()
    return event
