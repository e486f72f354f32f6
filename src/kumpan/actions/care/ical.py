"""What comes round as an iCalendar (RFC 5545), written by the icalendar package.

A task on fixed days, or at an interval, is an event with a rule for each season; the rest is an event for its
next day.
"""

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event, Timezone, TimezoneDaylight, TimezoneStandard, vDuration

from kumpan.actions.care.due import standing_of
from kumpan.actions.care.feed import digest_of
from kumpan.actions.context import Context
from kumpan.actions.times import today_at
from kumpan.core.care.recur import at_clock
from kumpan.core.care.schedule import foretold
from kumpan.core.care.visit import Duty
from kumpan.core.errors import NotFound
from kumpan.store import queries
from kumpan.store.care import task_of
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.pools import Pool
from kumpan.store.work import PlannedDay, planned_days

_AHEAD_DAYS = 400


def read_feed(context: Context, token: str) -> bytes:
    """The calendar a token opens, of whatever account it is. Raises NotFound for any other token."""
    row = queries.feed_by_digest(context.session, digest_of(token))
    if row is None:
        raise NotFound("calendar")
    return calendar_of(context, row.account_id, row.pool_id)


def pool_calendar(context: Context, pool_id: UUID) -> bytes:
    """What comes round at one pool of the account."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    return calendar_of(context, pool.account_id, pool.id)


def calendar_of(context: Context, account_id: UUID, pool_id: UUID | None) -> bytes:
    """What comes round at one pool of an account, or at all of them, for the next year."""
    held = queries.pools(context.session, account_id)
    pools = [p for p in held if pool_id in (None, p.id)]
    calendar = Calendar()
    calendar.add("prodid", "-//Kumpan//Care//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", pools[0].name if len(pools) == 1 else "Pools")
    calendar.add("refresh-interval", vDuration(timedelta(hours=6)), parameters={"VALUE": "DURATION"})
    zones: set[str] = set()
    for pool in pools:
        for duty, row in standing_of(context, pool).on:
            for event in _events(context, pool, duty, row):
                calendar.add_component(event)
                zones |= {pool.time_zone} if row.params.get("clock") else set()
        for plan in planned_days(context.session, pool.id, context.now):
            calendar.add_component(_plan_day(context, pool, plan))
    first = context.now - timedelta(days=_AHEAD_DAYS)
    for zone in sorted(zones):
        calendar.subcomponents.insert(0, _zone(zone, first, context.now + timedelta(days=2 * _AHEAD_DAYS)))
    return bytes(calendar.to_ical())


def _plan_day(context: Context, pool: Pool, plan: PlannedDay) -> Event:
    """A day of an opening, a closing or a drain."""
    event = Event()
    event.add("uid", f"{uuid5(plan.sheet_id, plan.day.isoformat())}@kumpan")
    event.add("dtstamp", context.now.astimezone(UTC))
    event.add("summary", f"{plan.name}, {pool.name}")
    event.add("description", "; ".join(plan.titles))
    event.add("dtstart", plan.day)
    event.add("transp", "TRANSPARENT")
    return event


def _zone(name: str, first: datetime, last: datetime) -> Timezone:
    """A time zone between two instants, a component for each change of its clocks: lists of changes (RDATE)
    are not read by every program.
    """
    zone, found = ZoneInfo(name), Timezone()
    found.add("tzid", name)
    _add_clock(found, first, first.astimezone(zone), first.astimezone(zone))
    hour = timedelta(hours=1)
    at = first.astimezone(UTC).replace(minute=0, second=0, microsecond=0)
    while at < last:
        before, after = at.astimezone(zone), (at + hour).astimezone(zone)
        if before.utcoffset() != after.utcoffset():
            # Zones change on the half hour at the finest.
            half = (at + hour / 2).astimezone(zone)
            onset = at + (hour / 2 if half.utcoffset() == after.utcoffset() else hour)
            _add_clock(found, onset, before, after)
        at += hour
    return found


def _add_clock(zone: Timezone, onset: datetime, before: datetime, after: datetime) -> None:
    """The clocks from an instant on. The onset is told on the clock of before (RFC 5545, 3.6.5)."""
    offset, then = before.utcoffset() or timedelta(), after.utcoffset() or timedelta()
    clock = TimezoneDaylight() if after.dst() else TimezoneStandard()
    clock.add("dtstart", onset.astimezone(UTC).replace(tzinfo=None) + offset)
    clock.add("tzoffsetfrom", offset)
    clock.add("tzoffsetto", then)
    clock.add("tzname", after.tzname() or str(then))
    zone.add_component(clock)


def _events(context: Context, pool: Pool, duty: Duty, row: TaskRow) -> Iterator[Event]:
    """A task's events: each stretch of days that one rule gives."""
    if duty.stands.on is None:
        return
    today = today_at(pool, context.now)
    task, end = task_of(row), today + timedelta(days=_AHEAD_DAYS)
    days = [d for d in foretold(task, duty.stands.on, end) if d >= today]
    if duty.stands.on < today:
        # What is overdue stands on today; what comes after it counts from there.
        rest = foretold(task, today, end) if task.anchor == "completion" else days
        days = sorted({today, *rest})
    for number, stretch in enumerate(_stretches(days, row, duty)):
        yield _event(context, pool, duty, row, (number, stretch))


