"""Bring in a table of readings: look it through for a preview, then, on a yes, write its tests all
at once.
"""

from collections import defaultdict
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter
from sqlalchemy import insert
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.work import Outcome, Progress
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.intake.columns import KNOWN_HEADINGS, ROLES, UNITS
from kumpan.core.intake.moments import ORDERS
from kumpan.core.intake.rows import (
    EXCLUDE,
    Checked,
    FoundTest,
    Place,
    Seen,
    Settings,
    Told,
    check_rows,
    usual_settings,
)
from kumpan.core.intake.sheet import Sheet, read_sheet
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store import database, files, queries
from kumpan.store.tables.jobs import Job
from kumpan.store.tables.log import EntryRow, Event, ReadingRow
from kumpan.store.tables.pools import Pool
from kumpan.store.work import moved

_MOST_TOLD = 50
_MOST_SHOWN = 8
_EXAMPLES = 4
_BATCH = 1000


@dataclass(frozen=True)
class PreviewColumn:
    """One column of the file: its heading, some of its cells, and what it is taken for."""

    heading: str
    examples: tuple[str, ...]
    role: str
    unit: str


@dataclass(frozen=True)
class PreviewTest:
    """A test as it would be written: its time on the pool's clock, its readings in short."""

    line: int
    local: str
    performed_by: str
    readings: str
    note: str


@dataclass(frozen=True)
class ReadingsPreview:
    """What a table holds, read with ``settings``. problem: why it cannot be read so at all.

    new: tests that would be written; bad and doubtful count lines, of which the first are told; again: lines
    already in the log, or twice in the file; empty: lines without a reading; before_pool: tests older than
    the pool's record; remarks: what was guessed.
    """

    pool_id: UUID
    pool: str
    encoding: str
    separator: str
    rows: int
    columns: tuple[PreviewColumn, ...]
    settings: Settings
    remarks: tuple[str, ...]
    problem: str = ""
    new: int = 0
    notes: int = 0
    bad: int = 0
    doubtful: int = 0
    again: int = 0
    empty: int = 0
    before_pool: int = 0
    span: str = ""
    bad_told: tuple[Told, ...] = ()
    doubtful_told: tuple[Told, ...] = ()
    tests: tuple[PreviewTest, ...] = ()


@dataclass(frozen=True)
class Matching:
    """How a table is read: into which pool, by which settings (None: as Kumpan thinks likeliest)."""

    pool_id: UUID
    settings: Settings | None = None


MATCHING: TypeAdapter[Matching] = TypeAdapter(Matching)
PREVIEW: TypeAdapter[ReadingsPreview] = TypeAdapter(ReadingsPreview)


def check_readings(context: Context, job: Job, progress: Progress) -> Outcome:
    """Look the table through and ask."""
    matching = MATCHING.validate_python(job.parameters)
    pool = queries.pool(context.session, context.account.id, matching.pool_id)
    sheet = _sheet(context.session, job)
    usual, remarks = usual_settings(sheet, context.account.unit_system == "metric")
    settings = matching.settings or usual
    preview = ReadingsPreview(
        pool.id,
        pool.name,
        sheet.encoding,
        sheet.separator,
        len(sheet.rows),
        _columns(sheet, settings),
        settings,
        () if matching.settings else remarks,
    )
    try:
        preview = _filled(
            preview,
            check_rows(sheet, settings, _place(context, pool), progress),
            pool,
        )
    except InvalidInput as error:
        preview = replace(preview, problem=error.message)
    return Outcome("to_confirm", PREVIEW.dump_python(preview, mode="json"))


def _place(context: Context, pool: Pool) -> Place:
    return Place(ZoneInfo(pool.time_zone), context.now, _seen(context.session, pool))


def write_readings(context: Context, job: Job, progress: Progress) -> Outcome:
    """Write the table's tests, as previewed. Looked through once more: the log may have grown since."""
    matching = MATCHING.validate_python(job.parameters)
    assert matching.settings is not None
    pool = queries.pool(context.session, context.account.id, matching.pool_id)
    sheet = _sheet(context.session, job)
    checked = check_rows(
        sheet, matching.settings, _place(context, pool), lambda done, total: progress(done, 2 * total)
    )
    tests = checked.kept(matching.settings.exclude)
    with database.parents_taken_for_granted(context.session):
        for begin in range(0, len(tests), _BATCH):
            progress(len(tests) + begin, 2 * len(tests))
            _write(context.session, pool, job.id, tests[begin : begin + _BATCH], context.now)
    if tests:  # once, at the end: until here nobody waits for this pool
        queries.pool(context.session, context.account.id, pool.id, lock=True)
        instants = [test.at for test in tests]
        moved(context.session, pool.id, context.now, min(instants), max(instants))
    notes = sum(bool(t.note) for t in tests)
    written = sum(bool(t.readings) for t in tests)
    return Outcome(
        "done",
        {
            "tests": written,
            "notes": notes,
            "again": len(checked.again),
            "pool": pool.name,
            "pool_id": str(pool.id),
        },
    )


