"""A pool's run sheet: what is under way in one order, the next act, the water now and when to test next."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.care.due import Standing, Visit, standing_of, visit_of
from kumpan.actions.context import Context
from kumpan.actions.forecast.coming import ComingView, coming_of
from kumpan.actions.forecast.view import at_rest, test_due
from kumpan.actions.pools.proofs import offered_lately
from kumpan.actions.sheets.order import held_in, order_of
from kumpan.actions.sheets.view import Sheet, SheetStep, show_sheet
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.actions.weather.view import WeatherView, weather_view
from kumpan.core.clearup.standing import SwimTonight
from kumpan.core.dosing.findings import diagnose
from kumpan.core.guidance.swimming import swim_status
from kumpan.core.phrasing import terms
from kumpan.core.phrasing.terms import show_value
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.estimate.worth import worth_most
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.readings import combined_chlorine_ppm
from kumpan.core.water.state import WaterState, with_measures
from kumpan.core.work.merge import Line, lines_shown
from kumpan.store import queries
from kumpan.store.care import care_of
from kumpan.store.tables.pools import Pool
from kumpan.store.water import filter_of, traits_of


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
class TodayLine:
    """A step in the one order of all that is under way. held: why it waits for something outside its own
    sheet; held_until: until when, in words. free: whether it can be done now; pours: whether it is a dose.
    """

    sheet_id: UUID
    sheet: str
    key: str
    title: str
    clock: str
    state: str
    free: bool
    pours: bool
    held: str
    held_until: str


@dataclass(frozen=True)
class Today:
    """A pool's run sheet: one sentence, the sheets under way and their steps in one order (at most seven, and
    how many more), the last test, when to test next, what the log newly proves of the volume. coming: how
    long chlorine lasts; None where a dose is planned or a run is under way, which change that.
    """

    pool_id: UUID
    headline: str
    clock: str
    sheets: tuple[Sheet, ...]
    lines: tuple[TodayLine, ...]
    more_lines: int
    last_test: LogEntryView | None
    test_due: date | None
    test_due_words: str
    visit: Visit
    volume_offer: str
    water_now: tuple[NowView, ...]
    worth_most: str
    weather: WeatherView
    swim: SwimTonight | None
    coming: ComingView | None


def today(context: Context, pool_id: UUID) -> Today:
    """The pool's run sheet at this moment."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    tested = queries.latest_event(context.session, pool.id, "water_test")
    alive, order = order_of(context, pool.id)
    zone = ZoneInfo(pool.time_zone)
    here = context.now.astimezone(zone)
    standing = standing_of(context, pool)
    due = test_due(standing)
    last = show_event(context, tested) if tested else None
    stands = filter_of(context.session, pool, context.now)
    present = stands.at(context.now)
    poured = queries.newest_at(context.session, pool.id, "dose")
    water_now = _water_now(context, pool, present, (here, poured))
    worth = worth_most(traits_of(pool), present) if tested else None
    sheets = tuple(show_sheet(context, one.event, one.stands, held_in(order, one.event)) for one in alive)
    coming = _coming(context, pool, stands, (standing, sheets, due)) if tested else None
    lines, more = lines_shown(order)
    visit = visit_of(standing, frozenset(_BUSY.get(s.subject, s.subject) for s in sheets))
    waiting = (line for line in order if line.became.step.planned is None)  # a day to come is no next act
    first = next((line for line in order if line.free), next(waiting, None))
    return Today(
        pool_id=pool.id,
        headline=_hazard(visit)
        or (_next_act(first, sheets, here) if first else _state(pool, last, here, water_now, visit)),
        clock=f"{here:%a} {here.day} {here:%b}, {here:%H:%M}",
        sheets=sheets,
        lines=tuple(_line(line, sheets) for line in lines),
        more_lines=more,
        last_test=last,
        test_due=due,
        test_due_words=_due_words(due, here.date(), coming),
        visit=visit,
        volume_offer=offered_lately(context, pool),
        water_now=water_now,
        weather=weather_view(context, pool, here),
        swim=_swim(context, pool, present, (sheets, last, poured)),
        coming=coming,
        worth_most="" if worth is None else f"Worth most now: a test of {_lower(MEASURES[worth].label)}.",
    )


