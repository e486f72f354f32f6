"""A sheet as it was begun, with what became of it: an accepted dose plan or a guide."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.sheets.comes_to import suggested_lost
from kumpan.actions.sheets.complain import said
from kumpan.actions.sheets.live import live_row, stock_of
from kumpan.actions.sheets.run_view import RunView, run_view
from kumpan.actions.sheets.seasonal import is_season
from kumpan.actions.sheets.told import outcome, told
from kumpan.actions.sheets.walks import Found, found_view, suggested_minutes
from kumpan.actions.shown import LogEntryView, PhotoView, show_event, show_photo
from kumpan.core.clearup.follow import Followed
from kumpan.core.dosing.request import by_earlier_rules
from kumpan.core.dosing.view import StepView
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.phrasing import terms
from kumpan.core.records import units_in
from kumpan.core.work.sheet import Became, Progress
from kumpan.store import queries
from kumpan.store.stored_sheet import (
    StoredAct,
    read_act,
    read_follows,
    read_guide_step,
    read_step,
    shown_step,
    store_said,
)
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.work import sheet_of

# Acts that a plan's row shows; the rest is a guide's.
_OF_PLANS = ("add", "retest", "dilute", "aerate", "wait")
_LATE = timedelta(hours=2)
EARLIER_RULES = "This plan was worked out by earlier rules. Test again: from here it is made anew."


@dataclass(frozen=True)
class GuideStep:
    """A guide's step as it was shown, and what its act asks. kind: do, look (choices, or a number in a unit),
    decide (choices, each with the subject of the sheet that follows) or timer (minutes, until). many: whether
    several choices may be named. units: (id, label) that a number may be in, the person's first; suggested:
    what it may be. pump, valve: the pad once it is done; valve_kind: empty without one; draws: another
    drawing.
    """

    kind: str
    title: str
    how: str
    caution: str
    why: str
    reason_id: str
    question: str
    choices: tuple[tuple[str, ...], ...]
    many: bool
    units: tuple[tuple[str, str], ...]
    suggested: str
    minutes: float
    until: str
    pump: bool
    valve: str
    valve_kind: str
    draws: str
    text: bool = False
    takes_min: float = 0.0
    helper: bool = False
    part: str = ""
    opens: str = ""


@dataclass(frozen=True)
class SheetStep:
    """A step and what became of it: of a plan its row, of a guide its own. clock: when it opens or closed, in
    words. done: the entry that closed it; said: what was said of it, by whom and when. ends_at: when its
    timer runs out. held: why it waits for something outside its sheet; held_until: until when, in words.
    measures: what a test reads. told: what is worked out beside it now. ready: whether it may be done though
    its day is to come; planned_on: that day, as day_words say it; photos: of the word that closed it.
    if_needed: whether an answer to come decides if it is done at all; waits_for: what of a plan comes first
    and is not done.
    """

    key: str
    state: str
    clock: str
    due_at: datetime
    late: bool
    may_skip: bool
    plan: StepView | None = None
    guide: GuideStep | None = None
    done: LogEntryView | None = None
    said: str = ""
    said_id: UUID | None = None
    value: str = ""
    ends_at: datetime | None = None
    held: str = ""
    held_until: str = ""
    told: str = ""
    measures: tuple[str, ...] = ()
    ready: bool = False
    planned_on: date | None = None
    day_words: str = ""
    photos: tuple[PhotoView, ...] = ()
    if_needed: bool = False
    waits_for: tuple[str, ...] = ()


@dataclass(frozen=True)
class LaterTold:
    """What was told of a later visit, and when that is."""

    clock: str
    sentence: str


@dataclass(frozen=True)
class TotalTold:
    """What was told that the whole way takes of a product."""

    name: str
    amount: str


@dataclass(frozen=True)
class Sheet:
    """A sheet as it stands. name: what one calls it; begun: when, in words. earlier_rules: why it can only be
    looked at; empty where it can be followed. left: how a guide given up leaves pump and valve, where that is
    not as they should be. found: what a walk found; outcome: what a machine's guide came to. day, day_words:
    of a season's plan, the day it is for; notes: what was noted for it last time.
    """

    id: UUID
    pool_id: UUID
    kind: str
    subject: str
    name: str
    state: str
    begun: str
    headline: str
    swim: str
    test_id: UUID | None
    steps: tuple[SheetStep, ...]
    open_steps: int
    next_key: str | None
    later: tuple[LaterTold, ...] = ()
    totals: tuple[TotalTold, ...] = ()
    earlier_rules: str = ""
    left: str = ""
    run: RunView | None = None
    found: tuple[Found, ...] = ()
    outcome: tuple[str, ...] = ()
    day: date | None = None
    day_words: str = ""
    notes: str = ""


Held = Mapping[str, tuple[str, datetime | None]]


def show_sheet(context: Context, event: Event, stands: Progress | Followed, held: Held) -> Sheet:
    """The sheet an event began, as it stands now. held: why steps wait for something outside it, by key, and
    until when.
    """
    row = sheet_of(event)
    here = context.now.astimezone(ZoneInfo(event.pool.time_zone))
    run = stands if isinstance(stands, Followed) else None
    progress = stands.progress if isinstance(stands, Followed) else stands
    steps, follows = _Steps(context, event, here, progress), read_follows(row.follows)
    rows = zip(_rows(context, event, run, progress), progress.steps, strict=True)
    shown = tuple(steps.one(step, b) for step, b in said(row, rows))
    begun = event.at.astimezone(here.tzinfo)
    return Sheet(
        id=event.id,
        pool_id=event.pool_id,
        kind=event.kind,
        subject=row.subject,
        name=name_of(event),
        state=progress.state,
        begun=f"{terms.day(here, begun)} {begun:%H:%M}",
        headline=row.headline,
        swim=_swim(event, row, here, progress),
        test_id=row.test_event_id,
        steps=tuple(_waiting(one, here, held) for one in shown),
        open_steps=sum(b.closed_at is None for b in progress.steps),
        next_key=progress.next.step.key if progress.next else None,
        later=tuple(
            LaterTold(terms.clock(here, at.astimezone(here.tzinfo)), text) for at, text in follows.later
        ),
        totals=tuple(TotalTold(name, amount) for name, amount in follows.totals),
        earlier_rules=EARLIER_RULES if earlier(event) else "",
        left=_left(shown) if progress.state == "given_up" and event.kind == "guide" else "",
        run=None if run is None else run_view(context, event, run),
        found=found_view(context, event, progress) if event.kind == "guide" else (),
        outcome=outcome(context, event, progress),
        day=progress.day,
        day_words="" if progress.day is None else _day_words(progress.day),
        notes=str(row.inputs.get("notes", "")),
    )


def _day_words(day: date) -> str:
    return f"{day:%a} {day.day} {day:%b}"


def _rows(context: Context, event: Event, run: Followed | None, progress: Progress) -> list[SheetStepRow]:
    """A sheet's steps: as they were begun, with those a person added; of a run as the log makes them now,
    what was ticked as it was shown then.
    """
    kept = sheet_of(event).steps
    if run is None:
        begun = {row.key: row for row in kept}
        return [begun.get(b.step.key) or _added(event, b) for b in progress.steps]
    by_key, stock = {row.key: row for row in kept}, stock_of(context, run)
    return [
        by_key.get(step.key) or live_row(run, step, event.id, i, stock)
        for i, step in enumerate(run.live.steps)
    ]


def _added(event: Event, became: Became) -> SheetStepRow:
    """A step of a person's own, as a row that is nowhere kept."""
    shown = store_said(became.step)
    return SheetStepRow(event_id=event.id, key=became.step.key, position=0, due_at=became.due_at, shown=shown)


