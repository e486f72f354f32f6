"""The Log as a stream, one plan with what became of it, and Today."""

from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter

from kumpan.actions.context import Context
from kumpan.actions.keep_photos import PhotoView, show_photo
from kumpan.actions.keep_tests import shown_local
from kumpan.actions.prove_volume import offered_lately
from kumpan.actions.waters import present_of, traits_of
from kumpan.core.dosing.findings import diagnose
from kumpan.core.dosing.request import FIELD_OF
from kumpan.core.dosing.view import StepView, show_value
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.log.kinds import HAPPENINGS, told
from kumpan.core.phrasing import terms
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.estimate.filter import Present, worth_most
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store import queries
from kumpan.store.tables import Account, CorrectionRow, Event, PlanStepRow, Pool

_STEP = TypeAdapter(StepView)
# Two to three times a week in season (practice section 4, common practice).
TEST_EVERY_DAYS = 3


@dataclass(frozen=True)
class ReadingView:
    """A reading as typed, with its words."""

    measure: str
    label: str
    short: str
    text: str
    shown: str
    unit: str
    method: str
    drop_count: int | None
    level: str
    word: str


@dataclass(frozen=True)
class EventView:
    """One entry of the Log. title and detail are its words; the rest is what a form needs to correct it."""

    id: UUID
    pool_id: UUID
    kind: str
    at: datetime
    clock: str
    day: str
    local: str
    who: str
    spot: str
    revision: int
    deleted: bool
    title: str
    detail: str
    level: str
    readings: tuple[ReadingView, ...] = ()
    product_id: str | None = None
    strength: float | None = None
    amount_text: str | None = None
    unit: str | None = None
    plan_step_id: UUID | None = None
    details: dict[str, dict[str, str]] = field(default_factory=dict)
    note: str = ""
    history: tuple[str, ...] = ()
    photos: tuple[PhotoView, ...] = ()


@dataclass(frozen=True)
class LogPage:
    """A page of the Log, newest first; ``next`` asks for the following one."""

    events: tuple[EventView, ...]
    next: str | None


@dataclass(frozen=True)
class EventUsual:
    """What was written last of a kind: in words and as typed."""

    text: str
    details: dict[str, dict[str, str]]


@dataclass(frozen=True)
class PlanStepState:
    """A step of an accepted plan and, if done, the event that ticked it."""

    id: UUID
    step: StepView
    done: EventView | None
    late: bool


@dataclass(frozen=True)
class AcceptedPlan:
    """An accepted plan as it was given, with what was done of it."""

    id: UUID
    pool_id: UUID
    test_id: UUID
    accepted: str
    headline: str
    swim: str
    rule_version: str
    steps: tuple[PlanStepState, ...]
    open_steps: int


@dataclass(frozen=True)
class NowView:
    """A measure as the log makes it now: value and 80 % span in words, when it was read and whether that is
    too long ago to dose on.
    """

    measure: str
    label: str
    shown: str
    span: str
    read: str
    level: str
    word: str


@dataclass(frozen=True)
class Today:
    """A pool's run sheet: one sentence, the plan under way, the last test, when to test next, what the log
    newly proves of the volume.
    """

    pool_id: UUID
    headline: str
    clock: str
    plan: AcceptedPlan | None
    last_test: EventView | None
    test_due: date | None
    test_due_words: str
    next_step_id: UUID | None
    volume_offer: str
    water_now: tuple[NowView, ...]
    worth_most: str


