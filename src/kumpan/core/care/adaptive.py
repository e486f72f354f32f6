"""Rules of due days that no interval tells: by the gauge, after an event, before a date on paper."""

import math
from collections.abc import Callable
from datetime import date, datetime, time, timedelta

from kumpan.core.care.deposits import next_look
from kumpan.core.care.facts import Facts
from kumpan.core.care.schedule import Due, Task, day_words, every_words
from kumpan.core.records import PSI_KPA

# A loaded filter stands 8 to 10 psi over its clean pressure (common practice): due from the first.
OVER_CLEAN_KPA = 8 * PSI_KPA
# Flow down to so much of the pump's own counts as weak (our own: common practice names no figure).
WEAK_FLOW = 0.75
# After that long an event says nothing of the water any more (our own).
EVENT_LAPSES = timedelta(days=14)
_EVENTS = {
    "rain": "the heavy rain",
    "bathers": "the heavy use",
    "refill": "the fresh water",
    "drain": "the drain",
    "storm": "the storm",
    "shock": "the shock",
}


def by_gauge(task: Task, done: datetime | None, facts: Facts) -> Due:
    """A filter: as soon as its gauge stands 8 psi over the clean pressure; else after ``days``, where they
    are given.
    """
    read, clean = facts.gauge, facts.clean_kpa
    if read is not None and clean is not None and (done is None or read[1] > done):
        over = read[0] - clean
        if over >= OVER_CLEAN_KPA:
            psi = over / PSI_KPA
            return Due(
                read[1].date(), f"The gauge stood {psi:.0f} psi over the clean pressure on {_day(read[1])}."
            )
    flow = facts.flow
    if flow is not None and flow[0] < WEAK_FLOW and (done is None or flow[1] > done):
        return Due(flow[1].date(), f"The flow was down to {flow[0] * 100:.0f} % on {_day(flow[1])}.")
    days = int(task.params.get("days", 0))
    if not days:
        return Due(None, "By the gauge: 8 to 10 psi over the clean pressure.")
    if done is None:
        return Due(task.since, f"By the gauge, and after {days} days; not logged yet.")
    by_time = done.date() + timedelta(days=days)
    return Due(max(by_time, task.since), f"{days} days after it was last cleaned, {_day(done)}.")


def by_deposit(task: Task, done: datetime | None, facts: Facts) -> Due:
    """A cell's plates: an interval learned from the index of its water and from what looks found."""
    cell = facts.cell
    told = [*(one[0] for one in cell.index), *(look.at for look in cell.looks), *cell.cleaned]
    begun = datetime.combine(task.since, time())
    interval = next_look(cell, max(told, default=begun))
    since = max(filter(None, (interval.since, done)), default=begun)
    # Somebody who comes out once a quarter is not called out between.
    days = max(interval.days, int(task.params.get("least", 0)))
    on = max(task.since, since.date() + timedelta(days=days))
    return Due(on, f"{every_words(days)}: {interval.why}.")


def after_event(task: Task, done: datetime | None, facts: Facts) -> Due:
    """A look or a test the day after the newest of ``events`` that nothing was done after."""
    came = [(facts.events[name], name) for name in task.params["events"] if name in facts.events]
    newer = [(at, name) for at, name in came if done is None or at >= done]
    if not newer:
        return Due(None, "After heavy rain, heavy use, fresh water or a storm.")
    at, name = max(newer)
    day = at.date() + timedelta(days=int(task.params.get("days", 1)))
    return Due(day, f"After {_EVENTS[name]} of {_day(at)}.", day + EVENT_LAPSES)


def by_paper(task: Task, done: datetime | None, facts: Facts) -> Due:
    """``before`` days ahead of a date that a record names; once more only if the date changes."""
    on = facts.papers.get(task.params["paper"])
    if on is None:
        return Due(None, "No date is known.")
    first = on - timedelta(days=int(task.params.get("before", 0)))
    if done is not None and done.date() >= first:
        return Due(None, f"Seen to on {_day(done)}.")
    lapses = on if task.params.get("lapses") else None
    return Due(first, str(task.params["says"]).format(day=_day(on)), lapses)


def after_paper(task: Task, done: datetime | None, facts: Facts) -> Due:
    """``days`` after a date that a record names, or after it was last done: whichever is later."""
    on = facts.papers.get(task.params["paper"])
    begun = max([day for day in (on, done.date() if done else None) if day], default=None)
    if begun is None:
        return Due(None, "No date is known.")
    says = str(task.params["says"]).format(day=_day(begun))
    return Due(max(task.since, begun + timedelta(days=int(task.params["days"]))), says)


def by_run_hours(task: Task, done: datetime | None, facts: Facts) -> Due:
    """So many hours of the pump after it was last done, by what it runs a day."""
    hours = float(task.params["hours"])
    if not facts.pump_hours_day:
        return Due(None, f"Every {hours:g} hours of the pump; how long it runs a day is not known.")
    days = max(1, math.floor(hours / facts.pump_hours_day))
    begun = task.since if done is None else max(task.since, done.date())
    return Due(begun + timedelta(days=days), f"{hours:g} hours of the pump since {_day(begun)}.")


def by_rain(task: Task, done: datetime | None, facts: Facts) -> Due:
    """Once so many ``mm`` of rain fell since it was last done, else after ``days``."""
    since = task.since if done is None else max(task.since, done.date())
    days, fell = int(task.params["days"]), 0.0
    by_time = since + timedelta(days=days)
    for one in facts.weather:
        if one.outlook or one.day <= since:
            continue
        fell += one.rain_mm
        if fell >= float(task.params["mm"]) and one.day <= by_time:
            return Due(one.day, f"{fell:.0f} mm ({fell / 25.4:.1f} in) of rain since {_day(since)}.")
    return Due(by_time, f"{every_words(days)}, and after rain.")


_FREEZES_C = 0.0


def before_freeze(task: Task, done: datetime | None, facts: Facts) -> Due:
    """The day before the next night foretold to freeze, or on it; not again within ``gap`` days."""
    clear = None if done is None else done.date() + timedelta(days=int(task.params["gap"]))
    nights = (d for d in facts.weather if d.outlook and d.low_c <= _FREEZES_C)
    night = next((d for d in nights if clear is None or d.day >= clear), None)
    if night is None:
        return Due(None, "When a freezing night is foretold.")
    on = night.day if task.params.get("same_day") else night.day - timedelta(days=1)
    return Due(max(task.since, on), f"It is foretold to freeze on {_day(night.day)}.", night.day)


RULES: dict[str, Callable[[Task, datetime | None, Facts], Due]] = {
    "by_gauge": by_gauge,
    "by_deposit": by_deposit,
    "after_event": after_event,
    "by_paper": by_paper,
    "after_paper": after_paper,
    "by_run_hours": by_run_hours,
    "by_rain": by_rain,
    "before_freeze": before_freeze,
}


def _day(at: date) -> str:
    return day_words(at.date() if isinstance(at, datetime) else at)
