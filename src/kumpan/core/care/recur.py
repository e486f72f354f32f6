"""Days that come round: RFC 5545 rules on naive dates, and the window of the year in which they count.

A rule runs on dates alone; a clock time is attached afterwards (``at_clock``), so that an hour the clocks
skip is found instead of lost. The recurrence itself is python-dateutil's.
"""

import re
from calendar import day_name, month_name, monthrange
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta, tzinfo

from dateutil.rrule import rrulestr

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.phrasing.terms import listed

WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
LONGEST_DAYS = 3660  # ten years: the longest anybody schedules by (our own)
_SHORTEST_MONTH = 28
_LOOKED_YEARS = 8  # over a leap year that a century leaves out
_PARTS = {"FREQ", "INTERVAL", "BYDAY", "BYMONTH", "BYMONTHDAY", "BYSETPOS"}
_FREQUENCIES = ("DAILY", "WEEKLY", "MONTHLY", "YEARLY")


@dataclass(frozen=True)
class Window:
    """The part of every year in which a task counts, both days within it; over new year where it opens later
    in the year than it closes. (month, day) each.
    """

    opens: tuple[int, int]
    closes: tuple[int, int]

    @property
    def text(self) -> str:
        """As it is kept: MM-DD/MM-DD."""
        (a, b), (c, d) = self.opens, self.closes
        return f"{a:02d}-{b:02d}/{c:02d}-{d:02d}"

    def holds(self, day: date) -> bool:
        """Whether a day lies in it."""
        opens, closes = _in_year(self.opens, day.year), _in_year(self.closes, day.year)
        if opens <= closes:
            return opens <= day <= closes
        return day >= opens or day <= closes

    def first_in(self, day: date) -> date:
        """The day itself where it lies in the window, else the day it next opens."""
        if self.holds(day):
            return day
        opens = _in_year(self.opens, day.year)
        return opens if opens >= day else _in_year(self.opens, day.year + 1)

    def opened(self, day: date) -> date:
        """When the window that holds a day opened."""
        opens = _in_year(self.opens, day.year)
        return opens if opens <= day else _in_year(self.opens, day.year - 1)

    def closed(self, day: date) -> date:
        """The last day of the window that holds a day."""
        closes = _in_year(self.closes, day.year)
        return closes if closes >= day else _in_year(self.closes, day.year + 1)


def _in_year(month_day: tuple[int, int], year: int) -> date:
    """A day of the year; the 29th of February is the 28th where there is none."""
    try:
        return date(year, *month_day)
    except ValueError:
        return date(year, 2, 28)


def checked_window(opens: str, closes: str, path: str = "season") -> Window | None:
    """A window from two days typed as MM-DD; None where both are empty: all year. Raises InvalidInput at
    ``{path}_from`` or ``{path}_to``.
    """
    if not opens.strip() and not closes.strip():
        return None
    days = []
    for text, name in ((opens, "from"), (closes, "to")):
        found = re.fullmatch(r"(\d{1,2})-(\d{1,2})", text.strip())
        month, of_month = (int(found[1]), int(found[2])) if found else (0, 0)
        try:
            _ = date(2024, month, of_month)  # a leap year: the 29th of February is a day
        except ValueError:
            message = "Name a day of the year as month and day, like 04-15; leave both empty for all year."
            raise InvalidInput(FieldProblem(f"{path}_{name}", "not_a_day", message)) from None
        days.append((month, of_month))
    return Window(days[0], days[1])


def checked_days(days: int, path: str = "days") -> int:
    """An interval in days. Raises InvalidInput for none, or one longer than ten years."""
    if not 1 <= days <= LONGEST_DAYS:
        text = f"Every 1 to {LONGEST_DAYS} days; to stop it, turn it off."
        raise InvalidInput(FieldProblem(path, "out_of_range", text))
    return days


@dataclass(frozen=True)
class Every:
    """Fixed days as a person chooses them. unit: week (on ``weekdays``, 0 Monday), month (on ``day``) or year
    (on ``day`` of ``months``); interval: every so many of them.
    """

    unit: str
    weekdays: tuple[int, ...] = ()
    day: int = 1
    months: tuple[int, ...] = ()
    interval: int = 1


def rule_of(every: Every) -> str:
    """The RFC 5545 rule of fixed days. A day that a month lacks is that month's last. Raises InvalidInput at
    the field.

    >>> rule_of(Every("month", day=31))
    'FREQ=MONTHLY;BYMONTHDAY=-1'
    >>> rule_of(Every("month", day=30))
    'FREQ=MONTHLY;BYMONTHDAY=28,29,30;BYSETPOS=-1'
    >>> rule_of(Every("week", (0, 3)))
    'FREQ=WEEKLY;BYDAY=MO,TH'
    """
    if not 1 <= every.interval <= 100:
        raise InvalidInput(FieldProblem("interval", "out_of_range", "Every 1 to 100 of them."))
    parts = [] if every.interval == 1 else [f"INTERVAL={every.interval}"]
    if every.unit == "week":
        if not every.weekdays or not set(every.weekdays) <= set(range(7)):
            raise InvalidInput(FieldProblem("weekdays", "missing", "Choose at least one day of the week."))
        days = ",".join(WEEKDAYS[d] for d in sorted(set(every.weekdays)))
        return ";".join(["FREQ=WEEKLY", *parts, f"BYDAY={days}"])
    if not 1 <= every.day <= 31:
        raise InvalidInput(FieldProblem("day", "out_of_range", "A day of the month: 1 to 31."))
    if every.unit == "month":
        return ";".join(["FREQ=MONTHLY", *parts, *_of_month(every.day, range(1, 13))])
    if every.unit != "year":
        raise InvalidInput(FieldProblem("unit", "unknown_choice", "By weeks, months or years."))
    if every.interval != 1:
        raise InvalidInput(FieldProblem("interval", "out_of_range", "Named months come every year."))
    if not every.months or not set(every.months) <= set(range(1, 13)):
        raise InvalidInput(FieldProblem("months", "missing", "Choose at least one month."))
    # Monthly in those months, so that the last day is each month's own and not the year's.
    months = ",".join(str(m) for m in sorted(set(every.months)))
    return ";".join(["FREQ=MONTHLY", f"BYMONTH={months}", *_of_month(every.day, every.months)])