# What a sheet under way does, by where a task is done.
_BUSY = {"algae": "clear-up", "shock": "clear-up"}


def _coming(
    context: Context, pool: Pool, stands: Filter, told: tuple[Standing, tuple[Sheet, ...], date | None]
) -> ComingView | None:
    """What is to come; None where the pool is closed, and where doses are planned or a run is under way: it
    follows from them.
    """
    standing, sheets, due = told
    changed = any(s.state in ("under_way", "paused") and s.kind in ("plan", "clear_up") for s in sheets)
    return None if changed or at_rest(standing) else coming_of(context, pool, stands, due).view


# A reading this old says nothing of swimming (our own).
_SWIM_READ = timedelta(hours=24)


def _swim(
    context: Context,
    pool: Pool,
    present: Present,
    told: tuple[tuple[Sheet, ...], LogEntryView | None, datetime | None],
) -> SwimTonight | None:
    """May we swim tonight? By the run under way, by the plan's own sentence (None: it says so itself), else
    by what was read within a day, if nothing was poured since.
    """
    sheets, last, newest_dose = told
    run = next((s.run for s in sheets if s.run is not None and s.state in ("under_way", "paused")), None)
    if run is not None:
        return run.swim
    if any(s.kind == "plan" for s in sheets) or last is None:
        return None
    poured = max(last.at, newest_dose or last.at)
    if queries.last_found(context.session, pool.id, "drain") == "broken":
        text = "No swimming: a drain cover is broken or missing."
        return SwimTonight(False, text, "Replace it, look at it, and log that it is fine.")
    if context.now - last.at > _SWIM_READ or poured > last.at:
        why = "something went in since the last test" if poured > last.at else f"last tested {_on(last.day)}"
        return SwimTonight(None, f"Swimming waits for a reading: {why}.", "Free chlorine and pH decide.")
    values: dict[str, float | None] = {r.measure: r.value for r in last.readings}
    combined = combined_chlorine_ppm(list(last.readings))
    known = {"cya": present.water.cya_ppm, "cc": combined} | values
    status = swim_status(with_measures(WaterState(), known), traits_of(pool))
    return SwimTonight(status.allowed, status.sentence, "")


def _line(line: Line, sheets: tuple[Sheet, ...]) -> TodayLine:
    step = _step_of(line, sheets)
    return TodayLine(
        UUID(line.sheet.start.id),
        line.sheet.name,
        step.key,
        _title(step),
        step.day_words if step.state == "later" and step.day_words else step.clock,
        step.state,
        line.free,
        step.plan is not None and step.plan.kind == "add",
        line.held,
        step.held_until,
    )


def _step_of(line: Line, sheets: tuple[Sheet, ...]) -> SheetStep:
    sheet = next(s for s in sheets if str(s.id) == line.sheet.start.id)
    return next(s for s in sheet.steps if s.key == line.became.step.key)


def _title(step: SheetStep) -> str:
    """An act in words: ``12 fl oz muriatic acid``."""
    if step.guide is not None:
        return step.guide.title
    assert step.plan is not None
    amount = step.plan.amount
    return f"{amount.text} {step.plan.title.lower()}" if amount else step.plan.title


