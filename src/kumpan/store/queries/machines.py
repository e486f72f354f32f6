"""What the log says of a pool's machines."""

from collections.abc import Iterable
from datetime import datetime
from functools import cache
from typing import Any
from uuid import UUID

from sqlalchemy import Select, bindparam, func, select
from sqlalchemy.orm import Session

from kumpan.store.queries.log import with_details
from kumpan.store.tables.log import DoseRow, EntryRow, Event, ReadingRow
from kumpan.store.tables.panel import PanelRow
from kumpan.store.tables.pools import Pool


def entries_of(
    session: Session, pool_id: UUID, kind: str, whats: Iterable[str] = (), most: int = 24
) -> list[tuple[datetime, dict[str, float | str]]]:
    """The newest live entries of a kind, of these ``what`` where named, oldest first: (at, details)."""
    asked = {"pool": pool_id, "kind": kind, "most": most}
    named = tuple(whats)
    query = _entries_named() if named else _entries()
    found = session.execute(query, asked | ({"whats": named} if named else {})).all()
    return [(at, details) for at, details in reversed(found)]


@cache
def _entries() -> Select[datetime, dict[str, Any]]:
    return (
        select(Event.at, EntryRow.details)
        .join(EntryRow, EntryRow.event_id == Event.id)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None))
        .where(Event.kind == bindparam("kind"))
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(bindparam("most"))
    )


def entry_before(
    session: Session, pool_id: UUID, kind: str, before: datetime
) -> tuple[datetime, dict[str, float | str]] | None:
    """The newest live entry of a kind before an instant: (at, details); None where there is none."""
    asked = {"pool": pool_id, "kind": kind, "most": 1, "before": before}
    row = session.execute(_entries_before(), asked).first()
    return None if row is None else (row[0], row[1])


@cache
def _entries_before() -> Select[datetime, dict[str, Any]]:
    return _entries().where(Event.at < bindparam("before"))


@cache
def _entries_named() -> Select[datetime, dict[str, Any]]:
    what = func.json_value(EntryRow.details, "$.what")
    return _entries().where(what.in_(bindparam("whats", expanding=True)))


def newest_reading(
    session: Session, pool_id: UUID, measure: str, panel: bool | None = None
) -> tuple[float, datetime, str] | None:
    """The newest live reading of a measure: (value, at, method). panel: only by a chlorinator's panel, or
    only by anything else.
    """
    query = (
        select(ReadingRow.value, Event.at, ReadingRow.method)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), ReadingRow.measure == measure)
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(1)
    )
    if panel is not None:
        is_panel = ReadingRow.method == "panel"
        query = query.where(is_panel if panel else ~is_panel)
    found = session.execute(query).first()
    return None if found is None else (float(found[0]), found[1], str(found[2]))


def chlorine_poured(
    session: Session, pool_id: UUID, since: datetime
) -> list[tuple[datetime, str, float | None, float]]:
    """What was poured since an instant, oldest first: (at, product, strength, g or mL)."""
    query = (
        select(Event.at, DoseRow.product_id, DoseRow.strength, DoseRow.amount)
        .join(DoseRow, DoseRow.event_id == Event.id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since)
        .order_by(Event.at)
    )
    return [
        (at, product, strength, float(amount)) for at, product, strength, amount in session.execute(query)
    ]


def panels(session: Session) -> list[PanelRow]:
    """Every panel that a pool in use is bound to, of whatever account: for the worker alone."""
    query = select(PanelRow).join(Pool, Pool.id == PanelRow.pool_id).where(Pool.archived_at.is_(None))
    return list(session.scalars(query.order_by(PanelRow.bound_at, PanelRow.pool_id)))


def gauges(
    session: Session, pool_id: UUID, most: int = 40
) -> list[tuple[datetime, str, dict[str, float | str]]]:
    """Readings of the filter's gauge and its cleanings, oldest first of the newest: (at, kind, details)."""
    query = (
        select(Event)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
        .where(Event.kind.in_(("pressure", "backwash", "filter_clean")))
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(most)
    )
    events = with_details(session, session.scalars(query))
    return [(e.at, e.kind, e.detail.details) for e in reversed(events) if isinstance(e.detail, EntryRow)]
