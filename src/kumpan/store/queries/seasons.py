"""What the log says of a pool's seasons."""

from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any
from uuid import UUID

from sqlalchemy import Select, bindparam, select
from sqlalchemy.orm import Session

from kumpan.store.queries.log import with_details
from kumpan.store.tables.log import EntryRow, Event, ReadingRow
from kumpan.store.tables.sheets import SheetRow


@dataclass(frozen=True)
class Season:
    """An opening or a closing as logged: when, opened or closed, the water's temperature (C) and how it
    looked, as far as known.
    """

    at: datetime
    what: str
    temp_c: float | None
    looked: str


def seasons(session: Session, pool_id: UUID, most: int = 12) -> list[Season]:
    """The newest openings and closings, newest first."""
    return [
        Season(at, str(held.get("what", "")), _number(held.get("temp")), str(held.get("looked", "")))
        for at, held in session.execute(_seasons(), {"pool": pool_id, "most": most})
    ]


@cache
def _seasons() -> Select[datetime, dict[str, Any]]:
    return (
        select(Event.at, EntryRow.details)
        .join(EntryRow, EntryRow.event_id == Event.id)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.kind == "season")
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(bindparam("most"))
    )


def newest_season(session: Session, pool_id: UUID) -> Season | None:
    """The last opening or closing; None where none was logged."""
    return next(iter(seasons(session, pool_id, 1)), None)


def _number(value: object) -> float | None:
    return float(value) if isinstance(value, int | float) else None


def season_sheets(session: Session, pool_id: UUID, *subjects: str, most: int = 8) -> list[Event]:
    """The newest plans of these subjects, ended or not, newest first."""
    query = (
        select(Event)
        .join(SheetRow, SheetRow.event_id == Event.id)
        .where(
            Event.pool_id == pool_id,
            Event.deleted_at.is_(None),
            Event.kind == "guide",
            SheetRow.subject.in_(subjects),
        )
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(most)
    )
    return with_details(session, session.scalars(query))


def temperatures(session: Session, pool_id: UUID, since: datetime) -> list[tuple[datetime, float]]:
    """The water's temperature as read since an instant, oldest first: (at, C)."""
    query = (
        select(Event.at, ReadingRow.value)
        .join(ReadingRow, ReadingRow.event_id == Event.id)
        .where(
            Event.pool_id == pool_id,
            Event.deleted_at.is_(None),
            Event.at >= since,
            ReadingRow.measure == "temp",
        )
        .order_by(Event.at, Event.id)
    )
    return [(at, float(value)) for at, value in session.execute(query)]
