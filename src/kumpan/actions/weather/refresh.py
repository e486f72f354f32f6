"""Keep the weather of every placed pool up to date; a service that fails costs nothing but its news."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.outside import SourceFailed
from kumpan.actions.times import today_at
from kumpan.actions.weather.source import Answer, Asked
from kumpan.core.weather import WeatherDay
from kumpan.store import care, database, queries
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.weather import WeatherFetchRow
from kumpan.store.water import estimate_moved

_ANEW, _AGAIN = timedelta(hours=1), timedelta(minutes=10)  # after an answer, and after none (our own)
_AHEAD_DAYS = 7
# What a year ago these days were like tells when to open and close (``core.seasons``), and a little over.
_BACK = timedelta(days=380)

Ask = Callable[[Asked], Answer]


@dataclass(frozen=True)
class _Due:
    """A pool whose weather is to be asked for, and what of it."""

    pool_id: UUID
    asked: Asked


def refresh(sessions: sessionmaker[Session], ask: Ask, now: datetime) -> int:
    """Ask for what is due, pool by pool, no session held meanwhile. Returns how many answered."""
    due = database.run(sessions, lambda s: [one for p in queries.placed_pools(s) if (one := _due(s, p, now))])
    answered = 0
    for one in due:
        try:
            answer: Answer | SourceFailed = ask(one.asked)
            answered += 1
        except SourceFailed as error:
            answer = error
        database.run(sessions, lambda s, d=one, a=answer: _keep(s, d, a, now))  # type: ignore[misc]
    return answered


def _due(session: Session, pool: Pool, now: datetime) -> _Due | None:
    """What to ask of a pool: from the last day that was measured on, and the days ahead; None so soon after
    the last asking.
    """
    assert pool.latitude is not None and pool.longitude is not None
    last = queries.weather_fetch(session, pool.id)
    if last is not None and last.tried_at <= now < last.tried_at + (_AGAIN if last.problem else _ANEW):
        return None
    today = today_at(pool, now)
    first = today - _BACK
    kept = queries.weather_days(session, pool.id, first, today)
    first = _first_missing(kept, first)
    asked = Asked(pool.latitude, pool.longitude, pool.time_zone, first, today + timedelta(days=_AHEAD_DAYS))
    return _Due(pool.id, asked)


def _first_missing(kept: list[WeatherDay], first: date) -> date:
    """The first day that was not yet measured when it was told."""
    measured = {one.day for one in kept if not one.outlook}
    while first in measured:
        first += timedelta(days=1)
    return first


def _keep(session: Session, due: _Due, answer: Answer | SourceFailed, now: datetime) -> None:
    pool = session.get(Pool, due.pool_id, with_for_update=True)
    if pool is None or (pool.latitude, pool.longitude) != (due.asked.latitude, due.asked.longitude):
        return  # it was moved meanwhile
    row = queries.weather_fetch(session, due.pool_id)
    if row is None:
        row = WeatherFetchRow(pool_id=due.pool_id, told_at=None, source="", simulated=False)
        session.add(row)
    row.tried_at = now
    if isinstance(answer, SourceFailed):
        row.problem = str(answer)
        return
    row.problem, row.told_at = "", now
    row.source, row.simulated = answer.source, answer.simulated
    queries.keep_weather(session, due.pool_id, answer.days)
    session.flush()
    if answer.days:
        first = min(one.day for one in answer.days)
        estimate_moved(session, pool.id, None, datetime.combine(first, time(), ZoneInfo(pool.time_zone)))
    care.moved(session, due.pool_id, ("weather",))
