"""Change how tasks come round, add one's own, tick them, put them off and skip them."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import checked_time, local_instant, today_at
from kumpan.core.care.recur import Every, check_opens, checked_days, checked_window, rule_of
from kumpan.core.care.rules import BY_ID, OWN
from kumpan.core.care.schedule import PUT_OFF_MOST_DAYS
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.log.kinds import KINDS, checked_entry
from kumpan.core.records import TypedField, checked_date
from kumpan.store import queries
from kumpan.store.care import FOUND, fit, keep_task
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.log import EntryRow, Event, MarkRow
from kumpan.store.work import moved

_MOST_OWN = 40
_AHEAD_DAYS = 3660


@dataclass(frozen=True)
class Repeat:
    """How a task comes round, as chosen. anchor: completion (every ``days`` after it was done), calendar
    (``every``), once (``on``, YYYY-MM-DD) or run_hours (every ``hours`` of the pump); empty as the rule says.
    clock: a time of day for calendars, empty all day.
    """

    anchor: str = ""
    days: int = 0
    every: Every | None = None
    on: str = ""
    hours: float = 0.0
    season_from: str = ""
    season_to: str = ""
    clock: str = ""


@dataclass(frozen=True)
class NewTask:
    """A person's own task."""

    id: UUID
    title: str
    repeat: Repeat
    minutes: float = 15.0


@dataclass(frozen=True)
class Done:
    """A task ticked: the entry's id, when (local: on the pool's clock, where it was not now), how long it
    took (text, empty unless said) and a note. found: of an inspection.
    """

    id: UUID
    at: datetime
    local: str = ""
    minutes: str = ""
    note: str = ""
    found: str = ""
    performed_by: str = ""


@dataclass(frozen=True)
class Word:
    """Something said of a task: put off (``snooze``, until YYYY-MM-DD) or skipped (``skip``, why)."""

    id: UUID
    at: datetime
    verb: str
    value: str = ""
    performed_by: str = ""


def _locked(context: Context, task_id: UUID) -> TaskRow:
    """A task that is in use, its pool's row locked first."""
    row = queries.task(context.session, context.account.id, task_id)
    queries.pool(context.session, context.account.id, row.pool_id, lock=True)
    context.session.refresh(row)
    if row.ended_at is not None:
        text = "This is not done at this pool any more: what it was for is gone, or the cadence changed."
        raise Conflict("ended", text)
    return row


def add_task(context: Context, pool_id: UUID, new: NewTask) -> TaskRow:
    """Add a task of the person's own. Sending it again returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    known = context.session.get(TaskRow, new.id)
    if known is not None:
        if known.pool_id != pool.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    problems = []
    if not new.title.strip():
        problems.append(FieldProblem("title", "empty", "Say what is to be done."))
    if not 1 <= new.minutes <= 1440:
        problems.append(FieldProblem("minutes", "out_of_range", "Between a minute and a day."))
    if sum(r.rule_id == OWN.id for r in queries.tasks(context.session, pool.id)) >= _MOST_OWN:
        problems.append(FieldProblem("title", "too_many", f"At most {_MOST_OWN} of one's own."))
    if not new.repeat.anchor:
        problems.append(FieldProblem("anchor", "missing", "Say how it comes round."))
    if problems:
        raise InvalidInput(*problems)
    row = TaskRow(
        id=new.id, account_id=pool.account_id, pool_id=pool.id, pool=pool, subject=OWN.group, rule_id=OWN.id,
        since=today_at(pool, context.now), own=True, revision=1, created_at=context.now, next_why="",
        params={"title": new.title.strip(), "minutes": new.minutes},
    )  # fmt: skip
    _set(context, row, new.repeat)
    context.session.add(row)
    context.session.flush()
    keep_task(context.session, row)
    return row


def change_task(context: Context, task_id: UUID, repeat: Repeat, on: bool, revision: int) -> TaskRow:
    """Change how a task comes round or turn it off, if nobody changed it since. An empty anchor goes back to
    what its rule says.
    """
    row = _locked(context, task_id)
    check_revision(row.revision, revision, "task")
    row.off_at = None if on else row.off_at or context.now
    if repeat.anchor:
        row.own = True
        _set(context, row, repeat)
    elif row.rule_id not in FOUND | {OWN.id}:
        row.own = False
        fit(context.session, row.pool, context.now)
    row.revision += 1
    context.session.flush()
    keep_task(context.session, row)
    return row


def remove_task(context: Context, task_id: UUID) -> TaskRow:
    """Take a person's own task, or a finding's, off. A rule's is turned off instead."""
    row = _locked(context, task_id)
    if not row.own or BY_ID[row.rule_id].met_by:
        raise Conflict("not_own", "Turn it off instead: it comes from what stands at this pool.")
    row.ended_at = context.now
    context.session.flush()
    return row


