"""Rows of a table to tests: every cell checked, what is wrong named by line and column, what is doubtful
pointed out.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, tzinfo
from functools import lru_cache
from typing import NamedTuple

from kumpan.core.cells import unguarded
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.intake.columns import UNITS, Column, canonical, match_columns, unit_spelt
from kumpan.core.intake.moments import came_twice, on_clock, parse_moment, usual_order
from kumpan.core.intake.odd import implausible, odd_temperatures, slipped
from kumpan.core.intake.sheet import Sheet
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.readings import Reading, combine_chlorine, parse_reading

EXCLUDE = {"nothing": "nothing", "bad": "rows that cannot be read", "doubtful": "unreadable and odd rows"}
_NOT_READ = frozenset({"", "-", "--", "---", "–", "n/a", "na", "null", "none", "n.d.", "nd"})
_OVER = frozenset(
    {
        "or",
        "over",
        "overrange",
        "over range",
        "hi",
        "high",
        "ur",
        "under",
        "lo",
        "low",
        "err",
        "error",
        "fail",
    }
)
_NUMBER = re.compile(r"^([<>]?)\s*([-+]?\d[\d.,\s'\u00a0\u202f]*)(.*)$", re.ASCII)
_LONGEST = 60  # of a number with its unit
_SLOW = tuple(m.id for m in MEASURES.values() if m.slow)

Seen = Mapping[datetime, list[frozenset[tuple[str, float]]]]


@dataclass(frozen=True)
class Settings:
    """How a table is to be read. order: of dates, see ``moments.ORDERS``; decimal: point or comma; method: of
    rows that name none.
    """

    columns: tuple[Column, ...]
    order: str
    decimal: str
    method: str
    exclude: str = "nothing"


@dataclass(frozen=True)
class Told:
    """What is wrong or doubtful: the line in the file, the column's heading, in words."""

    line: int
    column: str
    message: str


@dataclass(frozen=True)
class FoundTest:
    """A row that can be a test. at: UTC."""

    line: int
    at: datetime
    performed_by: str
    note: str
    readings: tuple[Reading, ...]
    sampling_point: str = ""


@dataclass
class Checked:
    """What came of the rows. again: lines that say what is already in the log or further up; empty: rows
    without a reading.
    """

    tests: list[FoundTest] = field(default_factory=list)
    bad: list[Told] = field(default_factory=list)
    doubtful: list[Told] = field(default_factory=list)
    again: list[int] = field(default_factory=list)
    empty: int = 0

    def kept(self, exclude: str) -> list[FoundTest]:
        """The tests to write. Raises InvalidInput while rows that cannot be read are not to be left out."""
        if self.bad and exclude == "nothing":
            first = self.bad[0]
            count = len({t.line for t in self.bad})
            message = (
                f"{count:,} row{'s' * (count != 1)} cannot be read. The first: line {first.line},"
                f" {first.column}: {first.message}"
            )
            raise InvalidInput(FieldProblem("exclude", "bad_rows", message))
        doubtful = {t.line for t in self.doubtful} if exclude == "doubtful" else set()
        return [t for t in self.tests if t.line not in doubtful]


def usual_settings(sheet: Sheet, metric: bool) -> tuple[Settings, tuple[str, ...]]:
    """How a table is likeliest to be read, and what of that is a guess, in words."""
    columns = match_columns(sheet, metric)
    of = {c.role: i for i, c in enumerate(columns) if c.role}
    dated = of.get("when", of.get("date"))
    cells = [row[dated] for row in sheet.rows[:2000]] if dated is not None else []
    order, unsure = usual_order(cells, us=not metric)
    remarks = [f"{sheet.head[i]}: {c.remark}" for i, c in enumerate(columns) if c.remark]
    if unsure:
        remarks.insert(0, "The dates could be read month first or day first. Check the first tests below.")
    numbers = [row[i] for row in sheet.rows[:500] for i, c in enumerate(columns) if c.role in MEASURES]
    commas = sum(bool(re.search(r"\d,\d{1,2}\b(?!\d)", n)) for n in numbers)
    points = sum(bool(re.search(r"\d\.\d{1,2}\b(?!\d)", n)) for n in numbers)
    return Settings(columns, order, "comma" if commas > points else "point", "photometer"), tuple(remarks)


@dataclass(frozen=True)
class Place:
    """Where and when a table is read: the pool's zone, now, and the log's tests by their minute, as measures
    with values, so that none is written twice.
    """

    zone: tzinfo
    now: datetime
    seen: Seen


