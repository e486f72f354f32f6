"""Rows of a table to tests: every cell checked, what is wrong named by line and column, what is doubtful
pointed out.
"""

import re
import statistics
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, tzinfo
from functools import lru_cache

from kumpan.core.cells import unguarded
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.intake.columns import UNITS, Column, canonical, match_columns, unit_spelt
from kumpan.core.intake.moments import came_twice, on_clock, parse_moment, usual_order
from kumpan.core.intake.sheet import Sheet
from kumpan.core.units import c_to_f
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.implausible import Read, doubtful_readings
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.readings import Reading, combine_chlorine, parse_reading
from kumpan.core.water.state import WaterState, with_measures

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
_SLOW = tuple(m.id for m in MEASURES.values() if m.slow)
# Own threshold for a slipped decimal point: a tenth or ten times the rest, with room for what changed
_SLIP = 8.0

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
    told = [f"{sheet.head[i]}: {c.remark}" for i, c in enumerate(columns) if c.remark]
    if unsure:
        told.insert(0, "The dates could be read month first or day first. Check the first tests below.")
    numbers = [row[i] for row in sheet.rows[:500] for i, c in enumerate(columns) if c.role in MEASURES]
    commas = sum(bool(re.search(r"\d,\d{1,2}\b(?!\d)", n)) for n in numbers)
    points = sum(bool(re.search(r"\d\.\d{1,2}\b(?!\d)", n)) for n in numbers)
    return Settings(columns, order, "comma" if commas > points else "point", "photometer"), tuple(told)