def show_event(context: Context, event: Event) -> EventView:
    """An event in the pool's own time and the person's measures."""
    zone = ZoneInfo(event.pool.time_zone)
    local, here = event.at.astimezone(zone), context.now.astimezone(zone)
    day = terms.day(here, local)
    common: dict[str, Any] = dict(
        id=event.id,
        pool_id=event.pool_id,
        kind=event.kind,
        at=event.at,
        clock=f"{local:%H:%M}",
        day=day,
        local=shown_local(event),
        who=event.who,
        spot=event.spot,
        revision=event.revision,
        deleted=event.deleted_at is not None,
        history=tuple(_history(c, zone, here) for c in event.corrections),
        photos=tuple(map(show_photo, event.photos)),
    )
    if event.happening is not None:
        typed, note = event.happening.typed, event.happening.note
        detail = ". ".join(p for p in (told(event.kind, typed), note) if p)
        return EventView(
            **common,
            title=HAPPENINGS[event.kind].label,
            detail=detail,
            level="none",
            details=typed,
            note=note,
        )
    if event.kind == "water_test":
        readings = _readings(event, context.account)
        level = (
            "act"
            if any(r.level == "act" for r in readings)
            else "watch"
            if any(r.level == "watch" for r in readings)
            else "fine"
        )
        methods = list(dict.fromkeys(METHODS[r.method].label.lower() for r in readings))
        detail = ", ".join(f"{r.short} {r.shown}" for r in readings)
        return EventView(
            **common,
            title=", ".join(filter(None, ("Test", methods[0], event.spot))),
            detail=detail,
            level=level,
            readings=readings,
        )
    if event.kind == "dose" and event.dose:
        dose, product = event.dose, PRODUCTS[event.dose.product_id]
        title = f"{product.named(dose.strength)}, {dose.text} {UNIT_LABELS[dose.unit]}"
        return EventView(
            **common,
            title=title,
            detail=_against_plan(event),
            level="none",
            product_id=dose.product_id,
            strength=dose.strength,
            amount_text=dose.text,
            unit=dose.unit,
            plan_step_id=dose.plan_step_id,
        )
    if event.kind == "task" and event.task:
        task = event.task
        title = (
            f"Replaced {task.fraction:.0%} of the water"
            if task.fraction
            else f"Aerated to pH {task.to_ph or 0.0:.1f}"
        )
        title = "Waited for chlorine to fall" if task.what == "wait" else title
        return EventView(**common, title=title, detail="", level="none", plan_step_id=task.plan_step_id)
    assert event.plan is not None
    adds = sum(s.kind == "add" for s in event.plan.steps)
    detail = f"{adds} addition{'s' if adds != 1 else ''}"
    return EventView(**common, title="Plan accepted", detail=f"{detail}. {event.plan.headline}", level="none")


def _history(row: CorrectionRow, zone: ZoneInfo, here: datetime) -> str:
    """One correction in words: when, by whom, and what stood there before."""
    at, was_at = row.at.astimezone(zone), row.was_at.astimezone(zone)
    when = f"{terms.day(here, at)} {at:%H:%M}"
    return f"{when}, {row.who}: was {row.was} ({terms.day(here, was_at).lower()} {was_at:%H:%M})"


def _readings(event: Event, account: Account) -> tuple[ReadingView, ...]:
    values = {FIELD_OF[r.measure]: r.value for r in event.readings if r.measure in FIELD_OF}
    errors = {r.measure: METHODS[r.method].plus_minus.get(r.measure, 0.0) for r in event.readings}
    methods = {r.measure: r.method for r in event.readings}
    judged = {
        f.measure: f
        for f in diagnose(with_measures(WaterState(), values), traits_of(event.pool), errors, methods)
    }
    views = []
    for r in event.readings:
        measure, found = MEASURES[r.measure], judged.get(r.measure)
        views.append(
            ReadingView(
                measure=r.measure,
                label=measure.label,
                short=measure.short,
                text=r.text,
                shown=show_value(r.measure, r.value, account.measures).removesuffix(" ppm"),
                unit=r.unit,
                method=r.method,
                drop_count=r.drop_count,
                level=found.level if found else "none",
                word=found.word if found else "",
            )
        )
    return tuple(views)


def _against_plan(event: Event) -> str:
    assert event.dose is not None
    planned = event.dose.planned
    if planned is None or planned.amount is None:
        return "not from a plan" if event.dose.plan_step_id is None else ""
    if abs(planned.amount - event.dose.amount) <= 0.005 * planned.amount:
        return "as planned"
    return f"planned {planned.shown['amount']['text']}"


def log_page(
    context: Context,
    pool_id: UUID,
    cursor: str | None,
    limit: int,
    kinds: tuple[str, ...] = (),
    search: str = "",
) -> LogPage:
    """A page of the pool's live events, newest first; only of some kinds, or of those that say what is
    searched for.
    """
    pool = queries.pool(context.session, context.account.id, pool_id)
    before = None
    if cursor:
        event = queries.event(context.session, context.account.id, UUID(cursor))
        before = (event.at, event.id)
    rows = queries.events_page(context.session, pool.id, limit + 1, before, kinds, _sought(search))
    more = str(rows[limit - 1].id) if len(rows) > limit else None
    return LogPage(tuple(show_event(context, e) for e in rows[:limit]), more)


