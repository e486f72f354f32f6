"""What a run shows beside its steps: its curve, what ends it, what goes wrong, what was foretold."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.actions.context import Context
from kumpan.actions.sheets.live import measures_of
from kumpan.core.amounts import describe, rounded_down, tool_for
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.course import Course, Criterion
from kumpan.core.clearup.follow import Followed
from kumpan.core.clearup.foretell import Foretold, Span
from kumpan.core.clearup.prevention import why_it_grew
from kumpan.core.clearup.propose import schools_for
from kumpan.core.clearup.standing import so_far, swim_tonight, warnings
from kumpan.core.phrasing import terms
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.work.sheet import Test
from kumpan.store.runs import past_of
from kumpan.store.stored_run import read_foretold, volume_then_l
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow

_WEEKS = timedelta(days=30)


@dataclass(frozen=True)
class SwimView:
    """May we swim tonight? allowed: None where a reading decides; changes: the condition."""

    allowed: bool | None
    sentence: str
    changes: str


@dataclass(frozen=True)
class WarningView:
    """What goes wrong, and what to try next."""

    id: str
    what: str
    next: str


@dataclass(frozen=True)
class CriterionView:
    """One thing that ends the kill, and how it stands."""

    id: str
    label: str
    met: bool
    words: str


@dataclass(frozen=True)
class ForetoldView:
    """What was foretold at the start beside what it came to, in words: (what, foretold, so far)."""

    lines: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class CurvePoint:
    """A reading or a pour on the curve. fc: ppm after it; low, high: a reading's 95 %. kind: read, doubtful
    or poured; before: ppm before a pour.
    """

    at: datetime
    fc: float
    kind: str
    label: str
    before: float | None = None
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class CurveView:
    """The run's free chlorine over the level it holds. nights: when the sun is off the water; foretold_end:
    the latest that four of five such runs end.
    """

    points: tuple[CurvePoint, ...]
    level_ppm: float
    level_words: str
    most_ppm: float
    begins: datetime
    ends: datetime
    now: datetime
    nights: tuple[tuple[datetime, datetime], ...]
    days: tuple[tuple[datetime, str], ...]
    foretold_end: datetime | None


@dataclass(frozen=True)
class SchoolView:
    """A school a run may change to."""

    id: str
    label: str
    what: str
    fits: bool
    why: str


@dataclass(frozen=True)
class WhyView:
    """One thing that may have let the algae in, what to change, and the test that follows up."""

    found: str
    change: str
    follow_up: str


@dataclass(frozen=True)
class RunView:
    """A run beside its steps. method: the kit its chlorine is read by; over: whether the kill is."""

    aim: str
    school: str
    school_label: str
    method: str
    over: bool
    swim: SwimView
    warnings: tuple[WarningView, ...]
    criteria: tuple[CriterionView, ...]
    foretold: ForetoldView | None
    curve: CurveView
    schools: tuple[SchoolView, ...]
    why: tuple[WhyView, ...]
    changed: tuple[str, ...]


def run_view(context: Context, event: Event, run: Followed) -> RunView:
    """A run as it stands now."""
    assert isinstance(event.detail, SheetRow)
    foretold = read_foretold(event.detail.inputs)
    course = run.course
    swim = swim_tonight(run)
    changes = " ".join(filter(None, (swim.changes, _next_reading(run)))) if swim.allowed is not True else ""
    killing = course.run.aim == "algae" and course.killed_at is None
    label = t.SCHOOLS[course.school].label if course.school in t.SCHOOLS else "one raise"
    return RunView(
        aim=course.run.aim,
        school=course.school,
        school_label=label,
        method=course.run.method,
        over=course.killed_at is not None,
        swim=SwimView(swim.allowed, swim.sentence, changes),
        warnings=tuple(WarningView(w.id, w.what, w.next) for w in warnings(run, foretold)),
        criteria=tuple(CriterionView(c.id, c.label, c.met, c.words) for c in _criteria(course)),
        foretold=None if foretold is None else _foretold(context, course, foretold),
        curve=_curve(context, course, foretold),
        schools=_schools(course) if killing else (),
        why=() if killing or course.run.aim == "shock" else _why(context, event, course),
        changed=_changed(event, course),
    )


def _next_reading(run: Followed) -> str:
    """When it is read next, in words; empty where no reading is to come."""
    tests = [b for b in run.progress.steps if isinstance(b.step.act, Test) and b.closed_at is None]
    if not tests:
        return ""
    here = run.course.run.local(run.course.now)
    due = run.course.run.local(tests[0].due_at)
    return "Read next: now." if due <= here else f"Read next: {terms.clock(here, due)}."


def _criteria(course: Course) -> tuple[Criterion, ...]:
    return () if course.run.aim == "shock" else course.criteria(course.killed_at)


def _schools(course: Course) -> tuple[SchoolView, ...]:
    fits = schools_for(course.run.method, course.run.looks, course.level_ppm)
    return tuple(SchoolView(f.school.id, f.school.label, f.school.what, f.fits, f.why) for f in fits)


def _changed(event: Event, course: Course) -> tuple[str, ...]:
    """What changed since the run began, so that what is ahead differs from what was told."""
    assert isinstance(event.detail, SheetRow)
    found, volume = [], volume_then_l(event.detail.inputs)
    if abs(event.pool.volume_l / volume - 1) > 0.01:
        found.append("Changed since: the pool's volume. Amounts ahead follow the new one.")
    if abs(course.level_ppm - course.run.level_ppm) > 1:
        found.append(
            f"Changed since: the level is {course.level_ppm:.0f} ppm now, {course.run.level_ppm:.0f}"
            " when it"
            " began; stabilizer was read anew."
        )
    return tuple(found)


# --- What was foretold.


def span_days(span: Span) -> str:
    """Days in words: ``2 to 5 days``.

    >>> span_days(Span(3.4, 2.4, 5.4)), span_days(Span(0.9, 0.6, 1.4))
    ('2 to 5 days', '1 to 2 days')
    """
    low, high = max(1, round(span.low)), max(1, round(span.high))
    return f"{low} to {max(high, low + 1)} days"


def amount_words(context: Context, product_id: str, amount: float, volume_l: float) -> str:
    """An amount of a product in the person's measures."""
    form = form_of(PRODUCTS[product_id])
    tool = tool_for(amount, form, context.unit_system, volume_l, measures_of(context).own)
    return describe(max(tool.step, rounded_down(amount + tool.step / 2, tool)), tool, form).text


