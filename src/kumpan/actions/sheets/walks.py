"""Begin the weekly clean or a stop as a walk, and write down what it finds and what it comes to."""

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import cast
from uuid import UUID, uuid5

from kumpan.actions.context import Context
from kumpan.actions.sheets.start import NewSheet, start_sheet
from kumpan.actions.sheets.writing import take_back, write_entry
from kumpan.actions.shown import PhotoView, show_photo
from kumpan.actions.times import today_at
from kumpan.core.care.findings import Finding, found_in
from kumpan.core.care.rule import Rule
from kumpan.core.care.rules import BY_ID, FOLLOW_UP, HAZARD, OWN
from kumpan.core.care.schedule import Due, stands
from kumpan.core.care.walk import WALKS, Asked, Walk, steps_for
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.work.sheet import Progress
from kumpan.store import queries
from kumpan.store.care import FOUND, keep_task, site_of, task_of
from kumpan.store.stored_sheet import FORM, store_said
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.work import WRITTEN_FOR_MARKS, sheet_of

WALK_VERSION = "2026-11-26.1"  # changes when a row, its words or its order does
_FINDS = ("look", "pad")
_ROUND_MIN = 5


@dataclass(frozen=True)
class NewWalk(NewSheet):
    """A walk to begin; its subject: weekly, stop, away or back. feeds: what is set for the days away, in
    words; returns: the day of return, on which the walk back is due.
    """

    feeds: str = ""
    returns: date | None = None


@dataclass(frozen=True)
class Found:
    """Something a walk found: what, what to do at once, what is followed up, and the entry that photos go
    with.
    """

    id: str
    label: str
    caution: str
    task: str
    opens: str
    event_id: UUID | None
    photos: tuple[PhotoView, ...]


def begin_walk(context: Context, pool_id: UUID, new: NewWalk) -> Event:
    """Begin a walk made for this pool, or go on with the one that is under way."""

    def made(pool: Pool, at: datetime) -> SheetRow:
        if new.subject not in WALKS:
            raise InvalidInput(FieldProblem("kind", "unknown_choice", "There is no such walk."))
        kind = cast(Walk, new.subject)
        asked = replace(_asked(context, pool), feeds=new.feeds)
        if new.returns is not None:
            _due_back(context, pool, new.id, new.returns)
        return SheetRow(
            subject=kind,
            rule_version=WALK_VERSION,
            headline=WALKS[kind],
            swim="",
            form=FORM,
            inputs={"walk": kind},
            steps=[
                SheetStepRow(key=step.key, position=i, due_at=at, shown=store_said(step))
                for i, step in enumerate(steps_for(kind, asked))
            ],
        )

    return start_sheet(context, pool_id, new, made)


_BACK_TITLE = "Back home: look, then test"


def _due_back(context: Context, pool: Pool, sheet_id: UUID, on: date) -> None:
    """The look and the test on the day of return, once."""
    params = {"title": _BACK_TITLE, "on": on.isoformat(), "opens": "back"}
    _task(context, pool, (uuid5(sheet_id, "back"), OWN), params)


def _task(context: Context, pool: Pool, which: tuple[UUID, Rule], params: dict[str, str]) -> None:
    """A duty that comes once."""
    id, rule = which
    row = TaskRow(
        id=id, account_id=pool.account_id, pool_id=pool.id, pool=pool, subject=rule.group,
        rule_id=rule.id, anchor="once", rrule="", days=0, season="", since=today_at(pool, context.now),
        own=True, next_why="", revision=1, created_at=context.now, params=params,
    )  # fmt: skip
    context.session.add(row)
    context.session.flush()
    keep_task(context.session, row)


def _asked(context: Context, pool: Pool) -> Asked:
    """What the walk is made for: what is due at this pool today."""
    today = today_at(pool, context.now)
    due: list[str] = []
    filter_due = ""
    for row in queries.tasks(context.session, pool.id):
        stood = stands(task_of(row), Due(row.next_due, row.next_why, row.next_lapses), today)
        if row.off_at is not None or stood.state not in ("due", "overdue"):
            continue
        rule = BY_ID[row.rule_id]
        due += [m for m in rule.reads if m not in ("fc", "ph")]
        filter_due = f"Due: {stood.why}" if rule.group == "filter" and rule.opens == "filter" else filter_due
    site = site_of(context.session, pool)
    clean = site.equipment.get("filter", {}).get("clean")
    return Asked(
        site,
        tuple(dict.fromkeys(due)),
        filter_due,
        None if clean is None else float(clean),
        context.unit_system,
    )


def walked(context: Context, sheet: Event, progress: Progress, mark: Event) -> None:
    """Write down what a word of a walk comes to: its findings, the gauge, the clean and its minutes."""
    if sheet.kind != "guide" or "walk" not in sheet_of(sheet).inputs:
        return
    key = str(getattr(mark.detail, "key", ""))
    value = str(getattr(mark.detail, "value", ""))
    if getattr(mark.detail, "verb", "") == "answer" and key in _FINDS:
        _write_found(context, sheet, mark, value)
    _write_clean(context, sheet, progress)
    _write_gauge(context, sheet, progress)
    if sheet_of(sheet).subject == "back" and progress.state == "done" and progress.ended_at is not None:
        _write_back(context, sheet, progress.ended_at)


