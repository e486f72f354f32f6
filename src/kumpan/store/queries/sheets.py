"""Sheets, their steps, and what was written and said of them."""

from collections.abc import Iterable
from datetime import datetime
from uuid import UUID

from sqlalchemy import or_, select
from sqlalchemy.orm import Session, noload, selectinload

from kumpan.core.log.kinds import KINDS
from kumpan.store.queries.base import existing
from kumpan.store.queries.log import with_details
from kumpan.store.tables.log import DoseRow, Event, MarkRow, ReadingRow
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, TickRow

# Named, so that the index by kind finds them among ten years of entries.
_BEGIN_SHEETS = tuple(k.id for k in KINDS.values() if k.detail == "sheet")


def sheet(session: Session, account_id: UUID, sheet_id: UUID, lock: bool = False) -> Event:
    """A sheet of the account by the event of its beginning. Locked, so that a step is ticked once."""
    query = (
        select(Event)
        .join(SheetRow, SheetRow.event_id == Event.id)
        .join(Pool)
        .where(Event.id == sheet_id, Pool.account_id == account_id, Event.deleted_at.is_(None))
    )
    row = existing(session.scalars(query.with_for_update(of=SheetRow) if lock else query).first(), "sheet")
    with_details(session, [row])
    return row


def pool_of_sheet(session: Session, account_id: UUID, sheet_id: UUID) -> UUID:
    """The pool a sheet of the account is at: its row is locked before the sheet's."""
    query = (
        select(Event.pool_id)
        .join(SheetRow, SheetRow.event_id == Event.id)
        .join(Pool)
        .where(Event.id == sheet_id, Pool.account_id == account_id, Event.deleted_at.is_(None))
    )
    return existing(session.scalar(query), "sheet")


def sheets_alive(
    session: Session, pool_id: UUID, between: tuple[datetime, datetime] | None = None
) -> list[Event]:
    """The pool's sheets that had not ended when last moved, oldest first; or that were alive at some time
    between two instants.
    """
    query = (
        select(Event)
        .join(SheetRow, SheetRow.event_id == Event.id)
        .where(Event.pool_id == pool_id, Event.kind.in_(_BEGIN_SHEETS), Event.deleted_at.is_(None))
        .order_by(Event.at, Event.id)
    )
    if between is None:
        query = query.where(SheetRow.ended_at.is_(None))
    else:
        first, last = between
        query = query.where(Event.at <= last, or_(SheetRow.ended_at.is_(None), SheetRow.ended_at >= first))
    return with_details(session, session.scalars(query))


def ticks_of(session: Session, sheet_id: UUID) -> list[tuple[UUID, datetime, str, str]]:
    """Live entries written for a sheet's steps: (entry, at, kind, key)."""
    query = (
        select(Event.id, Event.at, Event.kind, TickRow.key)
        .join(TickRow, TickRow.event_id == Event.id)
        .where(TickRow.sheet_id == sheet_id, Event.deleted_at.is_(None))
    )
    return [(id, at, kind, key) for id, at, kind, key in session.execute(query)]


def marks_of(session: Session, sheet_id: UUID) -> list[tuple[UUID, datetime, MarkRow, str]]:
    """What was said of a sheet and lives: (entry, at, mark, by whom)."""
    query = (
        select(Event.id, Event.at, MarkRow, Event.performed_by)
        .join(MarkRow, MarkRow.event_id == Event.id)
        .where(MarkRow.sheet_id == str(sheet_id), Event.deleted_at.is_(None))
    )
    return [(id, at, mark, by) for id, at, mark, by in session.execute(query)]


def of_kinds_between(
    session: Session, pool_id: UUID, span: tuple[datetime, datetime], kinds: Iterable[str]
) -> list[tuple[UUID, datetime, str, frozenset[str]]]:
    """Live entries of these kinds after one instant and up to another, with the measures a test read: (entry,
    at, kind, measures). Salt by a panel is no test of salt.
    """
    after, until = span
    events = session.execute(
        select(Event.id, Event.at, Event.kind).where(
            Event.pool_id == pool_id,
            Event.deleted_at.is_(None),
            Event.at > after,
            Event.at <= until,
            Event.kind.in_(tuple(kinds)),
        )
    ).all()
    read: dict[UUID, set[str]] = {}
    rows = select(ReadingRow.event_id, ReadingRow.measure).where(
        ReadingRow.event_id.in_([e.id for e in events]),
        or_(ReadingRow.measure != "salt", ReadingRow.method != "panel"),
    )
    for event_id, measure in session.execute(rows):
        read.setdefault(event_id, set()).add(measure)
    return [(e.id, e.at, e.kind, frozenset(read.get(e.id, ()))) for e in events]


def doses_since(session: Session, pool_id: UUID, since: datetime) -> list[tuple[str, datetime, UUID | None]]:
    """What went in since an instant, and the sheet it was poured for: (product, at, sheet)."""
    query = (
        select(DoseRow.product_id, Event.at, TickRow.sheet_id)
        .join(Event, Event.id == DoseRow.event_id)
        .outerjoin(TickRow, TickRow.event_id == Event.id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since)
    )
    return [(product, at, sheet_id) for product, at, sheet_id in session.execute(query)]


def events_by_id(session: Session, ids: Iterable[UUID]) -> dict[UUID, Event]:
    """Entries by their ids, with what they hold; not what was corrected of them, nor photos."""
    query = select(Event).where(Event.id.in_(tuple(ids)))
    query = query.options(selectinload(Event.ticks), noload(Event.corrections), noload(Event.photos))
    events = with_details(session, session.scalars(query))
    return {e.id: e for e in events}
