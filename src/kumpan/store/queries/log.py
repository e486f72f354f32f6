"""The log: events with what their kind holds, readings, notes."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, Select, and_, bindparam, func, or_, select
from sqlalchemy.orm import Session, noload, selectinload
from sqlalchemy.orm.attributes import set_committed_value

from kumpan.core.errors import Conflict
from kumpan.core.log.entry import Details, LogEntry
from kumpan.core.log.kinds import KINDS, unlisted_kinds
from kumpan.core.water.readings import Reading
from kumpan.store.queries.base import AS_IT_IS_NOW, existing
from kumpan.store.tables.log import DoseRow, EntryRow, Event, ReadingRow, detail_tables
from kumpan.store.tables.pools import Pool


def event(
    session: Session, account_id: UUID, event_id: UUID, kind: str | None = None, lock: bool = False
) -> Event:
    """One event of the account, deleted or not. Raises NotFound for any other, or another kind."""
    query = select(Event).join(Pool).where(Event.id == event_id, Pool.account_id == account_id)
    if kind:
        query = query.where(Event.kind == kind)
    if lock:
        query = query.with_for_update(of=Event).execution_options(**AS_IT_IS_NOW)
    return existing(session.scalars(query).first(), kind or "event")


def repeated(session: Session, pool: Pool, event_id: UUID, kind: str) -> Event | None:
    """The event that a repeated create made the first time; None if the id is new. Raises Conflict if the id
    is taken by something else.
    """
    known = session.get(Event, event_id)
    if known is not None and (known.pool_id != pool.id or known.kind != kind):
        raise Conflict("id_taken", "This id is already used for something else.")
    return known


def with_details(session: Session, events: Iterable[Event]) -> list[Event]:
    """The events, what their kinds hold read with one statement a table instead of one an event."""
    events, tables = list(events), detail_tables()
    by_table: dict[str, dict[UUID, Event]] = {}
    for one in events:
        by_table.setdefault(KINDS[one.kind].detail, {})[one.id] = one
    for name in by_table.keys() & tables.keys():
        held = by_table[name]
        rows = session.scalars(select(tables[name]).where(tables[name].event_id.in_(held)))
        found_rows = {row.event_id: row for row in rows}
        for id, owner in held.items():
            set_committed_value(owner, f"{name}_detail", found_rows.get(id))
    _with_readings(session, events)
    return events


def _with_readings(session: Session, events: list[Event]) -> None:
    """Tests with their readings, all else with none; what is held already stays, changed or not."""
    unread: dict[UUID, list[ReadingRow]] = {e.id: [] for e in events if "readings" not in e.__dict__}
    tests = [e.id for e in events if e.kind == "water_test" and e.id in unread]
    if tests:
        rows = select(ReadingRow).where(ReadingRow.event_id.in_(tests)).order_by(ReadingRow.position)
        for row in session.scalars(rows):
            unread[row.event_id].append(row)
    for one in events:
        if one.id in unread:
            set_committed_value(one, "readings", unread[one.id])


_MOST_MARKS = 300  # more would be drawn over each other


@dataclass(frozen=True)
class Sought:
    """A search of the log: words (lower case), products and kinds they name."""

    text: str
    products: tuple[str, ...]
    kinds: tuple[str, ...]


@dataclass(frozen=True)
class Page:
    """A page of the log: at most so many, older than ``before`` (instant, id), of these kinds, holding what
    is sought.
    """

    limit: int
    before: tuple[datetime, UUID] | None = None
    kinds: tuple[str, ...] = ()
    sought: Sought | None = None


def events_page(session: Session, pool_id: UUID, page: Page) -> list[Event]:
    """A page of the pool's live events, newest first."""
    kinds, sought, before = page.kinds, page.sought, page.before
    query = select(Event).where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
    query = query.where(Event.kind.in_(kinds) if kinds else Event.kind.not_in(unlisted_kinds()))
    if sought:
        query = (
            query.outerjoin(EntryRow)
            .outerjoin(DoseRow, DoseRow.event_id == Event.id)
            .where(
                or_(
                    func.lower(EntryRow.note).contains(sought.text, autoescape=True),
                    func.lower(Event.performed_by).contains(sought.text, autoescape=True),
                    func.lower(Event.sampling_point).contains(sought.text, autoescape=True),
                    DoseRow.product_id.in_(sought.products),
                    Event.kind.in_(sought.kinds),
                )
            )
        )
    if before:
        at, last_id = before
        query = query.where(or_(Event.at < at, and_(Event.at == at, Event.id < last_id)))
    query = query.order_by(Event.at.desc(), Event.id.desc()).limit(page.limit)
    # What stands with an entry on a page beside what it holds: read for all of them at once.
    query = query.options(
        selectinload(Event.corrections), selectinload(Event.ticks), selectinload(Event.photos)
    )
    return with_details(session, session.scalars(query))


