"""Work under way as the core's fold sees it, and what is kept of it on the sheet's own row."""

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.machines.guide import IDLE_MIN
from kumpan.core.seasons.plan import DAY_BEGINS
from kumpan.core.work import sheet as w
from kumpan.core.work.fold import progress
from kumpan.store import care, queries
from kumpan.store.runs import followed
from kumpan.store.stored_sheet import StoredAct, read_act
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.water import estimate_moved

# A plan is over a week after its last step was due: its reading says nothing of the water any more (our own).
_PLAN_TERM = timedelta(days=7)

# By these names, beside its mark's id, entries are written that an answer tells: water lost, what was found.
WRITTEN_FOR_MARKS = (
    "lost", "found:equipment", "found:drain", "found:gate", "found:cell", "found:water",
    "grade", "cleaned", "cell", "tablets", "season", "water", "cover", "gauge",
)  # fmt: skip
# And by these, beside their sheet's id, those that a walk's steps come to.
WRITTEN_FOR_STEPS = {"clean": "entry", "gauge": "gauge"}


def sheet_of(event: Event) -> SheetRow:
    """The sheet an event began."""
    assert isinstance(event.detail, SheetRow)
    return event.detail


def start_of(event: Event) -> w.Start:
    """How a sheet began, for the fold: each step after the one before, a plan's with its waits."""
    rows, zone = sheet_of(event).steps, ZoneInfo(event.pool.time_zone)
    steps = tuple(_step(row, rows[i - 1] if i else None, zone) for i, row in enumerate(rows))
    if event.kind != "plan":
        subject = sheet_of(event).subject
        inputs = sheet_of(event).inputs
        idle_min, day = float(inputs.get("idle_min", IDLE_MIN)), inputs.get("day")
        of = None if day is None else date.fromisoformat(day)
        return w.Start(str(event.id), event.kind, subject, event.at, steps, idle_min=idle_min, day=of)
    read = frozenset(m for s in steps if isinstance(s.act, w.Test) for m in s.act.measures)
    # A clear-up takes the water over: what was planned before is overtaken.
    ended_by = (w.MetBy("water_test", read), w.MetBy("plan"), w.MetBy("clear_up"))
    last = max((row.due_at for row in rows), default=event.at)
    return w.Start(str(event.id), "plan", "dose", event.at, steps, ended_by, last + _PLAN_TERM)


def _step(row: SheetStepRow, before: SheetStepRow | None, zone: ZoneInfo) -> w.Step:
    act = read_act(row.shown)
    step = w.Step(
        row.key,
        _act(act),
        w.Words(str(row.shown.get("title", ""))),
        claims=_claims(act),
        met_by=_met_by(act),
        may_skip=act.may_skip,
        only_if=act.only_if,
    )
    if act.planned:
        due = row.due_at.astimezone(zone)
        return replace(
            step,
            words=replace(step.words, caution=str(row.shown.get("caution", ""))),
            after=act.after or (),
            wait_min=act.wait_min,
            not_before=due if act.timed else None,
            planned=datetime.combine(due.date(), DAY_BEGINS, zone),
        )
    if before is None:
        return replace(step, not_before=row.due_at)
    if act.timed:
        return replace(step, after=(before.key,), not_before=row.due_at)
    wait_min = (row.due_at - before.due_at).total_seconds() / 60
    return replace(step, after=(before.key,), wait_min=wait_min)


def _met_by(act: StoredAct) -> w.MetBy | None:
    if act.kind == "retest":
        return w.MetBy("water_test", frozenset(act.measures or ()))
    return w.MetBy(act.met_by[0]) if act.met_by else None


def _claims(act: StoredAct) -> frozenset[w.Claim]:
    if act.kind == "add":
        return frozenset({"water", "pump_on"})
    return frozenset(c for c in w.CLAIMS if c in act.claims)


def _act(act: StoredAct) -> w.Act:
    if act.kind == "add" and act.product_id is not None:
        return w.Pour(act.product_id, act.strength, act.amount or 0.0)
    if act.kind == "retest":
        return w.Test(act.measures or ())
    if act.kind == "look":
        choices = tuple((id, label) for id, label in act.choices)
        return w.Look(act.question, choices, act.unit, act.many, act.text)
    if act.kind == "decide":
        return w.Decide(act.question, tuple((id, label, then) for id, label, then in act.choices))
    if act.kind == "timer":
        return w.Wait(act.minutes, act.until)
    return w.Do()