def _sheet(session: Session, job: Job) -> Sheet:
    assert job.in_file_id
    return read_sheet(files.content(session, job.in_file_id), KNOWN_HEADINGS)


def _seen(session: Session, pool: Pool) -> Seen:
    """What the log holds already, by its minute."""
    by_event: dict[UUID, set[tuple[str, float]]] = defaultdict(set)
    minute_of: dict[UUID, datetime] = {}
    for event_id, at, measure, value in queries.readings_by_event(session, pool.id):
        minute_of[event_id] = at.replace(second=0, microsecond=0)
        by_event[event_id].add((measure, round(value, 3)))
    seen: dict[datetime, list[frozenset[tuple[str, float]]]] = defaultdict(list)
    for event_id, values in by_event.items():
        seen[minute_of[event_id]].append(frozenset(values))
    for at, note in queries.notes(session, pool.id):
        seen[at.replace(second=0, microsecond=0)].append(frozenset({(note, 0.0)}))
    return dict(seen)


def _columns(sheet: Sheet, settings: Settings) -> tuple[PreviewColumn, ...]:
    drafts = []
    for i, heading in enumerate(sheet.head):
        cells = list(dict.fromkeys(row[i] for row in sheet.rows[:200] if row[i]))[:_EXAMPLES]
        column = settings.columns[i] if i < len(settings.columns) else None
        drafts.append(
            PreviewColumn(
                heading,
                tuple(c[:40] for c in cells),
                column.role if column else "",
                column.unit if column else "",
            )
        )
    return tuple(drafts)


def _filled(preview: ReadingsPreview, checked: Checked, pool: Pool) -> ReadingsPreview:
    zone = ZoneInfo(pool.time_zone)
    doubtful = {t.line for t in checked.doubtful}
    kept = (
        [t for t in checked.tests if t.line not in doubtful]
        if preview.settings.exclude == "doubtful"
        else checked.tests
    )
    dates = sorted(t.at.astimezone(zone) for t in kept)
    return replace(
        preview,
        new=sum(bool(t.readings) for t in kept),
        notes=sum(bool(t.note) for t in kept),
        bad=len({t.line for t in checked.bad}),
        doubtful=len(doubtful),
        again=len(checked.again),
        empty=checked.empty,
        before_pool=sum(t.at < pool.created_at for t in kept),
        span=f"{dates[0]:%Y-%m-%d} to {dates[-1]:%Y-%m-%d}" if dates else "",
        bad_told=tuple(checked.bad[:_MOST_TOLD]),
        doubtful_told=tuple(checked.doubtful[:_MOST_TOLD]),
        tests=tuple(_shown(t, zone) for t in kept[:_MOST_SHOWN]),
    )


def _shown(test: FoundTest, zone: ZoneInfo) -> PreviewTest:
    readings = ", ".join(
        f"{MEASURES[r.measure].short} {r.text}{f' {r.unit}' if r.measure == 'temp' else ''}"
        for r in test.readings
    )
    return PreviewTest(
        test.line, f"{test.at.astimezone(zone):%Y-%m-%d %H:%M}", test.performed_by, readings, test.note
    )


def _write(session: Session, pool: Pool, job_id: UUID, tests: list[FoundTest], now: datetime) -> None:
    events: list[dict[str, Any]] = []
    readings: list[dict[str, Any]] = []
    notes: list[dict[str, Any]] = []

    def event(test: FoundTest, kind: str) -> UUID:
        event_id = uuid7()
        events.append(
            {
                "id": event_id,
                "pool_id": pool.id,
                "at": test.at,
                "kind": kind,
                "performed_by": test.performed_by,
                "revision": 1,
                "created_at": now,
                "job_id": job_id,
                "sampling_point": test.sampling_point if kind == "water_test" else "",
            }
        )
        return event_id

    for test in tests:
        if test.readings:
            event_id = event(test, "water_test")
            readings += [
                {"event_id": event_id, "position": i, **asdict(r)} for i, r in enumerate(test.readings)
            ]
        if test.note:
            notes.append({"event_id": event(test, "note"), "details": {}, "typed": {}, "note": test.note})
    for table, rows in ((Event, events), (ReadingRow, readings), (EntryRow, notes)):
        if rows:
            session.execute(insert(table), rows)


def check_settings(settings: Settings) -> None:
    """Raise InvalidInput for choices that do not exist. What does not go together is told by the preview."""
    for name, value, known in (
        ("order", settings.order, ORDERS),
        ("decimal", settings.decimal, ("point", "comma")),
        ("method", settings.method, METHODS),
        ("exclude", settings.exclude, EXCLUDE),
    ):
        if value not in known:
            raise InvalidInput(FieldProblem(name, "unknown_choice", "Choose one of the answers."))
    for i, column in enumerate(settings.columns):
        if column.role not in ROLES and column.role not in MEASURES:
            raise InvalidInput(
                FieldProblem(f"columns.{i}.role", "unknown_choice", "Choose what this column holds.")
            )
        if column.role in MEASURES and column.unit not in UNITS[column.role]:
            raise InvalidInput(FieldProblem(f"columns.{i}.unit", "unknown_unit", "Choose the unit."))
