"""The weather kept of pools' places."""

from collections.abc import Iterable
from datetime import date
from functools import cache
from uuid import UUID

from sqlalchemy import Select, bindparam, delete, select
from sqlalchemy.orm import Session

from kumpan.core.weather import WeatherDay
from kumpan.store.tables.estimates import EstimateRow
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.weather import WeatherDayRow, WeatherFetchRow


def weather_days(session: Session, pool_id: UUID, first: date, last: date) -> list[WeatherDay]:
    """The days kept between two, both counted, oldest first."""
    span = {"pool": pool_id, "first": first, "last": last}
    return [row.weather for row in session.scalars(_days(), span)]


@cache
def _days() -> Select[WeatherDayRow]:
    day = WeatherDayRow.day
    query = select(WeatherDayRow).where(WeatherDayRow.pool_id == bindparam("pool"))
    return query.where(day >= bindparam("first"), day <= bindparam("last")).order_by(day)


def newest_weather(session: Session, pool_id: UUID, count: int) -> tuple[WeatherDay, ...]:
    """The last days kept, the outlook among them, oldest first."""
    query = select(WeatherDayRow).where(WeatherDayRow.pool_id == pool_id)
    rows = session.scalars(query.order_by(WeatherDayRow.day.desc()).limit(count))
    return tuple(row.weather for row in reversed(rows.all()))


def keep_weather(session: Session, pool_id: UUID, days: Iterable[WeatherDay]) -> None:
    """Keep days, each in place of what was kept of it."""
    held = {d.day: d for d in days}
    if held:
        session.execute(
            delete(WeatherDayRow).where(WeatherDayRow.pool_id == pool_id, WeatherDayRow.day.in_(held))
        )
    session.add_all(WeatherDayRow(pool_id=pool_id, **vars(one)) for one in held.values())


def weather_fetch(session: Session, pool_id: UUID) -> WeatherFetchRow | None:
    """How the last asking went; None before the first."""
    return session.get(WeatherFetchRow, pool_id)


def forget_weather(session: Session, pool_id: UUID) -> None:
    """Keep nothing of it, nor of the estimate that it helped to make: the pool stands elsewhere."""
    for table in (WeatherDayRow, WeatherFetchRow, EstimateRow):
        session.execute(delete(table).where(table.pool_id == pool_id))


def placed_pools(session: Session) -> list[Pool]:
    """Every pool in use whose place on the map is known, of whatever account: for the worker alone."""
    query = select(Pool).where(
        Pool.archived_at.is_(None), Pool.latitude.is_not(None), Pool.longitude.is_not(None)
    )
    return list(session.scalars(query.order_by(Pool.created_at, Pool.id)))
