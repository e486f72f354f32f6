"""Care: the year as a rail, what is due, every task with its why, and how the pool is looked after."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.care.due import Visit, has_minutes, standing_of, title_of, visit_of, when_words
from kumpan.actions.care.feed import FeedView, feed_views
from kumpan.actions.care.settings import CareInput
from kumpan.actions.context import Context
from kumpan.actions.times import today_at
from kumpan.core.care.recur import in_words
from kumpan.core.care.rules import BY_ID, OWN
from kumpan.core.care.schedule import Due, every_words, foretold, stands
from kumpan.core.care.site import CADENCES, FILTER_BY, ORDERS, SHOCKS, TEST_WHEN
from kumpan.core.care.visit import Duty
from kumpan.store import queries
from kumpan.store.care import care_of, chosen_of, task_of
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.pools import Pool
from kumpan.store.work import PlannedDay, planned_days

# The year's rows, in their order.
GROUPS = {
    "test": "Tests", "feed": "Feeding", "clean": "Cleaning", "filter": "Filter", "cell": "Cell",
    "gear": "Gear", "winter": "Winter", "safety": "Safety", "own": "Your own", "papers": "Papers",
}  # fmt: skip
_BACK_DAYS, _AHEAD_DAYS = 240, 125
_CALENDAR_DAYS = 42


@dataclass(frozen=True)
class TaskView:
    """A task as it stands. every: how it comes round, in words; season: MM-DD/MM-DD, empty all year; own:
    whether the person set that; anchor, days, rrule, on, hours: what a form needs to change it.
    """

    id: UUID
    rule_id: str
    group: str
    title: str
    state: str
    when: str
    why: str
    late: str
    every: str
    season: str
    anchor: str
    days: int
    rrule: str
    on: str
    hours: float
    own: bool
    mine: bool
    off: bool
    ticks: bool
    opens: str
    minutes: int
    school: str
    reason_id: str
    revision: int


@dataclass(frozen=True)
class YearRow:
    """A kind of work along the year: days on which it was done, and those on which it comes round."""

    group: str
    label: str
    done: tuple[date, ...]
    coming: tuple[date, ...]
    overdue: bool


@dataclass(frozen=True)
class Year:
    """The year as a rail. season: stretches in which the pool is in use, empty all year."""

    start: date
    today: date
    end: date
    rows: tuple[YearRow, ...]
    season: tuple[tuple[date, date], ...]


@dataclass(frozen=True)
class CalendarDay:
    """A day of the calendar: what comes round on it, and what was done."""

    day: date
    due: tuple[str, ...]
    done: tuple[str, ...]


@dataclass(frozen=True)
class Choice:
    """An answer to how a pool is looked after."""

    id: str
    label: str
    what: str = ""


@dataclass(frozen=True)
class OtherPool:
    """Another pool of the account with work due."""

    pool_id: UUID
    name: str
    due: int
    since: str


@dataclass(frozen=True)
class CareView:
    """All of Care for one pool. calendar: six weeks, from the Monday of the week before."""

    pool_id: UUID
    headline: str
    visit: Visit
    tasks: tuple[TaskView, ...]
    year: Year
    calendar: tuple[CalendarDay, ...]
    chosen: CareInput
    has_minutes: int
    cadences: tuple[Choice, ...]
    shocks: tuple[Choice, ...]
    tests_when: tuple[Choice, ...]
    orders: tuple[Choice, ...]
    filters_by: tuple[Choice, ...]
    feeds: tuple[FeedView, ...]
    others: tuple[OtherPool, ...]
    revision: int


def care_view(context: Context, pool_id: UUID) -> CareView:
    """Care for one pool."""
    session = context.session
    pool = queries.pool(session, context.account.id, pool_id)
    today = today_at(pool, context.now)
    standing = standing_of(context, pool)
    visit, live = visit_of(standing), standing.on
    shown = [_task(d, row, today) for d, row in sorted(standing.all, key=_by_day)]
    done = _done(context, pool, today)
    chosen = CareInput(**{"cadence": care_of(pool).cadence, **chosen_of(pool)})
    return CareView(
        pool_id=pool.id,
        headline=visit.sentence or _quiet(live, today),
        visit=visit,
        tasks=tuple(shown),
        year=_year(pool, live, done, today),
        calendar=_calendar(live, done, today, planned_days(session, pool.id, context.now)),
        chosen=chosen,
        has_minutes=round(has_minutes(care_of(pool))),
        cadences=tuple(Choice(c.id, c.label, c.what) for c in CADENCES.values()),
        shocks=_choices(SHOCKS),
        tests_when=_choices(TEST_WHEN),
        orders=_choices(ORDERS),
        filters_by=_choices(FILTER_BY),
        feeds=feed_views(context, pool),
        others=tuple(_others(context, pool)),
        revision=pool.revision,
    )


def _by_day(pair: tuple[Duty, TaskRow]) -> tuple[bool, date, str]:
    """What comes next first; what waits for an event, and what is turned off, last."""
    duty, row = pair
    return row.off_at is not None, duty.stands.on or date.max, duty.title


def _choices(labels: dict[str, str]) -> tuple[Choice, ...]:
    return tuple(Choice(id, label) for id, label in labels.items())


def _quiet(live: list[tuple[Duty, TaskRow]], today: date) -> str:
    coming = [(d.stands.on, d.title) for d, _ in live if d.stands.state == "coming" and d.stands.on]
    if not coming:
        return "Nothing is due."
    on, title = min(coming)
    when = when_words(on, today)
    return f"Nothing is due. Next: {title[:1].lower()}{title[1:]}, {when}."


def _every(row: TaskRow) -> str:
    if row.anchor == "completion":
        return f"{every_words(row.days).lower()}, after it was done"
    if row.anchor == "calendar":
        return in_words(row.rrule)
    if row.anchor == "once":
        return "once"
    named = str(row.params.get("adaptive") or BY_ID[row.rule_id].adaptive)
    return {
        "by_gauge": "by the gauge",
        "by_deposit": "as its plates and its water ask for",
        "after_event": "after an event",
        "by_paper": "by its date",
        "after_paper": "by its date",
        "by_rain": "by the rain, and by its days",
        "before_freeze": "before it freezes",
        "by_run_hours": f"every {row.params.get('hours', 0):g} hours of the pump",
    }[named]


def _task(duty: Duty, row: TaskRow, today: date) -> TaskView:
    rule, stands = duty.rule, duty.stands
    return TaskView(
        id=row.id,
        rule_id=row.rule_id,
        group=row.subject,
        title=title_of(row),
        state="off" if row.off_at else stands.state,
        when="" if stands.on is None or row.off_at else when_words(stands.on, today),
        why=stands.why,
        late=rule.if_late,
        every=_every(row),
        season=row.season,
        anchor="run_hours" if row.params.get("adaptive") == "by_run_hours" else row.anchor,
        days=row.days,
        rrule=row.rrule,
        on=str(row.params.get("on", "")),
        hours=float(row.params.get("hours", 0.0)),
        own=row.own,
        mine=row.own and not rule.met_by,
        off=row.off_at is not None,
        ticks=rule.writes is not None,
        opens=str(row.params.get("opens") or rule.opens),
        minutes=max(1, round(duty.minutes)),
        school=rule.school,
        reason_id=rule.reason_id,
        revision=row.revision,
    )


_Done = list[tuple[date, str, str]]  # day, group, title


def _done(context: Context, pool: Pool, today: date) -> _Done:
    """What was done in the year behind, by its kind of work."""
    zone = ZoneInfo(pool.time_zone)
    since = context.now - timedelta(days=_BACK_DAYS + 7)
    keys = {key: rule for rule in reversed(BY_ID.values()) for key in rule.keys}
    found: _Done = []
    for kind, what, at in queries.done_since(context.session, pool.id, since):
        name = {"water_test": "read.fc", "dose": f"dose.{what}"}.get(kind, f"{kind}.{what}" if what else kind)
        rule = keys.get(name) or keys.get(kind) or (OWN if kind == "upkeep" else None)
        if rule is not None:
            title = "Test" if kind == "water_test" else rule.title
            found.append((at.astimezone(zone).date(), rule.group, title))
    return found


def _coming(duty: Duty, row: TaskRow, today: date, until: date) -> Iterable[date]:
    if duty.stands.on is None:
        return ()
    task, on = task_of(row), duty.stands.on
    if duty.stands.state == "overdue" and task.anchor == "completion":
        on = today  # done today it counts from today
    return foretold(task, on, until)


def _year(pool: Pool, live: list[tuple[Duty, TaskRow]], done: _Done, today: date) -> Year:
    start, end = today - timedelta(days=_BACK_DAYS), today + timedelta(days=_AHEAD_DAYS)
    rows = []
    for group, label in GROUPS.items():
        mine = [(d, r) for d, r in live if r.subject == group]
        days = sorted({day for day, of, _ in done if of == group and day >= start})
        coming = sorted({day for d, r in mine for day in _coming(d, r, today, end) if day >= today})
        overdue = any(d.stands.state == "overdue" for d, _ in mine)
        if coming or days or overdue:
            rows.append(YearRow(group, label, tuple(days), tuple(coming), overdue))
    return Year(start, today, end, tuple(rows), tuple(_in_use(pool, start, end)))


def _in_use(pool: Pool, start: date, end: date) -> Iterable[tuple[date, date]]:
    """The stretches in which the pool is in use; none where it is all year."""
    season = care_of(pool).season
    if season is None:
        return
    day = season.first_in(start)
    while day < end:
        yield day, min(season.closed(day), end)
        day = season.first_in(season.closed(day) + timedelta(days=1))


def _calendar(
    live: list[tuple[Duty, TaskRow]], done: _Done, today: date, plans: list[PlannedDay]
) -> tuple[CalendarDay, ...]:
    first = today - timedelta(days=today.weekday() + 7)
    until = first + timedelta(days=_CALENDAR_DAYS)
    due: dict[date, list[str]] = {}
    for duty, row in live:
        for day in _coming(duty, row, today, until):
            due.setdefault(max(day, today), []).append(duty.title)
    for plan in plans:
        count = len(plan.titles)
        due.setdefault(max(plan.day, today), []).append(
            f"{plan.name}: {count} step{'s' if count > 1 else ''}"
        )
    was: dict[date, list[str]] = {}
    for day, _, title in done:
        was.setdefault(day, []).append(title)
    days = (first + timedelta(days=n) for n in range(_CALENDAR_DAYS))
    return tuple(
        CalendarDay(day, tuple(dict.fromkeys(due.get(day, ()))), tuple(dict.fromkeys(was.get(day, ()))))
        for day in days
    )


def _others(context: Context, pool: Pool) -> Iterable[OtherPool]:
    """The account's other pools with work due: one statement for all of them."""
    held: dict[UUID, list[tuple[date, TaskRow]]] = {}
    for row, on in due_rows(context):
        if row.pool_id != pool.id:
            held.setdefault(row.pool_id, []).append((on, row))
    for pool_id, found in held.items():
        other = found[0][1].pool
        today = context.now.astimezone(ZoneInfo(other.time_zone)).date()
        since = min(on for on, _ in found)
        yield OtherPool(pool_id, other.name, len({r.subject for _, r in found}), when_words(since, today))


def due_rows(context: Context) -> Iterable[tuple[TaskRow, date]]:
    """Every task of the account that is due on its pool's own today, and since when. One statement: it asks
    for what is due on the latest date there is on Earth, then each pool's own day decides.
    """
    latest = (context.now + timedelta(hours=14)).date()
    for row in queries.due_by(context.session, context.account.id, latest):
        today = context.now.astimezone(ZoneInfo(row.pool.time_zone)).date()
        stood = stands(task_of(row), Due(row.next_due, row.next_why, row.next_lapses), today)
        if stood.state in ("due", "overdue") and stood.on is not None:
            yield row, stood.on