def log_since(session: Session, pool_id: UUID, since: datetime, kinds: tuple[str, ...]) -> list[LogEntry]:
    """The pool's live entries of these kinds from ``since`` on, oldest first, as the core sees them."""
    held = frozenset({KINDS[kind].detail for kind in kinds} & detail_tables().keys())
    of_log = {"pool": pool_id, "since": since, "kinds": kinds}
    rows = session.execute(_log(held), of_log).all()
    read: dict[UUID, list[Reading]] = {}
    if any(row.kind == "water_test" for row in rows):
        for one in session.scalars(_readings_of_log(), of_log):
            read.setdefault(one.event_id, []).append(one.reading)
    entries = []
    for id, at, kind, point, *details in rows:
        payload = next((row.payload() for row in details if row is not None), Details())
        entries.append(LogEntry(str(id), at, kind, payload, tuple(read.get(id, ())), point))
    return entries


def _of_log() -> tuple[ColumnElement[bool], ...]:
    kinds = Event.kind.in_(bindparam("kinds", expanding=True))
    return (
        Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.at >= bindparam("since"), kinds
    )  # fmt: skip


@cache
def _log(held: frozenset[str]) -> Select[*tuple[Any, ...]]:
    """Entries with the rows of these detail tables beside them, where they have one."""
    tables = [detail_tables()[name] for name in sorted(held)]
    query = select(Event.id, Event.at, Event.kind, Event.sampling_point, *tables).where(*_of_log())
    for table in tables:
        query = query.outerjoin(table, table.event_id == Event.id)
    return query.order_by(Event.at, Event.id)


@cache
def _readings_of_log() -> Select[ReadingRow]:
    query = select(ReadingRow).join(Event, Event.id == ReadingRow.event_id).where(*_of_log())
    return query.order_by(ReadingRow.event_id, ReadingRow.position)


def all_events(session: Session, pool_id: UUID, kind: str) -> list[Event]:
    """Every live event of a kind, oldest first."""
    query = select(Event).where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.kind == kind)
    return with_details(session, session.scalars(query.order_by(Event.at, Event.id)))


def kinds_counted(session: Session, pool_id: UUID, since: datetime) -> dict[str, int]:
    """How many live entries of each kind a pool's log holds from an instant on."""
    query = select(Event.kind, func.count()).where(
        Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since
    )
    return {kind: int(count) for kind, count in session.execute(query.group_by(Event.kind))}


def readings_between(
    session: Session, pool_id: UUID, start: datetime, end: datetime
) -> list[tuple[str, datetime, float, str]]:
    """Readings of the pool's live tests as (measure, at, value, method), oldest first."""
    span = {"pool": pool_id, "start": start, "end": end}
    return [(m, at, value, method) for m, at, value, method in session.execute(_readings(), span)]