def _sought(search: str) -> queries.Sought | None:
    """What a search means: notes and fields that hold the words, products and kinds named so."""
    text = search.strip().lower()
    if not text:
        return None
    labels = {"water_test": "test", "plan": "plan accepted", "dose": "dose"} | {
        k.id: k.label.lower() for k in HAPPENINGS.values()
    }
    return queries.Sought(
        text=text,
        products=tuple(p.id for p in PRODUCTS.values() if text in p.name.lower()),
        kinds=tuple(k for k, label in labels.items() if text in label),
    )


def usual_entries(context: Context, pool_id: UUID) -> dict[str, EventUsual]:
    """What was written last of each kind, to write the same again."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    found = {}
    for kind in HAPPENINGS:
        last = queries.latest_event(context.session, pool.id, kind) if kind != "note" else None
        if last is not None and last.happening is not None and last.happening.typed:
            found[kind] = EventUsual(told(kind, last.happening.typed), last.happening.typed)
    return found


def accepted_plan(context: Context, plan_id: UUID) -> AcceptedPlan:
    """An accepted plan as given, with its ticks."""
    return _plan(context, queries.event(context.session, context.account.id, plan_id, "plan"))


def _plan(context: Context, event: Event) -> AcceptedPlan:
    assert event.plan is not None
    rows = event.plan.steps
    done = queries.done_events(context.session, [r.id for r in rows])
    newer = queries.latest_event(context.session, event.pool_id, "water_test")
    tested_since = newer is not None and newer.at > event.at
    zone = ZoneInfo(event.pool.time_zone)
    lag = _lag(rows, done, context.now)
    steps = []
    for row in rows:
        shown = {k: v for k, v in row.shown.items() if k not in ("fraction", "to_ph")}
        ticked = done.get(row.id)
        due = row.due_at if ticked else row.due_at + lag
        # Clock words age, and a late pour pushes what waits for it: said again from the stored instant.
        shown["clock"] = terms.clock(context.now.astimezone(zone), due.astimezone(zone))
        shown["at"] = due
        by_test = (
            newer if row.kind == "retest" and tested_since and newer and newer.at >= row.due_at else None
        )
        found = ticked or by_test
        steps.append(
            PlanStepState(
                row.id,
                _STEP.validate_python(shown),
                show_event(context, found) if found else None,
                late=found is None and row.due_at < context.now - timedelta(hours=2),
            )
        )
    zone_at = event.at.astimezone(zone)
    swim, opens = event.plan.swim, event.plan.inputs.get("swim_from_min")
    if opens is not None:
        at = event.at + timedelta(minutes=opens) + lag
        swim = terms.swim_from(
            terms.clock(context.now.astimezone(zone), at.astimezone(zone)),
            event.plan.inputs["swim_least_fc_ppm"],
            event.plan.inputs.get("swim_most_fc_ppm", FC_CAP),
        )
    return AcceptedPlan(
        id=event.id,
        pool_id=event.pool_id,
        test_id=event.plan.test_event_id,
        accepted=terms.day(context.now.astimezone(zone), zone_at) + f" {zone_at:%H:%M}",
        headline=event.plan.headline,
        swim=swim,
        rule_version=event.plan.rule_version,
        steps=tuple(steps),
        open_steps=sum(s.done is None for s in steps),
    )


def _lag(rows: list[PlanStepRow], done: dict[UUID, Event], now: datetime) -> timedelta:
    """How far the plan has slipped: by steps ticked late, or by the next one still to pour. Waits run from
    the pour.
    """
    slips = [done[r.id].at - r.due_at for r in rows if r.id in done]
    upcoming = next((r for r in rows if r.kind != "retest" and r.id not in done), None)
    if upcoming is not None:
        slips.append(now - upcoming.due_at)
    return max([timedelta(), *slips])


def today(context: Context, pool_id: UUID) -> Today:
    """The pool's run sheet at this moment."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    tested = queries.latest_event(context.session, pool.id, "water_test")
    planned = queries.latest_event(context.session, pool.id, "plan")
    plan = _plan(context, planned) if planned else None
    if plan and tested and planned and tested.at > planned.at and tested.id != plan.test_id:
        plan = None  # a newer test without a plan: the old plan no longer counts
    if plan and plan.open_steps == 0:
        plan = None
    zone = ZoneInfo(pool.time_zone)
    here = context.now.astimezone(zone)
    due = (tested.at.astimezone(zone) + timedelta(days=TEST_EVERY_DAYS)).date() if tested else None
    upcoming = next((s for s in plan.steps if s.done is None), None) if plan else None
    last = show_event(context, tested) if tested else None
    present = present_of(context.session, pool, context.now)
    water_now = _water_now(pool, context.account, present, here)
    worth = worth_most(traits_of(pool), present) if tested else None
    return Today(
        pool_id=pool.id,
        headline=_headline(pool, last, upcoming, due, here, water_now),
        clock=f"{here:%a} {here.day} {here:%b}, {here:%H:%M}",
        plan=plan,
        last_test=last,
        test_due=due,
        test_due_words=_due_words(due, here.date()),
        next_step_id=upcoming.id if upcoming else None,
        volume_offer=offered_lately(context, pool),
        water_now=water_now,
        worth_most="" if worth is None else f"Worth most now: a test of {_lower(MEASURES[worth].label)}.",
    )