def _of_month(day: int, months: Iterable[int]) -> list[str]:
    """A day of these months in the plainest form that is right: few programs read all of the standard."""
    least = [monthrange(2023, month)[1] for month in months]  # no leap year: its shortest February
    if day <= min(least):
        return [f"BYMONTHDAY={day}"]
    if day >= max(monthrange(2024, month)[1] for month in months):
        return ["BYMONTHDAY=-1"]
    return [f"BYMONTHDAY={','.join(str(d) for d in range(_SHORTEST_MONTH, day + 1))}", "BYSETPOS=-1"]


def checked_rule(rule: str, path: str = "rrule") -> str:
    """A stored or sent rule, if it is one that ends never and names days. Raises InvalidInput."""
    parts = dict(part.partition("=")[::2] for part in rule.split(";"))
    known = set(parts) <= _PARTS and parts.get("FREQ") in _FREQUENCIES
    begin, end = datetime(2024, 1, 1), datetime(2024 + _LOOKED_YEARS, 1, 1)
    try:
        if not known or int(parts.get("INTERVAL", "1")) < 1 or len(rule) > 200:
            raise ValueError
        first = rrulestr(f"{rule};UNTIL={end:%Y%m%dT%H%M%S}", dtstart=begin).after(begin, inc=True)
    except (ValueError, TypeError, KeyError, OverflowError):
        first = None
    if first is None:
        raise InvalidInput(FieldProblem(path, "not_a_rule", "This is no rule of days that come round."))
    return rule


def occurrences(rule: str, since: date, window: Window | None, after: date) -> Iterator[date]:
    """The rule's days after one, oldest first, as far as its window holds them. since: the day from which
    intervals count. It ends where none came for eight years.
    """
    seen = after = max(after, since - timedelta(days=1))
    for at in rrulestr(rule, dtstart=datetime.combine(since, time())).xafter(datetime.combine(after, time())):
        if window is None or window.holds(at.date()):
            seen = at.date()
            yield seen
        elif at.year > seen.year + _LOOKED_YEARS:
            return


def check_opens(rule: str, since: date, window: Window | None, path: str = "season_from") -> None:
    """Refuse a rule of which no day ever lies in the window. Raises InvalidInput."""
    if next(occurrences(rule, since, window, since), None) is None:
        text = "None of its days lies in that part of the year: it would never be due."
        raise InvalidInput(FieldProblem(path, "never_opens", text))


def in_words(rule: str) -> str:
    """A rule as people say it: ``every Monday and Thursday``, ``on the 1st of March and September``."""
    parts = dict(part.partition("=")[::2] for part in rule.split(";"))
    interval = int(parts.get("INTERVAL", "1"))
    if "BYDAY" in parts and parts["FREQ"] == "WEEKLY":
        days = [day_name[WEEKDAYS.index(d)] for d in parts["BYDAY"].split(",") if d in WEEKDAYS]
        return f"every {listed(days)}" + ("" if interval == 1 else f" of every {interval} weeks")
    day = f"the {_ordinal(parts['BYMONTHDAY'].split(',')[-1])}" if "BYMONTHDAY" in parts else "a day"
    if "BYMONTHDAY" in parts and parts.get("BYSETPOS") == "-1":
        day += " or the month's last day"
    if "BYMONTH" in parts:
        return f"on {day} of {listed([month_name[int(m)] for m in parts['BYMONTH'].split(',')])}"
    if parts["FREQ"] == "MONTHLY":
        return f"on {day} of " + ("every month" if interval == 1 else f"every {interval} months")
    unit = parts["FREQ"].lower().removesuffix("ly").replace("dai", "day")
    return f"every {unit}" if interval == 1 else f"every {interval} {unit}s"


def _ordinal(text: str) -> str:
    number = int(text)
    if number < 0:
        return "last day"
    ending = "th" if number in (11, 12, 13) else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"


def at_clock(day: date, clock: time, zone: tzinfo) -> datetime:
    """The instant of a clock time on a day. One that the clocks skip is read as if they had not yet gone
    forward, one that comes twice is the first (RFC 5545, section 3.3.5).

    >>> from zoneinfo import ZoneInfo
    >>> at_clock(date(2026, 3, 8), time(2, 30), ZoneInfo("America/Chicago")).isoformat()
    '2026-03-08T03:30:00-05:00'
    """
    naive = datetime.combine(day, clock, tzinfo=zone)
    return datetime.fromtimestamp(naive.timestamp(), zone)