@cache
def _readings() -> Select[str, datetime, float, str]:
    return (
        select(ReadingRow.measure, Event.at, ReadingRow.value, ReadingRow.method)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None))
        .where(Event.at >= bindparam("start"), Event.at <= bindparam("end"))
        .order_by(Event.at, Event.id)
    )


def latest_reading(session: Session, pool_id: UUID, measure: str) -> float | None:
    """The newest reading of a measure in the pool's live tests; None where there is none."""
    query = (
        select(ReadingRow.value)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), ReadingRow.measure == measure)
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(1)
    )
    return session.scalar(query)


def mean_reading(
    session: Session, pool_id: UUID, measure: str, start: datetime, end: datetime
) -> float | None:
    """The mean of a measure in the pool's live tests between two instants; None where none was read."""
    query = (
        select(func.avg(ReadingRow.value))
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= start, Event.at <= end)
        .where(ReadingRow.measure == measure)
    )
    mean = session.scalar(query)
    return None if mean is None else float(mean)


def readings_by_event(session: Session, pool_id: UUID) -> list[tuple[UUID, datetime, str, float]]:
    """Readings of all the pool's live tests as (event, at, measure, value)."""
    query = (
        select(ReadingRow.event_id, Event.at, ReadingRow.measure, ReadingRow.value)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
    )
    return [(event_id, at, measure, value) for event_id, at, measure, value in session.execute(query)]


def notes(session: Session, pool_id: UUID) -> list[tuple[datetime, str]]:
    """The pool's live notes with their instants."""
    query = select(Event.at, EntryRow.note).join(EntryRow, EntryRow.event_id == Event.id)
    return [
        (at, note)
        for at, note in session.execute(
            query.where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.kind == "note")
        )
    ]


def marks_between(
    session: Session, pool_id: UUID, start: datetime, end: datetime, kinds: tuple[str, ...]
) -> list[LogEntry]:
    """The pool's newest live entries of these kinds between two instants, oldest first: what a graph can
    mark.
    """
    query = (
        select(Event)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= start, Event.at <= end)
        .where(Event.kind.in_(kinds))
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(_MOST_MARKS)
    )
    return [e.entry for e in reversed(with_details(session, session.scalars(query)))]


def instants_of(session: Session, pool_id: UUID, since: datetime, kinds: tuple[str, ...]) -> list[datetime]:
    """When the pool's live entries of these kinds lie, from ``since`` on."""
    query = select(Event.at).where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since)
    return list(session.scalars(query.where(Event.kind.in_(kinds))))


def newest_at(session: Session, pool_id: UUID, kind: str) -> datetime | None:
    """When the pool's newest live entry of a kind lies."""
    return session.scalar(_newest_at(), {"pool": pool_id, "kind": kind})


@cache
def _newest_at() -> Select[datetime]:
    query = select(Event.at).where(
        Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.kind == bindparam("kind")
    )
    return query.order_by(Event.at.desc()).limit(1)


def first_event_at(session: Session, pool_id: UUID) -> datetime | None:
    """When the pool's log begins."""
    return session.scalars(
        select(Event.at)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
        .order_by(Event.at, Event.id)
        .limit(1)
    ).first()


def span_of_job(session: Session, job_id: UUID) -> tuple[datetime | None, datetime | None]:
    """When the first and the last entry that an import brought lie."""
    first, last = session.execute(
        select(func.min(Event.at), func.max(Event.at)).where(Event.job_id == job_id)
    ).one()
    return first, last


def latest_event(session: Session, pool_id: UUID, kind: str) -> Event | None:
    """The pool's newest live event of a kind: what it says, not its corrections, ticks and photos."""
    return session.scalars(_latest_event(), {"pool": pool_id, "kind": kind}).first()


@cache
def _latest_event() -> Select[Event]:
    return (
        select(Event)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None))
        .where(Event.kind == bindparam("kind"))
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(1)
        .options(noload(Event.corrections), noload(Event.ticks), noload(Event.photos))
    )