def check_rows(
    sheet: Sheet,
    settings: Settings,
    place: Place,
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> Checked:
    """Read every row.

    Raises InvalidInput at ``columns`` for a matching that cannot work: no time, no measure, a role given
    twice.
    """
    of = _places(settings, len(sheet.head))
    reader = _Reader(sheet, settings, of, place)
    for number, (line, row) in enumerate(zip(sheet.lines, sheet.rows, strict=True)):
        progress(number, len(sheet.rows))
        reader.read(line, row)
    _slips(reader.checked, of, sheet)
    reader.checked.doubtful.sort(key=lambda t: t.line)
    return reader.checked


def _places(settings: Settings, width: int) -> dict[str, int]:
    roles = [c.role for c in settings.columns]
    if len(roles) != width:
        raise InvalidInput(FieldProblem("columns", "wrong_number", "Say of every column what it holds."))
    twice = next((r for r in roles if r and roles.count(r) > 1), None)
    if twice:
        name = MEASURES[twice].label if twice in MEASURES else twice
        raise InvalidInput(
            FieldProblem("columns", "given_twice", f"Two columns are matched to the same: {name}.")
        )
    of = {role: i for i, role in enumerate(roles) if role}
    if "when" not in of and "date" not in of:
        raise InvalidInput(FieldProblem("columns", "no_time", "Say which column holds the date."))
    if not any(r in MEASURES for r in of):
        raise InvalidInput(FieldProblem("columns", "no_measure", "Say which columns hold readings."))
    return of


@dataclass
class _Reader:
    """Reads one row after the other into ``checked``. taken: what was read of this table so far."""

    sheet: Sheet
    settings: Settings
    of: dict[str, int]
    place: Place
    taken: dict[datetime, list[frozenset[tuple[str, float]]]] = field(default_factory=dict)
    checked: Checked = field(default_factory=Checked)

    def read(self, line: int, row: tuple[str, ...]) -> None:
        """One row: a test, a note, nothing, or what is wrong with it."""
        one = _Row(self, line, row)
        at = one.moment()
        readings = one.readings()
        if not readings and not one.bad_readings and not (at and one.cell("note")):
            # A line without a single reading: a total, a remark under the table.
            self.checked.empty += 1
        elif one.bad or at is None:
            self.checked.bad += one.bad
        else:
            self._keep(one, at, readings)

    def _keep(self, row: "_Row", at: datetime, readings: list[Reading]) -> None:
        # A line of a note alone says its note.
        values = frozenset((r.measure, round(r.value, 3)) for r in readings)
        content = values or frozenset({(row.cell("note")[:2000], 0.0)})
        minute, seen = at.replace(second=0, microsecond=0), self.place.seen
        if content in seen.get(minute, ()) or content in self.taken.get(minute, ()):
            self.checked.again.append(row.line)
            return
        if (minute in seen or minute in self.taken) and readings:
            row.doubt(row.dated, "There is another test of this very minute, with other readings.")
        self.taken.setdefault(minute, []).append(content)
        for measure, text in implausible(readings):
            row.doubt(measure, text)
        self.checked.doubtful += row.doubts
        by = row.cell("performed_by")[:80] or "imported"
        note, point = row.cell("note")[:2000], row.cell("sampling_point")[:40]
        self.checked.tests.append(FoundTest(row.line, at, by, note, tuple(readings), point))


class _Row:
    """One row being read: its cells by role, and what is wrong or odd about it."""

    def __init__(self, reader: _Reader, line: int, cells: tuple[str, ...]) -> None:
        self.table, self.line, self.cells = reader, line, cells
        self.dated = "when" if "when" in reader.of else "date"
        self.doubts: list[Told] = []
        self.bad: list[Told] = []
        self.bad_readings = False

    def cell(self, role: str) -> str:
        """What stands in the column of a role; empty where there is none."""
        of = self.table.of
        return unguarded(self.cells[of[role]]) if role in of else ""

    def doubt(self, role: str, text: str) -> None:
        """Say that something is odd."""
        self.doubts.append(Told(self.line, self._name(role), text))

    def _refuse(self, role: str, text: str) -> None:
        self.bad.append(Told(self.line, self._name(role), text))

    def _name(self, role: str) -> str:
        of = self.table.of
        return self.table.sheet.head[of[role]] if role in of else role

    def moment(self) -> datetime | None:
        """When it was, as an instant; None where that cannot be read."""
        dated, place, typed = self.dated, self.table.place, self.cell(self.dated)[:30]
        try:
            time = self.cell("time") if dated == "date" else ""
            local = parse_moment(self.cell(dated), time, self.table.settings.order)
            at = local.astimezone(UTC) if local.tzinfo else on_clock(local, place.zone, "when")
        except InvalidInput as error:
            self._refuse(dated, error.message)
            return None
        except OverflowError:
            self._refuse(dated, f"“{typed}” is no date of ours.")
            return None
        if local.tzinfo is None and came_twice(local, place.zone):
            self.doubt(dated, "The clocks went back over this time: it came twice, and the first is taken.")
        if at > place.now + timedelta(minutes=5):
            self._refuse(dated, f"“{typed}” is in the future.")
        elif at.year < 1990:
            self._refuse(dated, f"“{typed}” is before 1990.")
        return at

    def readings(self) -> list[Reading]:
        """What can be read of its measures."""
        settings, of = self.table.settings, self.table.of
        methods = _methods(self.cell("method"))
        if self.cell("method") and not methods:
            by = METHODS[settings.method].label.lower()
            known = f"Kumpan does not know “{self.cell('method')[:30]}”: taken as read by {by}."
            self.doubt("method", known)
        readings: list[Reading] = []
        for measure in MEASURES:
            if measure not in of or self.cell(measure).lower() in _NOT_READ:
                continue
            try:
                unit = settings.columns[of[measure]].unit
                written = _Written(self.cell(measure), unit, settings.decimal)
                reading, doubt = _reading(measure, written, methods, settings.method)
                readings += [reading] if reading else []
                if doubt:
                    self.doubt(measure, doubt)
            except InvalidInput as error:
                self._refuse(measure, error.message)
                self.bad_readings = True
        try:
            combine_chlorine(readings)
        except InvalidInput as error:
            self._refuse(error.fields[0].field.removeprefix("readings."), error.message)
        return readings


def _methods(text: str) -> tuple[str, ...]:
    """Methods named in a cell, by label or id; several may stand between semicolons."""
    labels = {m.label.lower(): m.id for m in METHODS.values()} | {m: m for m in METHODS}
    return tuple(labels[part.strip().lower()] for part in text.split(";") if part.strip().lower() in labels)


class _Written(NamedTuple):
    """A cell as it stands, the unit of its column, and the table's decimal sign."""

    cell: str
    unit: str
    decimal: str


@lru_cache(20_000)  # a report says the same few hundred values over and over
def _reading(
    measure: str, written: _Written, named: tuple[str, ...], table_method: str
) -> tuple[Reading | None, str]:
    """A cell's reading and what is doubtful of it. None for one past the end of the instrument's range, which
    tells no number. named: methods the row itself names; table_method: of rows that name none.
    """
    cell, unit, decimal = written
    row = MEASURES[measure]
    if cell.lower() in _OVER:
        return None, f"“{cell}” is no number: left open."
    hit = _NUMBER.match(cell) if len(cell) <= _LONGEST else None
    if not hit:
        raise _not_a_number(cell)
    mark, digits, rest = hit.groups()
    said = unit_spelt(rest, measure)
    if rest.strip() and said is None and rest.strip().lower() != measure:
        raise _not_a_number(cell)
    digits = _plain(digits, decimal)
    unit = said or unit
    factor = 1.0 if measure == "temp" else UNITS[measure][unit][1]
    text = digits if factor == 1.0 else f"{canonical(measure, unit, float(digits)):.{row.decimals}f}"
    method = next((m for m in (*named, table_method) if measure in METHODS[m].reads), row.usual_method)
    shown = {"f": "°F", "c": "°C"}[unit] if measure == "temp" else row.unit
    reading = parse_reading(measure, text, shown, method)
    return reading, f"“{cell}”: past the end of what was measured; taken as {text}." if mark else ""


def _plain(digits: str, decimal: str) -> str:
    """Digits with a point, from a number written with this decimal sign. Raises InvalidInput where it holds
    the other one.
    """
    bare = re.sub(r"[\s'\u00a0\u202f]", "", digits)
    sign, group = (",", ".") if decimal == "comma" else (".", ",")
    whole, _, tail = bare.partition(sign)
    first, *groups = whole.split(group)
    if (
        sign in tail
        or group in tail
        or any(len(g) != 3 for g in groups)
        or (groups and not 1 <= len(first.lstrip("+-")) <= 3)
    ):
        other = "point" if decimal == "comma" else "comma"
        raise InvalidInput(
            FieldProblem(
                "cell", "decimal", f"“{bare[:30]}” is no number with a decimal {decimal}. Is it a {other}?"
            )
        )
    return (first + "".join(groups)) + (f".{tail}" if tail else "")


def _not_a_number(cell: str) -> InvalidInput:
    return InvalidInput(FieldProblem("cell", "not_a_number", f"“{cell[:30]}” is not a number."))


def _slips(checked: Checked, of: dict[str, int], sheet: Sheet) -> None:
    """Point out readings a tenth or ten times the rest of their column."""
    for measure in (*_SLOW, "temp"):
        read = [(t.line, r) for t in checked.tests for r in t.readings if r.measure == measure]
        slips = odd_temperatures(read) if measure == "temp" else slipped(read)
        checked.doubtful += [Told(line, sheet.head[of[measure]], text) for line, text in slips]