def _entries(session: Session, event: Event, start: w.Start, until: datetime) -> list[w.Entry]:
    """What was written since a sheet began, as far as it may tick or end it, up to an instant."""
    ticks: dict[UUID, set[str]] = {}
    seen: dict[UUID, tuple[datetime, str, frozenset[str]]] = {}
    for id, at, kind, key in queries.ticks_of(session, event.id):
        ticks.setdefault(id, set()).add(key)
        seen[id] = (at, kind, frozenset())
    kinds = {end.kind for end in start.ended_by} | {s.met_by.kind for s in start.steps if s.met_by}
    if kinds:
        span = (event.at, until)
        for id, at, kind, reads in queries.of_kinds_between(session, event.pool_id, span, kinds):
            both = {"cc"} if {"fc", "tc"} <= reads else set()  # combined is total less free
            seen[id] = (at, kind, reads | both)
    return [
        w.Entry(str(id), at, kind, reads, frozenset(ticks.get(id, ())))
        for id, (at, kind, reads) in seen.items()
    ]


def _marks(session: Session, event: Event) -> list[w.Mark]:
    """What was said of a sheet."""
    return [
        w.Mark(str(id), at, mark.key, mark.verb, mark.value)
        for id, at, mark, _ in queries.marks_of(session, event.id)
    ]


def progress_of(session: Session, event: Event, now: datetime) -> w.Progress:
    """A sheet as it stands at an instant."""
    return (
        followed(session, event, now).progress if event.kind == "clear_up" else _as_begun(session, event, now)
    )


def _as_begun(session: Session, event: Event, now: datetime) -> w.Progress:
    """A sheet whose steps are as they were begun."""
    start = start_of(event)
    until = now if start.lapses_at is None else min(now, start.lapses_at)
    return progress(start, _entries(session, event, start, until), _marks(session, event), now)


def alive_of(session: Session, pool_id: UUID, subject: str, now: datetime) -> Event | None:
    """A guide or walk of a subject that has not ended at an instant; None where there is none. One that was
    left has ended by now, though nothing was written since that would say so on its row.
    """
    for begun in queries.sheets_alive(session, pool_id):
        mine = sheet_of(begun).subject == subject
        if mine and progress_of(session, begun, now).state in ("under_way", "paused"):
            return begun
    return None


@dataclass(frozen=True)
class PlannedDay:
    """A day of a plan under way, with the titles of what is still to be done on it."""

    sheet_id: UUID
    name: str
    day: date
    titles: tuple[str, ...]


def planned_days(session: Session, pool_id: UUID, now: datetime) -> list[PlannedDay]:
    """The days of a pool's plans under way on which something is left to do."""
    found: list[PlannedDay] = []
    for event in queries.sheets_alive(session, pool_id):
        row = sheet_of(event)
        if "day" not in row.inputs:
            continue
        days: dict[date, list[str]] = {}
        for b in progress_of(session, event, now).steps:
            if b.closed_at is None and b.step.planned is not None:
                days.setdefault(b.step.planned.date(), []).append(b.step.words.title)
        found += [PlannedDay(event.id, row.headline, day, tuple(titles)) for day, titles in days.items()]
    return sorted(found, key=lambda one: one.day)


def run_alive(session: Session, pool_id: UUID, now: datetime) -> Event | None:
    """The clear-up that has the pool's water at an instant; None where there is none."""
    for event in queries.sheets_alive(session, pool_id):
        if event.kind == "clear_up":
            run = followed(session, event, now)
            if run.start.holds_water and run.progress.state in ("under_way", "paused"):
                return event
    return None


def moved(
    session: Session, pool_id: UUID, now: datetime, *instants: datetime, kind: str | None = None
) -> None:
    """Keep on each sheet's row how it stands, after entries at these instants were written, corrected or
    deleted: those alive then; and on each task's when it is next due. Called wherever an entry is written.
    kind: of the entries, None for any, empty for what no task minds. The pool's row is locked by now.
    """
    session.flush()
    kinds = None if kind is None else (kind,)
    estimate_moved(session, pool_id, kinds, *instants)
    if kind in (None, "season"):
        care.fit_closed(session, pool_id, now)
    care.moved(session, pool_id, kinds)
    for event in queries.sheets_alive(session, pool_id, (min(instants), max(instants))):
        keep(session, event, now)


def keep(session: Session, event: Event, now: datetime) -> w.Progress:
    """Keep on a sheet's row how it stands."""
    folded, row = progress_of(session, event, now), sheet_of(event)
    row.state, row.ended_at = folded.state, folded.ended_at
    row.next_at = folded.next.due_at if folded.next else None
    row.next_line = folded.next.step.words.title[:200] if folded.next else ""
    return folded
