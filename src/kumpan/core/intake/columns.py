"""What the columns of a table hold: matched by heading, the unit by heading or by size."""

import re
import statistics
from collections.abc import Callable
from dataclasses import dataclass

from kumpan.core.errors import InvalidInput
from kumpan.core.intake.moments import looks_dated, looks_timed, parse_moment
from kumpan.core.intake.sheet import Sheet, plain_heading
from kumpan.core.units import f_to_c
from kumpan.core.water.measures import MEASURES

# Roles beside the measures.
ROLES = {
    "": "not used",
    "when": "date and time",
    "date": "date",
    "time": "time",
    "performed_by": "who tested",
    "sampling_point": "where the sample was taken",
    "method": "how it was read",
    "note": "note",
}

# Headings as ``plain_heading`` leaves them. From the field's usual names; no source.
_HEADINGS: dict[str, tuple[str, ...]] = {
    "when": (
        "when",
        "when utc",
        "datetime",
        "date time",
        "timestamp",
        "date and time",
        "date/time",
        "tested at",
        "measured at",
        "sample time",
    ),
    "date": ("date", "day", "test date", "sample date"),
    "time": ("time", "test time", "hour", "clock"),
    "performed_by": ("who", "performed by", "technician", "tester", "tested by", "operator", "by", "user"),
    "sampling_point": ("spot", "location", "sample point", "sampling point", "place", "sampled at"),
    "method": ("method", "methods", "test method", "kit"),
    "note": ("note", "notes", "comment", "comments", "remark", "remarks"),
    **{m.id: m.headings for m in MEASURES.values()},
}
KNOWN_HEADINGS = frozenset(name for names in _HEADINGS.values() for name in names)

UNITS = {m.id: m.units for m in MEASURES.values()}  # by measure: label and factor to the canonical one
_SPELT = {
    "ppm": "ppm",
    "mg/l": "mg_l",
    "mgl": "mg_l",
    "ppb": "ppb",
    "µg/l": "ug_l",
    "ug/l": "ug_l",
    "mmol/l": "mmol_l",
    "mmol": "mmol_l",
    "°dh": "dh",
    "dh": "dh",
    "g/l": "g_l",
    "ppt": "ppt",
    "%": "percent",
    "°f": "f",
    "f": "f",
    "degf": "f",
    "°c": "c",
    "c": "c",
    "degc": "c",
}


_GROUPED = re.compile(r"\d{1,3}([,' ]\d{3})+(?!\d)")  # 3,100: in thousands, not 3.1
_THOUSANDS = re.compile(r"[,' ]")
_BETWEEN = re.compile(r"[\s()\[\],_]+")


@dataclass(frozen=True)
class Column:
    """What a column holds: a measure or a role of ``ROLES``, and a measure's unit. remark: what was guessed,
    in words.
    """

    role: str
    unit: str = ""
    remark: str = ""


def unit_spelt(text: str, measure: str) -> str | None:
    """The unit a heading or cell names, of those the measure may have; None if none.

    >>> unit_spelt("mg/L as CaCO3", "ta"), unit_spelt("°F", "temp"), unit_spelt("°F", "ta")
    ('mg_l', 'f', None)
    """
    units = (_SPELT.get(word) for word in _BETWEEN.split(text.lower()))
    return next((unit for unit in units if unit and unit in UNITS[measure]), None)


def canonical(measure: str, unit: str, number: float) -> float:
    """A number of a column's unit in the measure's own."""
    if measure == "temp":
        return f_to_c(number) if unit == "f" else number
    return number * UNITS[measure][unit][1]


def match_columns(sheet: Sheet, metric: bool) -> tuple[Column, ...]:
    """The likeliest meaning of every column. Each role is given once: of two columns for the same, the first
    that fits better.

    metric: how the person measures, where a temperature's unit cannot be told otherwise.
    """
    columns, headed = _by_heading(sheet, metric)
    if "when" not in headed and "date" not in headed:
        _by_content(sheet, columns, headed, "date", looks_dated)
    if "date" in headed and "when" not in headed and "time" not in headed:
        _by_content(sheet, columns, headed, "time", looks_timed)
    if "when" in headed:
        columns = [Column("") if c.role in ("date", "time") else c for c in columns]
    elif "date" in headed and "time" not in headed:  # a date that carries its time
        columns[headed["date"]] = Column("when", remark=columns[headed["date"]].remark)
    return tuple(columns)


def _by_heading(sheet: Sheet, metric: bool) -> tuple[list[Column], dict[str, int]]:
    """What the headings say, and which column was given each role."""
    columns: list[Column] = []
    headed: dict[str, int] = {}
    for i, name in enumerate(sheet.head):
        heading = plain_heading(name)
        role = next((role for role, names in _HEADINGS.items() if heading in names), "")
        cells = [row[i] for row in sheet.rows[:200] if row[i]]
        if role == "when" and role in headed and _aware(cells):
            columns[headed[role]] = Column("")  # an instant with its offset beats a time on some clock
        elif role in headed:
            role = ""
        if role:
            headed[role] = i
        columns.append(_with_unit(role, name, cells, metric) if role in MEASURES else Column(role))
    return columns, headed


def _by_content(
    sheet: Sheet, columns: list[Column], headed: dict[str, int], role: str, looks: Callable[[str], bool]
) -> None:
    """Give a role to the first column without one whose cells look like it."""
    for i, column in enumerate(columns):
        cells = [row[i] for row in sheet.rows[:20] if row[i]]
        if not column.role and cells and all(map(looks, cells)):
            headed[role] = i
            columns[i] = Column(role, remark=f"Taken as the {role} by what it holds.")
            return


def _aware(cells: list[str]) -> bool:
    try:
        return bool(cells) and all(parse_moment(c, "", "ymd").tzinfo is not None for c in cells[:5])
    except InvalidInput:
        return False


def _with_unit(measure: str, name: str, cells: list[str], metric: bool) -> Column:
    if measure == "ph":
        return Column(measure)
    hardness = "Hardness of all kinds? Kumpan takes it as calcium's." if _any_hardness(measure, name) else ""
    spelt = next((u for text in (name, *cells[:5]) if (u := unit_spelt(text, measure))), None)
    if spelt:
        return Column(measure, spelt, hardness)
    middle = _median(cells)
    if measure == "temp":
        return _temperature(middle, metric)
    if measure == "salt" and middle is not None and middle < 50:
        return Column(measure, "g_l", "No unit in the heading: taken as g/L by its size.")
    return Column(measure, next(iter(UNITS[measure])), hardness)


def _temperature(middle: float | None, metric: bool) -> Column:
    """Celsius or Fahrenheit by the size of its median."""
    if middle is None or 35 <= middle <= 45:
        return Column("temp", "c" if metric else "f", "The unit is not said: check it.")
    unit, sign = ("f", "°F") if middle > 45 else ("c", "°C")
    return Column("temp", unit, f"No unit in the heading: taken as {sign} by its size.")


def _any_hardness(measure: str, name: str) -> bool:
    return measure == "ch" and plain_heading(name) == "hardness"


def _median(cells: list[str]) -> float | None:
    numbers = []
    for cell in cells:
        head = (_THOUSANDS.sub("", cell) if _GROUPED.match(cell) else cell.replace(",", ".")).split()[0]
        try:
            numbers.append(float(head))
        except ValueError:
            continue
    return statistics.median(numbers) if numbers else None
