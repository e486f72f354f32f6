"""When a task is due, and why: a pure function of its schedule, of what was done, and of what was said of it.

Completions are the log: nothing here is ticked. What is missed collapses, so a task is due once, however long
it was left. ``next_due`` does not depend on the day one asks; ``stands`` says how it is on a day.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any, Literal

from kumpan.core.care.recur import Window, in_words, occurrences

Anchor = Literal["calendar", "completion", "once", "adaptive"]
# Done this share of an interval, and this many days, before a fixed day it counts for that day (our own).
_EARLY_SHARE, _EARLY_DAYS = 4, 7
PUT_OFF_MOST_DAYS = 366


@dataclass(frozen=True)
class Task:
    """A standing duty of one pool.

    since: the day it was taken up. first_days: days from then until it is first due. days: its interval
    (completion), rrule: its fixed days (calendar), on: its only day (once), params: of its adaptive rule.
    """

    id: str
    rule_id: str
    anchor: Anchor
    since: date
    first_days: int = 0
    days: int = 0
    rrule: str = ""
    on: date | None = None
    params: Mapping[str, Any] = field(default_factory=dict)
    window: Window | None = None


@dataclass(frozen=True)
class Said:
    """What was said of a task: put off until a day, or skipped with a reason (until None)."""

    at: datetime
    until: date | None
    why: str = ""


@dataclass(frozen=True)
class Due:
    """When a task is next due, whatever day it is now, and why, in words; None: not at all as things are.
    lapses: from when on it is of no use any more.
    """

    on: date | None
    why: str = ""
    lapses: date | None = None


@dataclass(frozen=True)
class Stands:
    """A task on a day. state: due (today), overdue, coming or none; missed: how often it came round since,
    beyond the once that is due.
    """

    state: Literal["due", "overdue", "coming", "none"]
    on: date | None
    why: str
    missed: int = 0


def next_due(task: Task, done: datetime | None, said: list[Said], told: Due | None = None) -> Due:
    """When a task is due next. done: when it was last done, on the pool's clock; said: of it, in any order;
    told: what its adaptive rule says.

    What was put off waits until that day, unless it was done or skipped since; skipped counts like done, but
    is not.
    """
    skipped = max((s for s in said if s.until is None), key=lambda s: s.at, default=None)
    last = max(filter(None, (done, skipped.at if skipped else None)), default=None)
    found = _by_anchor(task, last, told)
    if found.on is None:
        return found
    if skipped is not None and last == skipped.at:
        reason = f": {skipped.why}" if skipped.why else ""
        why = f"{found.why} Skipped on {day_words(skipped.at.date())}{reason}."
        found = Due(found.on, why, found.lapses)
    return _put_off(found, [s for s in said if last is None or s.at > last])


def _put_off(due: Due, said: list[Said]) -> Due:
    """A day moved to the one it was last put off to."""
    until = max(((s.at, s.until) for s in said if s.until), default=(None, None))[1]
    if until is None or due.on is None or until <= due.on:
        return due
    return Due(until, f"{due.why} Put off until {day_words(until)}.", due.lapses)


def _by_anchor(task: Task, last: datetime | None, told: Due | None) -> Due:
    if task.anchor == "adaptive":
        return _in_window(task, told or Due(None))
    if task.anchor == "once":
        done = last is not None and last.date() >= task.since
        return Due(None if done else task.on, "" if task.on is None else f"For {day_words(task.on)}.")
    if task.anchor == "calendar":
        return Due(_next_fixed(task, last), _sentence(in_words(task.rrule)))
    first = task.since + timedelta(days=task.first_days)
    if last is None:
        return _in_window(task, Due(first, f"{every_words(task.days)}; not done yet."))
    # A duty taken up today was not neglected before.
    on = max(task.since, last.date() + timedelta(days=task.days))
    return _in_window(task, Due(on, f"{every_words(task.days)}; last done {day_words(last.date())}."))


def _in_window(task: Task, due: Due) -> Due:
    """A day outside the task's window is the one at which it opens."""
    if due.on is None or task.window is None:
        return due
    return Due(task.window.first_in(due.on), due.why, due.lapses)


def _next_fixed(task: Task, last: datetime | None) -> date | None:
    """The first fixed day that nothing done counts for: what was done late counts for the day it was late
    for, and moves none.
    """
    begin = task.since - timedelta(days=1)
    days = occurrences(task.rrule, task.since, task.window, begin if last is None else last.date())
    first = next(days, None)
    if first is None or last is None:
        return first
    before = task.since if last.date() < task.since else last.date()
    gap = (next(days, first) - first).days
    early = min(_EARLY_DAYS, gap // _EARLY_SHARE)
    if (first - before).days <= early:
        return next(occurrences(task.rrule, task.since, task.window, first), None)
    return first


def stands(task: Task, due: Due, today: date) -> Stands:
    """How a task stands on a day of its pool."""
    on = due.on
    if on is None or (due.lapses is not None and today > due.lapses):
        return Stands("none", None, due.why)
    window = task.window if task.anchor != "once" else None
    if window is not None and on <= today:
        if not window.holds(today):
            return Stands("coming", window.first_in(today), due.why)
        on = max(on, window.opened(today))  # what was left last season is begun anew, once
    if on > today:
        return Stands("coming", on, due.why)
    missed = sum(1 for day in foretold(task, on, today + timedelta(days=1))) - 1
    return Stands("due" if on == today else "overdue", on, due.why, max(0, missed))


def foretold(task: Task, first: date, until: date) -> Iterator[date]:
    """The days a task comes round on from its next one up to a day, each done on time."""
    if task.anchor in ("once", "adaptive"):
        if first < until:
            yield first
        return
    if task.anchor == "calendar":
        yield first
        for day in occurrences(task.rrule, task.since, task.window, first):
            if day >= until:
                return
            yield day
        return
    day = first
    while day < until:
        yield day
        day += timedelta(days=task.days)
        if task.window is not None:
            day = task.window.first_in(day)


def _sentence(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}."


def every_words(days: int) -> str:
    """An interval as people say it, the nearest round one.

    >>> ", ".join(map(every_words, (1, 3, 7, 28, 30, 91, 365)))
    'Every day, Every 3 days, Every week, Every 4 weeks, Every month, Every 3 months, Every year'
    """
    weeks, odd = divmod(days, 7)
    months = round(days / 30.4)
    if (days < 28 and odd) or (abs(days - months * 30.4) > 2 and odd):
        return "Every day" if days == 1 else f"Every {days} days"
    if not odd and weeks < 9:
        return "Every week" if weeks == 1 else f"Every {weeks} weeks"
    if months % 12 == 0:
        return "Every year" if months == 12 else f"Every {months // 12} years"
    return "Every month" if months == 1 else f"Every {months} months"


def day_words(day: date) -> str:
    """A day as a reason names it: ``14 Nov 2026``."""
    return f"{day.day} {day:%b %Y}"