def span_amount(context: Context, product_id: str, foretold: Foretold, volume_l: float) -> str:
    """The product that is foretold, from and to, bags where it is counted in them."""
    if foretold.bags is not None:
        return f"{foretold.bags.low:g} to {foretold.bags.high:g} bags"
    low, high = (
        amount_words(context, product_id, v, volume_l) for v in (foretold.amount.low, foretold.amount.high)
    )
    return f"{low} to {high}"


def _foretold(context: Context, course: Course, foretold: Foretold) -> ForetoldView:
    run, done = course.run, so_far(course)
    volume_l = course.site.traits.volume_l
    name = PRODUCTS[run.product_id].named(run.strength)
    poured = amount_words(context, run.product_id, done.amount, volume_l) if done.amount else "none"
    if foretold.bags is not None and run.bag_g:
        poured = f"{done.amount / run.bag_g:g} bags"
    days = "not begun" if not course.pours else f"{done.days:.1f} days{'' if done.ended else ' so far'}"
    ppm = foretold.chlorine_ppm
    return ForetoldView(
        (
            ("Days", span_days(foretold.days), days),
            ("Chlorine", f"{ppm.low:.0f} to {ppm.high:.0f} ppm", f"{done.chlorine_ppm:.0f} ppm"),
            (name, span_amount(context, run.product_id, foretold, volume_l), poured),
        )
    )


# --- The curve.


def _curve(context: Context, course: Course, foretold: Foretold | None) -> CurveView:
    run, here = course.run, course.run.local(course.now)
    begins = min([run.at, *(e.at for e in course.tests)])
    end = None
    if foretold is not None and course.pours:
        end = course.pours[0].at + timedelta(days=foretold.days.high)
    ends = max(course.killed_at or course.now, course.now) + timedelta(hours=12)
    points = _points(context, course)
    most = max([course.level_ppm, *(p.high or p.fc for p in points)]) * 1.15
    first = run.local(begins).date() - timedelta(days=1)
    days = [first + timedelta(days=n) for n in range((run.local(ends).date() - first).days + 1)]
    nights = tuple((run.dusk(d), run.dawn(d + timedelta(days=1))) for d in days)
    noons = tuple((run.at_hour(d, 12), f"{d:%a} {d.day}") for d in days)
    return CurveView(
        points,
        course.level_ppm,
        f"hold {course.level_ppm:.0f} ppm",
        most,
        begins,
        ends,
        here,
        nights,
        noons,
        end,
    )


def _points(context: Context, course: Course) -> tuple[CurvePoint, ...]:
    points, known = [], 0.0
    events = sorted([*course.tests, *course.pours], key=lambda e: (e.at, e.id))
    for one in events:
        clock = terms.clock(course.run.local(course.now), course.run.local(one.at))
        if one.fc_ppm > 0:
            text = amount_words(context, one.product_id, one.amount, course.site.traits.volume_l)
            points.append(CurvePoint(one.at, known + one.fc_ppm, "poured", f"{clock}: {text}", known))
            known += one.fc_ppm
            continue
        reading = one.readings["fc"]
        off = reading.u95("fc")
        kind = "read" if one.id not in course.doubtful and course.mixed(one) else "doubtful"
        points.append(
            CurvePoint(
                one.at, reading.value, kind, f"{clock}: read {reading.value:g}", None,
                max(0.0, reading.value - off), reading.value + off,
            )
        )  # fmt: skip
        known = reading.value if kind == "read" else known
    return tuple(points)


# --- Why it grew.


def _why(context: Context, event: Event, course: Course) -> tuple[WhyView, ...]:
    past = past_of(context.session, event.pool, course.run.at, context.now)
    found = why_it_grew(past, course.site.traits)
    return tuple(WhyView(w.found, w.change, w.follow_up) for w in found)
