"""Instants as people type them."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.intake.moments import on_clock
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool

_FUTURE_SLACK = timedelta(minutes=5)  # clocks differ a little


def checked_time(at: datetime, now: datetime, field: str = "at") -> datetime:
    """The instant something was done. Raises InvalidInput for one in the future, or long before there were
    records; from a clock that is a little fast it is now, so that the estimate of this moment counts it.
    """
    if at > now + _FUTURE_SLACK:
        text = "That is in the future. Check the date and time."
        raise InvalidInput(FieldProblem(field, "in_future", text))
    if at.year < 1990:
        raise InvalidInput(FieldProblem(field, "too_old", "That is before 1990. Check the year."))
    return min(at, now)


def today_at(pool: Pool, now: datetime) -> date:
    """The day it is at a pool."""
    return now.astimezone(ZoneInfo(pool.time_zone)).date()


def local_instant(local: str, zone_name: str, field: str = "local") -> datetime:
    """An instant from a date and time on the pool's clock. Raises InvalidInput for times that did not exist.

    >>> local_instant("2026-07-01T18:30", "America/Chicago").isoformat()
    '2026-07-01T23:30:00+00:00'
    """
    try:
        typed = datetime.fromisoformat(local)
    except ValueError:
        raise InvalidInput(FieldProblem(field, "not_a_time", "Type a date and a time.")) from None
    if not 1950 <= typed.year <= 2200:  # at the calendar's ends another zone's time is no time at all
        code = "too_old" if typed.year < 1950 else "in_future"
        raise InvalidInput(FieldProblem(field, code, "Check the year."))
    return typed.astimezone(UTC) if typed.tzinfo else on_clock(typed, ZoneInfo(zone_name), field)


def shown_local(event: Event) -> str:
    """The event's time on the pool's clock, as a form shows it."""
    return event.at.astimezone(ZoneInfo(event.pool.time_zone)).strftime("%Y-%m-%dT%H:%M")


def season_start(now: datetime) -> datetime:
    """Since when what was used is counted: the first of January, in the zone of ``now``."""
    return datetime(now.year, 1, 1, tzinfo=now.tzinfo)
