"""Dates and times as reports write them, on the pool's own clock."""

import re
from datetime import UTC, datetime, timedelta, tzinfo

from kumpan.core.errors import FieldProblem, InvalidInput

ORDERS = {"ymd": "year, month, day", "mdy": "month, day, year", "dmy": "day, month, year"}
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
# Of cells whose runs of spaces are one: a run would be split in every way.
_DATE = re.compile(
    r"^(\d{1,4}|[a-z]{3,9}) ?[-/. ,] ?(\d{1,2}|[a-z]{3,9}) ?[-/. ,] ?(\d{1,4})(?:[t ,]+([^t ,].*))?$"
)
_LONGEST = 60  # of a date with its time and offset, in any language
_TIME = re.compile(r"^(\d{1,2})[:.h](\d{2})(?:[:.](\d{2})(?:[.,]\d+)?)?\s*([ap])?\.?m?\.?$")


def looks_dated(text: str) -> bool:
    """Whether a cell reads like a date, in whatever order.

    >>> looks_dated("13.05.2026 08:15"), looks_dated("4 Jul 2026"), looks_dated("7.4")
    (True, True, False)
    """
    return bool(_dated(text))


def _dated(cell: str) -> re.Match[str] | None:
    return _DATE.match(" ".join(cell.lower().split())) if len(cell) <= _LONGEST else None


def looks_timed(text: str) -> bool:
    """Whether a cell reads like a time of day with a colon (7.40 may be a pH).

    >>> looks_timed("08:15"), looks_timed("6:30 PM"), looks_timed("7.40")
    (True, True, False)
    """
    return ":" in text[:_LONGEST] and bool(_TIME.match(text.strip().lower()))


def on_clock(local: datetime, zone: tzinfo, field: str) -> datetime:
    """The UTC instant of a time on a clock. Of a time that came twice (the clocks went back) the first.

    Raises InvalidInput for one that never came.
    """
    instant = local.replace(tzinfo=zone).astimezone(UTC)
    if instant.astimezone(zone).replace(tzinfo=None) != local:
        raise InvalidInput(
            FieldProblem(field, "no_such_time", "That time did not exist: the clocks went forward over it.")
        )
    return instant


def came_twice(local: datetime, zone: tzinfo) -> bool:
    """Whether the clocks went back over this time, so that it came twice."""
    first, second = (local.replace(tzinfo=zone, fold=fold).utcoffset() for fold in (0, 1))
    return first is not None and second is not None and first > second


def parse_moment(text: str, time_text: str, order: str) -> datetime:
    """A date with its time, in one cell or two; noon where no time is given. Aware if the text names its
    offset, else naive.

    order: of ``ORDERS``, for dates of three numbers; a year first or a month's name speaks for itself. Raises
    InvalidInput at ``when``.

    >>> both = parse_moment("7/4/2026 6:30 PM", "", "mdy"), parse_moment("4 Jul 2026", "18:30", "mdy")
    >>> tuple(at.isoformat() for at in both)
    ('2026-07-04T18:30:00', '2026-07-04T18:30:00')
    >>> parse_moment("2026-07-04T18:30:00Z", "", "dmy").isoformat()
    '2026-07-04T18:30:00+00:00'
    """
    cell = text.strip().lower()
    if cell[:4].isdigit() and not time_text.strip():
        try:
            exact = datetime.fromisoformat(cell.upper())
            return exact if len(cell) > 10 else exact.replace(hour=12)
        except ValueError:
            pass  # not ISO 8601: read below
    hit = _dated(text)
    if not hit:
        raise _not_a_time(text)
    day = _date(hit.group(1), hit.group(2), hit.group(3), order, text)
    clock = time_text.strip().lower() or (hit.group(4) or "")
    hour, minute, second = _time(clock, text) if clock else (12, 0, 0)
    return day + timedelta(hours=hour, minutes=minute, seconds=second)


def _date(a: str, b: str, c: str, order: str, text: str) -> datetime:
    if a.isalpha() or b.isalpha():  # Jul 4 2026; 4 Jul 2026
        name, day, year = (a, b, c) if a.isalpha() else (b, a, c)
        if name[:3] not in _MONTHS or not day.isdigit():
            raise _not_a_time(text)
        month = _MONTHS.index(name[:3]) + 1
        parts = (year, str(month), day)
    elif len(a) == 4:
        parts = (a, b, c)
    else:
        places = {"ymd": (a, b, c), "mdy": (c, a, b), "dmy": (c, b, a)}
        parts = places[order]
    year_number = int(parts[0]) + (2000 if len(parts[0]) <= 2 else 0)
    try:
        return datetime(year_number, int(parts[1]), int(parts[2]))
    except ValueError:
        message = f"“{text[:30]}” is no date read as {ORDERS[order]}."
        raise InvalidInput(FieldProblem("when", "no_such_date", message)) from None


def _time(clock: str, text: str) -> tuple[int, int, int]:
    hit = _TIME.match(clock)
    if not hit:
        raise _not_a_time(text if clock in text.lower() else clock)
    hour, minute, second, half = (
        int(hit.group(1)),
        int(hit.group(2)),
        int(hit.group(3) or 0),
        hit.group(4),
    )
    if (half and not 1 <= hour <= 12) or hour > 23 or minute > 59 or second > 59:
        raise _not_a_time(clock)
    if half:
        hour = hour % 12 + (12 if half == "p" else 0)
    return hour, minute, second


def usual_order(cells: list[str], us: bool) -> tuple[str, bool]:
    """The order of day and month these dates are written in, and whether it is only a guess: no day was over
    12.

    >>> columns = ["13/02/2026", "01/03/2026"], ["01/03/2026"], ["2026-03-01"]
    >>> tuple(usual_order(column, us=True) for column in columns)
    (('dmy', False), ('mdy', True), ('ymd', False))
    """
    if cells and all(re.match(r"\d{1,2}\.\d{1,2}\.", c.strip()) for c in cells if c.strip()):
        return "dmy", False  # points between stand day first wherever they are used (from memory)
    dates = [numbers for cell in cells if (numbers := _in_numbers(cell))]
    if not dates:
        return "ymd", False
    first, second = (max(int(date[place]) for date in dates) for place in (0, 1))
    if first > 31:
        return "ymd", False
    if first > 12:
        return "dmy", any(len(date[2]) <= 2 for date in dates)  # 26-07-04: even the year is a guess
    if second > 12:
        return "mdy", False
    return ("mdy" if us else "dmy"), True


def _in_numbers(cell: str) -> tuple[str, ...] | None:
    """The three parts of a date that does not begin with a whole year and names no month; None for others."""
    hit = _dated(cell)
    numeric = hit is not None and hit[1].isdigit() and hit[2].isdigit() and len(hit[1]) <= 2
    return hit.groups() if hit is not None and numeric else None


def _not_a_time(text: str) -> InvalidInput:
    shown = text.strip()[:30]
    return InvalidInput(
        FieldProblem(
            "when", "not_a_time", f"“{shown}” is not a date and time." if shown else "There is no date."
        )
    )
