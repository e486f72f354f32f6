"""Sheets, their steps, and what was written and said of them."""

from collections.abc import Iterable
from datetime import datetime
from functools import cache
from uuid import UUID

from sqlalchemy import Select, bindparam, or_, select
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
    if between is None:
        return with_details(session, session.scalars(_alive(), {"pool": pool_id}))
    span = {"pool": pool_id, "first": between[0], "last": between[1]}
    return with_details(session, session.scalars(_alive_between(), span))


@cache
def _sheets() -> Select[Event]:
    return (
        select(Event)
        .join(SheetRow, SheetRow.event_id == Event.id)
        .where(Event.pool_id == bindparam("pool"), Event.kind.in_(_BEGIN_SHEETS), Event.deleted_at.is_(None))
        .order_by(Event.at, Event.id)
    )


@cache
def _alive() -> Select[Event]:
    return _sheets().where(SheetRow.ended_at.is_(None))


@cache
def _alive_between() -> Select[Event]:
    open_then = or_(SheetRow.ended_at.is_(None), SheetRow.ended_at >= bindparam("first"))
    return _sheets().where(Event.at <= bindparam("last"), open_then)


def ticks_of(session: Session, sheet_id: UUID) -> list[tuple[UUID, datetime, str, str]]:
    """Live entries written for a sheet's steps: (entry, at, kind, key)."""
    found = session.execute(_ticks(), {"sheet": sheet_id})
    return [(id, at, kind, key) for id, at, kind, key in found]


@cache
def _ticks() -> Select[UUID, datetime, str, str]:
    query = select(Event.id, Event.at, Event.kind, TickRow.key).join(TickRow, TickRow.event_id == Event.id)
    return query.where(TickRow.sheet_id == bindparam("sheet"), Event.deleted_at.is_(None))


def marks_of(session: Session, sheet_id: UUID) -> list[tuple[UUID, datetime, MarkRow, str]]:
    """What was said of a sheet and lives: (entry, at, mark, by whom)."""
    found = session.execute(_said(), {"sheet": str(sheet_id)})
    return [(id, at, mark, by) for id, at, mark, by in found]


@cache
def _said() -> Select[UUID, datetime, MarkRow, str]:
    query = select(Event.id, Event.at, MarkRow, Event.performed_by)
    query = query.join(MarkRow, MarkRow.event_id == Event.id)
    return query.where(MarkRow.sheet_id == bindparam("sheet"), Event.deleted_at.is_(None))


def of_kinds_between(
    session: Session, pool_id: UUID, span: tuple[datetime, datetime], kinds: Iterable[str]
) -> list[tuple[UUID, datetime, str, frozenset[str]]]:
    """Live entries of these kinds after one instant and up to another, with the measures a test read: (entry,
    at, kind, measures). Salt by a panel is no test of salt.
    """
    of_log = {"pool": pool_id, "after": span[0], "until": span[1], "kinds": tuple(kinds)}
    events = session.execute(_of_kinds(), of_log).all()
    read: dict[UUID, set[str]] = {}
    tests = [e.id for e in events if e.kind == "water_test"]
    for event_id, measure in session.execute(_measures(), {"tests": tests}) if tests else ():
        read.setdefault(event_id, set()).add(measure)
    return [(e.id, e.at, e.kind, frozenset(read.get(e.id, ()))) for e in events]


@cache
def _of_kinds() -> Select[UUID, datetime, str]:
    return select(Event.id, Event.at, Event.kind).where(
        Event.pool_id == bindparam("pool"),
        Event.deleted_at.is_(None),
        Event.at > bindparam("after"),
        Event.at <= bindparam("until"),
        Event.kind.in_(bindparam("kinds", expanding=True)),
    )


@cache
def _measures() -> Select[UUID, str]:
    return select(ReadingRow.event_id, ReadingRow.measure).where(
        ReadingRow.event_id.in_(bindparam("tests", expanding=True)),
        or_(ReadingRow.measure != "salt", ReadingRow.method != "panel"),
    )


def doses_since(session: Session, pool_id: UUID, since: datetime) -> list[tuple[str, datetime, UUID | None]]:
    """What went in since an instant, and the sheet it was poured for: (product, at, sheet)."""
    found = session.execute(_doses(), {"pool": pool_id, "since": since})
    return [(product, at, sheet_id) for product, at, sheet_id in found]


@cache
def _doses() -> Select[str, datetime, UUID]:
    return (
        select(DoseRow.product_id, Event.at, TickRow.sheet_id)
        .join(Event, Event.id == DoseRow.event_id)
        .outerjoin(TickRow, TickRow.event_id == Event.id)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.at >= bindparam("since"))
    )


def events_by_id(session: Session, ids: Iterable[UUID]) -> dict[UUID, Event]:
    """Entries by their ids, with what they hold; not what was corrected of them, nor photos."""
    query = select(Event).where(Event.id.in_(tuple(ids)))
    query = query.options(selectinload(Event.ticks), noload(Event.corrections), noload(Event.photos))
    events = with_details(session, session.scalars(query))
    return {e.id: e for e in events}