def _write_back(context: Context, sheet: Event, at: datetime) -> None:
    """Being back is seen to."""
    for row in queries.tasks(context.session, sheet.pool_id):
        if row.params.get("opens") == "back" and row.next_due is not None:
            fields = {"what": ("other", ""), "task_id": (str(row.id), "")}
            write_entry(context, sheet, (uuid5(sheet.id, f"back:{row.id}"), "upkeep", at), fields)


def _write_found(context: Context, sheet: Event, mark: Event, value: str) -> None:
    """The entries of what was found, a thing looked at each, and what is to be followed up. What an earlier
    answer to the same question said goes.
    """
    session = context.session
    for id, _, said, _ in queries.marks_of(session, sheet.id):
        if id != mark.id and said.key == getattr(mark.detail, "key", ""):
            for name in WRITTEN_FOR_MARKS:
                take_back(context, uuid5(id, name))
    by_what: dict[str, list[Finding]] = {}
    for finding in found_in(value):
        if finding.task:
            by_what.setdefault(finding.what, []).append(finding)
    if getattr(mark.detail, "key", "") == "look":
        for what in ("drain", "gate"):
            # Looked at and well again: that closes what was found before.
            if what not in by_what and queries.last_found(session, sheet.pool_id, what) == "broken":
                by_what[what] = []
    for what, findings in by_what.items():
        found = findings[0].found if findings else "fine"
        note = "; ".join(f.label for f in findings)
        id = uuid5(mark.id, f"found:{what}")
        write_entry(
            context, sheet, (id, "inspection", mark.at), {"what": (what, ""), "found": (found, "")}, note
        )
        for finding in findings:
            _follow_up(context, sheet, mark, finding, id)


def _follow_up(context: Context, sheet: Event, mark: Event, finding: Finding, event_id: UUID) -> None:
    """What is to be done about a finding, unless it is on the list already."""
    pool, session = sheet.pool, context.session
    listed = [r for r in queries.tasks(session, pool.id) if r.rule_id in FOUND and r.next_due]
    if any(r.params.get("title") == finding.task for r in listed):
        return
    on = today_at(pool, context.now) + timedelta(days=finding.due_days)
    params = {
        "title": finding.task, "on": on.isoformat(), "event_id": str(event_id), "opens": finding.opens,
    }  # fmt: skip
    rule = HAZARD if finding.is_hazard else FOLLOW_UP
    _task(context, pool, (uuid5(mark.id, finding.id), rule), params)


def _write_clean(context: Context, sheet: Event, progress: Progress) -> None:
    """The one entry of the clean, as soon as it is ticked; its minutes once they are said."""
    clean, minutes = progress.by_key.get("clean"), progress.by_key.get("minutes")
    if clean is None or clean.state != "done" or clean.closed_at is None:
        take_back(context, uuid5(sheet.id, "entry"))
        return
    typed = {"what": ("whole", "")}
    if minutes is not None and minutes.state == "done" and minutes.value:
        text, _, unit = minutes.value.rpartition(" ")
        typed["minutes"] = (text, unit)
    write_entry(context, sheet, (uuid5(sheet.id, "entry"), "clean", clean.closed_at), typed)


def _write_gauge(context: Context, sheet: Event, progress: Progress) -> None:
    gauge = progress.by_key.get("gauge")
    if gauge is None or gauge.state != "done" or not gauge.value or gauge.closed_at is None:
        return
    text, _, unit = gauge.value.rpartition(" ")
    id = uuid5(sheet.id, "gauge")
    write_entry(context, sheet, (id, "pressure", gauge.closed_at), {"pressure": (text, unit)})


def suggested_minutes(sheet: Event, now: datetime) -> str:
    """How long a walk has taken so far, to the next five minutes."""
    minutes = (now - sheet.at).total_seconds() / 60
    return f"{max(_ROUND_MIN, round(minutes / _ROUND_MIN) * _ROUND_MIN)} min"


def found_view(context: Context, sheet: Event, progress: Progress) -> tuple[Found, ...]:
    """What a walk found, with what is to be done about it."""
    if "walk" not in sheet_of(sheet).inputs:
        return ()
    shown = []
    for key in _FINDS:
        became = progress.by_key.get(key)
        if became is None or became.state != "done":
            continue
        for finding in found_in(became.value):
            id = uuid5(UUID(became.by), f"found:{finding.what}") if finding.task else None
            event = None if id is None else context.session.get(Event, id)
            photos = () if event is None else tuple(map(show_photo, event.photos))
            label, caution, task = finding.label, finding.caution, finding.task
            event_id = None if event is None else event.id
            shown.append(Found(finding.id, label, caution, task, finding.opens, event_id, photos))
    return tuple(shown)