def check_rows(
    sheet: Sheet,
    settings: Settings,
    zone: tzinfo,
    now: datetime,
    seen: Seen,
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> Checked:
    """Read every row. seen: the log's tests by their minute, as measures with values, so that none is written
    twice.

    Raises InvalidInput at ``columns`` for a matching that cannot work: no time, no measure, a role given
    twice.
    """
    of = _places(settings, len(sheet.head))
    checked = Checked()
    taken: dict[datetime, list[frozenset[tuple[str, float]]]] = {}
    for number, (line, row) in enumerate(zip(sheet.lines, sheet.rows, strict=True)):
        progress(number, len(sheet.rows))
        _check_row(sheet, settings, of, zone, now, line, row, seen, taken, checked)
    _slips(checked, of, sheet)
    checked.doubtful.sort(key=lambda t: t.line)
    return checked


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


def _check_row(
    sheet: Sheet,
    settings: Settings,
    of: dict[str, int],
    zone: tzinfo,
    now: datetime,
    line: int,
    row: tuple[str, ...],
    seen: Seen,
    taken: dict[datetime, list[frozenset[tuple[str, float]]]],
    checked: Checked,
) -> None:
    """Read one row into ``checked``."""
    doubts: list[Told] = []
    bad: list[Told] = []
    bad_readings = False

    def cell(role: str) -> str:
        return unguarded(row[of[role]]) if role in of else ""

    def name(role: str) -> str:
        return sheet.head[of[role]] if role in of else role

    dated = "when" if "when" in of else "date"
    at: datetime | None = None
    try:
        local = parse_moment(cell(dated), cell("time") if dated == "date" else "", settings.order)
        at = local.astimezone(UTC) if local.tzinfo else on_clock(local, zone, "when")
        if local.tzinfo is None and came_twice(local, zone):
            doubts.append(
                Told(
                    line,
                    name(dated),
                    "The clocks went back over this time: it came twice, and the first is taken.",
                )
            )
        if at > now + timedelta(minutes=5):
            bad.append(Told(line, name(dated), f"“{cell(dated)[:30]}” is in the future."))
        elif at.year < 1990:
            bad.append(Told(line, name(dated), f"“{cell(dated)[:30]}” is before 1990."))
    except InvalidInput as error:
        bad.append(Told(line, name(dated), error.message))
    except OverflowError:
        bad.append(Told(line, name(dated), f"“{cell(dated)[:30]}” is no date of ours."))
    methods = _methods(cell("method"))
    if cell("method") and not methods:
        by = METHODS[settings.method].label.lower()
        doubts.append(
            Told(
                line, name("method"), f"Kumpan does not know “{cell('method')[:30]}”: taken as read by {by}."
            )
        )
    readings: list[Reading] = []
    for measure in MEASURES:
        if measure in of and cell(measure).lower() not in _NOT_READ:
            try:
                reading, doubt = _reading(
                    measure,
                    cell(measure),
                    settings.columns[of[measure]].unit,
                    settings.decimal,
                    settings.method,
                    methods,
                )
                readings += [reading] if reading else []
                doubts += [Told(line, name(measure), doubt)] if doubt else []
            except InvalidInput as error:
                bad.append(Told(line, name(measure), error.message))
                bad_readings = True
    try:
        combine_chlorine(readings)
    except InvalidInput as error:
        role = error.fields[0].field.removeprefix("readings.")
        bad.append(Told(line, name(role), error.message))
    if not readings and not bad_readings and not (at and cell("note")):
        # A line without a single reading: a total, a remark under the table.
        checked.empty += 1
        return
    if bad or at is None:
        checked.bad += bad
        return
    # A line of a note alone says its note.
    says = frozenset((r.measure, round(r.value, 3)) for r in readings) or frozenset(
        {(cell("note")[:2000], 0.0)}
    )
    minute = at.replace(second=0, microsecond=0)
    if says in seen.get(minute, ()) or says in taken.get(minute, ()):
        checked.again.append(line)
        return
    if (minute in seen or minute in taken) and readings:
        doubts.append(
            Told(line, name(dated), "There is another test of this very minute, with other readings.")
        )
    taken.setdefault(minute, []).append(says)
    checked.doubtful += doubts + [Told(line, name(d), text) for d, text in _implausible(readings)]
    checked.tests.append(
        FoundTest(
            line,
            at,
            cell("performed_by")[:80] or "imported",
            cell("note")[:2000],
            tuple(readings),
            cell("sampling_point")[:40],
        )
    )


def _methods(text: str) -> tuple[str, ...]:
    """Methods named in a cell, by label or id; several may stand between semicolons."""
    labels = {m.label.lower(): m.id for m in METHODS.values()} | {m: m for m in METHODS}
    return tuple(labels[part.strip().lower()] for part in text.split(";") if part.strip().lower() in labels)


@lru_cache(20_000)  # a report says the same few hundred values over and over
def _reading(
    measure: str, cell: str, unit: str, decimal: str, usual_method: str, methods: tuple[str, ...]
) -> tuple[Reading | None, str]:
    """A cell's reading and what is doubtful of it. None for one past the end of the instrument's range, which
    tells no number.
    """
    if cell.lower() in _OVER:
        return None, f"“{cell}” is no number: left open."
    found = _NUMBER.match(cell)
    if not found:
        raise _not_a_number(cell)
    mark, digits, rest = found.groups()
    said = unit_spelt(rest, measure)
    if rest.strip() and said is None and rest.strip().lower() != measure:
        raise _not_a_number(cell)
    digits = _plain(digits, decimal)
    unit = said or unit
    factor = 1.0 if measure == "temp" else UNITS[measure][unit][1]
    text = (
        digits
        if factor == 1.0
        else f"{canonical(measure, unit, float(digits)):.{MEASURES[measure].decimals}f}"
    )
    method = next(
        (m for m in methods if measure in METHODS[m].reads),
        "thermometer" if measure == "temp" else usual_method,
    )
    shown = {"f": "°F", "c": "°C"}[unit] if measure == "temp" else MEASURES[measure].unit
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


def _implausible(readings: list[Reading]) -> list[tuple[str, str]]:
    """Which readings of a test make no sense, and why."""
    values = {r.measure: r.value for r in readings}
    water = with_measures(WaterState(), values)
    read = {r.measure: Read(r.value, r.method, r.u95) for r in readings}
    # A chlorine of nothing is worth a second look at the pool's side, but no doubt years later.
    found = [
        (d.measure, d.message)
        for d in doubtful_readings(water, read, {})
        if not (d.measure == "fc" and (water.fc_ppm or 0) < 0.3)
    ]
    if water.has_ph_chemistry and _may_conflict(water) and (conflict := conflict_of(water)):
        found.append(
            (next(m.id for m in MEASURES.values() if m.field == conflict.fields[0]), conflict.message)
        )
    return found


def _may_conflict(water: WaterState) -> bool:
    """A cheap look before ``conflict_of``: whether alkalinity is near what stabilizer, borate and chlorine
    alone could ever give (all of each ionised: 50.04 ppm a milliequivalent over its molar mass), or pH is so
    low that CO2 might fizz.
    """
    most_ta = 0.39 * (water.cya_ppm or 0.0) + 4.7 * (water.borate_ppm or 0.0) + 0.71 * (water.fc_ppm or 0.0)
    return (water.ta_ppm or 0.0) <= most_ta + 1 or (water.ph or 0.0) < 6.3


def _slips(checked: Checked, of: dict[str, int], sheet: Sheet) -> None:
    """Point out readings a tenth or ten times the rest of their column."""
    for measure in (*_SLOW, "temp"):
        read = [(t.line, r) for t in checked.tests for r in t.readings if r.measure == measure]
        if measure == "temp":  # Celsius in a Fahrenheit column, or the other way about
            found = [(line, r) for line, r in read if not 0 <= r.value <= 42]
            text = "{} as water temperature: is the unit right?"
        else:
            middle = statistics.median(r.value for _, r in read) if len(read) >= 4 else 0.0
            found = [
                (line, r)
                for line, r in read
                if middle and r.value > 0 and not middle / _SLIP < r.value < middle * _SLIP
            ]
            text = "{} where the others are about " + f"{middle:,.0f}: a slip of the decimal point?"
        for line, r in found:
            value = c_to_f(r.value) if r.unit == "°F" else r.value
            shown = f"{value:g} {r.unit}" if measure == "temp" else f"{value:g}"
            checked.doubtful.append(Told(line, sheet.head[of[measure]], text.format(shown)))