def name_of(event: Event) -> str:
    """What one calls a sheet: ``Dose plan``, ``Backwash``."""
    return "Dose plan" if event.kind == "plan" else sheet_of(event).headline


def earlier(event: Event) -> bool:
    """Whether a plan was worked out by rules that are followed no more."""
    return event.kind == "plan" and by_earlier_rules(sheet_of(event).rule_version)


def _left(steps: tuple[SheetStep, ...]) -> str:
    """How pump and valve stand after the last step that was done, if not running in the filter position."""
    last = next((s.guide for s in reversed(steps) if s.state == "done" and s.guide is not None), None)
    if last is None or (last.pump and last.valve == "filter"):
        return ""
    valve = f" and the valve at {last.valve}" if last.valve_kind else ""
    return (
        f"The pump was left {'on' if last.pump else 'off'}{valve}: bring them back before you go, and"
        " before"
        " any dose."
    )


def _waiting(step: SheetStep, here: datetime, held: Held) -> SheetStep:
    """A step with what holds it."""
    why, until = held.get(step.key, ("", None))
    at = "" if until is None else terms.clock(here, until.astimezone(here.tzinfo))
    return replace(step, held=why, held_until=at)


class _Steps:
    """A sheet's steps in words; what closed them is read at once."""

    def __init__(self, context: Context, event: Event, here: datetime, progress: Progress) -> None:
        self.context, self.event, self.here, self.progress = context, event, here, progress
        ids = [UUID(b.by) for b in progress.steps if b.by]
        self.closing = queries.events_by_id(context.session, ids) if ids else {}

    def one(self, row: SheetStepRow, became: Became) -> SheetStep:
        """A step as it was shown, with what became of it. Clock words age, and a late pour pushes what waits
        for it: said again from the instant.
        """
        at = became.closed_at or became.due_at
        clock = terms.clock(self.here, at.astimezone(self.here.tzinfo))
        by = self.closing.get(UUID(became.by)) if became.by else None
        entry = by if by is not None and by.kind != "mark" else None
        act = read_act(row.shown)
        guide = plan = None
        if act.kind in _OF_PLANS:
            plan = shown_step(read_step(sheet_of(self.event).form, row.shown), at, clock)
        else:
            guide = self._guide_step(row, act)
        open_ = became.state == "open"
        return SheetStep(
            key=row.key,
            state=became.state,
            clock=clock,
            due_at=became.due_at,
            late=open_ and became.due_at < self.context.now - _LATE,
            may_skip=act.may_skip and (act.kind != "retest" or self.event.kind != "plan"),
            plan=plan,
            guide=guide,
            done=show_event(self.context, entry) if entry is not None else None,
            said=self._said(became, by),
            said_id=by.id if by is not None and by.kind == "mark" else None,
            value=became.value,
            ends_at=became.until,
            measures=act.measures or (),
            told=self._told(became),
            ready=became.ready,
            **_planned(became),
            photos=self._photos(by),
            if_needed=became.step.only_if is not None and became.state == "later",
            waits_for=self._first(became),
        )

    def _told(self, became: Became) -> str:
        """What is worked out beside a step that has its turn, or had."""
        if became.state == "later" and not became.ready:
            return ""
        return told(self.context, self.event, self.progress, became.step.key)

    def _first(self, became: Became) -> tuple[str, ...]:
        """What of a plan with days comes before a step and is not done."""
        if became.step.planned is None or became.state != "later":
            return ()
        before = (self.progress.by_key[key] for key in became.step.after)
        return tuple(b.step.words.title for b in before if b.closed_at is None)

    def _photos(self, by: Event | None) -> tuple[PhotoView, ...]:
        return () if by is None else self.photos.get(by.id, ())

    @cached_property
    def photos(self) -> dict[UUID, tuple[PhotoView, ...]]:
        """Photos of what closed a season's steps."""
        if not is_season(self.event):
            return {}
        held = queries.photos_of(self.context.session, list(self.closing))
        return {id: tuple(map(show_photo, photos)) for id, photos in held.items()}

    def _guide_step(self, row: SheetStepRow, act: StoredAct) -> GuideStep:
        shown, system = read_guide_step(row.shown), self.context.unit_system
        suggestion = suggested_lost(self.event, self.progress, system) if row.key == "lost" else ""
        suggestion = suggested_minutes(self.event, self.context.now) if row.key == "minutes" else suggestion
        suggestion = shown.place if act.text else suggestion
        held = sheet_of(self.event).inputs.get("filter", {})
        return GuideStep(
            act.kind,
            shown.title,
            shown.how,
            shown.caution,
            shown.why,
            shown.reason_id,
            act.question,
            act.choices,
            act.many,
            units_in(act.unit, system),
            suggestion,
            act.minutes,
            act.until,
            shown.pump,
            shown.valve,
            "" if held.get("medium") == "cartridge" else held.get("valve", ""),
            shown.draws,
            act.text,
            shown.takes_min,
            shown.helper,
            shown.part,
            shown.opens,
        )

    def _said(self, became: Became, by: Event | None) -> str:
        """What closed a step, in words: ``skipped by Mara, today 18:02``."""
        if by is None or became.closed_at is None:
            return ""
        local = became.closed_at.astimezone(self.here.tzinfo)
        when = f"{terms.day(self.here, local).lower()} {local:%H:%M}"
        word = "skipped" if became.state == "skipped" else "tested" if by.kind == "water_test" else "done"
        return f"{word} by {by.performed_by}, {when}"


def _planned(became: Became) -> dict[str, Any]:
    """The day a step is planned for."""
    at = became.step.planned
    return {} if at is None else {"planned_on": at.date(), "day_words": _day_words(at.date())}


def _swim(event: Event, row: SheetRow, here: datetime, progress: Progress) -> str:
    """When people may swim, said again as the plan slips: waits run from the pour."""
    opens, least = row.inputs.get("swim_from_min"), row.inputs.get("swim_least_fc_ppm")
    if opens is None or least is None:
        return row.swim
    slips = [
        (b.closed_at or max(b.due_at, here)) - held.due_at
        for held, b in zip(row.steps, progress.steps, strict=True)
        if read_act(held.shown).kind != "retest" and (b.closed_at or b is progress.next)
    ]
    lag = max([timedelta(), *slips])
    at = (event.at + timedelta(minutes=opens) + lag).astimezone(here.tzinfo)
    most = row.inputs.get("swim_most_fc_ppm") or FC_CAP
    return terms.swim_from(terms.clock(here, at), least, most)