def _stretches(days: list[date], row: TaskRow, duty: Duty) -> Iterator[list[date]]:
    """Days in runs that one rule gives: the same interval apart, or one season's fixed days."""
    run: list[date] = []
    for before, day in pairwise([None, *days]):
        assert day is not None
        if before is not None and not _one_run(before, day, row, duty):
            yield run
            run = []
        if row.params.get("clock") and _skipped(day, row):
            yield from filter(None, (run, [day]))
            run = []
        else:
            run.append(day)
    if run:
        yield run


def _skipped(day: date, row: TaskRow) -> bool:
    """Whether the clocks skip a task's time on a day: then it stands by itself, an hour late."""
    clock = time.fromisoformat(row.params["clock"])
    return at_clock(day, clock, ZoneInfo(row.pool.time_zone)).time() != clock


def _one_run(before: date, day: date, row: TaskRow, duty: Duty) -> bool:
    if row.anchor == "completion":
        return (day - before).days == row.days
    if "BYSETPOS" in row.rrule:
        return False  # right by the standard, and read wrong by programs people use: told day by day
    window = task_of(row).window
    same_season = window is None or window.closed(before) >= day
    overdue = duty.stands.state == "overdue" and before == duty.stands.on
    return same_season and not overdue


def _event(context: Context, pool: Pool, duty: Duty, row: TaskRow, numbered: tuple[int, list[date]]) -> Event:
    number, days = numbered
    event = Event()
    event.add("uid", f"{uuid5(row.id, days[0].isoformat() if number else 'next')}@kumpan")
    event.add("dtstamp", context.now.astimezone(UTC))
    event.add("summary", f"{duty.title}, {pool.name}")
    event.add("description", " ".join(filter(None, (duty.stands.why, duty.rule.if_late))))
    clock = row.params.get("clock")
    if clock:
        zone = ZoneInfo(pool.time_zone)
        event.add("dtstart", at_clock(days[0], time.fromisoformat(clock), zone))
        event.add("duration", timedelta(minutes=max(1, round(duty.minutes))))
    else:
        event.add("dtstart", days[0])
        event.add("transp", "TRANSPARENT")  # all day, and nobody is busy all day with it
    if len(days) > 1:
        event.add("rrule", _rule(row, days, clock, pool))
    return event


def _rule(row: TaskRow, days: list[date], clock: str | None, pool: Pool) -> dict[str, object]:
    if row.anchor == "completion":
        return {"freq": "daily", "interval": row.days, "count": len(days)}
    parts: dict[str, object] = {}
    for part in row.rrule.split(";"):
        name, _, value = part.partition("=")
        parts[name.lower()] = value.split(",")
    # The last day with the event's own type, as the standard asks: an instant in UTC where it has a time.
    last: date | datetime = days[-1]
    if clock:
        last = at_clock(days[-1], time.fromisoformat(clock), ZoneInfo(pool.time_zone)).astimezone(UTC)
    return parts | {"until": last}