def _water_now(pool: Pool, account: Account, present: Present, here: datetime) -> tuple[NowView, ...]:
    """Every measure as the log makes it now, judged with what it may be off by."""
    errors = {m: e.plus_minus for m, e in present.measures.items()}
    judged = {f.measure: f for f in diagnose(present.water, traits_of(pool), errors, {})}
    views = []
    for m, e in present.measures.items():
        found, (low, high) = judged.get(m), e.span_80
        day = terms.day(here, here - timedelta(days=e.age_days))
        span = [show_value(m, v, account.measures).removesuffix(" ppm") for v in (low, high)]
        views.append(
            NowView(
                m,
                MEASURES[m].label,
                show_value(m, e.value, account.measures).removesuffix(" ppm"),
                "" if span[0] == span[1] else f"{span[0]} to {span[1]}",
                f"read {_on(day)}" + ("" if e.usable or day == "Today" else ": too old to dose on"),
                found.level if found else "none",
                found.word if found else "",
            )
        )
    return tuple(views)


def _lower(label: str) -> str:
    return label if label == "pH" else label.lower()


def _headline(
    pool: Pool,
    last: EventView | None,
    upcoming: PlanStepState | None,
    due: date | None,
    here: datetime,
    now: tuple[NowView, ...],
) -> str:
    if upcoming:
        step = upcoming.step
        act = f"{step.amount.text} {step.title.lower()}" if step.amount else step.title
        when = (
            "now"
            if step.at <= here
            else f"at {step.clock}"
            if step.at.astimezone(here.tzinfo).date() == here.date()
            else step.clock
        )
        return f"{'Next' if when != 'now' else 'Now'}: {act}{'' if when == 'now' else f', {when}'}."
    if last is None or due is None:
        return f"Nothing is known of {pool.name} yet. Test its water first."
    off = [
        f"{r.label.lower() if r.label != 'pH' else 'pH'} {r.word}" for r in last.readings if r.level == "act"
    ]
    if due <= here.date():
        return f"Last tested {_on(last.day)}: time to test again."
    low_by_now = any(n.measure == "fc" and n.level == "act" and n.word == "low" for n in now)
    if not off and low_by_now:
        return "Free chlorine is probably low by now: test and dose."
    return (
        f"Tested {_on(last.day)}: {', '.join(off)}. Plan it on the Bench."
        if off
        else f"The water was fine {_on(last.day)}. Nothing is due."
    )


def _on(day: str) -> str:
    return day.lower() if day in ("Today", "Yesterday") else f"on {day}"


def _due_words(due: date | None, day: date) -> str:
    if due is None:
        return "Test now"
    if due <= day:
        return "Test today"
    return f"Test {due:%a} {due.day} {due:%b}"