def _set(context: Context, row: TaskRow, repeat: Repeat) -> None:
    window = checked_window(repeat.season_from, repeat.season_to)
    kept = {n: v for n, v in row.params.items() if n not in ("on", "adaptive", "hours", "clock")}
    row.since = today = today_at(row.pool, context.now)  # what it was before is no neglect
    if repeat.clock:
        kept["clock"] = _clock(repeat.clock)
    row.rrule, row.days, row.anchor = "", 0, repeat.anchor
    if repeat.anchor == "completion":
        row.days = checked_days(repeat.days)
    elif repeat.anchor == "calendar":
        row.rrule = rule_of(repeat.every or Every(""))
        check_opens(row.rrule, row.since, window)
    elif repeat.anchor == "once":
        kept["on"] = _ahead(repeat.on, today, "on").isoformat()
    elif repeat.anchor == "run_hours":
        if not 1 <= repeat.hours <= 100_000:
            text = "Between 1 and 100,000 hours of the pump."
            raise InvalidInput(FieldProblem("hours", "out_of_range", text))
        row.anchor = "adaptive"
        kept |= {"adaptive": "by_run_hours", "hours": repeat.hours}
    else:
        raise InvalidInput(FieldProblem("anchor", "unknown_choice", "Choose how it comes round."))
    kept.pop("first_days", None)
    row.params = kept
    row.season = window.text if window else ""


def _clock(text: str) -> str:
    try:
        return time.fromisoformat(text.strip()).isoformat("minutes")
    except ValueError:
        message = "Type a time of day, like 19:30, or leave it empty."
        raise InvalidInput(FieldProblem("clock", "not_a_time", message)) from None


def _ahead(text: str, today: date, path: str, most_days: int = _AHEAD_DAYS) -> date:
    """A day from today on. Raises InvalidInput for one gone by, or so far off that nobody meant it."""
    day = checked_date(text, today, path, past=False)
    if day < today:
        raise InvalidInput(FieldProblem(path, "in_past", "That day has gone by."))
    if day > today + timedelta(days=most_days):
        raise InvalidInput(FieldProblem(path, "too_late", f"At most {most_days} days ahead. Check the year."))
    return day


def tick_task(context: Context, task_id: UUID, done: Done) -> Event:
    """Write down that a task was done: one entry, of its own kind. Sending it again returns the first
    result.
    """
    row = _locked(context, task_id)
    rule, pool = BY_ID[row.rule_id], row.pool
    if rule.writes is None:
        raise Conflict(
            "done_elsewhere", "This is done where it is done, not ticked: type the test, or log it."
        )
    kind, fields = rule.writes
    known = queries.repeated(context.session, pool, done.id, kind)
    if known:
        return known
    at = local_instant(done.local, pool.time_zone) if done.local else done.at
    typed = _typed(row, kind, fields, done)
    note = done.note or (str(row.params["title"]) if "task_id" in typed else "")
    event = Event(
        id=done.id,
        pool=pool,
        at=checked_time(at, context.now, "local" if done.local else "at"),
        kind=kind,
        performed_by=done.performed_by or context.actor,
        created_at=context.now,
    )
    event.detail = EntryRow(
        details=checked_entry(kind, typed, note, today_at(pool, context.now)),
        typed={name: vars(one) for name, one in typed.items()},
        note=note.strip(),
    )
    context.session.add(event)
    moved(context.session, pool.id, context.now, event.at, kind=kind)
    return event


def _typed(row: TaskRow, kind: str, fields: Mapping[str, str], done: Done) -> dict[str, TypedField]:
    """The fields of the entry that a tick writes, as far as its kind has them."""
    typed = {name: TypedField(value) for name, value in fields.items()}
    if row.rule_id in FOUND or row.rule_id == OWN.id:
        typed["task_id"] = TypedField(str(row.id))
    takes = {f.id for f in KINDS[kind].fields}
    if done.minutes.strip() and "minutes" in takes:
        typed["minutes"] = TypedField(done.minutes, "min")
    if done.found and "found" in takes:
        typed["found"] = TypedField(done.found)
    return typed


def say_of_task(context: Context, task_id: UUID, word: Word) -> Event:
    """Put a task off, or skip it this once. Undo by deleting the event. Sending it again returns the first
    result.
    """
    row = _locked(context, task_id)
    known = queries.repeated(context.session, row.pool, word.id, "mark")
    if known:
        return known
    value = word.value.strip()
    if word.verb == "snooze":
        value = _ahead(value, today_at(row.pool, context.now), "value", PUT_OFF_MOST_DAYS).isoformat()
    elif word.verb != "skip":
        raise InvalidInput(FieldProblem("verb", "unknown_choice", "A task is put off, or skipped."))
    event = Event(
        id=word.id,
        pool=row.pool,
        at=checked_time(word.at, context.now),
        kind="mark",
        performed_by=word.performed_by or context.actor,
        created_at=context.now,
    )
    event.detail = MarkRow(sheet_id=None, task_id=str(row.id), key="", verb=word.verb, value=value[:400])
    context.session.add(event)
    context.session.flush()
    keep_task(context.session, row)
    return event
