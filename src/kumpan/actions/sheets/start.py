"""Start a guide's or a walk's sheet on a pool."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import checked_time
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.work import alive_of, moved


@dataclass(frozen=True)
class NewSheet:
    """A sheet to start: its id, when, and its subject. instead_of: one that this takes over from."""

    id: UUID
    at: datetime
    subject: str
    performed_by: str = ""
    instead_of: UUID | None = None


def start_sheet(
    context: Context, pool_id: UUID, new: NewSheet, made: Callable[[Pool, datetime], SheetRow]
) -> Event:
    """Keep what is made for the pool. Sending it again returns the first result; one of its subject that is
    under way is gone on with. made: from the pool and the instant it starts at; what it raises is raised.
    """
    session = context.session
    pool = queries.pool(session, context.account.id, pool_id, lock=True)
    known = queries.repeated(session, pool, new.id, "guide")
    if known:
        return known
    begun = alive_of(session, pool.id, new.subject, context.now)
    if begun is not None and begun.id != new.instead_of:
        return begun
    at = checked_time(new.at, context.now)
    sheet = made(pool, at)
    event = Event(
        id=new.id,
        pool=pool,
        at=at,
        kind="guide",
        performed_by=new.performed_by or context.actor,
        created_at=context.now,
    )
    event.detail = sheet
    session.add(event)
    moved(session, pool.id, context.now, at, kind="guide")
    return event