def _water_now(
    context: Context, pool: Pool, present: Present, when: tuple[datetime, datetime | None]
) -> tuple[NowView, ...]:
    """Every measure, judged with what it may be off by: what was read today as it was read, the rest as the
    log makes it. A reading that the log differs from by more than its method's error stands beside what the
    log says. when: now, and when something was poured last.
    """
    here, poured = when
    read = _read_today(context, pool, present, (here, poured))
    errors = {m: e.u95 for m, e in present.measures.items()} | {m: off for m, (_, off) in read.items()}
    water = with_measures(present.water, {m: value for m, (value, _) in read.items()})
    judged = {f.measure: f for f in diagnose(water, traits_of(pool), errors, {})}
    system = context.account.unit_system
    views = []
    for m, e in present.measures.items():
        finding, day = judged.get(m), terms.day(here, here - timedelta(days=e.age_days))
        value, off = read.get(m, (e.value, 0.0))
        span = _span(m, e.span_80, system)
        if m in read:
            apart = abs(value - e.value) > off
            span = f"by the log {show_value(m, e.value, system).removesuffix(' ppm')}" if apart else ""
        views.append(
            NowView(
                m,
                MEASURES[m].label,
                show_value(m, value, system).removesuffix(" ppm"),
                span,
                f"read {_on(day)}" + ("" if e.usable or day == "Today" else ": too old to dose on"),
                finding.level if finding else "none",
                finding.verdict if finding else "",
            )
        )
    return tuple(views)


def _read_today(
    context: Context, pool: Pool, present: Present, when: tuple[datetime, datetime | None]
) -> dict[str, tuple[float, float]]:
    """What was read since midnight, newest last, with its method's 95 % error: as far as nothing that moves
    it went in since, so that the reading still is the water.
    """
    here, poured = when
    midnight = here.replace(hour=0, minute=0, second=0, microsecond=0)
    finding = queries.readings_between(context.session, pool.id, midnight, context.now)
    known = [
        (m, value, method)
        for m, at, value, method in finding
        if m in present.measures and (poured is None or at > poured)
    ]
    return {
        m: (value, METHODS[method].u95(m, value) if method in METHODS else 0.0) for m, value, method in known
    }


def _span(measure: str, span: tuple[float, float], system: str) -> str:
    """An 80 % span in words, its unit once."""
    low, high = (show_value(measure, v, system).removesuffix(" ppm") for v in span)
    return "" if low == high else f"{low.partition(' ')[0]} to {high}"


def _lower(label: str) -> str:
    return label if label == "pH" else f"{label[:1].lower()}{label[1:]}"


def _next_act(line: Line, sheets: tuple[Sheet, ...], here: datetime) -> str:
    step = _step_of(line, sheets)
    act, due = _title(step), line.became.due_at.astimezone(here.tzinfo)
    if line.free:
        return f"Now: {act}."
    if line.held:
        return f"{act[:1].upper()}{act[1:]} waits. {line.held}"
    return f"Next: {act}, {'at ' if due.date() == here.date() else ''}{step.clock}."


def _hazard(visit: Visit) -> str:
    """A hazard found owns the headline until it is seen to."""
    worst = next(iter(visit.now), None)
    return "" if worst is None or not worst.harm else f"First: {_lower(worst.title)}."


def _state(
    pool: Pool, last: LogEntryView | None, here: datetime, now: tuple[NowView, ...], visit: Visit
) -> str:
    if last is None:
        return f"Nothing is known of {pool.name} yet. Test its water first."
    off = [f"{_lower(r.label)} {r.word}" for r in last.readings if r.level == "act"]
    if visit.sentence:
        return visit.sentence
    season = care_of(pool).season
    if season is not None and not season.holds(here.date()):
        opens = season.first_in(here.date())
        return f"Out of season until {opens.day} {opens:%b}. Nothing is due."
    low_by_now = any(n.measure == "fc" and n.level == "act" and n.word == "low" for n in now)
    if not off and low_by_now:
        return "Free chlorine is probably low by now: test and dose."
    if off:
        return f"Tested {_on(last.day)}: {', '.join(off)}. Plan it on the Bench."
    return f"The water was fine {_on(last.day)}. Nothing is due."


def _on(day: str) -> str:
    return day.lower() if day in ("Today", "Yesterday") else f"on {day}"


def _due_words(due: date | None, day: date, coming: ComingView | None) -> str:
    if due is None:
        return "No test is due"
    if due <= day:
        return "Test today"
    if coming is not None and coming.test_on < due:
        return f"Your own next test is {due:%a} {due.day} {due:%b}"
    return f"Test {due:%a} {due.day} {due:%b}"
